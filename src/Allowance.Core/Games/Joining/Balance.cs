using System.Numerics;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Balance: from a hand of cards lay one that is as much as others together, or two that are the same.</summary>
public sealed class Balance : Frame
{
    internal const int MostCards = HandCards.Most;

    private const int MostHeadStart = 20;

    private static readonly DeckValue Usual = new(Deck.FromRanks([.. Deck.Plain(1, 10).Ranks, ("J", new(0, IsBonus: true)), ("Q", new(0, IsBonus: true)), ("K", new(0, IsBonus: true))]));

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "Pack", new DeckKind(Wild: true, Bonus: true), Usual, Belongs.Range, Scope.Table, Sits.Deck, "Which cards are in, what each counts as, and which are only collected.", KnobRole.Deck);
        public static readonly Knob<WholeValue> Hand = new("hand", "Cards in hand", new WholeKind(2, MostCards), new WholeValue(5), Belongs.RuleLevel, Scope.Both, Sits.Cards, "More cards: more that goes, and more to look through.");
        public static readonly Knob<WholeValue> Most = new("most", "Cards laid at once", new WholeKind(2, MostCards), new WholeValue(MostCards), Belongs.RuleLevel, Scope.Both, Sits.Game, "The most cards of an equation, the whole one too.");
        public static readonly Knob<OperationsValue> Ops = new("ops", "Signs", new OperationsKind(), new OperationsValue(Operation.Plus), Belongs.RuleLevel, Scope.Both, Sits.Game, "What may be done with the cards on the one side.");
        public static readonly Knob<FlagValue> Mat = new("mat", "Whole-and-parts mat", new FlagKind(), new FlagValue(false), Belongs.Support, Scope.Table, Sits.Things, "A place for the whole and places for its parts.", KnobRole.Aid);
        public static readonly Knob<ChoiceValue> Form = new("form", "Cards show", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Both, Sits.Cards, "How the cards show their numbers; at a place: a help card in her form.", KnobRole.Form);
        public static readonly Knob<WholeValue> HeadStart = new("headStart", "Head start", new WholeKind(0, MostHeadStart), new WholeValue(0), Belongs.Fairness, Scope.Seat, Sits.Place, "Cards she has collected before it begins.", KnobRole.HeadStart);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(100);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most bonus cards; where there are none, most cards laid", "all together lay every card");
    }

    public override FrameData Data { get; } = new(
        "balance", "Balance", Family.Joining, "Lay a card, and others that are as much together: which of yours balance?", "It ends when all cards are drawn and nobody can lay any more.", 1, Engine.MostSeats,
        [Knobs.Deck, Knobs.Hand, Knobs.Most, Knobs.Ops, Knobs.Mat, Knobs.Form, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free("double", "Two the same", "Lay two cards that are the same, and say what they make together.", (Knobs.Most, new WholeValue(2))),
            Level.Free("two", "A whole and two parts", "Lay a card and two others that make it, or two that are the same.", (Knobs.Most, new WholeValue(3))),
            Level.Free("more", "Any number of parts", "Lay a card and as many others as make it together."),
            Level.Free("ops", "With other signs", "Lay a card and others that come to it, with plus or minus.", (Knobs.Ops, new OperationsValue(Operation.Plus, Operation.Minus))),
        ],
        "more", [AskKind.Double, AskKind.Part, AskKind.Join, AskKind.Gone, AskKind.Times, AskKind.Share]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        if (deck.Counts.Count == 0) return [new("table.deck", "Without cards that have a number nothing can be laid.", Usual.ToJson())];
        int hands = setup.Seats.Select((_, s) => setup.At(s, Knobs.Hand).Number).Sum(), numbers = deck.Cards - deck.Bonuses;
        if (hands > numbers) return [new("table.deck", $"All hands take {hands} cards; the pack has {numbers} with a number.", Usual.ToJson())];
        if (CommonKnobs.TooShort("form", CommonKnobs.FormAt(setup, Knobs.Form), [.. deck.Counts.Keys], Forms.Form.None) is { } tooShort) return [tooShort];
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            // A pack whose cards are all different is no pack of doubles.
            if (setup.At(s, Knobs.Most).Number == 2 && deck.Wilds == 0 && deck.Counts.Values.All(c => c == 1)) return [new(setup.Path(s, Knobs.Most), "No two cards of this pack are the same.", 3)];
        }
        return [];
    }

    protected internal override Game Compile(Setup setup) => new Game<BalanceRules, BalanceState>(setup, new(new BalanceTable(setup)));

    /// <summary>Two that are the same go at every level.</summary>
    internal override bool ShowsWhatItIsAbout(Setup setup, IReadOnlyList<SeatAsk> asks) => setup.Get(Knobs.Most).Number == 2 || asks.Any(a => a.Ask.Kind != AskKind.Double);

    public override IReadOnlyList<Need> Needs(Setup setup) => [Need.Pack(setup.Get(Knobs.Deck).Deck), .. setup.Get(Knobs.Mat).On ? [new Need("whole-and-parts mats", setup.Seats.Length)] : Array.Empty<Need>()];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        var preparation = DeckPreparation.Of(deck);
        return
        [
            .. preparation.Sentences,
            $"{Words.Count(preparation.CardsLeft, "card")} in play. Each gets {Words.Count(setup.Get(Knobs.Hand).Number, "card")}; the others lie face down.",
            .. deck.Bonuses > 0 ? ["Who draws a bonus card lays it before her and draws another."] : Array.Empty<string>(),
            "What was laid is filled up again. A hand with which nothing goes is changed for a new one.",
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = new BalanceTable(setup);
        return new() { ["pMove"] = PerSeat(setup, s => Plays(setup, s), s => new NumberFact(table.CanLay(s, table.Hand[s], spending))) };
    }

    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = new BalanceTable(setup);
        return new() { ["pMove"] = PerSeat(setup, s => Plays(setup, s), s => table.CanLayOften(s, table.Hand[s], spending)) };
    }

    /// <summary>What tells whether something can be laid.</summary>
    private static (int Hand, int Most, OperationsValue Ops) Plays(Setup setup, int seat) => (setup.At(seat, Knobs.Hand).Number, setup.At(seat, Knobs.Most).Number, setup.At(seat, Knobs.Ops));

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => ["turnsMean"];

    protected internal override double FromTurns(Setup setup, string fact, double turns) => turns;

    /// <summary>The most cards of a hand that balance.</summary>
    protected internal override Facts? At(Setup setup, JsonElement position, List<Problem> problems)
    {
        const string at = "forecast.position";
        var fields = Fields.Read(position, at, ["hand"], problems);
        var hand = TargetHand.Hand(fields, at, MostCards, problems);
        if (problems.Count > 0) return null;
        var (signs, most) = (setup.Get(Knobs.Ops).Operations, setup.Get(Knobs.Most).Number);
        var equations = new HandEquations(hand!, signs);
        var best = Enumerable.Range(1, (1 << hand!.Count) - 1).Where(set => BitOperations.PopCount((uint)set) is var cards && cards >= 2 && cards <= most).OrderByDescending(set => BitOperations.PopCount((uint)set))
            .Select(set => (Cards: BitOperations.PopCount((uint)set), Made: Enumerable.Range(0, hand.Count).Where(at => (set >> at & 1) != 0).Select(at => Whole(equations, hand[at], set & ~(1 << at))).FirstOrDefault(made => made is not null))).FirstOrDefault(b => b.Made is not null);
        var facts = new Facts { ["best"] = new NumberFact(best.Cards) };
        if (best.Made is { } made) facts["equation"] = new WordsFact($"{made.Value} = {made}");
        return facts;
    }

    /// <summary>How others make a card; a wild one is whatever they make, from 1 to 10.</summary>
    private static Made? Whole(HandEquations equations, int whole, int others) => whole != HandEquations.Wild ? equations.How(others, whole)
        : Enumerable.Range(1, HandEquations.MostWild).Select(n => equations.How(others, n)).FirstOrDefault(m => m is not null);

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var table = new BalanceTable(setup);
        var chances = Enumerable.Range(2, MostCards - 1).Select(n => (Cards: n, Goes: table.CanLay(0, n, spending))).ToList();
        return ("How often it goes", $"With {Words.List(chances.Where(c => c.Cards is >= 3 and <= 7).Select(c => $"{c.Cards} cards {100 * c.Goes:0}"))} of 100 hands something can be laid.");
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => [.. CommonKnobs.CardsUpTo(setup, Knobs.Deck)];

    public override string WhatWins(Setup setup) => setup.Get(Knobs.Deck).Deck.Bonuses > 0 ? "most bonus cards" : "most cards laid";

    public override string Summary(Setup setup) => $"{Words.Count(setup.Get(Knobs.Hand).Number, "card")} each, {setup.Get(Knobs.Deck).Deck.Says}, {(setup.Get(Knobs.Most).Number == 2 ? "two that are the same" : $"up to {setup.Get(Knobs.Most)} laid at once")}";

    public override string Summary(Setup setup, int seat) => OwnDice(setup, seat, string.Join(", ", new[] { OwnLevel(setup, seat), setup.Seats[seat].Allowance.ContainsKey(Knobs.Hand.Id) ? Words.Count(setup.At(seat, Knobs.Hand).Number, "card") : "" }.Where(p => p.Length > 0)));
}

