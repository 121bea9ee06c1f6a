using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>One suite over the whole catalogue: whatever the knobs, a game is played by its own rules to its end.</summary>
public class EngineTests
{
    private const int MostSteps = 60_000;

    public static TheoryData<string> Frames => [.. Catalogue.Data.Select(f => f.Id)];

    private static Frame Frame(string id) => Catalogue.All.First(f => f.Data.Id == id);

    /// <summary>Who wins is said as these rules have it, and not as all rules together.</summary>
    [Theory, MemberData(nameof(Frames))]
    public void Who_wins_is_said_in_one_way(string id)
    {
        var frame = Frame(id);
        if (frame.Data.Knob(KnobRole.Winning) is not { Kind: ChoiceKind kind } winning || kind.Options.FirstOrDefault(o => o.Id == Winnings.Compete) is not { } compete) return;
        var says = frame.Data.Levels.Select(l => (Setup.Default(frame.Data, Seat.Child("", 5), Seat.Child("", 6)) with { LevelId = l.Id }).With(winning, compete))
            .SelectMany(s => frame.Data.Knobs.Where(k => k.Kind is ChoiceKind && k.Scope.HasFlag(Scope.Table) && k != winning).SelectMany(k => ((ChoiceKind)k.Kind).Options.Select(o => s.With(k, o))).Append(s)).Select(frame.WhatWins);
        Assert.All(says.Distinct(), words => Assert.DoesNotMatch(" or |;", words));
    }

    /// <summary>At the end of a game with a caller what was called last still lies there.</summary>
    [Theory, MemberData(nameof(Frames))]
    public void What_was_called_last_lies_there_at_the_end(string id)
    {
        if (Frame(id) is not CalledFrame frame) return;
        foreach (var level in frame.Data.Levels)
        {
            var run = Catalogue.Check(Setup.Default(frame.Data, Seat.Child("", 6)) with { LevelId = level.Id })!.Compile().Start(0);
            var rng = new Rng(5);
            IReadOnlyList<Zone> before = [];
            while (run.Next.Kind != StepKind.Over)
            {
                if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                else
                {
                    before = run.Zones;
                    run.Apply(run.Plain(ref rng), true);
                }
            }
            Assert.Equal(before.Where(z => z is not ChoiceKeys).Select(z => z.GetType()), run.Zones.Select(z => z.GetType()));
        }
    }

    /// <summary>What stands beside a name is points, and no figure of the rules' own.</summary>
    [Theory, MemberData(nameof(Frames))]
    public void Nobody_begins_with_points(string id)
    {
        var frame = Frame(id);
        var levels = frame.Data.Levels.Select(l => Setup.Default(frame.Data, Seat.Child("", 5), Seat.Child("", 6)) with { LevelId = l.Id });
        var rules = frame.Data.Knobs.Where(k => k.Kind is ChoiceKind && k.Scope.HasFlag(Scope.Table)).ToList();
        foreach (var setup in levels.SelectMany(s => rules.SelectMany(k => ((ChoiceKind)k.Kind).Options.Select(o => s.With(k, o))).Append(s)))
            if (frame.ShowsPoints(setup) && Catalogue.Check(setup) is { } playable && playable.Compile().Start(0) is var run) Assert.Equal((0, 0), (run.Points(0), run.Points(1)));
    }

    [Theory, MemberData(nameof(Frames))]
    public void Random_setups_are_played_to_their_end_or_refused(string id)
    {
        var frame = Frame(id);
        int played = 0, refused = 0;
        Setups.Random(frame.Data).Sample(setup =>
        {
            var problems = setup.Problems();
            if (problems.Count > 0)
            {
                refused++;
                Assert.All(problems, p => Assert.NotEmpty(p.Message));
                Tells(frame, setup);
                return;
            }
            played++;
            PlayThrough(frame, setup, seed: played);
        }, iter: 400, threads: 1);
        Assert.True(played > 40, $"Only {played} random setups could be played, {refused} were refused.");
    }

    /// <summary>The bench shows a refused setup too, with what is needed and what its knobs come to.</summary>
    private static void Tells(Frame frame, Setup setup)
    {
        Assert.NotEmpty(frame.Summary(setup));
        Assert.All(Enumerable.Range(0, setup.Seats.Length), s => Assert.NotNull(frame.Summary(setup, s)));
        Assert.All(frame.Needs(setup), n => Assert.NotEmpty(n.Says));
        foreach (var knob in frame.Data.Knobs.Where(k => frame.Matters(setup, k))) Assert.NotEqual("", frame.LeftOpen(setup, knob)?.ToLink());
    }

