using System.Collections.Immutable;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <summary>A figure that varies from game to game. Quantiles are the smallest n with P(X ≤ n) ≥ q.</summary>
/// <param name="Error">Standard error of the mean; 0 where exact.</param>
public sealed record Spread(double Mean, double Sd, double P10, double P50, double P90, double Error)
{
    public JsonObject ToJson() => new() { ["mean"] = Mean, ["sd"] = Sd, ["p10"] = P10, ["p50"] = P50, ["p90"] = P90, ["error"] = Error };

    public static Spread Of(Pmf pmf) => new(pmf.Mean, pmf.Sd, pmf.Quantile(.1), pmf.Quantile(.5), pmf.Quantile(.9), 0);

    /// <summary>Of samples, which are sorted in place.</summary>
    public static Spread Of(double[] samples)
    {
        Array.Sort(samples);
        int n = samples.Length;
        double mean = samples.Average();
        double sd = Math.Sqrt(samples.Sum(x => (x - mean) * (x - mean)) / Math.Max(1, n - 1));
        return new(mean, sd, At(.1), At(.5), At(.9), sd / Math.Sqrt(n));

        double At(double q) => samples[Math.Clamp((int)Math.Ceiling(q * n - 1e-9) - 1, 0, n - 1)];
    }
}

/// <summary>How firm an ask is: <em>knows it</em>, <em>nearly always</em>, <em>just right</em>, <em>a stretch</em>. The lower end belongs to each.</summary>
public enum Firmness { Far, Edge, Firm, Sure }

public static class FirmnessScale
{
    public const double Sure = .95, Firm = .85, Edge = .60;

    public static Firmness Of(double right) => right >= Sure ? Firmness.Sure : right >= Firm ? Firmness.Firm : right >= Edge ? Firmness.Edge : Firmness.Far;

    public static string Says(this Firmness firmness) => firmness switch
    {
        Firmness.Sure => "knows it", Firmness.Firm => "nearly always", Firmness.Edge => "just right", _ => "a stretch",
    };
}

/// <param name="PerGame">Expected number of times in a game.</param>
/// <param name="Seen">Chance that it comes up at all.</param>
/// <param name="Right">The player's chance of getting it right: what the learner believes.</param>
public sealed record AskForecast(Ask Ask, double PerGame, double Seen, double Right);

/// <param name="Success">Mean of being right over the asks; null where nothing is asked.</param>
public sealed record PlayerForecast(string Name, double? Success, double BeyondRange, ImmutableArray<AskForecast> Asks)
{
    /// <summary>The share of the asks of this firmness, weighted by how often they come.</summary>
    public double Share(Firmness firmness)
    {
        double all = Asks.Sum(a => a.PerGame);
        return all == 0 ? 0 : Asks.Where(a => FirmnessScale.Of(a.Right) == firmness).Sum(a => a.PerGame) / all;
    }
}

/// <summary>What playing a setup will be like.</summary>
/// <param name="Method">exact, simulated or mixed: speaks of turns and facts.</param>
/// <param name="Wins">Chance of each seat to win outright; of a solitary or common game, to reach its aim; empty where nobody wins.</param>
/// <param name="Wait">Mean seconds between a player's turns.</param>
public sealed record Forecast(
    Setup Setup, Behaviour Behaviour, string Method, int Samples, Spread Turns, Spread Minutes,
    ImmutableArray<double> Wins, double Tie, double Stuck, ImmutableArray<double> Wait,
    ImmutableArray<PlayerForecast> Players, Facts Facts, IReadOnlyList<Need> Needs)
{
    public const string Format = "allowance-forecast/1";

    /// <summary>By seat, the mean of what decides who wins: who has most at the end.</summary>
    public ImmutableArray<double> Points { get; init; } = [];

    /// <summary>The same with facts about one position behind its own.</summary>
    public Forecast With(Facts position)
    {
        var all = new Facts { Turns = Facts.Turns, WerePlayed = Facts.WerePlayed, AimReached = Facts.AimReached };
        foreach (var (name, fact) in Facts.All.Concat(position.All)) all[name] = fact;
        return this with { Facts = all };
    }

    public JsonObject ToJson() => new()
    {
        ["format"] = Format,
        ["game"] = Setup.Frame.Id,
        ["behaviour"] = Behaviour.ToString().ToLowerInvariant(),
        ["method"] = Method,
        ["samples"] = Samples,
        ["turns"] = Turns.ToJson(),
        ["needs"] = new JsonObject(Needs.Select(n => KeyValuePair.Create(n.Thing, (JsonNode?)n.Count))),
        ["minutes"] = Minutes.ToJson(),
        ["wins"] = new JsonArray([.. Wins.Select(w => JsonValue.Create(w))]),
        ["tie"] = Tie,
        ["stuck"] = Stuck,
        ["wait"] = new JsonArray([.. Wait.Select(w => JsonValue.Create(w))]),
        ["players"] = new JsonArray([.. Players.Select(PlayerJson)]),
        ["facts"] = Facts.ToJson(),
    };

    private static JsonNode PlayerJson(PlayerForecast player) => new JsonObject
    {
        ["name"] = player.Name,
        ["success"] = player.Success,
        ["beyondRange"] = player.BeyondRange,
        ["shares"] = new JsonObject
        {
            ["sure"] = player.Share(Firmness.Sure),
            ["firm"] = player.Share(Firmness.Firm),
            ["edge"] = player.Share(Firmness.Edge),
            ["far"] = player.Share(Firmness.Far),
        },
        ["asks"] = new JsonArray([.. player.Asks.Select(a => new JsonObject { ["ask"] = a.Ask.ToString(), ["perGame"] = a.PerGame, ["seen"] = a.Seen, ["right"] = a.Right })]),
    };
}

