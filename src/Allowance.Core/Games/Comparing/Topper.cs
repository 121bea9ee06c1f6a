using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Topper: everyone turns up cards and makes a number; the highest, or lowest, takes them.</summary>
public sealed class Topper : Frame
{
    public const int MostCardsEach = 4, MostWorth = 1_000_000, MostInCommon = 6;

    public const string OwnPiles = "own";

    private static readonly ChoiceKind Makes = ChoiceKind.Of(("single", "one card"), ("sum", "the sum"), ("difference", "the difference"), ("product", "the product"), ("digits", "digits as drawn"), ("bestDigits", "digits, arranged to be largest"), ("common", "one sum of everybody’s cards"), ("commonDifference", "the difference of two players’ cards"));
    private static readonly ChoiceKind Asking = ChoiceKind.Of(("more", "which is more"), ("fewer", "which is fewer"), ("both", "now one, now the other"));
    private static readonly ChoiceKind Aims = ChoiceKind.Of(("more", "the highest"), ("fewer", "the lowest"));
    private static readonly ChoiceKind Ties = ChoiceKind.Of(("pile", "the next round’s winner takes all"), ("split", "those who tie share them"), ("again", "those who tie turn up again"));
    private static readonly ChoiceKind PileKinds = ChoiceKind.Of(("shared", "one pile"), (OwnPiles, "a pile for each"));
    private static readonly ChoiceKind Claims = ChoiceKind.Of(("highest", "whoever has it"), ("firstSaid", "whoever says it first, where a clock is liked"));

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "Pack", new DeckKind(), new DeckValue(Materials.Deck.Plain(1, 10)), Belongs.Range, Scope.Table, Sits.Deck, "Which cards are in, and what each counts as.", KnobRole.Deck);
        public static readonly OpenKnob<WholeValue> CardsEach = new("cardsEach", "Cards each", new WholeKind(1, MostCardsEach), Belongs.Range, Scope.Both, Sits.Cards, "How many cards she turns up: one by itself, two for a difference, two to four otherwise.");
        public static readonly Knob<ChoiceValue> Make = new("make", "Made from them", Makes, Makes["single"], Belongs.RuleLevel, Scope.Both, Sits.Cards, "What number her cards make.");
        public static readonly Knob<ChoiceValue> Aim = new("aim", "Takes them", Aims, Aims["more"], Belongs.RuleLevel, Scope.Table, Sits.Game, "Whether more wins, or fewer.");
        public static readonly OpenKnob<ChoiceValue> Asks = new("asks", "Asked is", Asking, Belongs.RuleLevel, Scope.Table, Sits.Game, "Which is more, which is fewer, or each in turn; what takes the cards where it is left open.");
        public static readonly Knob<ChoiceValue> Piles = new("piles", "They draw from", PileKinds, PileKinds["shared"], Belongs.Length, Scope.Table, Sits.Deck, "One pile for all, or a pile for each: a suit, or a pack.");
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
        [Knobs.Deck, Knobs.CardsEach, Knobs.Make, Knobs.Aim, Knobs.Asks, Knobs.Piles, Knobs.Tie, Knobs.Claim, Knobs.Signs, Knobs.Form, Knobs.RangeTo, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, Knobs.Winning],
        [
            Level.Free("single", "Which is more", "Turn up one card each: which is more?", (Knobs.Make, Makes["single"])),
            Level.Free("gap", "How many more", "Turn up one card each, and say how many more.", (Knobs.Make, Makes["single"])),
            Level.Free("sum", "Two together", "Turn up two cards and add them.", (Knobs.Make, Makes["sum"])),
            Level.Free("difference", "The difference", "Turn up two cards: how many more is one than the other?", (Knobs.Make, Makes["difference"])),
            Level.Free("digits", "Two digits", "Turn up two cards and read them as a number.", (Knobs.Make, Makes["digits"]), (Knobs.Deck, new DeckValue(Deck.Plain(1, 9)))),
            Level.Free("three", "Three together", "Turn up three cards and add them.", (Knobs.Make, Makes["sum"]), (Knobs.CardsEach, new WholeValue(3))),
            Level.Free("product", "Times", "Turn up two cards and multiply them.", (Knobs.Make, Makes["product"])),
        ],
        "single", [AskKind.Say, AskKind.More, AskKind.Gap, AskKind.Join, AskKind.Times, AskKind.Digits], GoodFrom: 2);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var deck = setup.Get(Knobs.Deck).Deck;
        var table = new TopperTable(setup);
        if (table.Make.Any(m => m is TopperMake.Common or TopperMake.CommonDifference))
        {
            bool sum = table.Make.Contains(TopperMake.Common);
            int most = sum ? MostInCommon : 2;
            // Whoever makes something else than the table is refused.
            if (table.Make.Distinct().Count() > 1)
                return [setup.Unfit(Enumerable.Range(0, setup.Seats.Length).First(s => setup.At(s, Knobs.Make) != setup.Get(Knobs.Make)), Knobs.Make, "One number from everybody’s cards is for all.", setup.Get(Knobs.Make).ToJson())];
            if (setup.Seats.Length < 2 || setup.Seats.Length > most) return [new("table.make", sum ? $"A common sum is for two to {NumberWords.Of(MostInCommon)} players." : "A common difference is for two players.", setup.Seats.Length is >= 2 and <= MostInCommon ? "common" : "sum")];
            if (!table.FirstSaid) return [new("table.claim", "A common number goes to whoever says it first.", "firstSaid")];
        }
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
            if (table.OwnPile is not null)
            {
                if (table.PileOf(s).Length is var pile && pile is < 1 or > Core.Games.OwnPiles.Most || pile < table.Cards[s])
                    problems.Add(new("table.piles", $"A pile for each would have {Words.Count(pile, "card")}{(pile > Core.Games.OwnPiles.Most ? $", more than {Core.Games.OwnPiles.Most}" : ", too few for a round")}.", "shared"));
            }
            else if (table.RangeTo[s] is { } to && deck.Counts.Where(c => c.Key <= to).Sum(c => c.Value) is var there && there < table.Order.Where(o => table.RangeTo[o] <= to).Sum(o => table.Cards[o]))
                problems.Add(new($"players[{s}].allowance.rangeTo", $"Up to {to} the pack has {Words.Count(there, "card")}, too few for a round.", deck.Counts.Keys.Last()));
        }
        if (problems.Count == 0 && table.OwnPile is null && table.ForRound(table.Everyone) > deck.Cards)
            problems.Add(new("table.deck", $"A round takes {table.ForRound(table.Everyone)} cards, and the pack has {deck.Cards}.", new DeckValue(Deck.Plain(1, 10)).ToJson()));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup) => new Game<TopperRules, TopperState>(setup, new(new TopperTable(setup)));

    public override bool IsRace(Setup setup) => new TopperTable(setup).FirstSaid;

    /// <summary>What she makes of her cards, or how many more it is; that one is more comes with it.</summary>
    public override Ask MattersMost(Setup setup, int seat, IReadOnlyList<Ask> asks) => asks.Where(a => a.Kind is AskKind.Join or AskKind.Gap or AskKind.Times).FirstOrDefault(asks[^1]);

    public override IReadOnlyList<Need> Needs(Setup setup) =>
        [Need.Pack(setup.Get(Knobs.Deck).Deck), .. setup.Get(Knobs.Signs).On ? [new Need("sign cards", 3)] : Array.Empty<Need>()];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        var preparation = DeckPreparation.Of(deck);
        var table = new TopperTable(setup);
        var own = Enumerable.Range(0, setup.Seats.Length).Where(s => setup.At(s, Knobs.RangeTo) is WholeValue).ToList();
        return
        [
            .. preparation.Sentences,
            table.OwnPile is { } pile ? $"A pile for each, face down: {Share(deck, setup.Seats.Length)}{Words.Count(pile.Length, "card")}." : $"{Words.Count(preparation.CardsLeft, "card")} in play, face down in a pile.",
            .. own.Select(s => table.OwnPile is null ? $"{Words.Capital(setup.Who(s))} draws from a pile of her own, with cards up to {setup.At(s, Knobs.RangeTo)}." : $"From the pile of {setup.Who(s)} come out the cards above {setup.At(s, Knobs.RangeTo)}."),
        ];
    }

    /// <summary>What one of so many equal piles is made of, as far as whole packs or suits make it.</summary>
    private static string Share(Deck deck, int piles) => deck.HomeMade || !deck.Missing.IsEmpty ? ""
        : deck.Packs % piles == 0 ? $"{(deck.Packs == piles ? "a pack" : $"{deck.Packs / piles} packs")}, "
        : deck.Packs * deck.Suits / piles is var suits && suits == 1 ? "one suit, " : $"{suits} suits, ";

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending) => TopperFacts.Of(new TopperTable(setup), spending);

    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending) => TopperFacts.Played(new TopperTable(setup), spending);

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        if (setup.Seats.Length < 2 || facts.Find("tieChance") is null) return null;
        string gap = setup.Seats.Length == 2 ? $" The two numbers are {Words.About(facts.Number("gapMean"), "step")} apart; in {100 * facts.Number("closeShare"):0} of 100 rounds they are close, so that she must look twice." : "";
        return ("How close it is", $"{Words.Capital(Words.About(facts.Number("rounds"), "round"))}; in {100 * facts.Number("tieChance"):0} of 100 rounds two are equal.{gap}");
    }

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "tie" or "claim" or "asks" => setup.Seats.Length > 1,
        "form" => Enumerable.Range(0, setup.Seats.Length).Any(s => setup.At(s, Knobs.Make).Id == "single"),
        _ => true,
    };

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.CardsEach ? new WholeValue(new TopperTable(setup).Cards[0]) : knob == Knobs.Asks ? Asking[setup.Get(Knobs.Aim).Id] : null;

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

    /// <summary>With fewer different numbers than these one turn is much like the next.</summary>
    private const int FewNumbers = 3;

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        int[] numbers = [.. setup.Get(Knobs.Deck).Deck.Counts.Keys];
        return [.. Enumerable.Range(0, setup.Seats.Length).Where(s => setup.At(s, Knobs.RangeTo) is WholeValue { Number: var to } && numbers.Count(n => n <= to) < Math.Min(FewNumbers, numbers.Length))
            .Select(s => $"The cards of {setup.Who(s)} up to {setup.At(s, Knobs.RangeTo)} hardly differ: one turn is much like the next.")];
    }

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Deck).Deck.Says}, {setup.Get(Knobs.Make)}, {setup.Get(Knobs.Aim)} takes them";

    public override string Summary(Setup setup, int seat)
    {
        var own = setup.Seats[seat].Allowance;
        string level = OwnLevel(setup, seat);
        return string.Join(", ", new[] { level, own.ContainsKey(Knobs.Make.Id) ? setup.At(seat, Knobs.Make)!.Says() : "", own.ContainsKey(Knobs.CardsEach.Id) ? Words.Count(setup.At(seat, Knobs.CardsEach)!.Number, "card") : "", own.ContainsKey(Knobs.RangeTo.Id) ? $"cards up to {setup.At(seat, Knobs.RangeTo)}" : "", setup.At(seat, Knobs.HeadStart).Number is > 0 and var ahead ? $"{ahead} ahead" : "" }.Where(p => p.Length > 0));
    }
}
