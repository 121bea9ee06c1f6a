using System.Text.Json;
using Allowance.Core.Asks;
using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Rules;

/// <summary>A game whose rules stay while its content changes. One file a frame; <c>docs/adding-a-frame.md</c> is the way in.</summary>
public abstract class Frame
{
    public abstract FrameData Data { get; }

    /// <summary>Checks a setup whose knobs are within their ranges by the rules of this frame.</summary>
    /// <returns>It, ready for everything that plays; null with the problems where the rules refuse it.</returns>
    public Playable? Check(Setup setup, out IReadOnlyList<Problem> problems)
    {
        problems = Wild(setup) ?? Refusals(setup);
        return problems.Count == 0 ? new(this, setup) : null;
    }

    public Playable? Check(Setup setup) => Check(setup, out _);

    /// <summary>Wild cards in a game that knows none; null where there are none.</summary>
    private IReadOnlyList<Problem>? Wild(Setup setup) => Data.Knob(KnobRole.Deck) is { Kind: DeckKind { Wild: false } } knob && setup.Get(knob) is DeckValue { Deck: { Wilds: > 0 } deck }
        ? [new($"table.{knob.Id}", $"{Data.Name} has no wild cards; take them out, or give them a number.", new DeckValue(deck.WithoutWilds()).ToJson())] : null;

    /// <summary>What the rules refuse, each with the nearest that works.</summary>
    protected abstract IReadOnlyList<Problem> Refusals(Setup setup);

    /// <summary>Of several asks that a turn puts to one player, the one that is noted first; what the turn ends with, where the frame does not say otherwise.</summary>
    public virtual Ask MattersMost(Setup setup, int seat, IReadOnlyList<Ask> asks) => asks[^1];

    /// <summary>A turn that asks this shows what the game is about, so that it can be told as an example; where none does, any turn is.</summary>
    internal virtual bool ShowsWhatItIsAbout(Setup setup, IReadOnlyList<SeatAsk> asks) => true;

    /// <summary>What whoever wins has, or is: "most cards"; in words of this setup, where the rule that says it has several.</summary>
    public virtual string WhatWins(Setup setup) => setup.Get<ChoiceValue>(KnobRole.Winning)!.Label;

    /// <summary>Points are things that players have taken, and stand beside their names.</summary>
    public virtual bool ShowsPoints(Setup setup) => true;

    /// <summary>Nobody is before another: all come to the end together.</summary>
    public virtual bool EndsTogether(Setup setup) => false;

    /// <summary>Makes a setup ready for play.</summary>
    protected internal abstract Game Compile(Setup setup);

    /// <summary>The same, where a caller chooses by what is believed of the players; null where nothing is known of them.</summary>
    protected internal virtual Game Compile(Setup setup, IAnswers? beliefs) => Compile(setup);

    /// <summary>What may be asked of her with real things besides what this table lays and calls.</summary>
    public virtual IEnumerable<Ask> AsksOfThings(Setup setup, int seat) => [];

    /// <summary>A caller leads: a person, or the app.</summary>
    public virtual bool IsCalled => false;

    /// <summary>Everyone answers the same call at the same time; it is made for the first child.</summary>
    public virtual bool AnswersAtOnce(Setup setup) => false;

    /// <summary>Who is quickest takes it; only where a clock is liked.</summary>
    public virtual bool IsRace(Setup setup) => false;

    public abstract IReadOnlyList<Need> Needs(Setup setup);

    /// <summary>What to do before the game, a sentence each.</summary>
    public abstract IReadOnlyList<string> GetReady(Setup setup);

    /// <summary>When it is over, in a sentence; in words of this setup, where that hangs on it.</summary>
    public virtual string EndsWhen(Setup setup) => Data.Ends;

