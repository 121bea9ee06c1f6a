using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Sum Search: cards lie open, somebody calls a number, and it is looked for among them.</summary>
public sealed class SpotSum : Frame
{
    public const string Sum = "sum", Difference = "difference", Product = "product", Mixed = "mixed";

    internal const int MostPlaces = 60;

    private const int MostCalled = 1000;

    private static readonly ChoiceKind Ways = ChoiceKind.Of((Sum, "what they make together"), (Difference, "how far they are apart"), (Product, "one times the other"), (Mixed, "now one, now another"));

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "Pack", new DeckKind(), new DeckValue(Materials.Deck.Plain(1, 10)), Belongs.Range, Scope.Table, Sits.Deck, "Which cards are in, and what each counts as.", KnobRole.Deck);
        public static readonly Knob<SizeValue> Layout = new("layout", "Layout", new SizeKind(MostPlaces), new SizeValue(3, 4), Belongs.Length, Scope.Table, Sits.Cards, "More cards on the table: more to find, more to look through.");
        public static readonly Knob<WholeValue> Count = new("count", "Cards in a set", new WholeKind(2, 3), new WholeValue(2), Belongs.RuleLevel, Scope.Both, Sits.Cards, "How many cards she looks for.");
        public static readonly Knob<ChoiceValue> Ops = new("ops", "Called is", Ways, Ways[Sum], Belongs.RuleLevel, Scope.Both, Sits.Game, "What is said of the cards that are looked for.");
        public static readonly Knob<LimitValue> CallTo = new("callTo", "Called up to", new LimitKind(1, MostCalled), new LimitValue(null), Belongs.Range, Scope.Both, Sits.Place, "The largest number that is called for her.");
        public static readonly Knob<FlagValue> Refill = new("refill", "Refill the gaps", new FlagKind(), new FlagValue(true), Belongs.Length, Scope.Table, Sits.Deck, "Whether the pack fills the places that become free.");
        public static readonly Knob<ChoiceValue> Form = new("form", "Cards show", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Both, Sits.Cards, "How the cards show their numbers; at a place: a help card in her form.", KnobRole.Form);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostCalled);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most cards", "all together clear the table");
    }

    public override FrameData Data { get; } = new(
        "spotsum", "Sum Search", Family.Joining, "Somebody calls a number: which of the open cards make it?", "It ends when nothing can be called any more.", 1, Engine.MostSeats,
        [Knobs.Deck, Knobs.Layout, Knobs.Count, Knobs.Ops, Knobs.CallTo, Knobs.Refill, Knobs.Form, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free(Sum, "Two together", "A number is called: take two cards that make it together.", (Knobs.Ops, Ways[Sum])),
            Level.Free("sum3", "Three together", "A number is called: take three cards that make it together.", (Knobs.Ops, Ways[Sum]), (Knobs.Count, new WholeValue(3))),
            Level.Free(Difference, "How far apart", "A number is called: take two cards that are so far apart.", (Knobs.Ops, Ways[Difference])),
            Level.Free(Mixed, "Together, apart or times", "The caller says what is to be done with the two cards.", (Knobs.Ops, Ways[Mixed])),
            Level.Free(Product, "Times", "A number is called: take two cards of which one times the other makes it.", (Knobs.Ops, Ways[Product])),
        ],
        Sum, [AskKind.Part, AskKind.Join, AskKind.Gap, AskKind.Times]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        var layout = setup.Get(Knobs.Layout);
        var problems = new List<Problem>();
        if (layout.Places > deck.Cards) problems.Add(new("table.layout", $"{layout.Says()} needs {layout.Places} cards on the table and the pack has {deck.Cards}.", SizeKind.Usual.LastOrDefault(s => s.Places <= deck.Cards)?.ToJson()));
        if (CommonKnobs.TooShort("form", CommonKnobs.FormAt(setup, Knobs.Form), [.. deck.Counts.Keys], Forms.Form.None) is { } tooShort) problems.Add(tooShort);
        int[] low = [.. deck.Counts.SelectMany(c => Enumerable.Repeat(c.Key, Math.Min(3, c.Value))).Take(3)];
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            int count = setup.At(s, Knobs.Count).Number;
            string ops = setup.At(s, Knobs.Ops).Id;
            if (count > Math.Min(layout.Places, deck.Cards)) problems.Add(new("table.layout", $"{count} cards are looked for, and {layout.Places} lie there.", new SizeValue(3, 4).ToJson()));
            else if (count == 3 && ops is Difference or Mixed) problems.Add(new(setup.Path(s, Knobs.Count), "Only two cards are so far apart.", 2));
            else if (setup.At(s, Knobs.CallTo).Number is { } most)
            {
                int least = ops == Sum ? low.Take(count).Sum() : ops == Product ? low.Take(count).Aggregate(1, (all, n) => all * n) : SpotSumTable.Nearest(deck.Counts);
                if (ops != Mixed && least > most) problems.Add(new(setup.Path(s, Knobs.CallTo), $"No {NumberWords.Of(count)} cards of this pack come to {most} or less; the least is {least}.", least));
            }
        }
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup) => Compile(setup, null);

    protected internal override Game Compile(Setup setup, IAnswers? beliefs) => new Game<SpotSumRules, SpotSumState>(setup, new(new SpotSumTable(setup, beliefs)));

    public override IReadOnlyList<Need> Needs(Setup setup) => [Need.Pack(setup.Get(Knobs.Deck).Deck)];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var preparation = DeckPreparation.Of(setup.Get(Knobs.Deck).Deck);
        var layout = setup.Get(Knobs.Layout);
        int left = preparation.CardsLeft - layout.Places;
        return
        [
            .. preparation.Sentences,
            $"Lay {layout.Places} cards face up in {Words.Count(layout.Rows, "row")}{(left == 0 || !setup.Get(Knobs.Refill).On ? "" : $"; the other {left} are the stock")}.",
            "Somebody looks for cards in silence and says what they come to; the next one finds cards that do. What is not found is shown, and laid aside.",
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending) => new();

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => ["leftMean"];

    /// <summary>In how many ways each number can be found on this layout; two equal cards at different places are told apart.</summary>
    protected internal override Facts? At(Setup setup, JsonElement position, List<Problem> problems)
    {
        const string at = "forecast.position";
        var fields = Fields.Read(position, at, ["layout", "count", "op"], problems);
        var cards = Fields.Numbers(fields, "layout", $"{at}.layout", 0, Deck.LargestNumber, problems);
        int count = fields.TryGetValue("count", out var number) ? (new WholeKind(2, 3).FromJson(number, $"{at}.count", problems) as WholeValue)?.Number ?? 2 : setup.Get(Knobs.Count).Number;
        string op = fields.TryGetValue("op", out var said) ? said.ValueKind == JsonValueKind.String ? said.GetString()! : "" : setup.Get(Knobs.Ops).Id is var usual && usual == Mixed ? Sum : usual;
        if (op is not (Sum or Difference or Product)) problems.Add(new($"{at}.op", "Here stands \"sum\", \"difference\" or \"product\".", Sum));
        else if (op == Difference && count == 3) problems.Add(new($"{at}.count", "Only two cards are so far apart.", 2));
        if (cards is null && problems.Count == 0 || cards?.Count > MostPlaces) problems.Add(new($"{at}.layout", $"Here stand the numbers that lie open, at most {MostPlaces}.", Fields.List([3, 3, 7, 9, 1])));
        if (problems.Count > 0) return null;
        var ways = new SortedDictionary<int, int>();
        for (int a = 0; a < cards!.Count; a++)
            for (int b = a + 1; b < cards.Count; b++)
            {
                if (count == 2) Found(op == Sum ? cards[a] + cards[b] : op == Product ? cards[a] * cards[b] : Math.Abs(cards[a] - cards[b]));
                else
                    for (int c = b + 1; c < cards.Count; c++) Found(op == Sum ? cards[a] + cards[b] + cards[c] : cards[a] * cards[b] * cards[c]);
            }
        return new() { ["ways"] = MapFact.Of(ways.Select(w => (w.Key, (double)w.Value))) };

        void Found(int result) => ways[result] = ways.GetValueOrDefault(result) + 1;
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        var table = new SpotSumTable(setup, null);
        int largest = setup.Get(Knobs.Deck).Deck.Counts.Keys.Last(), most = table.Places[seat].CallTo == int.MaxValue ? 2 * largest : table.Places[seat].CallTo;
        return [.. new[] { most - 2, most + 2 }.Where(n => n >= 3 && n <= 3 * largest).Select(n => Turned(setup, seat, Knobs.CallTo, new LimitValue(n))), .. CommonKnobs.CardsUpTo(setup, Knobs.Deck)];
    }

    public override string Summary(Setup setup) => $"{NumberWords.Of(setup.Get(Knobs.Count).Number)} cards: {setup.Get(Knobs.Ops)}, {setup.Get(Knobs.Deck).Deck.Says}" + (setup.Get(Knobs.CallTo).Number is { } most ? $", up to {most}" : "");

    public override string Summary(Setup setup, int seat) => string.Join(", ", new[] { OwnLevel(setup, seat), setup.Seats[seat].Allowance.ContainsKey(Knobs.CallTo.Id) && setup.At(seat, Knobs.CallTo).Number is { } own ? $"up to {own}" : "" }.Where(p => p.Length > 0));
}

