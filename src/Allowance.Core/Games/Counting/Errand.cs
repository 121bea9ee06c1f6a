using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Errand: draw a number from a box, keep it in mind, walk, and bring back that many.</summary>
public sealed class Errand : Frame
{
    public const string Open = "open", Closed = "closed", Colour = "colour", Secret = "secret", Sum = "sum";

    public const int MostTrips = 60, MostNumber = 30, MostSlips = 200;

    private static readonly FlagValue Yes = new(true), No = new(false);
    private static readonly ChoiceKind Drawing = ChoiceKind.Of(("blind", "drawn blindly"), ("called", "chosen by the caller, those at her edge first"));

    public static class Knobs
    {
        public static readonly Knob<CountsValue> Slips = new("slips", "Slips in the box", new CountsKind(MostNumber, 20, MostSlips), new CountsValue(Enumerable.Range(1, 5).Select(n => KeyValuePair.Create(n, 2))), Belongs.Range, Scope.Table, Sits.Things, "Which numbers are in the box, and how many slips of each.");
        public static readonly OpenKnob<WholeValue> Trips = new("trips", "Trips", new WholeKind(1, MostTrips), Belongs.Length, Scope.Table, Sits.Game, "How many trips all make together, six at most where it is left open; a slip that was drawn does not go back.");
        public static readonly Knob<ChoiceValue> Draw = new("draw", "Slips are", Drawing, Drawing["blind"], Belongs.RuleLevel, Scope.Table, Sits.Things, "Whether the box decides, or a caller who begins with what she is just learning.");
        public static readonly Knob<FlagValue> Keep = new("keep", "The things stay on the rug", new FlagKind(), No, Belongs.Length, Scope.Table, Sits.Game, "Whether what was brought stays, or goes back before the next trip.");
        public static readonly Knob<FlagValue> Colour = new("colour", "With a colour", new FlagKind(), No, Belongs.RuleLevel, Scope.Both, Sits.Game, "The slip also names a colour to bring.");
        public static readonly Knob<FlagValue> Secret = new("secret", "In secret", new FlagKind(), No, Belongs.RuleLevel, Scope.Both, Sits.Game, "The others count what she brings, and name the number.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together make all the trips");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(2 * MostNumber);
    }

    public override FrameData Data { get; } = new(
        "errand", "Errand", Family.Counting, "Draw a number, keep it in mind, and bring back that many.", "It ends after the last trip.", 1, Engine.MostSeats,
        [Knobs.Slips, Knobs.Trips, Knobs.Draw, Knobs.Keep, Knobs.Colour, Knobs.Secret, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Open, "The slip stays open", "Draw a slip, take it along, and bring that many."),
            Level.Free(Closed, "The slip stays in the box", "Look at the slip, keep the number in mind, and bring that many."),
            Level.Free(Colour, "Number and colour", "Keep a number and a colour in mind.", (Knobs.Colour, Yes)),
            Level.Free(Secret, "In secret", "Bring them without a word; the others count and name the number.", (Knobs.Secret, Yes)),
            Level.Free(Sum, "Two slips", "Draw two slips, and bring as many as both together."),
        ],
        Closed, [AskKind.Say, AskKind.Take, AskKind.Join]);

    public override bool IsCalled => true;

    public override bool EndsTogether(Setup setup) => true;

    public override bool ShowsPoints(Setup setup) => false;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var box = new ErrandBox(setup);
        int drawn = box.Pairs * 2 + box.Singles;
        if (drawn > box.Slips.Length)
            return [new("table.trips", $"{Words.Count(box.Trips, "trip")} draw {drawn} slips, and the box has {box.Slips.Length}.", Enumerable.Range(1, box.Trips).LastOrDefault(t => box.DrawnBy(t) <= box.Slips.Length) is > 0 and var most ? most : null)];
        return box.Slips[^1] == 0 ? [new("table.slips", "With nothing but zeros nobody brings anything.", new CountsValue([new(1, 2), new(2, 2), new(3, 2)]).ToJson())] : [];
    }

    protected internal override Game Compile(Setup setup) => Compile(setup, null);

    protected internal override Game Compile(Setup setup, IAnswers? beliefs) => new Game<ErrandRules, ErrandState>(setup, new(new ErrandBox(setup, beliefs)));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var box = new ErrandBox(setup);
        return [new("slips", box.Slips.Length), box.HasColour.Any(c => c) ? Need.PiecesOf(ErrandBox.Colours.Select(c => (c, box.PiecesNeeded))) : new("pieces", box.PiecesNeeded), new("boxes", 1, "box")];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var box = new ErrandBox(setup);
        return
        [
            $"Slips of paper in a lidded box: {setup.Get(Knobs.Slips)}.",
            $"A heap of {Words.Count(box.PiecesNeeded, "thing")}{(box.HasColour.Any(c => c) ? $" in each of the colours {Words.List(ErrandBox.Colours)}" : "")} at the other end of the room.",
            setup.Get(Knobs.Keep).On ? "What was brought stays on the rug." : "What was brought goes back before the next trip.",
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var box = new ErrandBox(setup);
        return new Facts
        {
            ["piecesNeeded"] = new NumberFact(box.PiecesNeeded),
            ["piecesMean"] = new NumberFact(box.Keep ? (2 * box.Pairs + box.Singles) * box.Slips.Average(s => (double)s) : DrawFacts.MeanLargest([.. box.Slips.Select(s => (int)s)], box.Pairs, box.Singles)),
            Turns = Pmf.Always(box.Trips),
            AimReached = 1,
        };
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) =>
        ("How many things to put out", $"{facts.Number("piecesNeeded"):0} are enough whatever is drawn.");

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.Trips ? new WholeValue(new ErrandBox(setup).Trips) : null;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Slips);

    public override IReadOnlyList<string> Audit(Setup setup) => [];

    public override string Summary(Setup setup) => $"slips {setup.Get(Knobs.Slips)}, {Words.Count(new ErrandBox(setup).Trips, "trip")}";
}

