using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Roll and Tell: one or two dice on paper; tell, write, compare, join.</summary>
public sealed class RollTell : CalledFrame
{
    public const string Count = "count", Write = "write", Match = "match", More = "more", Sign = "sign", Join = "join", Called = "called", Fall = "dice", Fewer = "fewer", Both = "both";

    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6))), TwoDice = new(new Dice(Die.Of(6), Die.Of(6)));
    private static readonly ChoiceKind Lying = ChoiceKind.Of((Fall, "as the dice fall"), (Called, "laid by the caller, each roll once before any comes again"));
    private static readonly ChoiceKind Comparing = ChoiceKind.Of((More, "which shows more"), (Fewer, "which shows fewer"), (Both, "now one, now the other"));

    public static class Knobs
    {
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(2), OneDie, Belongs.Range, Scope.Both, Sits.Dice, "One die to tell, two to compare or join; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Rolls each", new WholeKind(1, 20), new WholeValue(6), Belongs.Length, Scope.Table, Sits.Game, "How many rolls each player tells.");
        public static readonly Knob<ChoiceValue> Rolls = new("rolls", "Rolls come", Lying, Lying[Fall], Belongs.RuleLevel, Scope.Table, Sits.Game, "What the dice show; or laid by the caller, then they begin at her edges.");
        public static readonly Knob<ChoiceValue> Asks = new("asks", "Asked is", Comparing, Comparing[More], Belongs.RuleLevel, Scope.Both, Sits.Game, "Of two dice: which shows more, which fewer, or each in turn.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together tell them all");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(2 * Die.LargestFace);
    }

    public override FrameData Data { get; } = new(
        "rolltell", "Roll and Tell", Family.Counting, "Roll on paper, and tell what you see.", "It ends when everyone has had her rolls.", 1, Engine.MostSeats,
        [Knobs.Dice, CommonKnobs.Faces, Knobs.Rounds, Knobs.Rolls, Knobs.Asks, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Count, "Tell", "Roll, and say how many.", (Knobs.Dice, OneDie)),
            Level.Free(Write, "Write it", "Roll, say how many, and write the number.", (Knobs.Dice, OneDie)),
            Level.Free(Match, "Match it", "Roll the die with dots, and turn the other until it shows the same.", (Knobs.Dice, OneDie)),
            Level.Free(More, "Which is more", "Roll two: which shows more, which fewer, or are they the same?", (Knobs.Dice, TwoDice)),
            Level.Free(Sign, "Lay the sign", "Roll two, lay the sign card between them, and say it: five is more than two.", (Knobs.Dice, TwoDice)),
            Level.Free(Join, "Join them", "Roll two, write them starting from the larger, and add.", (Knobs.Dice, TwoDice)),
        ],
        Count, [AskKind.Say, AskKind.Trace, AskKind.Match, AskKind.More, AskKind.Join]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            string at = setup.Path(s, Knobs.Dice);
            var dice = DiceAt(setup, s);
            if (dice.All.Length == 1 && setup.LevelAt(s) is More or Sign or Join)
                problems.Add(new(at, $"\"{setup.Frame.Level(setup.LevelAt(s))!.Label}\" takes two dice.", new DiceValue(new Dice(dice.All[0], dice.All[0])).ToJson()));
            else if (setup.Get(Knobs.Rolls).Id == Called && Rolls(setup, s).Count() > MostCalls)
                problems.Add(new("table.rolls", $"These dice fall in {Rolls(setup, s).Count()} ways; a caller keeps at most {MostCalls} apart.", Fall));
        }
        return [.. problems.DistinctBy(p => p.Path)];
    }

    private static Dice DiceAt(Setup setup, int seat) => setup.At(seat, Knobs.Dice).Dice;

    private static bool AsTheyFall(Setup setup) => setup.Get(Knobs.Rolls).Id == Fall;

    protected override string Brings(Setup setup) => AsTheyFall(setup) ? "Roll." : "The dice are laid.";

    private protected override IReadOnlyList<Zone> Waits(Setup setup, int seat, int left, IReadOnlyList<Call> made) =>
        AsTheyFall(setup) ? [new DiceRolled("Dice to roll", [.. DiceAt(setup, seat).All.Take(setup.LevelAt(seat) == Match ? 1 : 2).Select((_, i) => new Item(i, -1, Form.None, ItemState.Down, false) { Words = "" })])] : base.Waits(setup, seat, left, made);

    private protected override CallOrder OrderOf(Setup setup) => AsTheyFall(setup) ? CallOrder.Falling : CallOrder.Shuffled;

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Asks || Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) is More or Sign);

    /// <summary>What can lie there, the larger first, with the ways in which it falls so; 0 for a second die that is not rolled.</summary>
    private static IEnumerable<(int Larger, int Smaller, int Ways)> Rolls(Setup setup, int seat)
    {
        var dice = DiceAt(setup, seat).All;
        // The other die of a match is turned, not rolled.
        if (dice.Length == 1 || setup.LevelAt(seat) == Match) return dice[0].Faces.GroupBy(f => f).Select(g => (g.Key, 0, g.Count()));
        return dice[0].Faces.SelectMany(a => dice[1].Faces.Select(b => (Math.Max(a, b), Math.Min(a, b)))).GroupBy(r => r).OrderBy(g => g.Key).Select(g => (g.Key.Item1, g.Key.Item2, g.Count()));
    }

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        var support = CommonKnobs.SupportAt(setup, seat);
        string level = setup.LevelAt(seat);
        bool two = level != Match && DiceAt(setup, seat).All.Length == 2;
        string asks = setup.At(seat, Knobs.Asks).Id;
        var faces = CommonKnobs.FacesAt(setup, seat);
        return [.. Rolls(setup, seat).Select(r => new Call(Asked(r.Larger, r.Smaller), r.Larger + r.Smaller, two ? $"{r.Larger} and {r.Smaller}" : $"{r.Larger}", SaysAt(level, IsFewer(r.Larger + r.Smaller), r.Larger == r.Smaller), [new DiceRolled("The dice", Laid(r.Larger, r.Smaller)) { SignBetween = level == Sign }]) { Ways = r.Ways })];

        bool IsFewer(int sum) => asks == Fewer || asks == Both && sum % 2 == 0;

        // The larger does not always lie first, where that would tell which it is; a die that is turned to fit lies beside the one rolled.
        Item[] Laid(int larger, int smaller) => level == Match ? [Lies(0, larger), new(1, -1, Turned(larger), ItemState.Marked, false)]
            : !two ? [Lies(0, larger)] : (larger + smaller) % 3 == 0 ? [Lies(0, smaller), Lies(1, larger)] : [Lies(0, larger), Lies(1, smaller)];

        Item Lies(int id, int n) => new(id, n, Face(n), ItemState.Up, false);

        Form Face(int n) => CommonKnobs.FaceOf(faces, n);

        Form Turned(int n) => TurnedFrom(Face(n));

        ImmutableArray<Ask> Asked(int larger, int smaller) => level switch
        {
            Match => [new Ask(AskKind.Match, larger, Face(larger), Turned(larger), support)],
            More or Sign => [new Ask(AskKind.More, larger, smaller, Face(larger), support)],
            Join => [new Ask(AskKind.Join, larger, smaller, Face(larger), support)],
            Write => [Told(larger, smaller), new Ask(AskKind.Trace, larger + smaller, Form.Numeral)],
            _ => [Told(larger, smaller)],
        };

        // Numerals on two dice cannot be counted together.
        Ask Told(int larger, int smaller) => !two ? new(AskKind.Say, larger, faces == Form.Dice ? faces : Face(larger), support: support)
            : faces == Form.Dice ? new(AskKind.Say, larger + smaller, faces, support: support) : new(AskKind.Join, larger, smaller, faces, support);
    }

    private static string SaysAt(string level, bool fewer, bool same) => level switch
    {
        Write => "How many? Write it.",
        Match => "Turn the other to show the same.",
        More => fewer ? "Which shows fewer, or are they the same?" : "Which shows more, or are they the same?",
        Sign => fewer ? "Lay the sign, and say it: fewer, more, or the same." : "Lay the sign, and say it: more, fewer, or the same.",
        Join => same ? "The same twice: how many together?" : "Start from the larger: how many together?",
        _ => "How many?",
    };

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override float Handling(Setup setup, Call call) => Games.Handling.LayDice + Games.Handling.RollDie;

    protected override void AddFacts(Setup setup, Facts facts)
    {
        facts["sumPmf"] = PerSeat(setup, s => MapFact.Of(DiceAt(setup, s).Chances.ToArray().Select((chance, n) => (n, chance)).Where(p => p.chance > 0)));
        if (Enumerable.Range(0, setup.Seats.Length).All(s => DiceAt(setup, s).All.Length == 2)) facts["pSame"] = PerSeat(setup, s => new NumberFact(Same(DiceAt(setup, s))));
    }

    private static double Same(Dice dice) => dice.All[0].Faces.Sum(a => dice.All[1].Faces.Count(b => b == a)) / (double)(dice.All[0].Faces.Length * dice.All[1].Faces.Length);

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var dice = DiceAt(setup, 0);
        int likeliest = Enumerable.Range(0, dice.Most + 1).MaxBy(n => dice.Total[n]);
        return ("What the dice show", dice.All.Length == 1
            ? $"From {dice.Least} to {dice.Most}."
            : $"Together {dice.Least} to {dice.Most}, most often {likeliest} ({100 * dice.Total[likeliest]:0} of 100 rolls); both the same in {100 * Same(dice):0} of 100.");
    }

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var seats = Enumerable.Range(0, setup.Seats.Length).ToList();
        var needs = new List<Need> { Need.For(seats.SelectMany(Rolled)) };
        if (seats.Exists(s => setup.LevelAt(s) is Write or Join)) needs.Add(new("sheets of paper", setup.Seats.Length, "sheet of paper"));
        if (seats.Exists(s => setup.LevelAt(s) == Sign)) needs.Add(new("sign cards", 3));
        return needs;

        // To match, another die lies beside the one rolled, to be turned.
        IEnumerable<(Dice, Form)> Rolled(int seat)
        {
            var (dice, faces) = (DiceAt(setup, seat), CommonKnobs.FacesAt(setup, seat));
            return setup.LevelAt(seat) == Match ? [(new Dice(dice.All[0]), faces), (new Dice(dice.All[0]), TurnedFrom(faces))] : [(dice, faces)];
        }
    }

    /// <summary>What stands on the die that is turned to fit.</summary>
    private static Form TurnedFrom(Form faces) => faces switch { Form.Dice => Form.Numeral, Form.Numeral => Form.Word, _ => Form.Dice };

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        "A sheet of paper to roll on.",
        .. Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) == Match) ? ["One die is rolled; another, with other faces, is turned to fit."] : Array.Empty<string>(),
        .. AsTheyFall(setup) ? [] : new[] { "Lay the dice as they are called; or roll them “as the dice fall”." },
    ];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Dice)}";
}
