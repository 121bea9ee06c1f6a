using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Spots: number cards with rings; one thing on every ring, trace the numeral, next card.</summary>
public sealed class Spots : CalledFrame
{
    public const string Rings = "rings", NumeralOnly = "numeral-only", Order = "order", Sentence = "sentence", Shuffled = "shuffled", Rising = "rising";

    private const int MostNumber = 20, MostCopies = 8, CardsOnASheet = 6, InOrder = 3;

    private static readonly ChoiceKind Orders = ChoiceKind.Of((Rising, "in order, along a line of places"), (Shuffled, "shuffled"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> From = new("from", "Cards from", new WholeKind(0, MostNumber), new WholeValue(1), Belongs.Range, Scope.Table, Sits.Cards, "The smallest number on a card.");
        public static readonly Knob<WholeValue> To = new("to", "Cards to", new WholeKind(0, MostNumber), new WholeValue(5), Belongs.Range, Scope.Table, Sits.Cards, "The largest number on a card.");
        public static readonly Knob<WholeValue> Copies = new("copies", "Of each", new WholeKind(1, MostCopies), new WholeValue(1), Belongs.Length, Scope.Table, Sits.Cards, "How many cards of each number.");
        public static readonly Knob<ChoiceValue> Order = new("order", "Cards come", Orders, Orders[Shuffled], Belongs.RuleLevel, Scope.Table, Sits.Cards, "Shuffled, or one after another in order.");
        public static readonly OpenKnob<WholeValue> Rounds = new("rounds", "Cards each", new WholeKind(1, 20), Belongs.Length, Scope.Table, Sits.Game, "How many cards each player fills; all of them, shared out, where it is left open.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together fill them all");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
    }

    public override FrameData Data { get; } = new(
        "spots", "Spots", Family.Counting, "Put one thing on every ring, trace the number, take the next card.", "It ends when everyone has had her cards.", 1, Engine.MostSeats,
        [Knobs.From, Knobs.To, Knobs.Copies, Knobs.Order, Knobs.Rounds, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Rings, "With rings", "Read the number, put a thing on every ring, trace the number."),
            Level.Free(NumeralOnly, "Numeral only", "Read the number and put out that many; there are no rings to fill."),
            Level.Free(Order, "In order first", "Put the cards in order first, then fill them.", (Knobs.Order, Orders[Shuffled])),
            Level.Free(Sentence, "A sentence", "Lay two cards with a sign between them, and find the card after the equals sign.", (Knobs.Order, Orders[Shuffled])),
        ],
        Rings, [AskKind.Say, AskKind.Take, AskKind.Trace, AskKind.Order, AskKind.Join, AskKind.Gone]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var (from, to, copies) = Cards(setup);
        if (from > to) return [new("table.from", $"The cards would run from {from} down to {to}.", to)];
        if (Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) == Order) && to - from < InOrder - 1) return [new("table.to", "Three cards at least are put in order.", from + InOrder - 1 <= MostNumber ? from + InOrder - 1 : MostNumber)];
        if (Enumerable.Range(0, setup.Seats.Length).Any(s => Calls(setup, s).Count == 0)) return [new("table.from", $"No two cards from {from} to {to} make a third one{(copies == 1 ? ", with one of each" : "")}.", Math.Min(1, to))];
        return [];
    }

    private static (int From, int To, int Copies) Cards(Setup setup) => (setup.Get(Knobs.From).Number, setup.Get(Knobs.To).Number, setup.Get(Knobs.Copies).Number);

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        var (from, to, copies) = Cards(setup);
        var numbers = Enumerable.Range(from, Math.Max(0, to - from + 1)).ToList();
        var support = CommonKnobs.SupportAt(setup, seat);
        string level = setup.LevelAt(seat);
        if (level == Sentence) return Sentences(numbers, copies, support);
        return [.. numbers.Select(n => new Call(Asked(n), n, $"card {n}", level == Order ? "Put these in order. Then fill the rings." : "Which number? Put out that many.", Shown(n)) { LiesAfter = IsRising(setup) ? before => [.. Shown(n), Along(n, before)] : null })];

        CardGrid Along(int n, IReadOnlyList<Call> before) =>
            new("In order", numbers.Count, [.. numbers.Select(k => before.Any(c => c.Number == k) ? Card(k, k, Form.Numeral) : new Item(k, k, Form.Numeral, ItemState.Marked, false))]);

        ImmutableArray<Ask> Asked(int n)
        {
            Ask[] fill = [new(AskKind.Say, n, Form.Numeral, support: support), new(AskKind.Take, n, level == NumeralOnly ? Form.Numeral : Form.Spots, support: support), new(AskKind.Trace, n, Form.Numeral)];
            return level == Order ? [new(AskKind.Order, Neighbours(n), Form.Numeral), .. fill] : [.. fill];
        }

        // Three cards around this one, as far as there are any.
        int[] Neighbours(int n)
        {
            int low = Math.Clamp(n - 1, from, Math.Max(from, to - InOrder + 1));
            return [.. Enumerable.Range(low, InOrder)];
        }

        // Never in order, and not always in the same disorder.
        static int[] Mixed(int[] three, int n) => n % 3 == 0 ? [three[1], three[2], three[0]] : n % 3 == 1 ? [three[2], three[0], three[1]] : [three[1], three[0], three[2]];

        IReadOnlyList<Zone> Shown(int n) => level switch
        {
            Order => [new Stage("The cards", [.. Mixed(Neighbours(n), n).Select((k, i) => Card(i, k, Form.Numeral))]), new Stage("One to fill", [Card(InOrder, n, Form.Spots)])],
            NumeralOnly => [new Stage("The card", [Card(0, n, Form.Numeral)])],
            _ => [new Stage("The card", [Card(0, n, Form.Numeral), Card(1, n, Form.Spots)])],
        };
    }

    /// <summary>Two cards with a plus whose sum is a card, and with a minus whose rest is one.</summary>
    /// <param name="copies">There are as many cards of each number; no sentence takes more.</param>
    private static IReadOnlyList<Call> Sentences(List<int> numbers, int copies, Support support)
    {
        var calls = new List<Call>();
        foreach (int a in numbers)
            foreach (int b in numbers.Where(b => b <= a))
            {
                if (CanLie(a, b, a + b)) calls.Add(Sentence("+", a, b, new(AskKind.Join, a, b, Form.Numeral, support)));
                if (CanLie(a, b, a - b)) calls.Add(Sentence("−", a, b, new(AskKind.Gone, a, b, Form.Numeral, support)));
            }
        // A caller keeps so many apart; of more, every so many.
        return calls.Count <= MostCalls ? calls : [.. Enumerable.Range(0, MostCalls).Select(i => calls[i * calls.Count / MostCalls])];

        bool CanLie(int a, int b, int makes) => numbers.Contains(makes) && new[] { a, b, makes }.GroupBy(n => n).All(g => g.Count() <= copies);

        static Call Sentence(string sign, int a, int b, Ask ask) => new([ask], a, $"{a} {sign} {b}", $"{a} {sign} {b} = which card?", [new Stage("The sentence", [Card(0, a, Form.Numeral), Card(1, b, Form.Numeral)]) { Between = [sign, "="] }]);
    }

    /// <summary>Cards that come one after another lie along a line of places.</summary>
    private static bool IsRising(Setup setup) => setup.Get(Knobs.Order).Id == Rising && CanRise(setup);

    /// <summary>Nobody puts the cards in order herself, or lays sentences of them.</summary>
    private static bool CanRise(Setup setup) => Enumerable.Range(0, setup.Seats.Length).All(s => setup.LevelAt(s) is Rings or NumeralOnly);

    protected override string Brings(Setup setup) => "Take the next card.";

    private protected override CallOrder OrderOf(Setup setup) => IsRising(setup) ? CallOrder.Rising : CallOrder.Shuffled;

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Order || CanRise(setup);

    private static Item Card(int id, int n, Form form) => new(id, n, form, ItemState.Up, false);

    /// <summary>Putting so many out; in order, the order.</summary>
    public override Ask MattersMost(Setup setup, int seat, IReadOnlyList<Ask> asks) =>
        asks.Where(a => a.Kind is AskKind.Order).Concat(asks.Where(a => a.Kind is AskKind.Take)).FirstOrDefault(asks[^1]);

    protected override int Rounds(Setup setup)
    {
        var (from, to, copies) = Cards(setup);
        return setup.Get(Knobs.Rounds) is WholeValue given ? given.Number : Math.Clamp(((to - from + 1) * copies + setup.Seats.Length - 1) / setup.Seats.Length, 1, 20);
    }

    protected override float Handling(Setup setup, Call call) => Games.Handling.FillCard;

    protected override void AddFacts(Setup setup, Facts facts)
    {
        var (from, to, copies) = Cards(setup);
        int cards = (to - from + 1) * copies;
        facts["piecesNeeded"] = new NumberFact(copies * Enumerable.Range(from, to - from + 1).Sum());
        facts["cardSheets"] = new NumberFact((cards + CardsOnASheet - 1) / CardsOnASheet);
    }

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) =>
        ("To fill all cards at once", $"{facts.Number("piecesNeeded"):0} things; the cards take {Words.Count((int)facts.Number("cardSheets"), "sheet")}, six on each.");

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.Rounds ? new WholeValue(Rounds(setup)) : null;

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var (from, to, copies) = Cards(setup);
        int numbers = Math.Max(0, to - from + 1);
        return
        [
            new("cards", numbers * copies), new("pieces", copies * Enumerable.Range(from, numbers).Sum()),
            // Plus, minus and equals.
            .. Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) == Sentence) ? [new Need("sign cards", 3)] : Array.Empty<Need>(),
        ];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var (from, to, copies) = Cards(setup);
        string rings = Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) is Rings or Order) ? ", each with its numeral and as many rings" : ", each with its numeral";
        return [$"Cards from {from} to {to}{(copies > 1 ? $", {copies} of each" : "")}{rings}{(IsRising(setup) ? ", in order in a pile, and a line of places for them" : ", shuffled in a pile")}.", "A heap of small things that fit on a ring."];
    }

    public override bool IsOfThings(Setup setup, int seat) => setup.LevelAt(seat) != Sentence;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.To);

    public override string Summary(Setup setup) => $"cards from {setup.Get(Knobs.From)} to {setup.Get(Knobs.To)}";
}
