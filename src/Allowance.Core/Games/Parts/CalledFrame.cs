using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>
/// A game that a caller leads: the app, or a grown-up. Everyone gets calls of her own, one after another; or everyone
/// answers the same call at once. A frame of this kind only says what can be called at a place.
/// </summary>
public abstract class CalledFrame : Frame
{
    /// <summary>What can be called at a place, in an order that depends on nothing but the setup; at most <see cref="MostCalls"/>.</summary>
    public abstract IReadOnlyList<Call> Calls(Setup setup, int seat);

    public const int MostCalls = 256;

    /// <summary>How many calls each player gets; where all answer at once, how many there are.</summary>
    protected abstract int Rounds(Setup setup);

    /// <summary>The same, where it differs from place to place.</summary>
    protected virtual int Rounds(Setup setup, int seat) => Rounds(setup);

    /// <summary>Seconds of handling for a call: showing it, saying it, putting things back.</summary>
    protected abstract float Handling(Setup setup, Call call);

    /// <summary>How many calls a number stays away, 1 to 3.</summary>
    protected virtual int Apart(Setup setup, int seat) => 1;

    /// <summary>Rather a call that came before than one that could be foreseen.</summary>
    protected virtual bool NeverForeseen => false;

    /// <summary>In what order calls come; where they fall as dice do, there may be any number of them.</summary>
    private protected virtual CallOrder OrderOf(Setup setup) => CallOrder.Shuffled;

    /// <summary>What brings the next call.</summary>
    protected virtual string Brings(Setup setup) => "The next call comes.";

    /// <summary>What lies there until it comes.</summary>
    /// <param name="made">The calls that she had in this round of all calls.</param>
    private protected virtual IReadOnlyList<Zone> Waits(Setup setup, int seat, int left, IReadOnlyList<Call> made) => [new Pile("Calls to come", left)];

    public sealed override bool IsCalled => true;

    public sealed override IEnumerable<Ask> AsksOfThings(Setup setup, int seat) => Calls(setup, seat).SelectMany(c => c.Asks);

    public override bool ShowsPoints(Setup setup) => IsRace(setup);

    public override bool EndsTogether(Setup setup) => !IsRace(setup);

    /// <summary>Where it is a race, the places of those who may be first; everyone is asked the same call, each in her own way.</summary>
    protected virtual IEnumerable<int> Racing(Setup setup) => [];

    protected internal sealed override Game Compile(Setup setup) => Compile(setup, null);

    protected internal sealed override Game Compile(Setup setup, IAnswers? beliefs)
    {
        List<IReadOnlyList<Call>> calls = AnswersAtOnce(setup) ? [.. Enumerable.Repeat(Calls(setup, Leading(setup)), setup.Seats.Length)] : [.. Enumerable.Range(0, setup.Seats.Length).Select(s => Calls(setup, s))];
        // Dice may fall in any number of ways, and nobody keeps them apart.
        int most = OrderOf(setup) == CallOrder.Falling ? 0 : calls.Max(c => c.Count);
        return most <= PlaceSet.Most ? Compile<PlaceSet>(setup, calls, beliefs)
            : most <= TwoSets<PlaceSet>.Most ? Compile<TwoSets<PlaceSet>>(setup, calls, beliefs)
            : Compile<TwoSets<TwoSets<PlaceSet>>>(setup, calls, beliefs);
    }

