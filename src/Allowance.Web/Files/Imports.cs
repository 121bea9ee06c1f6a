using System.Text.Json;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Store;

namespace Allowance.Web.Files;

/// <summary>
/// Files of observations on their way into the logbook. Each waits in a file of its own until somebody has said whose notes
/// they are; then it is brought in piece by piece, so that whoever notes at a table meanwhile need not wait. One that was broken
/// off is gone on with at the next start, where it stopped.
/// </summary>
public sealed class Imports(Database database, Entries entries, Observations observations, TimeProvider clock)
{
    public const int MostLines = 100_000;

    private const int Piece = 500;

    private static readonly TimeSpan LongestWait = TimeSpan.FromDays(1);

    // One at a time: what is here already is compared with what is there when it begins.
    private readonly Lock bringing = new();

    private string Folder => Path.Combine(database.Directory, "waiting");

    private string FileOf(string name) => Path.Combine(Folder, name + ".csv");

    private string PlanOf(string name) => Path.Combine(Folder, name + ".json");

    public bool Waits(string? name) => Guid.TryParseExact(name, "N", out _) && File.Exists(FileOf(name!));

    /// <summary>Keeps a file until it is decided on; files that nobody decided on for a day go.</summary>
    /// <returns>The name under which it waits.</returns>
    public string Keep(Stream file)
    {
        HouseholdDirectory.OwnersFolder(Folder);
        foreach (var old in new DirectoryInfo(Folder).GetFiles().Where(f => f.LastWriteTimeUtc < clock.GetUtcNow().UtcDateTime - LongestWait)) old.Delete();
        string name = Guid.NewGuid().ToString("N");
        using var to = new FileStream(FileOf(name), HouseholdDirectory.Owners(FileMode.CreateNew));
        file.CopyTo(to);
        return name;
    }

    public void Drop(string name)
    {
        File.Delete(FileOf(name));
        File.Delete(PlanOf(name));
    }

    /// <summary>Drops all that waits: somebody is removed, and her notes may be in it.</summary>
    public void DropAll()
    {
        lock (bringing)
            if (Directory.Exists(Folder)) Directory.Delete(Folder, true);
    }

    /// <summary>What a waiting file holds, as far as it has come to pass.</summary>
    public FileReading<FileObservation> Read(string name)
    {
        var now = clock.GetLocalNow();
        var today = DateOnly.FromDateTime(now.DateTime);
        using var stream = File.OpenRead(FileOf(name));
        var reading = ObservationFile.Read(stream, now.Offset);
        var later = reading.Lines.Where(l => l.Observation.Day > today).Select(l => new FileProblem(l.Line, $"{l.Observation.Day:yyyy-MM-dd} has not come yet."));
        return new([.. reading.Lines.Where(l => l.Observation.Day <= today).Take(MostLines)],
            [.. reading.Problems.Concat(later).OrderBy(p => p.Line), .. reading.Lines.Count > MostLines ? new[] { new FileProblem(0, $"Only the first {MostLines:N0} lines are taken at once.") } : []]);
    }

    /// <summary>Brings a waiting file in. The same file, asked for again, is brought in once, as was said first.</summary>
    /// <param name="whose">For each name in the file whose notes they are; a name that is missing is left out.</param>
    /// <returns>Its entry in the logbook.</returns>
    public long BringIn(string name, IReadOnlyDictionary<string, long> whose)
    {
        lock (bringing)
        {
            if (File.Exists(FileOf(name)) && !File.Exists(PlanOf(name)))
            {
                using var plan = new FileStream(PlanOf(name), HouseholdDirectory.Owners(FileMode.CreateNew));
                JsonSerializer.Serialize(plan, whose);
                plan.Flush(true);
            }
            return GoOn(name);
        }
    }

    /// <summary>Goes on with what was broken off.</summary>
    public void Resume()
    {
        if (!Directory.Exists(Folder)) return;
        lock (bringing)
            foreach (string plan in Directory.GetFiles(Folder, "*.json"))
            {
                string name = Path.GetFileNameWithoutExtension(plan);
                if (Waits(name) && Plan(name) is not null) GoOn(name);
                else Drop(name);
            }
    }

    /// <returns>Null where the plan was never wholly written; then nothing was begun.</returns>
    private Dictionary<string, long>? Plan(string name)
    {
        try
        {
            using var stream = File.OpenRead(PlanOf(name));
            return JsonSerializer.Deserialize<Dictionary<string, long>>(stream);
        }
        catch (Exception e) when (e is JsonException or IOException)
        {
            return null;
        }
    }

    private long GoOn(string name)
    {
        var whose = Plan(name);
        var (id, broughtIn) = entries.BeginImport("import-" + name, clock.GetLocalNow(), [.. (IEnumerable<long>?)whose?.Values ?? []]);
        if (broughtIn is { } after && whose is not null && File.Exists(FileOf(name)))
        {
            var reading = Read(name);
            var notes = New(reading, whose, id);
            for (; after < notes.Count; after += Piece) entries.BringIn(id, after, notes[after..Math.Min(notes.Count, after + Piece)]);
            entries.EndImport(id, clock.GetLocalNow(), $"{Words.Count(notes.Count, "note")} of {reading.Lines.Count} brought in" + (notes.Count < reading.Lines.Count ? "; the others were here already or left out." : "."));
        }
        Drop(name);
        return id;
    }

    /// <summary>The notes that are not here yet: of those that are alike, as many as there are more of in the file. In the order of the file, day by day.</summary>
    private List<(long, Observation)> New(FileReading<FileObservation> reading, Dictionary<string, long> whose, long entry)
    {
        var had = new Dictionary<(long, DateTimeOffset, long, Core.Asks.Seen), int>();
        foreach (long player in whose.Values.Distinct())
            foreach (var note in observations.Of(player).Where(n => n.EntryId != entry))
                had[Alike(player, note.Observation)] = had.GetValueOrDefault(Alike(player, note.Observation)) + 1;
        var notes = new List<(long, Observation)>();
        foreach (var line in reading.Lines.Where(l => whose.ContainsKey(l.Player)).OrderBy(l => l.Observation.Day))
        {
            long player = whose[line.Player];
            var alike = Alike(player, line.Observation);
            if (had.GetValueOrDefault(alike) is > 0 and var here) had[alike] = here - 1;
            else notes.Add((player, line.Observation));
        }
        return notes;
    }

    /// <summary>Files may tell the time to the second only.</summary>
    private static (long, DateTimeOffset, long, Core.Asks.Seen) Alike(long player, Observation o) => (player, o.At.AddTicks(-(o.At.Ticks % TimeSpan.TicksPerSecond)), o.Ask.Code, o.Seen);
}
