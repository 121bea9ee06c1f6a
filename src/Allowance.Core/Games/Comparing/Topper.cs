using System.Numerics;
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

/// <summary>Topper: everyone turns up cards and makes a number; the highest, or lowest, takes them.</summary>
public sealed class Topper : Frame
{
    public const int MostCardsEach = 4, MostWorth = 1_000_000;

    private static readonly ChoiceKind Makes = ChoiceKind.Of(("single", "one card"), ("sum", "the sum"), ("difference", "the difference"), ("product", "the product"), ("digits", "digits as drawn"), ("bestDigits", "digits, arranged to be largest"));
    private static readonly ChoiceKind Aims = ChoiceKind.Of(("more", "the highest"), ("fewer", "the lowest"));
    private static readonly ChoiceKind Ties = ChoiceKind.Of(("pile", "the next round’s winner takes all"), ("split", "those who tie share them"), ("again", "those who tie turn up again"));
    private static readonly ChoiceKind Claims = ChoiceKind.Of(("highest", "whoever has it"), ("firstSaid", "whoever says it first, where a clock is liked"));

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "Pack", new DeckKind(), new DeckValue(Materials.Deck.Plain(1, 10)), Belongs.Range, Scope.Table, Sits.Deck, "Which cards are in, and what each counts as.", KnobRole.Deck);
        public static readonly OpenKnob<WholeValue> CardsEach = new("cardsEach", "Cards each", new WholeKind(1, MostCardsEach), Belongs.Range, Scope.Both, Sits.Cards, "How many cards she turns up: one by itself, two for a difference, two to four otherwise.");
        public static readonly Knob<ChoiceValue> Make = new("make", "Made from them", Makes, Makes["single"], Belongs.RuleLevel, Scope.Both, Sits.Cards, "What number her cards make.");
        public static readonly Knob<ChoiceValue> Aim = new("aim", "Takes them", Aims, Aims["more"], Belongs.RuleLevel, Scope.Table, Sits.Game, "Whether more wins, or fewer.");
        public static readonly Knob<ChoiceValue> Tie = new("tie", "When the best is shared", Ties, Ties["pile"], Belongs.Fairness, Scope.Table, Sits.Game, "What happens to the cards of a tie.");
        public static readonly Knob<ChoiceValue> Claim = new("claim", "They go to", Claims, Claims["highest"], Belongs.Fairness, Scope.Table, Sits.Game, "Whether having the number is enough, or saying it first counts.");
        public static readonly Knob<FlagValue> Signs = new("signs", "Sign cards", new FlagKind(), new FlagValue(false), Belongs.RuleLevel, Scope.Table, Sits.Game, "Whether the sign for more, fewer or the same is laid between the cards.");
        public static readonly Knob<ChoiceValue> Form = new("form", "Cards show", CommonKnobs.CardForms, new ChoiceValue(Forms.Form.Numeral.Id(), Forms.Form.Numeral.Facts().Label), Belongs.Form, Scope.Table, Sits.Cards, "The form of the numbers on the cards.", KnobRole.Form);
        public static readonly OpenKnob<WholeValue> RangeTo = new("rangeTo", "Her cards up to", new WholeKind(0, Materials.Deck.LargestNumber), Belongs.Range, Scope.Seat, Sits.Place, "She draws from the cards up to this number; all cards where it is left open.");
        public static readonly Knob<WholeValue> HeadStart = new("headStart", "Head start", new WholeKind(0, 60), new WholeValue(0), Belongs.Fairness, Scope.Seat, Sits.Place, "Cards she has won before it begins.", KnobRole.HeadStart);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(1000);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most cards", "all together play the pack to its end");
    }

    public override FrameData Data { get; } = new(
        "topper", "Topper", Family.Comparing, "Everyone turns up cards; the highest takes them.", "It ends when the pack has no full round left.", 1, Engine.MostSeats,
        [Knobs.Deck, Knobs.CardsEach, Knobs.Make, Knobs.Aim, Knobs.Tie, Knobs.Claim, Knobs.Signs, Knobs.Form, Knobs.RangeTo, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, Knobs.Winning],
        [
            Level.Free("single", "Which is more", "Turn up one card each: which is more?", (Knobs.Make, Makes["single"])),
            Level.Free("gap", "How many more", "Turn up one card each, and say how many more.", (Knobs.Make, Makes["single"])),
            Level.Free("sum", "Two together", "Turn up two cards and add them.", (Knobs.Make, Makes["sum"])),
            Level.Free("difference", "The difference", "Turn up two cards: how many more is one than the other?", (Knobs.Make, Makes["difference"])),
            Level.Free("digits", "Two digits", "Turn up two cards and read them as a number.", (Knobs.Make, Makes["digits"]), (Knobs.Deck, new DeckValue(Deck.Plain(1, 9)))),
            Level.Free("three", "Three together", "Turn up three cards and add them.", (Knobs.Make, Makes["sum"]), (Knobs.CardsEach, new WholeValue(3))),
            Level.Free("product", "Times", "Turn up two cards and multiply them.", (Knobs.Make, Makes["product"])),
        ],
        "single", [AskKind.Say, AskKind.More, AskKind.Gap, AskKind.Join, AskKind.Times, AskKind.Digits]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var deck = setup.Get(Knobs.Deck).Deck;
        if (deck.Wilds > 0) return [new("table.deck", "Topper has no wild cards; take them out, or give them a number.", new DeckValue(deck.WithoutWilds()).ToJson())];
        var table = new TopperTable(setup);
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            var (make, cards) = (table.Make[s], table.Cards[s]);
            int fits = TopperTable.Fitting(make, cards);
            if (cards != fits) problems.Add(new(setup.Path(s, Knobs.CardsEach), $"{Words.Sentence(setup.At(s, Knobs.Make)!.Says()).TrimEnd('.')} takes {(fits == 1 ? "one card" : make == TopperMake.Difference ? "two cards" : "two to four cards")}.", fits));
            else if (make is TopperMake.Digits or TopperMake.BestDigits && deck.Counts.Keys.Last() > 9)
                problems.Add(new("table.deck", "Cards that are read as digits have one digit each.", new DeckValue(Deck.Plain(1, 9)).ToJson()));
            else if (make == TopperMake.Product && Math.Pow(deck.Counts.Keys.Last(), cards) > MostWorth)
                problems.Add(new(setup.Path(s, Knobs.CardsEach), $"The product would go beyond {MostWorth:N0}.", 2));
            else if (make == TopperMake.Single && setup.Get(Knobs.Form) is var form && CommonKnobs.TooShort("form", FormTable.Find(form.Id)!.Value, [.. deck.Counts.Keys], Form.None) is { } tooShort) problems.Add(tooShort);
            if (table.RangeTo[s] is { } to && deck.Counts.Where(c => c.Key <= to).Sum(c => c.Value) is var there && there < table.Order.Where(o => table.RangeTo[o] <= to).Sum(o => table.Cards[o]))
                problems.Add(new($"players[{s}].allowance.rangeTo", $"Up to {to} the pack has {Words.Count(there, "card")}, too few for a round.", deck.Counts.Keys.Last()));
        }
        if (problems.Count == 0 && table.ForRound(table.Everyone) > deck.Cards)
            problems.Add(new("table.deck", $"A round takes {table.ForRound(table.Everyone)} cards, and the pack has {deck.Cards}.", new DeckValue(Deck.Plain(1, 10)).ToJson()));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup) => new Game<TopperRules, TopperState>(setup, new(new TopperTable(setup)));

    public override bool IsRace(Setup setup) => new TopperTable(setup).FirstSaid;

    public override IReadOnlyList<Need> Needs(Setup setup) =>
        [Need.Pack(setup.Get(Knobs.Deck).Deck), .. setup.Get(Knobs.Signs).On ? [new Need("sign cards", 3)] : Array.Empty<Need>()];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var preparation = DeckPreparation.Of(setup.Get(Knobs.Deck).Deck);
        var own = Enumerable.Range(0, setup.Seats.Length).Where(s => setup.At(s, Knobs.RangeTo) is WholeValue).ToList();
        return [.. preparation.Sentences, $"{Words.Count(preparation.CardsLeft, "card")} in play, face down in a pile.", .. own.Select(s => $"Place {s + 1} draws from a pile of her own, with cards up to {setup.At(s, Knobs.RangeTo)}.")];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending) => TopperFacts.Of(new TopperTable(setup), spending);

    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending) => TopperFacts.Played(new TopperTable(setup), spending);

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        if (setup.Seats.Length < 2) return null;
        string gap = setup.Seats.Length == 2 ? $" The two numbers are {Words.About(facts.Number("gapMean"), "step")} apart; in {100 * facts.Number("closeShare"):0} of 100 rounds they are close, so that she must look twice." : "";
        return ("How close it is", $"{Words.Capital(Words.About(facts.Number("rounds"), "round"))}; in {100 * facts.Number("tieChance"):0} of 100 rounds two are equal.{gap}");
    }

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "tie" or "claim" => setup.Seats.Length > 1,
        "form" => Enumerable.Range(0, setup.Seats.Length).Any(s => setup.At(s, Knobs.Make).Id == "single"),
        _ => true,
    };

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.CardsEach ? new WholeValue(new TopperTable(setup).Cards[0]) : null;

    /// <summary>One card more or fewer, and her own part of the pack.</summary>
    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        var table = new TopperTable(setup);
        var numbers = setup.Get(Knobs.Deck).Deck.Counts.Keys.ToList();
        int cards = table.Cards[seat], now = numbers.FindLastIndex(n => n <= (table.RangeTo[seat] ?? int.MaxValue));
        return
        [
            .. new[] { cards - 1, cards + 1 }.Where(n => n is >= 1 and <= MostCardsEach && TopperTable.Fitting(table.Make[seat], n) == n)
                .Select(n => new SingleChange($"cards each: {n} instead of {cards}", Belongs.Range, setup.Seats.Length > 1 ? Own(Knobs.CardsEach, new WholeValue(n)) : setup.With(Knobs.CardsEach, new WholeValue(n)))),
            .. now > 0 ? [new($"cards up to {numbers[now - 1]}", Belongs.Range, Own(Knobs.RangeTo, new WholeValue(numbers[now - 1])))] : Array.Empty<SingleChange>(),
            .. now < numbers.Count - 1 ? [new($"cards up to {numbers[now + 1]}", Belongs.Range, Own(Knobs.RangeTo, now + 2 < numbers.Count ? new WholeValue(numbers[now + 1]) : null))] : Array.Empty<SingleChange>(),
        ];

        Setup Own(Knob knob, KnobValue? value) => setup.WithSeat(seat, setup.Seats[seat].With(knob, value));
    }

    public override IReadOnlyList<string> Audit(Setup setup) => [];

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Make)}, {setup.Get(Knobs.Aim)} takes them";

    public override string Summary(Setup setup, int seat)
    {
        var own = setup.Seats[seat].Allowance;
        string level = base.Summary(setup, seat);
        return string.Join(", ", new[] { level, own.ContainsKey(Knobs.Make.Id) ? setup.At(seat, Knobs.Make)!.Says() : "", own.ContainsKey(Knobs.CardsEach.Id) ? Words.Count(setup.At(seat, Knobs.CardsEach)!.Number, "card") : "", own.ContainsKey(Knobs.RangeTo.Id) ? $"cards up to {setup.At(seat, Knobs.RangeTo)}" : "", setup.At(seat, Knobs.HeadStart).Number is > 0 and var ahead ? $"{ahead} ahead" : "" }.Where(p => p.Length > 0));
    }
}