    private Game Compile<TSet>(Setup setup, List<IReadOnlyList<Call>> calls, IAnswers? beliefs) where TSet : struct, IPlaceSet<TSet>
    {
        bool atOnce = AtOnce(setup);
        CallList<TSet>[] lists = atOnce ? [.. Enumerable.Repeat(List(Leading(setup)), calls.Count)] : [.. Enumerable.Range(0, calls.Count).Select(List)];
        uint racing = IsRace(setup) ? Racing(setup).Aggregate(0u, (seats, seat) => seats | 1u << seat) : 0;
        var places = lists.Select((list, seat) => new CalledPlace<TSet>(list, [.. list.Calls.Select(c => Handling(setup, c))],
            setup.Seats[seat].GrownUp || racing != 0 && (racing >> seat & 1) == 0 ? null : [.. calls[seat].Select(c => c.Asks.Select(a => new SeatAsk(seat, a)).ToArray())]));
        // Where all answer the same calls, these are counted once, behind all seats.
        var kinds = new TurnKinds(lists.Select((list, seat) => atOnce && seat < lists.Length - 1 ? 0.0 : list.Calls.Count));
        int[] rounds = [.. places.Select((_, s) => Rounds(setup, s))];
        return racing != 0 ? new Game<CalledRules<TSet, ToTheFirst>, CalledState<TSet>>(setup, new([.. places], kinds, rounds, atOnce, racing, Leading(setup), Brings(setup), Waiting))
            : new Game<CalledRules<TSet, ToTheMover>, CalledState<TSet>>(setup, new([.. places], kinds, rounds, atOnce, racing, Leading(setup), Brings(setup), Waiting));

        IReadOnlyList<Zone> Waiting(int seat, int left, IReadOnlyList<Call> made) => Waits(setup, seat, left, made);

        CallList<TSet> List(int seat) => new(calls[seat], beliefs is null ? null : ask => beliefs.For(seat, ask).Right, Apart(setup, seat), NeverForeseen, OrderOf(setup));
    }

    private bool AtOnce(Setup setup) => AnswersAtOnce(setup) || IsRace(setup);

    /// <summary>For whom calls are made that all answer: the first child.</summary>
    private static int Leading(Setup setup) => Math.Max(0, setup.Seats.ToList().FindIndex(s => !s.GrownUp));

    /// <summary>What is called first: what is at her edge, then what is firm, what she knows, and what is a stretch.</summary>
    internal static int Rank(double right) => FirmnessScale.Of(right) switch { Firmness.Edge => 0, Firmness.Firm => 1, Firmness.Sure => 2, _ => 3 };

    protected internal sealed override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var facts = new Facts { Turns = Pmf.Always(AtOnce(setup) ? Rounds(setup) : Enumerable.Range(0, setup.Seats.Length).Sum(s => Rounds(setup, s))), AimReached = 1 };
        AddFacts(setup, facts);
        return facts;
    }

    /// <summary>The frame's own exact facts.</summary>
    protected virtual void AddFacts(Setup setup, Facts facts) { }

    protected internal sealed override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];
}

/// <summary>What a game with a caller knows, but for what was called before.</summary>
internal interface ICalledState
{
    Head Head { get; }

    short Call { get; }

    CallsGiven Given { get; }
}

internal struct CalledState<TSet> : ICalledState where TSet : struct, IPlaceSet<TSet>
{
    public Head Head;

    /// <summary>The call that waits for its answer.</summary>
    public short Call;

    /// <summary>Calls still to be made.</summary>
    public short ToCome;

    /// <summary>By seat, the calls she had; in a race those she was first to answer.</summary>
    public CallsGiven Given;
    public CallMemories<TSet> Memories;

    readonly Head ICalledState.Head => Head;

    readonly short ICalledState.Call => Call;

    readonly CallsGiven ICalledState.Given => Given;
}

/// <param name="Seconds">By call, of handling.</param>
/// <param name="Asks">By call; null for a grown-up.</param>
internal sealed record CalledPlace<TSet>(CallList<TSet> List, float[] Seconds, SeatAsk[][]? Asks) where TSet : struct, IPlaceSet<TSet>;

/// <summary>Whose a call is. A type for each, so that the rules are compiled for each.</summary>
internal interface ICallTaking
{
    /// <summary>Whoever is first takes it.</summary>
    static abstract bool Races { get; }
}

internal readonly struct ToTheMover : ICallTaking
{
    public static bool Races => false;
}

internal readonly struct ToTheFirst : ICallTaking
{
    public static bool Races => true;
}