/// <summary>The box of one setup, and how each seat goes on her errand.</summary>
internal sealed record ErrandBox : Seating
{
    public static IReadOnlyList<string> Colours { get; } = ["red", "yellow", "blue"];

    /// <param name="beliefs">What is known of the players, where a caller chooses by it.</param>
    public ErrandBox(Setup setup, IAnswers? beliefs = null) : base(setup)
    {
        Slips = [.. setup.Get(Errand.Knobs.Slips).All.Select(n => (byte)n)];
        Kinds = new(Enumerable.Repeat((double)Numbers * Numbers, setup.Seats.Length));
        Keep = setup.Get(Errand.Knobs.Keep).On;
        var seats = Enumerable.Range(0, setup.Seats.Length).ToList();
        Draws = [.. Level.Select(l => l == Errand.Sum ? 2 : 1)];
        Closes = [.. Level.Select(l => l is not (Errand.Open or Errand.Sum))];
        HasColour = [.. seats.Select(s => setup.At(s, Errand.Knobs.Colour).On)];
        IsSecret = [.. seats.Select(s => setup.At(s, Errand.Knobs.Secret).On)];
        bool called = setup.Get(Errand.Knobs.Draw).Id == "called";
        Ranks = [.. seats.Select(s => called ? Slips.Distinct().ToDictionary(n => n, n => beliefs is null || GrownUp[s] || n == 0 ? 0 : CalledFrame.Rank(beliefs.For(s, Fetching(s, n)).Right)) : null)];
        Trips = setup.Get(Errand.Knobs.Trips) is WholeValue given ? given.Number : Enumerable.Range(1, UsualTrips).LastOrDefault(t => DrawnBy(t) <= Slips.Length, 1);
    }

    private const int UsualTrips = 6;

    /// <summary>All numbers on slips are below it.</summary>
    public int Numbers => Slips[^1] + 1;

    /// <summary>A trip is told by the slips that were drawn.</summary>
    public TurnKinds Kinds { get; }

    /// <summary>By seat and number, which slips a caller gives her first; null where they are drawn blindly.</summary>
    public Dictionary<byte, int>?[] Ranks { get; }

    /// <summary>What bringing so many asks of a seat: out of mind, where the slip stays behind.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Ask Fetching(int seat, int number) => new(AskKind.Take, number, Level[seat] == Errand.Open ? Form.Numeral : Form.Spoken, support: Support[seat]);

    /// <summary>All slips, rising.</summary>
    public byte[] Slips { get; }

    public int Trips { get; }

    public bool Keep { get; }

    /// <summary>By seat: how many slips she draws for a trip.</summary>
    public int[] Draws { get; }