/// <summary>Makes forecasts: exact where the frame knows it, simulated where it must be.</summary>
public static class Forecaster
{
    /// <summary>Games between two looks at the error; and so few that one core plays them.</summary>
    private const int Batch = 500, FewGames = 400;

    /// <summary>The share of the time for playing that goes to facts that could not be worked out.</summary>
    private const double FactsShare = .5;

    /// <summary>Games until the first look at the clock.</summary>
    private const int FirstGames = 8;

    /// <summary>From so many different asks on, what is known of each takes more memory than there is: some two thousand bytes, the answer's text included.</summary>
    private const int MostAsks = 100_000;

    /// <summary>Forecasts a setup that its frame accepts.</summary>
    /// <param name="facts">The exact facts, where they have been worked out before; they do not depend on the players' estimates.</param>
    /// <param name="goodEnough">Stops when the standard error of the minutes is below this share of their mean; 0 plays all samples.</param>
    /// <param name="budget">What it may take; all that it takes where none is given. What was not found out by then is played, and of the games as many as there was time for.</param>
    /// <exception cref="OperationCanceledException">Nobody waits for it any longer.</exception>
    public static Forecast Make(Playable playable, IAnswers answers, ForecastOptions options, Facts? facts = null, double goodEnough = 0, Budget? budget = null)
    {
        var setup = playable.Setup;
        facts ??= FactsOf(playable, options.Behaviour, budget);
        var spending = budget?.Playing() ?? Spending.Unlimited;
        var game = playable.Compile(answers);
        int seats = setup.Seats.Length;
        var plan = new SimulationPlan(options.Behaviour, options.Seed, answers, setup.First, setup.Youngest, Ranges(setup), SimulationPlan.HandsOf(setup), options.Samples);
        // Each core has a tally of its own, which knows from batch to batch what was met.
        GameTally[] tallies = [.. Enumerable.Range(0, options.Samples < FewGames ? 1 : Math.Min(Environment.ProcessorCount, 8)).Select(_ => new GameTally(seats, plan))];
        int played = 0;
        while (played < options.Samples)
        {
            int batchEnd = goodEnough > 0 ? Math.Min(options.Samples, played - played % Batch + Batch) : options.Samples;
            int upTo = budget is null ? batchEnd : Math.Min(batchEnd, played + GamesAtOnce(played, spending.Left));
            OnAllCores(game, plan, tallies, played, upTo);
            played = upTo;
            if (goodEnough > 0 && played == batchEnd && RelativeError(plan.Seconds.AsSpan(0, played)) < goodEnough) break;
            if (budget is not null && (spending.IsSpent || tallies.Sum(t => t.Asks.Count) > MostAsks)) break;
        }
        var tally = tallies[0];
        foreach (var other in tallies.Skip(1)) tally.Add(other);
        return Read(playable, options, plan, tally, played, facts);
    }

    /// <summary>A player's mean chance of being right over a few games; null where she is asked nothing. Much quicker than a forecast.</summary>
    /// <param name="spending">When it is spent, the games so far are enough; one batch at least is played.</param>
    /// <param name="seed">Other games.</param>
    public static double? Success(Playable playable, IAnswers answers, int games, int seat = 0, Spending? spending = null, int seed = 1)
    {
        var setup = playable.Setup;
        var plan = new SimulationPlan(Behaviour.Child, seed, answers, setup.First, setup.Youngest, Ranges(setup), SimulationPlan.HandsOf(setup), games);
        var tally = new GameTally(setup.Seats.Length, plan);
        var game = playable.Compile(answers);
        int played = 0;
        do
        {
            int upTo = spending is null ? games : Math.Min(games, played + GamesAtOnce(played, spending.Left));
            game.PlayedBy(new Simulator(plan, tally, played, upTo));
            played = upTo;
        }
        while (played < games && spending?.IsSpent != true);
        return Player("", tally.Asks.Of(seat), 0, played).Success;
    }

    /// <summary>The exact facts, or where there is no time for them the same by games.</summary>
    public static Facts FactsOf(Playable playable, Behaviour behaviour, Budget? budget)
    {
        try
        {
            return playable.ExactFacts(behaviour, budget?.Exactly() ?? Spending.Unlimited);
        }
        catch (BudgetSpentException)
        {
            var played = playable.PlayedFacts(behaviour, budget?.Playing(FactsShare) ?? Spending.Unlimited);
            played.WerePlayed = true;
            return played;
        }
    }

