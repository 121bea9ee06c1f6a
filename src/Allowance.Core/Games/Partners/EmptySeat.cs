using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Empty Seats: a trick. Some cards are taken out unseen; pairs are covered as they lie open, and what is left tells who is missing.</summary>
public sealed class EmptySeat : Frame
{
    private const int MostRemoved = 8, MostOpen = 58, LeastTarget = 3, MostTarget = 30;

    private static readonly DeckValue WithCourt = new(Deck.Plain(1, 13));

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "Pack", new DeckKind(), new DeckValue(Materials.Deck.Plain(1, 9)), Belongs.Range, Scope.Table, Sits.Deck, "Which cards are in, and what each counts as.", KnobRole.Deck);
        public static readonly Knob<WholeValue> Target = new("target", "Target", new WholeKind(LeastTarget, MostTarget), new WholeValue(10), Belongs.Range, Scope.Table, Sits.Game, "What two cards make together that cover each other.", KnobRole.Target);
        public static readonly Knob<WholeValue> Removed = new("removed", "Taken out", new WholeKind(1, MostRemoved), new WholeValue(1), Belongs.RuleLevel, Scope.Table, Sits.Deck, "How many cards are taken out, which nobody sees.");
        public static readonly Knob<FlagValue> Court = new("court", "Jack, queen and king", new FlagKind(), new FlagValue(false), Belongs.RuleLevel, Scope.Table, Sits.Cards, "One of each together are covered; they do not count as numbers then.");
        public static readonly Knob<LimitValue> Sand = CommonKnobs.Sand("For a rehearsal: how long the whole pack may take.");
        public static readonly Knob<ChoiceValue> Form = new("form", "Cards show", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Table, Sits.Cards, "The form of the numbers on the cards.", KnobRole.Form);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(60);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "it can be told which cards are missing");
    }

    public override FrameData Data { get; } = new(
        "emptyseat", "Empty Seats", Family.Partners, "Somebody takes cards out unseen; cover all pairs, and what stays open tells which.", "It ends when all cards are dealt and the missing ones are named.", 1, Engine.MostSeats,
        [Knobs.Deck, Knobs.Target, Knobs.Removed, Knobs.Court, Knobs.Sand, Knobs.Form, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free("one", "One is missing", "Cover every two that make the target; in the end say which card is missing.", (Knobs.Removed, new WholeValue(1))),
            Level.Free("two", "Two are missing", "Cover every two that make the target; in the end say which two cards are missing.", (Knobs.Removed, new WholeValue(2))),
            Level.Free("court", "With the court cards", "Cover pairs, and a jack, a queen and a king together; say which cards are missing.", (Knobs.Deck, WithCourt), (Knobs.Court, new FlagValue(true)), (Knobs.Removed, new WholeValue(2))),
            Level.Free("show", "Before others", "Do it as a trick, while the sand runs: nobody must see how you know.", (Knobs.Deck, WithCourt), (Knobs.Court, new FlagValue(true)), (Knobs.Removed, new WholeValue(3)), (Knobs.Sand, new LimitValue(180))),
        ],
        "one", [AskKind.Part]);

    public override bool ShowsPoints(Setup setup) => false;

    private static bool HasPairs(SeatTable table) => table.Facts.Groups.Any(g => g.Kind is SeatGroupKind.Pair || g is { Kind: SeatGroupKind.Half, Counts: [> 1] });

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        var table = new SeatTable(setup);
        if (table.Removed >= deck.Cards) return [new("table.removed", $"The pack has {Words.Count(deck.Cards, "card")}; some must be left to deal.", deck.Cards - 1)];
        if (!HasPairs(table))
        {
            int? nearest = Enumerable.Range(LeastTarget, MostTarget - LeastTarget + 1).OrderBy(t => Math.Abs(t - table.Target)).Select(t => (int?)t).FirstOrDefault(t => HasPairs(new SeatTable(setup.With(Knobs.Target, new WholeValue(t!.Value)))));
            return [new("table.target", $"No two cards of this pack make {table.Target}.", nearest)];
        }
        if (table.Facts.MostOpen > MostOpen) return [new("table.deck", $"{table.Facts.MostOpen} cards may come to lie open, more than fit on a table.", new DeckValue(Deck.Plain(1, 9)).ToJson())];
        return CommonKnobs.TooShort("form", CommonKnobs.FormAt(setup, Knobs.Form), [.. deck.Counts.Keys], Forms.Form.None) is { } problem ? [problem] : [];
    }

    protected internal override Game Compile(Setup setup) => new Game<EmptySeatRules, EmptySeatState>(setup, new(new SeatTable(setup)));

    public override bool IsRace(Setup setup) => setup.Get(Knobs.Sand).Number is not null;

    public override IReadOnlyList<Need> Needs(Setup setup) => [Need.Pack(setup.Get(Knobs.Deck).Deck)];

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        .. DeckPreparation.Of(setup.Get(Knobs.Deck).Deck).Sentences,
        $"Somebody takes {Words.Count(setup.Get(Knobs.Removed).Number, "card")} out, looks, and puts {(setup.Get(Knobs.Removed).Number == 1 ? "it" : "them")} away.",
        $"Deal the others face up, one by one. Two that make {setup.Get(Knobs.Target)} are covered with the next two{(setup.Get(Knobs.Deck).Deck.Counts.ContainsKey(setup.Get(Knobs.Target).Number) ? $"; {Words.A(setup.Get(Knobs.Target).Number)} by itself with the next one" : "")}{(setup.Get(Knobs.Court).On ? "; a jack, a queen and a king with the next three" : "")}.",
        "When no card is left, gather the pairs that still lie open.",
        .. setup.Get(Knobs.Sand).Number is { } seconds ? [$"The sand runs for {Words.Lasting(seconds)}."] : Array.Empty<string>(),
    ];

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        double readable = new SeatTable(setup).Facts.Readable(spending);
        return new() { ["pReadable"] = new NumberFact(readable), AimReached = readable };
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        double readable = facts.Number("pReadable");
        return ("What it tells", readable > 1 - 1e-12 ? "What lies open in the end always tells which cards are missing."
            : $"What lies open in the end tells {Words.Share(readable)} which cards are missing; else cards were taken that go together, or by themselves, and leave nothing open.");
    }

    /// <summary>Which cards can be missing where these lie open in the end.</summary>
    protected internal override Facts? At(Setup setup, JsonElement position, List<Problem> problems)
    {
        const string at = "forecast.position";
        var table = new SeatTable(setup);
        var fields = Fields.Read(position, at, ["open"], problems);
        if (problems.Count > 0) return null;
        var open = fields.TryGetValue("open", out var list) && list.ValueKind == JsonValueKind.Array ? list.EnumerateArray().Select(Card).ToList() : [null];
        if (open.Contains(null))
        {
            problems.Add(new($"{at}.open", $"Here stand the cards that lie open: whole numbers from 0 to {Deck.LargestNumber}{(table.Court.Sum() > 0 ? ", or \"J\", \"Q\", \"K\"" : "")}.", new JsonArray(9)));
            return null;
        }
        var cards = open.ConvertAll(c => c!.Value);
        var known = table.Facts.Groups.SelectMany(g => g.Numbers).ToHashSet();
        if (cards.Find(c => !known.Contains(c)) is var other && cards.Exists(c => !known.Contains(c)))
        {
            problems.Add(new($"{at}.open", $"There is no {Named(other)} in this pack.", Fields.List(cards.Where(known.Contains).Where(c => c <= Deck.LargestNumber))));
            return null;
        }
        if (table.Facts.Readings(cards) is not { } readings)
        {
            problems.Add(new($"{at}.open", $"These cannot lie open in the end: some of them make {table.Target} together or are covered by themselves, or the pack has not so many.", new JsonArray()));
            return null;
        }
        return new() { ["readings"] = new ListFact([.. readings.Select(r => new ListFact([.. r.Select(c => c > Deck.LargestNumber ? (Fact)new WordsFact(Named(c)) : new NumberFact(c))]))]) };

        static int? Card(JsonElement json) => json.ValueKind switch
        {
            JsonValueKind.Number when json.TryGetInt32(out int n) && n is >= 0 and <= Deck.LargestNumber => n,
            JsonValueKind.String when json.GetString() is "J" or "Q" or "K" => SeatFacts.Jack + "JQK".IndexOf(json.GetString()!, StringComparison.Ordinal),
            _ => null,
        };
    }

    /// <summary>What a card is called: its number, or a letter.</summary>
    internal static string Named(int card) => card switch { SeatFacts.Jack => "J", SeatFacts.Queen => "Q", SeatFacts.King => "K", _ => $"{card}" };

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Court || setup.Get(Knobs.Deck).Deck.Ranks.Any(r => r.Rank is "J" or "Q" or "K");

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        int target = setup.Get(Knobs.Target).Number;
        bool court = setup.Get(Knobs.Court).On;
        return [.. new[] { target - 1, target + 1 }.Where(t => t is >= LeastTarget and <= MostTarget).Select(t =>
            new SingleChange($"target {t} instead of {target}", Belongs.Range, setup.With(Knobs.Target, new WholeValue(t)).With(Knobs.Deck, new DeckValue(court ? Deck.Plain(1, 13) : Partners.PackFor(t)))))];
    }

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        var table = new SeatTable(setup);
        bool alone = table.Facts.Groups.Any(g => g.Kind == SeatGroupKind.Alone);
        return alone ? [$"Who takes {Words.A(table.Target)} leaves nothing open; without those cards one missing card can always be told."] : [];
    }

    public override string Summary(Setup setup) => $"{Words.Count(setup.Get(Knobs.Removed).Number, "card")} missing, {setup.Get(Knobs.Deck).Deck.Says}, pairs of {setup.Get(Knobs.Target)}";
}

