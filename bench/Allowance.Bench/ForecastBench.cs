using System.Diagnostics;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Bench;

/// <summary>
/// How fast games are simulated. The floor is what their randomness alone costs: as many generator calls as the games
/// made, the dealing of cards as the shuffle it is, and nothing else, measured in the same run.
/// </summary>
internal static class ForecastBench
{
    private const int Rounds = 21;

    public static int Run(bool json, string? only)
    {
        var rows = new JsonArray();
        if (!json) Console.WriteLine("game      mode            behaviour  ns/turn  floor  ratio  bytes/game  games/s (both cores)");
        foreach (var (mode, setup) in Setups().Where(s => only is null || s.Mode == only))
            foreach (var behaviour in new[] { Behaviour.Child, Behaviour.Plain })
            {
                var row = Measure(setup, behaviour);
                if (json)
                    rows.Add(new JsonObject
                    {
                        ["game"] = setup.Frame.Id, ["mode"] = $"{mode} {behaviour.ToString().ToLowerInvariant()}",
                        ["nsPerTurn"] = row.PerTurn, ["floorNsPerTurn"] = row.Floor, ["ratio"] = row.Ratio,
                        ["bytesPerGame"] = row.Bytes, ["gamesPerSecond"] = row.Games,
                    });
                else Console.WriteLine($"{setup.Frame.Id,-9} {mode,-15} {behaviour,-9} {row.PerTurn,8:0.0} {row.Floor,6:0.0} {row.Ratio?.ToString("0.0") ?? "–",6} {row.Bytes,11:0} {row.Games,10:0}");
            }
        var exact = new JsonArray();
        if (only is null or "exact") ExactBench.Run(json ? exact : null);
        if (json) Console.WriteLine(new JsonObject { ["frames"] = rows, ["exact"] = exact }.ToJsonString(new JsonSerializerOptions()));
        return 0;
    }

    /// <summary>Each level at its defaults, and the modes that no level has; spot with forty cards.</summary>
    private static IEnumerable<(string Mode, Setup Setup)> Setups()
    {
        foreach (var frame in Catalogue.All)
        {
            var seats = new[] { Seat.Child("", 5), Seat.Child("", 6) };
            foreach (var level in frame.Data.Levels)
                yield return (level.Id, Setup.Default(frame.Data, seats) with { LevelId = level.Id });
            if (frame is not Partners) continue;
            var spot = Setup.Default(frame.Data, seats);
            yield return ("call", spot.With("mode", ((ChoiceKind)frame.Data.Knob("mode")!.Kind)["call"]));
            yield return ("spot 40 cards", spot.With("deck", new DeckValue(Core.Materials.Deck.Plain(1, 10))));
            yield return ("spot no refill", spot.With("refill", new FlagValue(false)));
        }
    }

    /// <param name="Ratio">Null for games that use no random number at all.</param>
    private readonly record struct Row(double PerTurn, double Floor, double? Ratio, double Bytes, double Games);

    private static Row Measure(Setup setup, Behaviour behaviour)
    {
        var answers = new LearnerAnswers(setup, new DateOnly(2026, 1, 1));
        var bench = new SimulationBench(setup, answers, behaviour);
        for (int i = 0; i < 40; i++) bench.Play(60);
        Thread.Sleep(300);
        var one = bench.Play(2_000);
        int games = (int)Math.Clamp(0.05 / (one.Seconds / 2_000), 500, 50_000);
        var pack = new byte[setup.Frame.Knob("deck") is null ? 1 : setup.Get<DeckValue>("deck").Deck.Cards];
        for (int i = 0; i < 30; i++) Bare(one, pack);
        // The machine's pace wanders: each round measures both, and the round in the middle by ratio is reported.
        var rounds = Enumerable.Range(0, Rounds).Select(_ =>
        {
            var cost = bench.Play(games);
            double floor = Enumerable.Range(0, 6).Sum(_ => Bare(cost, pack)) / 6;
            return (Turn: cost.Seconds * 1e9 / cost.Turns, Floor: floor * 1e9 / cost.Turns, cost.BytesPerGame);
        }).OrderBy(r => r.Turn / r.Floor).ToList();
        var (turn, floor, bytes) = rounds[Rounds / 2];
        var clock = Stopwatch.StartNew();
        Forecaster.Make(setup, answers, new ForecastOptions(behaviour, 1, games), new Facts());
        return new(turn, floor, one.Draws == 0 ? null : turn / floor, bytes, games / clock.Elapsed.TotalSeconds);
    }

    /// <summary>
    /// The seconds that the bare randomness of these games takes: the shuffle steps that deal their cards, and a bounded
    /// random number for every other draw. It is compiled at its best, and not by what was measured before.
    /// </summary>
    [MethodImpl(MethodImplOptions.NoInlining | MethodImplOptions.AggressiveOptimization)]
    private static double Bare(SimulationCost cost, byte[] pack)
    {
        var rng = new Rng(1);
        long sum = 0, others = cost.Draws - cost.Deals;
        var clock = Stopwatch.StartNew();
        int left = pack.Length;
        for (long i = 0; i < cost.Deals; i++)
        {
            int pick = rng.Below(left);
            (pack[pick], pack[left - 1]) = (pack[left - 1], pack[pick]);
            left = left > 1 ? left - 1 : pack.Length;
        }
        for (long i = 0; i < others; i++) sum += rng.Below(40);
        double seconds = clock.Elapsed.TotalSeconds;
        return sum < 0 ? 0 : seconds;
    }
}