/// <summary>The pack of one setup, and what each player lays.</summary>
internal sealed record BalanceTable : Seating
{
    /// <summary>Of more hands than this, counted by how long each takes, the exact chance is not asked for.</summary>
    private const double MostHands = 60_000, MostSteps = 500_000;

    /// <summary>No step is larger on the way to a card.</summary>
    private const int MostStep = 63;

    /// <summary>Hands of so many cards come again often enough.</summary>
    private const int MostKept = 6;

    private readonly Deck deck;
    private readonly int[] most;
    private readonly HandBook[] books;

    public BalanceTable(Setup setup) : base(setup)
    {
        deck = setup.Get(Balance.Knobs.Deck).Deck;
        Pack = HandCards.Pack(deck);
        var seats = Enumerable.Range(0, Seats).ToList();
        Hand = [.. seats.Select(s => setup.At(s, Balance.Knobs.Hand).Number)];
        most = [.. seats.Select(s => setup.At(s, Balance.Knobs.Most).Number)];
        books = [.. seats.Select(s => HandBook.Of(setup.At(s, Balance.Knobs.Ops).Operations, MostStep))];
        Form = [.. seats.Select(s => FormTable.Find(setup.At(s, Balance.Knobs.Form).Id)!.Value)];
        Shown = CommonKnobs.FormAt(setup, Balance.Knobs.Form);
        HeadStart = [.. seats.Select(s => setup.At(s, Balance.Knobs.HeadStart).Number)];
        HasMat = setup.Get(Balance.Knobs.Mat).On;
        HasBonus = deck.Bonuses > 0;
    }