    private static void PlayThrough(Frame frame, Setup setup, int seed)
    {
        var run = setup.Ready().Compile().Start(0);
        var log = new List<(bool Chance, int Outcome, Move Move, bool Found)>();
        var rng = Rng.ForGame(seed, 0);
        int things = run.Things, steps = 0;
        while (run.Next.Kind != StepKind.Over && run.Turns < 300 && steps++ < MostSteps)
        {
            Assert.InRange(run.Next.Seat, 0, setup.Seats.Length - 1);
            if (run.Next.Kind == StepKind.Chance)
            {
                var copy = run.Copy();
                int outcome = copy.Draw(ref rng);
                Assert.Contains(run.Possibilities, p => p.Outcome == outcome && p.Ways > 0);
                run.Deal(outcome);
                log.Add((true, outcome, default, false));
            }
            else
            {
                var move = rng.Below(2) == 0 ? run.Plain(ref rng) : run.Best(ref rng);
                Assert.True(run.IsLegal(move), $"{setup.ToLink()}: {move} is not legal");
                Assert.NotEmpty(run.Moves);
                Assert.All(run.Moves, m => Assert.True(run.IsLegal(m)));
                foreach (var (seat, ask) in run.Asks(move))
                {
                    Assert.False(setup.Seats[seat].GrownUp);
                    Assert.Contains(ask.Kind, frame.Data.Asks);
                    Assert.Equal(ask, Ask.Parse(ask.ToString(), out _));
                }
                bool found = rng.Below(4) > 0;
                run.Apply(move, found || !run.Seeking(move));
                log.Add((false, 0, move, found || !run.Seeking(move)));
            }
            Assert.Equal(things, run.Things);
            Assert.NotEmpty(run.Zones);
            Assert.NotEmpty(run.Says);
        }
        Assert.True(run.Next.Kind == StepKind.Over || run.Turns >= 300, $"{setup.ToLink()} did not end");
        var again = setup.Ready().Compile().Start(0);
        foreach (var (chance, outcome, move, found) in log)
        {
            if (chance) again.Deal(outcome);
            else again.Apply(move, found);
        }
        Assert.Equal(run.Turns, again.Turns);
        Assert.Equal(run.Next, again.Next);
        Assert.Equal([.. Enumerable.Range(0, setup.Seats.Length).Select(run.Points)], Enumerable.Range(0, setup.Seats.Length).Select(again.Points));
        Assert.Equal(run.Zones.SelectMany(z => z.Items).Select(i => (i.Id, i.Value, i.State)), again.Zones.SelectMany(z => z.Items).Select(i => (i.Id, i.Value, i.State)));
    }