/// <summary>The pack of one setup, and what goes together in it.</summary>
internal sealed record SeatTable : Seating
{
    public SeatTable(Setup setup) : base(setup)
    {
        var deck = setup.Get(EmptySeat.Knobs.Deck).Deck;
        Target = setup.Get(EmptySeat.Knobs.Target).Number;
        Removed = setup.Get(EmptySeat.Knobs.Removed).Number;
        Form = CommonKnobs.FormAt(setup, EmptySeat.Knobs.Form);
        bool byRank = setup.Get(EmptySeat.Knobs.Court).On && !deck.HomeMade;
        Court = [.. new[] { "J", "Q", "K" }.Select(rank => byRank && deck.Ranks.Exists(r => r.Rank == rank) ? deck.Packs * deck.Suits - deck.Missing.GetValueOrDefault(rank) : 0)];
        var counts = byRank ? Deck.FromRanks(deck.Ranks.Where(r => r.Rank is not ("J" or "Q" or "K")), deck.Packs, deck.Suits, deck.Missing).Counts : deck.Counts;
        Facts = new(counts, Target, Court, Removed);
        Pack = [.. counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value)), .. Court.SelectMany((count, i) => Enumerable.Repeat((byte)(SeatFacts.Jack + i), count))];
        LowHalf = ((1UL << (Target + 1) / 2) - 1) & ~1UL;
        Missing = Facts.Groups.Where(g => g.Kind == SeatGroupKind.Pair && g.Counts[0] == g.Counts[1] || g.Kind == SeatGroupKind.Half && g.Counts[0] % 2 == 0).SelectMany(g => g.Numbers).Aggregate(0UL, (numbers, n) => numbers | 1UL << n);
        var form = Pictures.CanDraw(Form, Target) ? Form : Form.Numeral;
        Asks = [.. Support.Select(support => Enumerable.Range(0, Target + 1).Select(seen => new Ask(AskKind.Part, Target, seen, form, support)).ToArray())];
    }

    public int Target { get; }

    public int Removed { get; }

    public Form Form { get; }

    /// <summary>How many jacks, queens and kings are kept by rank.</summary>
    public int[] Court { get; }

    public SeatFacts Facts { get; }

    public byte[] Pack { get; }

    /// <summary>The numbers from 1 below half the target, as bits.</summary>
    public ulong LowHalf { get; }

    /// <summary>Numbers with as many partners as there are of them, as bits: where one of them lies open in the end, its partner is missing.</summary>
    public ulong Missing { get; }

    /// <summary>By seat, and by the number that is seen, what is asked.</summary>
    public Ask[][] Asks { get; }
}