/// <summary>What two or three cards can come to, as it is called.</summary>
internal enum Called : byte { Sum, Difference, Product }

/// <summary>What one player looks for.</summary>
/// <param name="Ops">What is called for her.</param>
/// <param name="Ranks">By the kind of a turn, how early it is called: 0 at her edge; null where nothing is known of her.</param>
internal sealed record SpotSumSeat(Called[] Ops, int Count, int CallTo, Form Form, Support Support, bool GrownUp, byte[]? Ranks);

/// <summary>The pack and the layout of one setup, and what each player looks for.</summary>
internal sealed record SpotSumTable : Seating
{
    public SpotSumTable(Setup setup, IAnswers? beliefs) : base(setup)
    {
        var deck = setup.Get(SpotSum.Knobs.Deck).Deck;
        Pack = [.. deck.Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value))];
        Layout = setup.Get(SpotSum.Knobs.Layout);
        Refill = setup.Get(SpotSum.Knobs.Refill).On;
        Form = CommonKnobs.FormAt(setup, SpotSum.Knobs.Form);
        Width = deck.Counts.Keys.Last() + 1;
        Places = [.. Enumerable.Range(0, Seats).Select(Seat)];
        Kinds = new(Places.Select(s => KindsOf(s.Count)));

        SpotSumSeat Seat(int s)
        {
            int count = setup.At(s, SpotSum.Knobs.Count).Number;
            Called[] ops = setup.At(s, SpotSum.Knobs.Ops).Id switch { SpotSum.Sum => [Called.Sum], SpotSum.Difference => [Called.Difference], SpotSum.Product => [Called.Product], _ => [Called.Sum, Called.Difference, Called.Product] };
            var form = FormTable.Find(setup.At(s, SpotSum.Knobs.Form).Id)!.Value;
            var seat = new SpotSumSeat(ops, count, setup.At(s, SpotSum.Knobs.CallTo).Number ?? int.MaxValue, form, Support[s], GrownUp[s], null);
            return seat with { Ranks = beliefs is null || GrownUp[s] ? null : Ranks(seat, [.. deck.Counts.Keys], ask => beliefs.For(s, ask).Right) };
        }
    }

    /// <summary>Of more sets nobody asks beforehand how well she knows each.</summary>
    private const int MostRanked = 1_500;

    /// <summary>Turns of two cards are told by what is called of them and both numbers, of three by all three.</summary>
    private double KindsOf(int count) => count == 2 ? 3.0 * Width * Width : 2.0 * Width * Width * Width;

    private byte[]? Ranks(SpotSumSeat seat, int[] numbers, Func<Ask, double> right)
    {
        double sets = seat.Count == 2 ? (double)numbers.Length * numbers.Length * seat.Ops.Length : Math.Pow(numbers.Length, 3) / 6;
        if (sets > MostRanked) return null;
        var ranks = new byte[(int)KindsOf(seat.Count)];
        foreach (var op in seat.Ops)
            foreach (int a in numbers)
                foreach (int b in numbers)
                    foreach (int c in seat.Count == 2 ? [0] : numbers)
                    {
                        if (seat.Count == 3 && (a < b || b < c) || op != Called.Sum && a < b) continue;
                        ranks[Kind(seat, op, a, b, c)] = (byte)CalledFrame.Rank(right(Asked(seat, op, a, b, c)));
                    }
        return ranks;
    }

    /// <summary>Among the kinds of a seat's turns; of differences and products the larger comes first, of three cards they fall.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Kind(SpotSumSeat seat, Called op, int a, int b, int c) =>
        seat.Count == 2 ? ((int)op * Width + a) * Width + b : (((op == Called.Sum ? 0 : 1) * Width + a) * Width + b) * Width + c;

    /// <summary>What the mover is asked who saw <paramref name="a"/> first.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Ask Asked(SpotSumSeat seat, Called op, int a, int b, int c)
    {
        int larger = Math.Max(a, b), smaller = Math.Min(a, b);
        if (seat.Count == 3) return new(op == Called.Sum ? AskKind.Join : AskKind.Times, [a, b, c], seat.Form, support: seat.Support);
        return op switch
        {
            Called.Sum => new(AskKind.Part, a + b, a, seat.Form, seat.Support),
            Called.Difference => new(AskKind.Gap, larger, smaller, seat.Form, seat.Support),
            _ => new(AskKind.Times, larger, smaller, seat.Form, seat.Support),
        };
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Come(Called op, int count, int a, int b, int c) => op switch
    {
        Called.Sum => a + b + (count == 3 ? c : 0),
        Called.Difference => Math.Abs(a - b),
        _ => a * b * (count == 3 ? c : 1),
    };

    /// <summary>How far the two nearest numbers are apart.</summary>
    public static int Nearest(IReadOnlyDictionary<int, int> counts) => counts.Values.Any(c => c > 1) ? 0 : counts.Keys.Order().Zip(counts.Keys.Order().Skip(1), (a, b) => b - a).DefaultIfEmpty(int.MaxValue).Min();

    public byte[] Pack { get; }

    public SizeValue Layout { get; }

    public bool Refill { get; }

    public Form Form { get; }

    /// <summary>One more than the largest number.</summary>
    public int Width { get; }

    public SpotSumSeat[] Places { get; }

    public TurnKinds Kinds { get; }
}
