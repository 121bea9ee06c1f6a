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

    public override bool IsOfThings(Setup setup, int seat) => true;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Slips);

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
        Ranks = [.. seats.Select(s => called ? Enumerable.Range(0, Numbers).Select(n => (byte)(beliefs is null || GrownUp[s] || n == 0 || !Slips.Contains((byte)n) ? 0 : CalledFrame.Rank(beliefs.For(s, Fetching(s, n)).Right))).ToArray() : null)];
        Trips = setup.Get(Errand.Knobs.Trips) is WholeValue given ? given.Number : Enumerable.Range(1, UsualTrips).LastOrDefault(t => DrawnBy(t) <= Slips.Length, 1);
    }

    private const int UsualTrips = 6;

    /// <summary>All numbers on slips are below it.</summary>
    public int Numbers => Slips[^1] + 1;

    /// <summary>A trip is told by the slips that were drawn.</summary>
    public TurnKinds Kinds { get; }

    /// <summary>By seat and number, which slips a caller gives her first; null where they are drawn blindly.</summary>
    public byte[]?[] Ranks { get; }

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