    [Theory, MemberData(nameof(Frames))]
    public void Forecasts_of_random_setups_hold_together(string id)
    {
        var frame = Frame(id);
        Setups.Random(frame.Data).Sample(setup =>
        {
            if (setup.Problems().Count > 0) return;
            foreach (var behaviour in Behaviours(frame))
            {
                var f = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(behaviour, 5, 120));
                Assert.InRange(f.Wins.Sum() + f.Tie, 0, 1 + 1e-9);
                Assert.InRange(f.Stuck, 0, 1);
                Assert.True(f.Turns.P10 <= f.Turns.P50 && f.Turns.P50 <= f.Turns.P90);
                Assert.True(f.Minutes.P10 <= f.Minutes.P50 && f.Minutes.P50 <= f.Minutes.P90);
                foreach (var player in f.Players.Where(p => p.Asks.Length > 0))
                {
                    Assert.Equal(1, Enum.GetValues<Firmness>().Sum(player.Share), 9);
                    Assert.All(player.Asks, a => Assert.True(a.Seen <= 1 && a.Seen <= a.PerGame + 1e-9 && a.Right is >= 0 and <= 1));
                }
                Assert.NotEmpty(f.ToJson().ToJsonString());
            }
        }, iter: 60, threads: 1);
    }

    /// <summary>Blocking is best play where there is nothing to block.</summary>
    private static IEnumerable<Behaviour> Behaviours(Frame frame) => Enum.GetValues<Behaviour>().Where(b => b != Behaviour.Blocking || frame.Data.CanBlock);

    /// <summary>The simulator counts kinds of turns; a slow player of the same games counts each ask as it comes.</summary>
    [Theory, MemberData(nameof(Frames))]
    public void Simulated_games_count_every_ask_that_is_put(string id)
    {
        var frame = Frame(id);
        int compared = 0;
        foreach (var level in frame.Data.Levels) Compare(Setup.Default(frame.Data, Seat.Child("a", 5), Seat.Child("b", 7)) with { LevelId = level.Id });
        Setups.Random(frame.Data).Sample(Compare, iter: 15, threads: 1);
        Assert.True(compared >= 4, $"Only {compared} were compared.");

        void Compare(Setup setup)
        {
            if (setup.Problems().Count > 0 || frame.IsRace(setup)) return;
            var answers = new LearnerAnswers(setup, new DateOnly(2026, 1, 1));
            foreach (var behaviour in Behaviours(frame))
            {
                var expected = Slowly(frame, setup, answers, behaviour, games: 60);
                if (expected is null) continue;
                var forecast = Forecaster.Make(setup.Ready(), answers, new ForecastOptions(behaviour, 3, 60));
                var met = forecast.Players.SelectMany((p, seat) => p.Asks.Select(a => ((seat, a.Ask), (Math.Round(60 * a.PerGame), Math.Round(60 * a.Seen))))).ToDictionary();
                Assert.True(expected.Count == met.Count && expected.All(e => met.GetValueOrDefault(e.Key) == (e.Value.Count, e.Value.Games)), $"{setup.ToLink()} {behaviour}");
                compared++;
            }
        }
    }

    /// <returns>Null where several answer at once and may be wrong: a run at a table takes one answer.</returns>
    private static Dictionary<(int Seat, Ask Ask), (int Count, int Games)>? Slowly(Frame frame, Setup setup, LearnerAnswers answers, Behaviour behaviour, int games)
    {
        var met = new Dictionary<(int, Ask), (int Count, int Games)>();
        var game = setup.Ready().Compile(answers);
        for (int g = 0; g < games; g++)
        {
            var rng = Rng.ForGame(3, g);
            var here = new HashSet<(int, Ask)>();
            var run = game.Start(setup.Begins(g, ref rng));
            while (run.Next.Kind != StepKind.Over && run.Turns < Engine.MostTurns)
            {
                if (run.Next.Kind == StepKind.Chance)
                {
                    run.Deal(run.Draw(ref rng));
                    continue;
                }
                var move = behaviour is Behaviour.Perfect or Behaviour.Blocking ? run.Best(ref rng) : run.Plain(ref rng);
                var asks = run.Asks(move);
                if (behaviour == Behaviour.Child && asks.Any(a => a.Seat != run.Next.Seat)) return null;
                bool right = true;
                foreach (var (seat, ask) in asks)
                {
                    var (count, seen) = met.GetValueOrDefault((seat, ask));
                    met[(seat, ask)] = (count + 1, seen + (here.Add((seat, ask)) ? 1 : 0));
                    if (behaviour == Behaviour.Child) right &= answers.For(seat, ask).Draw(ref rng) >= Outcome.CountedAll;
                }
                run.Apply(move, right || !run.Seeking(move));
            }
        }
        return met;
    }

    [Theory, MemberData(nameof(Frames))]
    public void The_same_seed_gives_the_same_forecast_whatever_the_cores(string id)
    {
        var setup = Setup.Default(Frame(id).Data, Seat.Child("a", 5), Seat.Child("b", 7));
        var answers = new LearnerAnswers(setup, new DateOnly(2026, 1, 1));
        string one = Forecaster.Make(setup.Ready(), answers, new ForecastOptions(Samples: 3_000)).ToJson().ToJsonString();
        Assert.Equal(one, Forecaster.Make(setup.Ready(), answers, new ForecastOptions(Samples: 3_000)).ToJson().ToJsonString());
        Assert.NotEqual(one, Forecaster.Make(setup.Ready(), answers, new ForecastOptions(Seed: 2, Samples: 3_000)).ToJson().ToJsonString());
    }

    [Theory, MemberData(nameof(Frames))]
    public void Every_level_can_be_played_and_every_knob_is_told(string id)
    {
        var frame = Frame(id);
        Assert.All(frame.Data.Levels, level => Assert.Empty((Setup.Default(frame.Data, Seat.Child("a", 5)) with { LevelId = level.Id }).Problems()));
        Assert.All(frame.Data.Knobs, knob => Assert.True(knob.Says.Length > 10 && knob.Label.Length > 0));
        Assert.Equal(frame.Data.Levels.Count, frame.Data.Levels.DistinctBy(l => l.Says).Count());
    }
}