    public byte[] Pack { get; }

    public int[] Hand { get; }

    public Form[] Form { get; }

    /// <summary>What the cards of the table show.</summary>
    public Form Shown { get; }

    public int[] HeadStart { get; }

    public bool HasMat { get; }

    public bool HasBonus { get; }

    /// <summary>In how many ways something is laid from a hand; of cards that are alike the first.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Ways(int seat, OneHand hand) => IsKept(seat, hand.Count) ? Kept(seat, hand).All.Length : HandSets.Balancing(hand.Cards, most[seat]).Count;

    /// <summary>The n-th of these ways, from 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public LaidCards Laid(int seat, OneHand hand, int n) => IsKept(seat, hand.Count) ? Kept(seat, hand).All[n] : HandSets.Balancing(hand.Cards, most[seat]).Nth(hand.Cards, n);

    public List<LaidCards> Laid(int seat, OneHand hand) => IsKept(seat, hand.Count) ? [.. Kept(seat, hand).All] : HandSets.Balancing(hand.Cards, most[seat]).All(hand.Cards);

    /// <summary>The ways of a hand are kept where they come again, or take long to find: with it a turn of five cards takes a quarter less time.</summary>
    private bool IsKept(int seat, int cards) => cards <= MostKept || !books[seat].OnlyAdds;

    private HandWays Kept(int seat, OneHand hand) => books[seat].Balancing(hand, most[seat]);

    /// <summary>How the others make the whole.</summary>
    private Made Made(int seat, ReadOnlySpan<byte> hand, LaidCards laid)
    {
        var values = books[seat][hand];
        int whole = hand[laid.Whole], others = laid.Set & ~(1 << laid.Whole);
        if (whole != HandCards.Wild) return values.How(others, whole)!;
        for (int n = HandEquations.MostWild; ; n--)
            if (values.How(others, n) is { } made) return made;
    }

    /// <summary>How the cards that were laid, the whole one first, make each other.</summary>
    public Made? HowLaid(ReadOnlySpan<byte> cards)
    {
        int others = (1 << cards.Length) - 2;
        foreach (var book in books.Distinct())
            for (int n = cards[0] == HandCards.Wild ? HandEquations.MostWild : cards[0]; n >= (cards[0] == HandCards.Wild ? 1 : cards[0]); n--)
                if (book[cards].How(others, n) is { } made) return made;
        return null;
    }