    /// <summary>By seat: the slip is closed before she goes.</summary>
    public bool[] Closes { get; }

    public bool[] HasColour { get; }

    public bool[] IsSecret { get; }

    /// <summary>Trips with two slips, and with one, when all go in turn.</summary>
    public int Pairs => DrawnBy(Trips) - Trips;

    public int Singles => Trips - Pairs;

    /// <summary>How many slips so many trips draw.</summary>
    public int DrawnBy(int trips) => Enumerable.Range(0, trips).Sum(t => Draws[t % Draws.Length]);

    /// <summary>All that may lie on the rug: of the largest slips, all that are drawn, or what the largest trip brings.</summary>
    public int PiecesNeeded => Keep ? Slips.TakeLast(DrawnBy(Trips)).Sum(s => s) : Pairs > 0 ? Slips.TakeLast(2).Sum(s => s) : Slips[^1];
}

internal struct ErrandState
{
    public Head Head;

    /// <summary>The slips of this trip, and how many were drawn.</summary>
    public byte First, Second, Drawn;

    /// <summary>One more than the colour of this trip; 0 where none was drawn.</summary>
    public byte Colour;

    /// <summary>The slips were read and closed.</summary>
    public bool Closed;
    public short Rug;
    public DrawPile Box;
}

/// <summary>The rules of Errand: slips are drawn and not put back; each trip has one move.</summary>
internal readonly struct ErrandRules(ErrandBox box) : IRules<ErrandState>
{
    public int Seats => box.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref ErrandState s) => ref s.Head;

    public void Start(ref ErrandState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Box.Fill(box.Slips);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref ErrandState s, ref Rng rng) => 
        HasSlips(in s) ? rng.Below(ErrandBox.Colours.Count) : box.Ranks[s.Head.Mover] is { } ranks ? s.Box.DrawFirst(ranks, ref rng) : s.Box.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool HasSlips(in ErrandState s) => s.Drawn == box.Draws[s.Head.Mover];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref ErrandState s, int outcome)
    {
        if (HasSlips(in s)) s.Colour = (byte)(outcome + 1);
        else
        {
            s.Box.Take((byte)outcome);
            (s.First, s.Second) = ((byte)outcome, s.First);
            s.Drawn++;
        }
        if (HasSlips(in s) && (s.Colour > 0 || !box.HasColour[s.Head.Mover])) s.Head.Phase = StepKind.Choice;
    }

    private static int Brought(in ErrandState s) => s.First + s.Second;

    private static readonly Move Close = new(1, 0);

    /// <summary>What is to be done: the slip is closed where it stays behind, then she brings that many.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Move Only(in ErrandState s) => !s.Closed && box.Closes[s.Head.Mover] ? Close : new(0, Brought(in s));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in ErrandState s, ref Rng rng) => Only(in s);

    public Move Best(in ErrandState s, ref Rng rng) => Only(in s);

    /// <summary>What the slip says, or both together; bringing it, out of mind where the slip stays behind; and what the others count.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in ErrandState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, count = 0;
        if (move.Items != 0) return 0;
        if (!box.GrownUp[seat])
        {
            var support = box.Support[seat];
            into[count++] = new(seat, s.Drawn == 2
                ? new Ask(AskKind.Join, Math.Max(s.First, s.Second), Math.Min(s.First, s.Second), Form.Numeral, support)
                : new Ask(AskKind.Say, s.First, Form.Numeral, support: support));
            if (move.Pick > 0) into[count++] = new(seat, box.Fetching(seat, move.Pick));
        }
        if (!box.IsSecret[seat]) return count;
        for (int other = 0; other < Seats; other++)
            if (other != seat && !box.GrownUp[other] && (s.Head.Active >> other & 1) != 0) into[count++] = new(other, new Ask(AskKind.Say, move.Pick, Form.Objects, support: box.Support[other]));
        return count;
    }

    public int TurnKinds => box.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in ErrandState s, Move move) => move.Items != 0 ? -1 : box.Kinds[s.Head.Mover] + s.First * box.Numbers + s.Second;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in ErrandState s) => Handling.DrawSlip;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in ErrandState s, Move move) => move.Items != 0 ? 0 : Handling.WalkErrand;

    public bool Seeking(in ErrandState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref ErrandState s, Move move, Answered answered)
    {
        if (move.Items != 0)
        {
            s.Closed = true;
            return;
        }
        s.Rug = (short)(box.Keep ? s.Rug + move.Pick : move.Pick);
        (s.First, s.Second, s.Drawn, s.Colour, s.Closed) = (0, 0, 0, 0, false);
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = Onwards(in s);
    }

    /// <summary>Over after the last trip, or where the box has too few slips for the next one.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private StepKind Onwards(in ErrandState s) => s.Head.Turns >= box.Trips || s.Box.Count < box.Draws[s.Head.Mover] ? StepKind.Over : StepKind.Chance;

    /// <summary>Slips that were drawn stay out: whoever is next goes this trip instead.</summary>
    public void Arrange(ref ErrandState s, uint before)
    {
        int seat = s.Head.Mover;
        if (s.Drawn == 0) s.Head.Phase = Onwards(in s);
        else if (s.Drawn > box.Draws[seat])
        {
            // One slip too many for her: it stays with the trip it was drawn for.
            s.Second = 0;
            s.Drawn = (byte)box.Draws[seat];
            s.Head.Phase = Ready(in s);
        }
        else s.Head.Phase = s.Drawn < box.Draws[seat] && s.Box.Count < box.Draws[seat] - s.Drawn ? StepKind.Over : Ready(in s);
    }

    private StepKind Ready(in ErrandState s) => HasSlips(in s) && (s.Colour > 0 || !box.HasColour[s.Head.Mover]) ? StepKind.Choice : StepKind.Chance;

    public int Points(in ErrandState s, int seat) => 0;

    public bool AimReached(in ErrandState s) => s.Head.Phase == StepKind.Over;

    public int Left(in ErrandState s) => s.Box.Count;

    /// <summary>The box.</summary>
    public int Things(in ErrandState s) => 1;

    public IReadOnlyList<Possible> Possibilities(in ErrandState s) => HasSlips(in s) ? [.. ErrandBox.Colours.Select((c, i) => new Possible(i, 1, c))] : s.Box.Possibilities;

    public bool IsLegal(in ErrandState s, Move move) => s.Head.Phase == StepKind.Choice && move == Only(in s);

    public IReadOnlyList<Move> Moves(in ErrandState s) => s.Head.Phase == StepKind.Choice ? [Only(in s)] : [];

    public Tapped Read(in ErrandState s, IReadOnlyList<int> items) => s.Head.Phase == StepKind.Choice && Only(in s) == Close && items.Count > 0 ? Tapped.As(Close) : Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in ErrandState s)
    {
        var drawn = new List<Item>();
        // Read as long as she likes, and then closed by a tap.
        var state = s.Closed ? ItemState.Down : ItemState.Up;
        bool closes = s.Head.Phase == StepKind.Choice && Only(in s) == Close;
        if (s.Drawn > 0) drawn.Add(new(0, s.First, Form.Numeral, state, closes));
        if (s.Drawn == 2) drawn.Add(new(1, s.Second, Form.Numeral, state, closes));
        if (s.Colour > 0) drawn.Add(new(2, -1, Form.None, state, closes) { Words = ErrandBox.Colours[s.Colour - 1] });
        return [new Trip("The box and the rug", drawn, [new("", s.Rug)])];
    }

    public string Says(in ErrandState s)
    {
        if (s.Head.Phase == StepKind.Over) return "That was the last trip.";
        if (s.Head.Phase == StepKind.Chance) return HasSlips(in s) ? "Which colour?" : "Draw a slip.";
        int seat = s.Head.Mover;
        if (Only(in s) == Close) return "Read it, and close it.";
        string bring = s.Colour > 0 ? "Bring that many, all of that colour." : s.Drawn == 2 ? "How many together? Bring them." : box.Level[seat] == Errand.Open ? "Bring that many." : "Keep it in mind; bring that many.";
        return box.IsSecret[seat] ? "Bring them; the others count. Show the slip." : bring;
    }

    public string Tells(in ErrandState before, Move move, bool found) =>
        move.Items != 0 ? "read the slip" : (before.Drawn == 2 ? $"drew {before.First} and {before.Second}, brought {move.Pick}" : $"brought {move.Pick}") + (before.Colour > 0 ? $", {ErrandBox.Colours[before.Colour - 1]}" : "");
}