internal enum TopperMake { Single, Sum, Difference, Product, Digits, BestDigits }

internal enum TopperTie { Pile, Split, Again }

/// <summary>The table of one setup: what each seat turns up and makes.</summary>
internal sealed record TopperTable : Seating
{
    private readonly int[] hands;

    public TopperTable(Setup setup) : base(setup)
    {
        int seats = setup.Seats.Length;
        var all = Enumerable.Range(0, seats).ToList();
        Deck = setup.Get(Topper.Knobs.Deck).Deck;
        Pack = [.. Deck.Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value))];
        Make = [.. all.Select(s => Enum.Parse<TopperMake>(setup.At(s, Topper.Knobs.Make).Id, true))];
        Cards = [.. all.Select(s => CardsAt(setup, s, Make[s]))];
        Fewer = setup.Get(Topper.Knobs.Aim).Id == "fewer";
        Tie = Enum.Parse<TopperTie>(setup.Get(Topper.Knobs.Tie).Id, true);
        HasSigns = setup.Get(Topper.Knobs.Signs).On;
        FirstSaid = setup.Get(Topper.Knobs.Claim).Id == "firstSaid" && seats > 1;
        Form = CommonKnobs.FormAt(setup, Topper.Knobs.Form);
        RangeTo = [.. all.Select(s => (setup.At(s, Topper.Knobs.RangeTo) as WholeValue)?.Number)];
        HeadStart = [.. all.Select(s => setup.At(s, Topper.Knobs.HeadStart).Number)];
        Gap = [.. Level.Select(l => l == "gap")];
        Numbers = Pack[^1] + 1;
        hands = [.. Cards.Select(c => (int)Math.Pow(Numbers, c))];
        Kinds = new([hands.Aggregate(1.0, (all, h) => all * (h + 1))]);
        Order = [.. all.OrderBy(s => RangeTo[s] ?? int.MaxValue)];
        HasOwnPiles = RangeTo.Any(r => r is not null);
    }

    /// <summary>A given number of cards, or the level's where that fits what is made, or the usual.</summary>
    private static int CardsAt(Setup setup, int seat, TopperMake make)
    {
        bool given = setup.Seats[seat].Allowance.ContainsKey(Topper.Knobs.CardsEach.Id) || setup.Table.ContainsKey(Topper.Knobs.CardsEach.Id);
        int? cards = (setup.At(seat, Topper.Knobs.CardsEach) as WholeValue)?.Number;
        return cards is { } n && (given || Fitting(make, n) == n) ? n : Fitting(make, 2);
    }

    /// <summary>The nearest number of cards from which this can be made.</summary>
    public static int Fitting(TopperMake make, int cards) => make switch
    {
        TopperMake.Single => 1, TopperMake.Difference => 2, _ => Math.Max(2, cards),
    };

    public Deck Deck { get; }

    public byte[] Pack { get; }

    /// <summary>All numbers on cards are below it.</summary>
    public int Numbers { get; }

    public TurnKinds Kinds { get; }

    /// <summary>How many hands a seat may turn up, in their order: a hand is a number below it.</summary>
    public int HandsOf(int seat) => hands[seat];

    /// <summary>The cards of a hand that is given as a number, the first one first.</summary>
    public void Read(int code, Span<byte> cards)
    {
        for (int card = cards.Length - 1; card >= 0; card--, code /= Numbers) cards[card] = (byte)(code % Numbers);
    }

    public TopperMake[] Make { get; }

    public int[] Cards { get; }

    public bool Fewer { get; }

    public TopperTie Tie { get; init; }

    public bool FirstSaid { get; }

    /// <summary>A sign card is laid between the numbers.</summary>
    public bool HasSigns { get; }

    public Form Form { get; }

    public int?[] RangeTo { get; }

    /// <summary>Somebody draws from a part of the pack.</summary>
    public bool HasOwnPiles { get; }

    public int[] HeadStart { get; }

    /// <summary>By seat: she also says how many more.</summary>
    public bool[] Gap { get; }

    /// <summary>Who draws when: the smallest part of the pack first.</summary>
    public int[] Order { get; }

    /// <summary>The same where those who tie do not turn up again.</summary>
    public TopperTable WithoutRepeats() => this with { Tie = TopperTie.Pile };

    public uint Everyone => (1u << Cards.Length) - 1;

    /// <summary>Everyone turns up as many, makes the same of them, and draws from all.</summary>
    public bool AllAlike => Make.Distinct().Count() == 1 && Cards.Distinct().Count() == 1 && RangeTo.All(r => r is null);

    /// <summary>How many cards a round takes, by who is in it, as bits.</summary>
    public short[] ForRounds() => [.. Enumerable.Range(0, 1 << Seats).Select(seats => (short)ForRound((uint)seats))];

    public int ForRound(uint seats)
    {
        int cards = 0;
        for (int s = 0; s < Cards.Length; s++)
            if ((seats >> s & 1) != 0) cards += Cards[s];
        return cards;
    }

    /// <summary>What a seat's hand makes.</summary>
    public int Value(int seat, int hand)
    {
        Span<byte> cards = stackalloc byte[Cards[seat]];
        Read(hand, cards);
        return Value(Make[seat], cards);
    }

    /// <summary>What a seat's own hand asks of her.</summary>
    public Ask Own(int seat, int hand)
    {
        Span<byte> cards = stackalloc byte[Cards[seat]];
        Read(hand, cards);
        return Own(seat, cards);
    }

    private Ask Own(int seat, ReadOnlySpan<byte> hand)
    {
        var support = Support[seat];
        switch (Make[seat])
        {
            case TopperMake.Single: return new(AskKind.Say, hand[0], Form, support: support);
            case TopperMake.Difference: return new(AskKind.Gap, Math.Max(hand[0], hand[1]), Math.Min(hand[0], hand[1]), Form.Numeral, support);
            case TopperMake.Digits or TopperMake.BestDigits: return new(AskKind.Digits, Value(Make[seat], hand), Form.Numeral, support: support);
            default:
                Span<int> falling = stackalloc int[hand.Length];
                for (int i = 0; i < hand.Length; i++)
                {
                    int at = i;
                    for (; at > 0 && falling[at - 1] < hand[i]; at--) falling[at] = falling[at - 1];
                    falling[at] = hand[i];
                }
                return new(Make[seat] == TopperMake.Sum ? AskKind.Join : AskKind.Times, falling, Form.Numeral, support: support);
        }
    }

    /// <summary>What cards make; of digits the first is the largest place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Value(TopperMake make, ReadOnlySpan<byte> cards)
    {
        int value = cards[0];
        switch (make)
        {
            case TopperMake.Sum:
                for (int i = 1; i < cards.Length; i++) value += cards[i];
                return value;
            case TopperMake.Difference: return Math.Abs(cards[0] - cards[1]);
            case TopperMake.Product:
                for (int i = 1; i < cards.Length; i++) value *= cards[i];
                return value;
            case TopperMake.Digits:
                for (int i = 1; i < cards.Length; i++) value = 10 * value + cards[i];
                return value;
            case TopperMake.BestDigits:
                Span<byte> sorted = stackalloc byte[cards.Length];
                cards.CopyTo(sorted);
                sorted.Sort();
                value = 0;
                for (int i = sorted.Length - 1; i >= 0; i--) value = 10 * value + sorted[i];
                return value;
            default: return value;
        }
    }
}

