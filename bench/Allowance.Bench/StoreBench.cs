using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Store;

namespace Allowance.Bench;

/// <summary>
/// A household with very many notes: 200,000 of two children, made by the made-up child in entries of ten, and how fast the
/// growth page and the logbook answer with it; also how long a start takes, and the first page after it.
/// </summary>
internal static class StoreBench
{
    private const int Notes = 200_000, PerEntry = 10;

    public static Task<int> Run(bool json, string? app) => PublishedApp.InTemporaryDirectory(app, async (file, data) =>
    {
        var clock = Stopwatch.StartNew();
        Fill(data);
        Console.Error.WriteLine($"made {Notes} notes in {clock.Elapsed.TotalSeconds:0} s");
        // The first start works out the estimates; from the second on they are kept.
        using (var first = new PublishedApp(file, "serve", data))
            foreach (int child in new[] { 1, 2 }) Console.Error.WriteLine($"first growth page of child {child}: {await first.Get($"/growth/{child}"):0} ms");
        var firsts = new JsonObject();
        foreach (string path in FirstPages)
        {
            using var fresh = new PublishedApp(file, "serve", data);
            firsts[path] = await fresh.Get(path);
        }
        using var server = new PublishedApp(file, "serve", data);
        var answer = new JsonObject { ["observations"] = Notes, ["startSeconds"] = server.StartSeconds, ["firstPageMs"] = firsts };
        if (!json) Console.WriteLine($"start {server.StartSeconds:0.0} s; as the first page after it: {string.Join(", ", firsts.Select(f => $"{f.Key} {(double)f.Value!:0} ms"))}\n\npage                                           p50 ms  p95 ms");
        var pages = new JsonArray();
        foreach (string path in new[] { "/growth/1", "/growth/2?most=20", "/logbook", "/logbook?player=1", "/logbook?skill=hidden&player=2", "/logbook?from=2019-03-01&to=2019-03-31", "/logbook?at=200", "/glimpse", "/", "/logbook?handler=File&player=1" })
        {
            var (p50, p95, _) = await server.Load(path, false, 1);
            pages.Add(new JsonObject { ["path"] = path, ["p50ms"] = p50, ["p95ms"] = p95 });
            if (!json) Console.WriteLine($"{path,-44} {p50,8:0.0} {p95,7:0.0}");
        }
        answer["pages"] = pages;
        if (json) Console.WriteLine(answer.ToJsonString(new JsonSerializerOptions()));
        return 0;
    });

    /// <summary>Each asked for first after a start of its own.</summary>
    private static readonly string[] FirstPages = ["/growth/1", "/glimpse", "/"];

    private static void Fill(string data)
    {
        var database = Database.Open(data, isDurable: false);
        var players = new Players(database);
        var entries = new Entries(database);
        var children = new[] { (Name: "Otis", Born: "2012-01", Age: 5.3), (Name: "Mags", Born: "2010-03", Age: 7.1) }
            .Select((c, i) => (Id: players.Add(c.Name, c.Born, PlayerKind.Child), Child: new SimulatedChild(i + 1, c.Age), Policy: new AskingPolicy(i + 1, c.Age))).ToArray();
        var rng = new Rng(5);
        var day = new DateOnly(2017, 5, 1);
        int perDay = 4, made = 0;
        while (made < Notes)
        {
            for (int k = 0; k < perDay; k++)
                foreach (var (id, child, policy) in children)
                {
                    var notes = new List<(long, Observation)>();
                    var at = new DateTimeOffset(day.ToDateTime(new TimeOnly(9 + k, 0)), TimeSpan.Zero);
                    for (int game = 0; game < PerEntry / 5; game++)
                        policy.Play(5, ask =>
                        {
                            var outcome = child.Answer(ask, day);
                            bool right = outcome >= Outcome.CountedAll;
                            notes.Add((id, new(at, ask, rng.Unit() < 1.0 / 3 ? Seen.NotWatched(right) : Seen.How(outcome), null, Source.Typed)));
                            return right;
                        });
                    entries.Add(EntryKind.Typed, at, "Reels along the platform", 10, "", [id], notes);
                    made += notes.Count;
                }
            day = day.AddDays(1);
        }
        database.Close();
    }
}