/// <summary>The rules of every game with a caller: a call, and the one move that answers it.</summary>
/// <param name="kinds">A turn is told by its call.</param>
/// <param name="rounds">Calls for each player; at each place the same where all answer at once.</param>
/// <param name="racing">In a race those who may be first, as bits; 0 where it is none.</param>
internal readonly struct CalledRules<TSet, TTaking>(CalledPlace<TSet>[] places, TurnKinds kinds, int[] rounds, bool atOnce, uint racing, int leading, string next, Func<int, int, IReadOnlyList<Call>, IReadOnlyList<Zone>> waits) : IRules<CalledState<TSet>>
    where TSet : struct, IPlaceSet<TSet>
    where TTaking : struct, ICallTaking
{
    public int Seats => places.Length;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref CalledState<TSet> s) => ref s.Head;

    public void Start(ref CalledState<TSet> s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        Arrange(ref s, s.Head.Active);
    }

    /// <summary>Where a seat's memory lies. Only a group that answers at once has more seats, and one memory in all.</summary>
    private static int Place(int seat) => seat & Engine.MostSeats - 1;

    private CallList<TSet> List(in CalledState<TSet> s) => places[s.Head.Mover].List;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref CalledState<TSet> s, ref Rng rng) => List(in s).Draw(in s.Memories[Place(s.Head.Mover)], ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref CalledState<TSet> s, int outcome)
    {
        s.Call = (short)outcome;
        List(in s).Take(ref s.Memories[Place(s.Head.Mover)], outcome);
        s.Head.Phase = StepKind.Choice;
    }

    /// <summary>The call is answered; in a race it goes to whoever was first in the course of play.</summary>
    private static Move Answer
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => new(0, TTaking.Races ? Engine.MostSeats : 0);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in CalledState<TSet> s, ref Rng rng) => Answer;

    public Move Best(in CalledState<TSet> s, ref Rng rng) => Answer;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in CalledState<TSet> s, Move move, Span<SeatAsk> into)
    {
        int count = 0;
        if (TTaking.Races && move.IsPass) return 0;
        if (!atOnce) Put(in s, s.Head.Mover, into, ref count);
        else if (TTaking.Races && move.Pick < Seats) Put(in s, move.Pick, into, ref count);
        else
            for (int seat = 0; seat < Seats; seat++)
                if ((s.Head.Active >> seat & 1) != 0) Put(in s, seat, into, ref count);
        return count;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Put(in CalledState<TSet> s, int seat, Span<SeatAsk> into, ref int count)
    {
        if (places[seat].Asks is not { } mine) return;
        foreach (var ask in mine[s.Call]) into[count++] = ask;
    }

    public int TurnKinds => kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in CalledState<TSet> s, Move move) => kinds[s.Head.Mover] + s.Call;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in CalledState<TSet> s) => 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in CalledState<TSet> s, Move move) => places[s.Head.Mover].Seconds[s.Call];

    public bool Seeking(in CalledState<TSet> s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref CalledState<TSet> s, Move move, Answered answered)
    {
        s.Head.Turns++;
        s.Head.Phase = --s.ToCome == 0 ? StepKind.Over : StepKind.Chance;
        if (TTaking.Races && (move.Pick < Seats ? move.Pick : answered.Fastest) is >= 0 and var first) s.Given[first]++;
        if (atOnce) return;
        s.Given[s.Head.Mover]++;
        if (s.ToCome > 0) Pass(ref s);
    }

    /// <summary>On to the next who still gets calls.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Pass(ref CalledState<TSet> s)
    {
        do s.Head.NextMover();
        while (s.Given[s.Head.Mover] >= rounds[s.Head.Mover]);
    }

    /// <summary>Where there are now so many more or fewer calls that they are kept in sets of another size, what was called before is forgotten.</summary>
    public CalledState<TSet> Adopt(object other)
    {
        var before = (ICalledState)other;
        return new() { Head = before.Head, Call = before.Call, Given = before.Given };
    }

    public void Recount(ref CalledState<TSet> s) => s.ToCome = (short)Left(in s);

    /// <summary>Over when everyone who is here has had her calls; whoever came later still gets hers.</summary>
    public void Arrange(ref CalledState<TSet> s, uint before)
    {
        for (int seat = 0; seat < Math.Min(Seats, Engine.MostSeats); seat++) places[seat].List.Fit(ref s.Memories[seat]);
        s.ToCome = (short)Math.Max(0, Left(in s));
        if (s.ToCome == 0)
        {
            s.Head.Phase = StepKind.Over;
            return;
        }
        // Calls for all are led by the first child, or whoever is here instead.
        if (atOnce && s.Head.Plays(leading)) s.Head.Mover = (byte)leading;
        else if (!atOnce && (s.Given[s.Head.Mover] >= rounds[s.Head.Mover] || (s.Head.Active >> s.Head.Mover & 1) == 0)) Pass(ref s);
        // A call for all goes on without whoever left; one that was hers is withdrawn.
        if (!atOnce || s.Call >= List(in s).Calls.Count) s.Head.Phase = StepKind.Chance;
    }

    public int Points(in CalledState<TSet> s, int seat) => atOnce && !TTaking.Races ? s.Head.Turns : s.Given[seat];

    public bool AimReached(in CalledState<TSet> s) => s.Head.Phase == StepKind.Over;

    public int Left(in CalledState<TSet> s)
    {
        if (atOnce) return s.Head.Active == 0 ? 0 : rounds[0] - s.Head.Turns;
        int left = 0;
        // Who had more than is hers now, as others joined, takes nothing from them.
        for (int seat = 0; seat < Seats; seat++) left += (s.Head.Active >> seat & 1) != 0 ? Math.Max(0, rounds[seat] - s.Given[seat]) : 0;
        return left;
    }

    public int Things(in CalledState<TSet> s) => Left(in s) + s.Head.Turns;

    public IReadOnlyList<Possible> Possibilities(in CalledState<TSet> s) =>
        [.. List(in s).Calls.Select((c, i) => new Possible(i, c.Ways, c.Label) { Numbers = c.Asks is [{ Count: 2 } ask, ..] ? (ask[0], ask[1]) : null })];

    public bool IsLegal(in CalledState<TSet> s, Move move) => s.Head.Phase == StepKind.Choice && (move == Answer || TTaking.Races && move.IsPass || Moves(in s).Contains(move));

    /// <summary>In a race one for each who may have been first; it is passed where nobody was.</summary>
    public IReadOnlyList<Move> Moves(in CalledState<TSet> s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        uint first = racing & s.Head.Active;
        return first == 0 ? [Answer] : [.. Enumerable.Range(0, Seats).Where(seat => (first >> seat & 1) != 0).Select(seat => new Move(0, seat))];
    }

    public Tapped Read(in CalledState<TSet> s, IReadOnlyList<int> items) => items is [var seat] && TTaking.Races && Moves(in s).Contains(new Move(0, seat)) ? Tapped.As(new Move(0, seat)) : Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in CalledState<TSet> s)
    {
        // At the end what was called last still lies there.
        bool over = s.Head.Phase == StepKind.Over && s.Head.Turns > 0 && s.Call < List(in s).Calls.Count;
        var (list, memory) = (List(in s), s.Memories[Place(s.Head.Mover)]);
        if (s.Head.Phase != StepKind.Choice && !over) return waits(s.Head.Mover, Left(in s), list.Made(memory));
        var call = Current(in s);
        if (TTaking.Races) return over ? call.Lies : [.. call.Lies, ChoiceKeys.WhoWasFirst(Moves(in s).Select(m => m.Pick))];
        return call.LiesAfter is { } after ? after(list.Before(s.Call, memory)) : call.Lies;
    }

    /// <summary>In a race the screen shows neither what lies where nor which cards to hand out.</summary>
    public IReadOnlyList<string> Helps(in CalledState<TSet> s) => s.Head.Phase == StepKind.Choice && (TTaking.Races ? Current(in s).Label : Current(in s).Helps) is { } help ? [help] : [];

    private Call Current(in CalledState<TSet> s) => List(in s).Calls[s.Call];

    public string Says(in CalledState<TSet> s) => s.Head.Phase switch
    {
        StepKind.Over => "That was the last one.",
        StepKind.Choice => Current(in s).Says,
        _ => next,
    };

    public string Tells(in CalledState<TSet> before, Move move, bool found) => Current(in before) is var call && call.Tells is { } tells ? tells : call.Label;
}