    /// <summary>The exact facts of a setup, and the exact distribution of turns where there is one.</summary>
    /// <param name="behaviour">How the players behave, where a fact hangs on their choices.</param>
    /// <exception cref="BudgetSpentException">They take longer than there is time; see <see cref="PlayedFacts"/>.</exception>
    protected internal abstract Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending);

    /// <summary>The same facts by games that are played, with their errors; for frames whose exact answer may take too long.</summary>
    protected internal virtual Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending) => ExactFacts(setup, behaviour, Spending.Unlimited);

    /// <summary>What is told of a position on the table that a file asks about.</summary>
    /// <param name="position">As it stands in the file, at <c>forecast.position</c>.</param>
    /// <returns>Null with the problems where it cannot be read.</returns>
    protected internal virtual Facts? At(Setup setup, JsonElement position, List<Problem> problems)
    {
        problems.Add(new("forecast.position", $"{Data.Name} has no positions to ask about; leave it out.", null));
        return null;
    }

    /// <summary>One figure where all places have the same; a list in seat order where they differ.</summary>
    protected static Fact PerSeat(Setup setup, Func<int, Fact> fact)
    {
        var all = Enumerable.Range(0, setup.Seats.Length).Select(fact).ToList();
        return all.Select(f => f.ToJson().ToJsonString()).Distinct().Count() == 1 ? all[0] : new ListFact(all);
    }

    /// <summary>The same, worked out once for places that play alike.</summary>
    /// <param name="plays">What a place plays by.</param>
    protected static Fact PerSeat<T>(Setup setup, Func<int, T> plays, Func<int, Fact> fact) where T : notnull
    {
        var known = new Dictionary<T, Fact>();
        return PerSeat(setup, s => known.TryGetValue(plays(s), out var alike) ? alike : known[plays(s)] = fact(s));
    }

    /// <summary>The facts that the simulation fills in where they are not among the exact ones.</summary>
    protected internal abstract IReadOnlyList<string> SimulatedFacts(Setup setup);

    /// <summary>Its facts in a sentence or two, under a heading, for those who would rather read than look at figures.</summary>
    /// <param name="secondsATurn">How long a turn takes at this table; 0 where that is not known.</param>
    /// <exception cref="BudgetSpentException">That takes longer than there is time.</exception>
    protected internal virtual (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) => null;

    /// <summary>How far each roll gets along a line, for those who would rather look; one for each way of going along it.</summary>
    /// <exception cref="BudgetSpentException">That takes longer than there is time.</exception>
    protected internal virtual IReadOnlyList<Journey> Journeys(Setup setup, Spending spending) => [];

    /// <summary>Where the choices of the first roll lead, in a game of choosing.</summary>
    protected internal virtual ChoiceTree? Choices(Setup setup) => null;

    /// <summary>Whose journey it is: places that go along the line in the same way are told together.</summary>
    protected static IEnumerable<(int Seat, string Whose)> Apart<T>(Setup setup, Func<int, T> way) where T : notnull
    {
        var groups = Enumerable.Range(0, setup.Seats.Length).GroupBy(way).ToList();
        return groups.Select(g => (g.First(), groups.Count == 1 ? "" : Words.List(g.Select(setup.Who))));
    }

    /// <summary>What many a family has time for, in seconds; frames tell how to fill it.</summary>
    protected const double TenMinutes = 600;

    /// <summary>How often a game is played in ten minutes, where one game cannot sensibly be made to fill them.</summary>
    protected static string SuchGames(double turns, double secondsATurn) =>
        Math.Round(TenMinutes / (turns * secondsATurn)) is >= 2 and var games ? $" Ten minutes are about {games:0} such games." : "";

    /// <summary>The mean of a simulated fact of this frame that follows from a number of turns.</summary>
    protected internal virtual double FromTurns(Setup setup, string fact, double turns) => throw new InvalidOperationException($"{fact} does not follow from turns.");

    /// <summary>Whether a knob changes anything in this setup; others are neither shown nor tried.</summary>
    public virtual bool Matters(Setup setup, Knob knob) => true;

    /// <summary>What a knob that is left open comes to in this setup; null where it stays open.</summary>
    public virtual KnobValue? LeftOpen(Setup setup, Knob knob) => null;

    /// <summary>What is played, in a few words: "make 10, face up".</summary>
    public abstract string Summary(Setup setup);

    /// <summary>What is played at one place, in a few words.</summary>
    public virtual string Summary(Setup setup, int seat)
    {
        string own = Summary(OfHers(setup, seat));
        return OwnDice(setup, seat, Told(OwnLevel(setup, seat), own != Summary(setup) ? own : ""));
    }

    /// <summary>The table as it would be if all played by the numbers that are hers; of dice, which lie apart, the table's.</summary>
    internal static Setup OfHers(Setup setup, int seat) =>
        setup.Frame.Knobs.Where(k => k.Scope == Scope.Both && k.Role != KnobRole.Dice).Aggregate(setup, (s, knob) => setup.At(seat, knob) is { } own ? s.With(knob, own) : s);

    /// <summary>Her level, where she has one of her own.</summary>
    protected static string OwnLevel(Setup setup, int seat) => setup.Seats[seat].Level is { } own ? setup.Frame.Level(own)!.Label.ToLowerInvariant() : "";

    /// <summary>What is played, with what is each child's own: "cards 1 to 10; for Juno up to 3".</summary>
    /// <param name="who">What she is called who sits there.</param>
    public string Summary(Setup setup, Func<int, string> who) =>
        string.Join("; ", [Summary(setup), .. Enumerable.Range(0, setup.Seats.Length).Where(s => !setup.Seats[s].GrownUp && Summary(setup, s).Length > 0).Select(s => $"for {who(s)} {Summary(setup, s)}")]);

    /// <summary>The same with her own dice and her head start, where she has them.</summary>
    protected static string OwnDice(Setup setup, int seat, string plays) => string.Join(", ", new[]
    {
        plays,
        setup.Frame.Knob(KnobRole.Dice) is { } dice && setup.At(seat, dice) is { } own && !Equals(own, setup.Get(dice)) ? own.Says() : "",
        setup.At<WholeValue>(seat, KnobRole.HeadStart) is { Number: > 0 and var ahead } ? $"{ahead} ahead" : "",
    }.Where(p => p.Length > 0));

    /// <summary>What a place itself has chosen of a rule that its level leaves open; empty where it has chosen nothing.</summary>
    protected static string OwnRule(Setup setup, int seat, Knob knob) => setup.Seats[seat].Allowance.GetValueOrDefault(knob.Id)?.Says() ?? "";

    protected static string Told(params IEnumerable<string> parts) => string.Join(", ", parts.Where(p => p.Length > 0));

    /// <summary>What is asked at a place is asked of real things that lie there: things to count beside them are no help.</summary>
    public virtual bool IsOfThings(Setup setup, int seat) => false;

    /// <summary>A value that changes something at a place, as far as the setup tells.</summary>
    internal bool Helps(Setup setup, int seat, Knob knob, KnobValue value) => knob.Role != KnobRole.Support || value is not ChoiceValue { Id: "things" } || !IsOfThings(setup, seat);

    /// <summary>The smallest steps of range for a seat, up and down: what she works with, and the things that follow from it.</summary>
    public abstract IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat);

    /// <summary>Neighbouring values of a knob: for a place where it can have its own and others sit there too, else for the table.</summary>
    protected static IReadOnlyList<SingleChange> Steps(Setup setup, int seat, Knob knob) =>
        [.. knob.Kind.Neighbours(setup.At(seat, knob)!).Select(v => Turned(setup, seat, knob, v))];

    protected static SingleChange Turned(Setup setup, int seat, Knob knob, KnobValue value)
    {
        bool own = knob.Scope.HasFlag(Scope.Seat) && setup.Seats.Length > 1;
        return new(SingleChange.Turned(knob, value, setup.At(seat, knob)!, knob.Label.ToLowerInvariant()), knob.Belongs,
            own ? setup.WithSeat(seat, setup.Seats[seat].With(knob, value)) : setup.WithSeat(seat, setup.Seats[seat].With(knob, null)).With(knob, value));
    }

    /// <summary>Remarks on a setup that can be played and yet is hardly meant.</summary>
    public virtual IReadOnlyList<Remark> Audit(Setup setup) => [];

    /// <summary>A change that brings a remark, or makes one heavier, can be made, and is not offered.</summary>
    internal bool IsSensible(Setup now, Setup changed) => Audit(changed) is not { Count: > 0 } remarks || remarks.Sum(r => r.Weight) <= Audit(now).Sum(r => r.Weight) + HardlyHeavier;

    /// <summary>One roll in twenty more that comes to nothing is not noticed.</summary>
    private const double HardlyHeavier = .05;
}