    /// <summary>As it is said: 9 = 4 + 3 + 2, or 5 and 5 are the same.</summary>
    public string Says(int seat, ReadOnlySpan<byte> hand, LaidCards laid) => Made(seat, hand, laid) is var made && made.Sign is null ? $"{made.Value} = {made.Value}" : $"{made.Value} = {made}";

    /// <summary>What it asks: the double of two that are the same, the other part of two, or how many they make together.</summary>
    public Ask Asked(int seat, OneHand held, LaidCards laid)
    {
        var hand = held.Cards;
        var (form, support) = (Form[seat], Support[seat]);
        int others = laid.Set & ~(1 << laid.Whole);
        if ((others & others - 1) == 0)
        {
            int same = hand[laid.Whole] != HandCards.Wild ? hand[laid.Whole] : hand[BitOperations.TrailingZeroCount(others)] is var other && other != HandCards.Wild ? other : HandEquations.MostWild;
            return new(AskKind.Double, same, form, support: support);
        }
        bool plain = books[seat].OnlyAdds && hand[BitOperations.TrailingZeroCount(laid.Set)] != HandCards.Wild;
        int two = others & others - 1;
        if (plain && (two & two - 1) == 0) return new(AskKind.Part, hand[laid.Whole], hand[BitOperations.TrailingZeroCount(others)], form, support);
        if (plain && BitOperations.PopCount((uint)others) <= 6) return HandCards.Joined(hand, others, form, support);
        if (books[seat].OnlyAdds) return HowAsked(Made(seat, hand, laid)).In(form, support);
        ref long known = ref Kept(seat, held).AskOf(laid);
        if (known == 0) known = HowAsked(Made(seat, hand, laid)).Code;
        return Ask.FromCode(known).In(form, support);
    }

    private static Ask HowAsked(Made made) => made is { Sign: Operation.Plus, Left: { Sign: null, Value: var larger }, Right.Sign: null }
        ? new(AskKind.Part, (int)made.Value, (int)larger, Forms.Form.None)
        : HandCards.Asked(made, Forms.Form.None, Asks.Support.None);

    /// <summary>The chance that a hand of so many cards, bonus cards aside, can lay something: over all hands.</summary>
    public double CanLay(int seat, int cards, Spending spending)
    {
        var kinds = deck.Counts.Select(c => ((byte)c.Key, c.Value)).Append((HandCards.Wild, deck.Wilds)).Where(k => k.Item2 > 0).OrderByDescending(k => k.Item1).ToList();
        double hands = Counting.Choose(kinds.Count + cards - 1, cards);
        if (books[seat].OnlyAdds ? hands > MostHands : hands * Math.Pow(3, cards) > MostSteps) throw new BudgetSpentException();
        int all = kinds.Sum(k => k.Item2);
        if (cards > all) return double.NaN;
        byte[] hand = new byte[cards];
        double goes = 0;
        int looked = 0;
        Extend(0, 0, 1);
        return goes / Counting.Choose(all, cards);

        void Extend(int kind, int held, double ways)
        {
            if (held == cards)
            {
                if (++looked % 256 == 0) spending.Check();
                if (Ways(seat, OneHand.Of(hand)) > 0) goes += ways;
                return;
            }
            if (kind == kinds.Count) return;
            for (int n = 0; n <= Math.Min(kinds[kind].Item2, cards - held); n++)
            {
                if (n > 0) hand[held + n - 1] = kinds[kind].Item1;
                Extend(kind + 1, held + n, ways * Counting.Choose(kinds[kind].Item2, n));
            }
        }
    }

    /// <summary>The same by hands that are dealt.</summary>
    public NumberFact CanLayOften(int seat, int cards, Spending spending)
    {
        int enough = books[seat].Deals(cards);
        var goes = new PlayedFigure();
        byte[] hand = new byte[cards];
        var pile = default(DrawPile);
        for (int deal = 0; deal == 0 || deal < enough && !spending.IsSpent; deal++)
        {
            var rng = Rng.ForGame(22, deal);
            pile.Fill(Pack.Where(c => c != HandCards.Bonus).ToArray());
            for (int i = 0; i < cards; i++) pile.Take(hand[i] = (byte)pile.Draw(ref rng));
            Array.Sort(hand, (a, b) => b - a);
            goes.Add(Ways(seat, OneHand.Of(hand)) > 0 ? 1 : 0);
        }
        return goes.Mean;
    }
}