internal struct TopperState
{
    public Head Head;

    /// <summary>Who turns up cards in this round, as bits: all, or those who tied.</summary>
    public uint InRound;

    /// <summary>Where dealing has come to: a place in the order of drawing, and a card of that seat.</summary>
    public byte At, Card;

    /// <summary>Who settles the rounds.</summary>
    public byte Leads;

    /// <summary>Of a round that is dealt: the best number and the next best (−1 where there is none), and who has the best, as bits.</summary>
    public int Best, Second;
    public uint Who;

    /// <summary>Cards that the round takes, and those of ties that wait for a winner.</summary>
    public short Round, Waiting;
    public EightCounts Won;

    /// <summary>By seat, the cards turned up so far in this round or in her last one, as the number of a hand.</summary>
    public EightNumbers Hands;
    public DrawPile Pile;
}

/// <summary>What every hand of a seat makes and asks.</summary>
internal sealed record TopperMade(int[] Values, Ask[] Asks)
{
    private const int MostHands = 4_096;

    /// <summary>By seat; null where it may turn up too many hands, so that each is worked out when it comes.</summary>
    public static TopperMade?[] OfAll(TopperTable table) => [.. Enumerable.Range(0, table.Seats).Select(s => Of(table, s))];

    private static TopperMade? Of(TopperTable table, int seat)
    {
        int hands = table.HandsOf(seat);
        if (hands > MostHands) return null;
        var made = new TopperMade(new int[hands], new Ask[hands]);
        for (int hand = 0; hand < hands; hand++)
        {
            made.Values[hand] = table.Value(seat, hand);
            made.Asks[hand] = table.GrownUp[seat] ? default : table.Own(seat, hand);
        }
        return made;
    }
}