    /// <summary>How many games to play before looking at the clock again: at most half of what the time that is left is enough for, going by the games so far.</summary>
    /// <param name="left">The share of the time that is left.</param>
    private static int GamesAtOnce(int played, double left) =>
        played == 0 ? FirstGames : (int)Math.Clamp(played * left / Math.Max(1e-6, 1 - left) / 2, 1, played);

    private static void OnAllCores(Game game, SimulationPlan plan, GameTally[] tallies, int from, int to)
    {
        Parallel.For(0, tallies.Length, w => game.PlayedBy(new Simulator(plan, tallies[w], At(w), At(w + 1))));

        int At(int w) => from + (int)((long)(to - from) * w / tallies.Length);
    }

    private static double RelativeError(ReadOnlySpan<float> seconds)
    {
        double sum = 0, squares = 0;
        foreach (float s in seconds)
        {
            sum += s;
            squares += (double)s * s;
        }
        double mean = sum / seconds.Length;
        return mean == 0 ? 0 : Math.Sqrt(Math.Max(0, squares / seconds.Length - mean * mean) / seconds.Length) / mean;
    }

    private static NumberRange?[] Ranges(Setup setup) =>
        [.. Enumerable.Range(0, setup.Seats.Length).Select(i => setup.At<RangeValue>(i, KnobRole.Range)?.Range)];

    private static Forecast Read(Playable playable, ForecastOptions options, SimulationPlan plan, GameTally tally, int played, Facts facts)
    {
        var setup = playable.Setup;
        double n = played;
        bool exactTurns = facts.Turns is not null && options.Behaviour != Behaviour.Child;
        var turns = exactTurns ? Spread.Of(facts.Turns!) : Spread.Of([.. plan.Turns.Take(played).Select(t => (double)t)]);
        var all = WithSimulated(playable, facts, tally, plan, played);
        double stuck = all.Find("pStuck") is NumberFact { Simulated: false } known ? known.Value : tally.Stuck / n;
        bool simulatedFacts = all.All.Any(f => f.Fact.Simulated);
        string method = exactTurns && !simulatedFacts ? "exact" : exactTurns || all.All.Any(f => !f.Fact.Simulated) ? "mixed" : "simulated";
        int seats = setup.Seats.Length;
        ImmutableArray<double> wins = setup.Winning switch
        {
            Winnings.None => [],
            Winnings.Compete when seats > 1 => [.. tally.Seats.Select(s => s.Wins / n)],
            _ => [facts.AimReached ?? tally.Aims / n],
        };
        return new(setup, options.Behaviour, method, played, turns, Spread.Of([.. plan.Seconds.Take(played).Select(s => s / 60.0)]),
            wins, setup.Winning == Winnings.Compete && seats > 1 ? tally.Ties / n : 0, stuck,
            [.. tally.Seats.Select(s => s.WaitGames == 0 ? 0 : s.WaitMilliseconds / 1000.0 / s.WaitGames)],
            [.. Enumerable.Range(0, seats).Select(i => Player(setup.Seats[i].Name, tally.Asks.Of(i), tally.Seats[i].Beyond, n))], all, playable.Frame.Needs(setup)) { Points = [.. tally.Seats.Select(s => s.Points / n)] };
    }

    private static Facts WithSimulated(Playable playable, Facts exact, GameTally tally, SimulationPlan plan, int played)
    {
        double n = played;
        var all = new Facts { Turns = exact.Turns, WerePlayed = exact.WerePlayed };
        foreach (var (name, fact) in exact.All) all[name] = fact;
        foreach (string name in playable.SimulatedFacts.Where(f => exact.Find(f) is null))
            all[name] = name switch
            {
                "pStuck" => Share(tally.Stuck),
                "pMove" => Share((long)n - tally.NoTurn),
                "leftMean" => new NumberFact(tally.Left / n, Math.Sqrt(Math.Max(0, tally.LeftSquared / n - tally.Left / n * (tally.Left / n)) / n), true),
                _ => OfTurns(name),
            };
        return all;

        NumberFact OfTurns(string name)
        {
            double mean = plan.Turns.Take(played).Average(), variance = plan.Turns.Take(played).Sum(t => (t - mean) * (t - mean)) / n;
            return new(playable.FromTurns(name, mean), Math.Sqrt(variance / n), true);
        }

        NumberFact Share(long count) => new(count / n, Math.Sqrt(count / n * (1 - count / n) / n), true);
    }

    private static PlayerForecast Player(string name, IEnumerable<AskTally> met, long beyond, double n)
    {
        var asks = met.Select(t => new AskForecast(Ask.FromCode(t.Code), t.Count / n, t.Games / n, t.Right))
            .OrderByDescending(a => a.PerGame).ThenBy(a => a.Ask.Code).ToImmutableArray();
        double all = asks.Sum(a => a.PerGame);
        return new(name, all == 0 ? null : asks.Sum(a => a.PerGame * a.Right) / all, beyond / n, asks);
    }
}
