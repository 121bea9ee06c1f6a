using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Plans;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Web.Files;

namespace Allowance.Web.Commands;

/// <param name="Age">Of the children, in years, on the first day of the file; null where unknown.</param>
/// <param name="With">Who sits at one table; all where nobody is named.</param>
/// <param name="Drawer">A file of what there is to play with; everything where there is none.</param>
/// <param name="Week">Also plans the seven days after the last of the file.</param>
public sealed record AdviseOptions(double? Age, int Minutes, IReadOnlyList<string> With, string? Drawer, bool Week = false);

/// <summary>Reads a file of observations, without a household, and proposes what its children could play on the last day of it.</summary>
public static class AdviseCommand
{
    private const int Proposals = 3, MostTogether = 4;

    private static readonly JsonSerializerOptions Readable = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <returns>0; 1 where some lines could not be read; 2 where nothing could.</returns>
    public static int Run(string file, AdviseOptions options, TextWriter output)
    {
        if (options.Age is { } years && years is not (>= 1 and <= 18)) return Refuse("An age lies between 1 and 18 years.", output);
        if (options.Minutes is < 3 or > 120) return Refuse("There are from 3 to 120 minutes.", output);
        FileReading<FileObservation> seen;
        var drawer = new Cupboard([]);
        try
        {
            using (var stream = file == "-" ? Console.OpenStandardInput() : File.OpenRead(file)) seen = ObservationFile.Read(stream, TimeSpan.Zero);
            if (options.Drawer is { } path)
            {
                var (read, problem) = DrawerFile.Read(File.ReadAllText(path));
                if (read is null) return Refuse(problem!, output);
                drawer = read;
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException or NotSupportedException)
        {
            return Refuse($"The file cannot be read: {e.Message.TrimEnd('.')}.", output);
        }
        if (seen.Lines.Count == 0) return Refuse(seen.Problems.Count == 0 ? "There is no observation in this file." : seen.Problems[0].Message, output);
        var day = seen.Lines.Max(l => l.Observation.Day);
        var children = seen.Lines.GroupBy(l => l.Player).OrderBy(g => g.Key, StringComparer.Ordinal).Select(g => Here(g.Key, [.. g.Select(l => l.Observation).OrderBy(o => o.At)], options.Age)).ToList();
        if (options.With.FirstOrDefault(w => children.All(c => c.Seat.Name != w)) is { } stranger)
            return Refuse($"Nobody in this file is called {stranger}; there is {Words.List(children.Select(c => c.Seat.Name))}.", output);
        var occasion = new Occasion(day, options.Minutes, Approach.Default);
        var book = OfferBook.Of(drawer);
        var answer = new JsonObject
        {
            ["format"] = "allowance-advice/1",
            ["day"] = $"{day:yyyy-MM-dd}",
            ["children"] = new JsonArray([.. children.Select(c => (JsonNode)new JsonObject { ["player"] = c.Seat.Name, ["proposals"] = new JsonArray([.. Advice.For(c, occasion, book, Proposals).Select(Told)]) })]),
        };
        var table = children.Where(c => options.With.Count == 0 || options.With.Contains(c.Seat.Name)).Take(MostTogether).ToList();
        if (table.Count > 1 && Together.For(table, [], occasion, book) is { } together) answer["together"] = Told(together, table);
        if (options.Week) answer["week"] = Week(table, occasion, book);
        answer["errors"] = new JsonArray([.. seen.Problems.Select(p => (JsonNode)new JsonObject { ["file"] = Path.GetFileName(file), ["line"] = p.Line, ["message"] = p.Message })]);
        output.WriteLine(answer.ToJsonString(Readable));
        return seen.Problems.Count == 0 ? 0 : 1;
    }

    /// <summary>The days after the last of the file, with the weekend's days off, as a household would play that has said nothing else.</summary>
    private static JsonArray Week(IReadOnlyList<ChildHere> children, Occasion occasion, OfferBook book)
    {
        var evening = new Evening(occasion.Minutes, [.. children.Select(c => c.Seat.Key)]);
        DateOnly first = occasion.Day.AddDays(1), last = occasion.Day.AddDays(7);
        var days = Enum.GetValues<DayOfWeek>().Where(d => d is not (DayOfWeek.Saturday or DayOfWeek.Sunday)).Select(d => new Usually(d, evening, first));
        var plan = Planner.Of(new PlanBook(days).Between(first, last), children, [], occasion, book, _ => null);
        return new([.. plan.Sittings.Select(s => (JsonNode)new JsonObject
        {
            ["day"] = $"{s.Slot.Day:yyyy-MM-dd}",
            ["games"] = new JsonArray([.. s.Games.Select(g => (JsonNode)new JsonObject
            {
                ["setup"] = g.Setup.ToJson(),
                ["minutes"] = Minutes(g.Forecast),
                ["children"] = new JsonArray([.. g.Children.Select(c => (JsonNode)new JsonObject { ["player"] = c.Seat.Name, ["aim"] = Told(c.Aim), ["why"] = c.Aim?.Why, ["new"] = c.New })]),
            })]),
        })]);
    }

    private static ChildHere Here(string name, IReadOnlyList<Observation> seen, double? age) =>
        new(Seat.Child(name, age is { } years ? years + (seen[^1].Day.DayNumber - seen[0].Day.DayNumber) / 365.25 : null, name), ChildModel.Of(age ?? LearnerAnswers.AgeWhereUnknown, seen), [], []);

    private static JsonNode Told(Advised advised) => new JsonObject
    {
        ["kind"] = JsonNamingPolicy.CamelCase.ConvertName(advised.Kind.ToString()),
        ["aim"] = Told(advised.Game.Aim),
        ["setup"] = advised.Setup.ToJson(),
        ["minutes"] = Minutes(advised.Game.Forecast),
        ["success"] = Math.Round(advised.Game.Right, 4),
        ["asks"] = Asks(advised.Game.Forecast.Players[0]),
        ["why"] = advised.Why,
        ["new"] = advised.New,
    };

    private static JsonObject Told(SharedTable table, IReadOnlyList<ChildHere> children) => new()
    {
        ["setup"] = table.Playable.Setup.ToJson(),
        ["minutes"] = Minutes(table.Forecast),
        ["good"] = table.IsGood,
        ["children"] = new JsonArray([.. table.Children.Select(c => (JsonNode)new JsonObject
        {
            ["player"] = children[c.Seat].Seat.Name,
            ["aim"] = Told(c.Aim),
            ["success"] = Math.Round(c.Right, 4),
            ["share"] = Math.Round(c.Share, 4),
            ["asks"] = Asks(table.Forecast.Players[c.Seat]),
        })]),
    };

    private static JsonObject? Told(Aim? aim) => aim is null ? null
        : new() { ["skill"] = aim.Standing.SkillBand.Skill.Id, ["band"] = aim.Standing.SkillBand.Band, ["kind"] = aim.Kind.ToString().ToLowerInvariant() };

    private static JsonObject Minutes(Forecast forecast) => new() { ["p10"] = Math.Round(forecast.Minutes.P10, 2), ["p50"] = Math.Round(forecast.Minutes.P50, 2), ["p90"] = Math.Round(forecast.Minutes.P90, 2) };

    private static JsonArray Asks(PlayerForecast player) =>
        new([.. player.Asks.Select(a => (JsonNode)new JsonObject { ["ask"] = a.Ask.ToString(), ["perGame"] = Math.Round(a.PerGame, 4), ["right"] = Math.Round(a.Right, 4) })]);

    private static int Refuse(string message, TextWriter output)
    {
        output.WriteLine(new JsonObject { ["errors"] = new JsonArray([new JsonObject { ["line"] = 0, ["message"] = message }]) }.ToJsonString(Readable));
        return 2;
    }
}
