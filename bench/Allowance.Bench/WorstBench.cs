using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Bench;

/// <summary>
/// The most expensive settings that the limits allow: settings near the limits, and from the dearest of them on whatever makes
/// them dearer still. Each is worked out as for a page: compiled, laid out, forecast, told in words and pictures.
/// </summary>
internal static class WorstBench
{
    private const int Shown = 10, Kept = 6;

    private sealed record Cost(Setup Setup, double Milliseconds, double Megabytes, string What, string Method);

    public static int Run(bool json, string? only, string? tries, string? seed, bool api)
    {
        ulong from = ulong.Parse(seed ?? "1");
        int each = int.Parse(tries ?? "300");
        var rows = new JsonArray();
        if (!json) Console.WriteLine("game          ms  most MB  of which            answer     setting");
        foreach (var frame in Catalogue.All.Where(f => only is null || f.Data.Id == only))
            foreach (var cost in Search(frame, each, from, api ? Limits.Api : Limits.Screen))
            {
                string link = cost.Setup.ToLink();
                if (json) rows.Add(new JsonObject { ["game"] = frame.Data.Id, ["milliseconds"] = cost.Milliseconds, ["megabytes"] = cost.Megabytes, ["what"] = cost.What, ["method"] = cost.Method, ["setup"] = link });
                else Console.WriteLine($"{frame.Data.Id,-10} {cost.Milliseconds,5:0} {cost.Megabytes,8:0.0}  {cost.What,-18}  {cost.Method,-9}  {(link.Length <= 160 ? link : link[..159] + "…")}");
            }
        if (json) Console.WriteLine(rows.ToJsonString(new JsonSerializerOptions()));
        return 0;
    }

    private static List<Cost> Search(Frame frame, int tries, ulong seed, Limits limits)
    {
        var large = new LargeSettings(seed);
        var found = new List<Cost>();
        var seen = new HashSet<string>();
        var rng = new Rng(seed + 1000);
        for (int n = 0; n < tries; n++)
        {
            var dearest = found.OrderByDescending(c => c.Milliseconds).Take(Kept).ToList();
            var setup = n % 2 == 0 || dearest.Count == 0 ? large.Of(frame.Data) : large.Near(dearest[rng.Below(dearest.Count)].Setup);
            if (!seen.Add(setup.ToLink())) continue;
            var clock = Stopwatch.StartNew();
            if (frame.Check(setup) is not { } playable)
            {
                if (clock.ElapsedMilliseconds > 200) Console.Error.WriteLine($"refused after {clock.ElapsedMilliseconds} ms: {setup.ToLink()}");
                continue;
            }
            found.Add(Measure(playable, limits, clock));
        }
        return [.. found.OrderByDescending(c => c.Milliseconds).Take(Shown)];
    }

    private static Cost Measure(Playable playable, Limits limits, Stopwatch clock)
    {
        var (frame, setup) = (playable.Frame, playable.Setup);
        long before = GC.GetTotalMemory(true), most = before;
        using var watch = new Timer(_ => most = Math.Max(most, GC.GetTotalMemory(false)), null, 0, 5);
        var parts = new List<(string What, double Ms)> { ("check", clock.Elapsed.TotalMilliseconds) };
        var answers = new LearnerAnswers(setup, new DateOnly(2026, 1, 1));
        var budget = new Budget(limits, TimeProvider.System);
        Forecast? forecast = null;
        Timed("compile", () => playable.Compile(answers).Start(0));
        Facts? facts = null;
        Timed("facts", () => facts = Forecaster.FactsOf(playable, Behaviour.Perfect, budget));
        Timed("games", () => forecast = Forecaster.Make(playable, answers, new ForecastOptions(Behaviour.Child, 1, limits == Limits.Screen ? 2_000 : 1_000_000), facts, limits == Limits.Screen ? .006 : 0, budget));
        Timed("best play", () => Forecaster.Make(playable, answers, new ForecastOptions(Behaviour.Perfect, 1, 300), facts, 0, budget));
        Timed("get ready", () => frame.GetReady(setup));
        var spending = budget.Exactly();
        Timed("words", () => Unless(() => playable.InWords(forecast!.Facts, 10, spending)));
        Timed("pictures", () => Unless(() => (playable.Journeys(spending), playable.Choices)));
        Timed("audit", () => (frame.Audit(setup), frame.Needs(setup), setup.Seats.Select((_, s) => frame.Summary(setup, s)).ToList()));
        var dearest = parts.MaxBy(p => p.Ms);
        return new(setup, parts.Sum(p => p.Ms), (most - before) / 1048576.0, $"{dearest.What} {dearest.Ms:0}", forecast!.Method);

        void Timed<T>(string what, Func<T> work)
        {
            var one = Stopwatch.StartNew();
            work();
            parts.Add((what, one.Elapsed.TotalMilliseconds));
        }

        static bool Unless<T>(Func<T> work)
        {
            try
            {
                work();
                return true;
            }
            catch (BudgetSpentException)
            {
                return false;
            }
        }
    }
}
