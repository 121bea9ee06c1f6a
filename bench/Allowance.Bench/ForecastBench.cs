using System.Diagnostics;
using System.Runtime.CompilerServices;
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
        foreach (var (mode, playable) in Setups().Where(s => only is null || s.Mode == only || s.Playable.Setup.Frame.Id == only))
            foreach (var behaviour in new[] { Behaviour.Child, Behaviour.Plain })
            {
                var setup = playable.Setup;
                var row = Measure(playable, behaviour);
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

    /// <summary>Of every frame each level at its defaults, and each rule that no level plays.</summary>
    private static IEnumerable<(string Mode, Playable Playable)> Setups()
    {
        foreach (var frame in Catalogue.All)
        {
            var setup = Setup.Default(frame.Data, Seat.Child("", 5), Seat.Child("", 6));
            foreach (var level in frame.Data.Levels)
                yield return (level.Id, Catalogue.Check(setup with { LevelId = level.Id })!);
            foreach (var knob in frame.Data.Knobs.Where(k => k is { Belongs: Belongs.RuleLevel, Kind: ChoiceKind } && k.Scope.HasFlag(Scope.Table)))
                foreach (var rule in ((ChoiceKind)knob.Kind).Options.Where(o => !frame.Data.Levels.Any(l => Equals((setup with { LevelId = l.Id }).Get(knob), o))))
                    if (Catalogue.Check(setup.With(knob, rule)) is { } playable) yield return ($"{knob.Id} {rule.Id}", playable);
        }
    }

    /// <param name="Ratio">Null for games that use no random number at all.</param>
    private readonly record struct Row(double PerTurn, double Floor, double? Ratio, double Bytes, double Games);

    private static Row Measure(Playable playable, Behaviour behaviour)
    {
        var setup = playable.Setup;
        var answers = new LearnerAnswers(setup, new DateOnly(2026, 1, 1));
        var bench = new SimulationBench(playable, answers, behaviour);
        for (int i = 0; i < 40; i++) bench.Play(60);
        Thread.Sleep(300);
        var one = bench.Play(2_000);
        int games = (int)Math.Clamp(0.05 / (one.Seconds / 2_000), 500, 50_000);
        var pack = new byte[setup.Get<DeckValue>(KnobRole.Deck)?.Deck.Cards ?? 1];
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
        Forecaster.Make(playable, answers, new ForecastOptions(behaviour, 1, games), new Facts());
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