/// <summary>The rules of Topper: everyone's cards are dealt, then one move for all.</summary>
internal readonly struct TopperRules(TopperTable table) : IRules<TopperState>
{
    private readonly TopperMade?[] made = TopperMade.OfAll(table);

    /// <summary>By who is in a round, as bits, how many cards it takes.</summary>
    private readonly short[] forRound = table.ForRounds();

    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref TopperState s) => ref s.Head;

    public void Start(ref TopperState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Leads = (byte)first;
        s.Pile.Fill(table.Pack);
        for (int seat = 0; seat < Seats; seat++) s.Won[seat] = (short)table.HeadStart[seat];
        NewRound(ref s, s.Head.Active);
    }

    /// <summary>Those of the round who play draw; over where the pack has too few cards for them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void NewRound(ref TopperState s, uint seats)
    {
        s.InRound = seats;
        (s.At, s.Card) = (0, 0);
        s.Round = forRound[seats];
        s.Head.Phase = IsEnough(in s, seats) ? StepKind.Chance : StepKind.Over;
        SkipWhoIsOut(ref s);
        s.Head.Mover = s.Head.Phase == StepKind.Chance ? (byte)table.Order[s.At] : s.Leads;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool IsEnough(in TopperState s, uint seats)
    {
        if (s.Pile.Count < forRound[seats]) return false;
        if (!table.HasOwnPiles) return true;
        int needed = 0;
        foreach (int seat in table.Order)
        {
            if (table.RangeTo[seat] is not { } to) break;
            if ((seats >> seat & 1) == 0) continue;
            needed += table.Cards[seat];
            if (s.Pile.UpTo(to) < needed) return false;
        }
        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void SkipWhoIsOut(ref TopperState s)
    {
        while (s.At < Seats && (s.InRound >> table.Order[s.At] & 1) == 0) s.At++;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref TopperState s, ref Rng rng) => table.HasOwnPiles && table.RangeTo[table.Order[s.At]] is { } to ? s.Pile.DrawUpTo(to, ref rng) : s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref TopperState s, int outcome)
    {
        int seat = table.Order[s.At];
        s.Pile.Take((byte)outcome);
        s.Hands[seat] = (s.Card++ == 0 ? 0 : s.Hands[seat] * table.Numbers) + outcome;
        if (s.Card < table.Cards[seat]) return;
        s.Card = 0;
        s.At++;
        SkipWhoIsOut(ref s);
        if (s.At < Seats)
        {
            s.Head.Mover = (byte)table.Order[s.At];
            return;
        }
        s.Head.Mover = s.Leads;
        s.Head.Phase = StepKind.Choice;
        Compare(ref s);
    }

    /// <summary>The round is settled by what the cards make, or by who said it first in the course of play.</summary>
    private Move Settled => new(0, Seats);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in TopperState s, ref Rng rng) => Settled;

    public Move Best(in TopperState s, ref Rng rng) => Settled;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Value(in TopperState s, int seat) => made[seat] is { } all ? all.Values[s.Hands[seat]] : table.Value(seat, s.Hands[seat]);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Ask Own(in TopperState s, int seat) => made[seat] is { } all ? all.Asks[s.Hands[seat]] : table.Own(seat, s.Hands[seat]);

    /// <summary>Without a branch: what cards show cannot be foreseen.</summary>
    private void Compare(ref TopperState s)
    {
        // Where the fewest wins, numbers are turned round for it.
        int turn = table.Fewer ? -1 : 1, from = table.Fewer ? 1 << 30 : 0;
        int best = -1, second = -1;
        uint who = 0;
        for (int seat = 0; seat < Seats; seat++)
        {
            // Who is not in the round has less than anything.
            int isOut = (int)(s.InRound >> seat & 1) - 1, value = from + turn * Value(in s, seat) | isOut;
            who = who & (uint)(0 - Bits.If(value <= best)) | (uint)Bits.If(value >= best) << seat;
            second = Bits.Max(second, Bits.Min(best, value));
            best = Bits.Max(best, value);
        }
        s.Who = who;
        s.Best = from + turn * best;
        s.Second = second < 0 ? -1 : from + turn * second;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in TopperState s, Move move, Span<SeatAsk> into)
    {
        int count = 0;
        int larger = Math.Max(s.Best, s.Second), smaller = Math.Min(s.Best, s.Second);
        for (int seat = 0; seat < Seats; seat++)
        {
            if (table.GrownUp[seat] || (s.Head.Active >> seat & 1) == 0) continue;
            if ((s.InRound >> seat & 1) != 0) into[count++] = new(seat, Own(in s, seat));
            if (s.Second < 0) continue;
            var form = table.Make[seat] == TopperMake.Single ? table.Form : Form.Numeral;
            into[count++] = new(seat, new Ask(AskKind.More, larger, smaller, form, table.Support[seat]));
            if (table.Gap[seat] && larger > smaller) into[count++] = new(seat, new Ask(AskKind.Gap, larger, smaller, form, table.Support[seat]));
        }
        return count;
    }

    /// <summary>A round is told by what everyone turned up, and nothing by who is not in it.</summary>
    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in TopperState s, Move move)
    {
        int kind = 0;
        for (int seat = 0; seat < Seats; seat++) kind = kind * (table.HandsOf(seat) + 1) + ((s.InRound >> seat & 1) != 0 ? s.Hands[seat] + 1 : 0);
        return kind;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in TopperState s) => Handling.TopperTurnUp;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in TopperState s, Move move) => Handling.TopperTake;

    public bool Seeking(in TopperState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref TopperState s, Move move, Answered answered)
    {
        uint who = s.Who;
        int cards = s.Round;
        int said = !table.FirstSaid ? -1 : move.Pick < Seats ? move.Pick : answered.Fastest;
        // Only who was asked can be first by answering.
        if (said >= 0 && (move.Pick < Seats || !table.GrownUp[said]) && (s.InRound >> said & 1) != 0) who = 1u << said;
        // Everyone's turning up is a turn of her own.
        s.Head.Turns += BitOperations.PopCount(s.InRound);
        int sharing = BitOperations.PopCount(who);
        if (sharing == 1)
        {
            s.Won[BitOperations.TrailingZeroCount(who)] += (short)(cards + s.Waiting);
            s.Waiting = 0;
        }
        else if (table.Tie == TopperTie.Split)
        {
            for (uint rest = who; rest != 0; rest &= rest - 1) s.Won[BitOperations.TrailingZeroCount(rest)] += (short)(cards / sharing);
            s.Waiting += (short)(cards % sharing);
        }
        else s.Waiting += (short)cards;
        NewRound(ref s, table.Tie == TopperTie.Again && sharing > 1 && IsEnough(in s, who) ? who : s.Head.Active);
    }

    /// <summary>A round that was begun is played to its end, also for one who leaves in its middle; who came draws from the next one on.</summary>
    public void Arrange(ref TopperState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) s.Won[seat] = (short)table.HeadStart[seat];
        if (!s.Head.Plays(s.Leads)) s.Leads = s.Head.Mover;
        if (s.Head.Phase == StepKind.Choice) s.Head.Mover = s.Leads;
        else if (s.Card > 0 || s.At != FirstIn(in s)) s.Head.Mover = (byte)table.Order[s.At];
        else
        {
            // Of a tie, those go on who are still here; else all do.
            uint tied = s.InRound & s.Head.Active;
            NewRound(ref s, (s.InRound & before) == before || tied == 0 ? s.Head.Active : tied);
        }
    }

    private int FirstIn(in TopperState s)
    {
        int at = 0;
        while (at < Seats && (s.InRound >> table.Order[at] & 1) == 0) at++;
        return at;
    }

    public int Points(in TopperState s, int seat) => s.Won[seat];

    public bool AimReached(in TopperState s) => s.Head.Phase == StepKind.Over;

    /// <summary>Cards nobody has won: in the pile, in a tie, and lying before the players.</summary>
    public int Left(in TopperState s)
    {
        int lying = s.Head.Phase == StepKind.Choice ? s.Round : s.Card;
        if (s.Head.Phase == StepKind.Chance)
            for (int at = 0; at < s.At; at++)
                if ((s.InRound >> table.Order[at] & 1) != 0) lying += table.Cards[table.Order[at]];
        return s.Pile.Count + s.Waiting + lying;
    }

    public IReadOnlyList<Possible> Possibilities(in TopperState s) =>
        table.RangeTo[table.Order[s.At]] is { } to ? [.. s.Pile.Possibilities.Where(p => p.Outcome <= to)] : s.Pile.Possibilities;

    public bool IsLegal(in TopperState s, Move move) => s.Head.Phase == StepKind.Choice && (move == Settled || Moves(in s).Contains(move));

    /// <summary>Where saying it first counts, one for each who may have been first.</summary>
    public IReadOnlyList<Move> Moves(in TopperState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        uint round = s.InRound;
        return table.FirstSaid ? [.. Enumerable.Range(0, Seats).Where(seat => (round >> seat & 1) != 0).Select(seat => new Move(0, seat))] : [Settled];
    }

    public Tapped Read(in TopperState s, IReadOnlyList<int> items) => items is [var seat] && Moves(in s).Contains(new Move(0, seat)) ? Tapped.As(new Move(0, seat)) : Tapped.NeedsMore;

    private byte[] Cards(int hand, int count)
    {
        byte[] cards = new byte[count];
        table.Read(hand, cards);
        return cards;
    }

    public IReadOnlyList<Zone> Zones(in TopperState s)
    {
        var zones = new List<Zone>();
        for (int at = 0; at < Seats && s.Head.Phase != StepKind.Over; at++)
        {
            int seat = table.Order[at], cards = s.Head.Phase == StepKind.Choice || at < s.At ? table.Cards[seat] : at == s.At ? s.Card : 0;
            if ((s.InRound >> seat & 1) == 0 || cards == 0) continue;
            var form = table.Make[seat] == TopperMake.Single ? table.Form : Form.Numeral;
            zones.Add(new Hand("Turned up", seat, [.. Cards(s.Hands[seat], cards).Select((n, i) => new Item(seat * Topper.MostCardsEach + i, n, form, ItemState.Up, false))]) { BeforeSign = table.HasSigns && zones.Count == 0 });
        }
        if (s.Head.Phase == StepKind.Choice && table.FirstSaid) zones.Add(new ChoiceKeys("Who said it first", [.. Moves(in s).Select(m => new Item(m.Pick, m.Pick, Form.None, ItemState.Up, true))]) { ArePlayers = true });
        zones.Add(new Pile("The pile", s.Pile.Count));
        return zones;
    }

    public string Says(in TopperState s) => s.Head.Phase switch
    {
        StepKind.Over => "The pack is played out.",
        StepKind.Chance => "Turn up.",
        _ when Seats == 1 => "Which number is it?",
        _ when table.FirstSaid => "Who says it first?",
        _ => (table.Fewer ? "Which is fewest?" : "Which is most?") + (table.HasSigns ? " Lay the sign." : ""),
    };

    public string Tells(in TopperState before, Move move, bool found)
    {
        var values = new List<int>();
        for (int seat = 0; seat < Seats; seat++)
            if ((before.InRound >> seat & 1) != 0) values.Add(Value(in before, seat));
        return Words.List(values.Select(v => v.ToString())) + (BitOperations.PopCount(before.Who) > 1 ? ": a tie" : "");
    }
}
