using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Setups;

namespace Allowance.Web.Commands;

/// <summary>Writes the published pages that are made from the code's own data: the tables, and the schema of setup files.</summary>
public static class DocsCommand
{
    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <param name="directory">Where the documents stand.</param>
    public static int Run(string directory)
    {
        Directory.CreateDirectory(Path.Combine(directory, "formats"));
        File.WriteAllText(Path.Combine(directory, "tables.md"), Tables());
        File.WriteAllText(Path.Combine(directory, "formats", "setup.schema.json"), SetupSchema.Of(Catalogue.Data).ToJsonString(Indented) + "\n");
        return 0;
    }

    public static string Tables()
    {
        var page = new StringBuilder("# Tables\n\nMade from the code's own data by `./allowance docs`.\n");
        Table("Skills", ["strand", "skill", "says", "bands", "rests on"], Skills.All.Select(s => new[] { $"{s.Strand}".ToLowerInvariant(), $"`{s.Id}`", s.Says, string.Join(' ', s.Bands), string.Join(", ", s.RestsOn) }));
        Table("Kinds of ask", ["kind", "example", "asks", "feeds", "outcomes"], AskKinds.All.Select(k => new[] { $"`{k.Id}`", $"`{k.Example}`", k.Asks, string.Join(", ", k.Feeds), $"{k.Scale}".ToLowerInvariant() }));
        Table("Forms", ["form", "range", "structure", "says"], FormTable.All.Skip(1).Select(f => new[] { $"`{f.Id}`", $"{f.Low}–{f.High}", $"{f.Structure}".ToLowerInvariant(), f.Says }));
        foreach (var frame in Catalogue.Data)
        {
            page.Append($"\n# {frame.Name} (`{frame.Id}`)\n\n{frame.Says} For {frame.LeastPlayers} to {frame.MostPlayers} players{(frame.GoodFrom > frame.LeastPlayers ? $", better from {frame.GoodFrom} on" : "")}. Asks: {string.Join(", ", frame.Asks.Select(a => a.Facts().Id))}.\n");
            Table("Levels", ["level", "says", "fixes", "starts from"], frame.Levels.Select(l => new[] { $"`{l.Id}`", l.Says, Values(l.Fixes), Values(l.Suggests) }));
            Table("Knobs", ["knob", "values", "default", "belongs to", "set for", "says"], frame.Knobs.Select(k => new[] { $"`{k.Id}`", k.Kind.Says, k.Default?.ToLink() ?? "none", $"{k.Belongs}".ToLowerInvariant(), k.Scope == Scope.Both ? "table, seat" : $"{k.Scope}".ToLowerInvariant(), k.Says }));
        }
        Table("Usual ages (years at which about seven of ten asks of a band are right)", ["skill", "by band"], Skills.All.Select(s => new[] { $"`{s.Id}`", string.Join(", ", s.Bands.Zip(Constants.UsualAges[s.Id], (b, a) => $"{b}: {a:0.0}")) }));
        Table("The asks that stand for a band", ["band", "asks"], Enumerable.Range(0, Feeding.Bands.Count).Select(b => new[] { $"`{Feeding.Bands[b]}`", string.Join(" · ", BandAsks.Of(b)) }));
        Table("Seconds of handling", ["what", "seconds"], Handling.All.Select(h => new[] { h.What, $"{h.Seconds:0.##}" }));
        return page.ToString();

        void Table(string title, string[] heads, IEnumerable<string[]> rows)
        {
            page.Append($"\n## {title}\n\n| {string.Join(" | ", heads)} |\n|{string.Concat(Enumerable.Repeat("---|", heads.Length))}\n");
            foreach (var row in rows) page.Append($"| {string.Join(" | ", row)} |\n");
        }

        static string Values(IReadOnlyDictionary<string, KnobValue> values) => string.Join(", ", values.Select(v => $"{v.Key} {v.Value.ToLink()}"));
    }
}
