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

/// <summary>Target Hand: two cards give a number, and the cards of a hand make it.</summary>
public sealed class TargetHand : Frame
{
    private const int MostTarget = 200;

    private static readonly DeckValue Usual = new(Deck.Plain(1, 10)), Digits = new(Deck.Plain(1, 9));

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "Pack", new DeckKind(Wild: true), Usual, Belongs.Range, Scope.Table, Sits.Deck, "Which cards are in, and what each counts as.", KnobRole.Deck);
        public static readonly Knob<FlagValue> Wild = new("wild", "Two wild cards", new FlagKind(), new FlagValue(false), Belongs.Support, Scope.Table, Sits.Deck, "Two jokers come in, each any number from 1 to 10.");
        public static readonly Knob<WholeValue> Hand = new("hand", "Cards in hand", new WholeKind(2, TargetBook.MostCards), new WholeValue(5), Belongs.RuleLevel, Scope.Both, Sits.Cards, "More cards: more ways to make it, and more to look through.");
        public static readonly Knob<TargetRuleValue> Target = new("target", "To be made", new TargetRuleKind(1, MostTarget), new TargetRuleValue(TargetRule.Sum), Belongs.Range, Scope.Table, Sits.Game, "What two cards make that are turned up, or always one number.", KnobRole.Target);
        public static readonly Knob<LimitValue> Most = new("most", "Cards in an equation", new LimitKind(2, TargetBook.MostCards), new LimitValue(null), Belongs.RuleLevel, Scope.Both, Sits.Game, "The most cards that go into one equation.");
        public static readonly Knob<OperationsValue> Ops = new("ops", "Signs", new OperationsKind(), new OperationsValue(Operation.Plus), Belongs.RuleLevel, Scope.Both, Sits.Game, "What may be done with the cards.");
        public static readonly Knob<ChoiceValue> Form = new("form", "Cards show", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Both, Sits.Cards, "How the cards show their numbers; at a place: a help card in her form.", KnobRole.Form);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostTarget);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most cards", "all together use up as many as they can");
    }

    public override FrameData Data { get; } = new(
        "targethand", "Target Hand", Family.Joining, "Two cards give a number: which of yours make it?", "It ends when no two cards are left to turn up, or nobody’s cards make anything.", 1, Engine.MostSeats,
        [Knobs.Deck, Knobs.Wild, Knobs.Hand, Knobs.Target, Knobs.Most, Knobs.Ops, Knobs.Form, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free("two", "Two cards", "Find two of your cards that make the number together.", (Knobs.Most, new LimitValue(2)), (Knobs.Deck, new DeckValue(Deck.Plain(1, 6)))),
            Level.Free("more", "More cards", "Make the number with as many of your cards as you can, and again with what is left."),
            Level.Free("minus", "Plus and minus", "Make it with as many as you can; cards may be taken away too.", (Knobs.Ops, new OperationsValue(Operation.Plus, Operation.Minus))),
            Level.Free("allOps", "All signs", "Make it with as many as you can, with any signs.", (Knobs.Ops, new OperationsValue(Operations.All)), (Knobs.Target, new TargetRuleValue(TargetRule.TwoDigits)), (Knobs.Deck, Digits)),
        ],
        "more", [AskKind.Say, AskKind.Join, AskKind.Gone, AskKind.Times, AskKind.Share, AskKind.Digits]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        var rule = setup.Get(Knobs.Target);
        if (deck.Counts.Count == 0) return [new("table.deck", "With nothing but wild cards there is nothing to make.", Usual.ToJson())];
        if (rule.Rule == TargetRule.TwoDigits && deck.Counts.Keys.Last() > 9) return [new("table.deck", "Cards that are read as digits have one digit each.", Digits.ToJson())];
        int turned = rule.Rule == TargetRule.Number ? 0 : 2, hands = setup.Seats.Select((_, s) => setup.At(s, Knobs.Hand).Number).Sum();
        if (hands + turned > deck.Cards) return [new("table.deck", $"All hands take {hands} cards{(turned > 0 ? " and two are turned up" : "")}; the pack has {deck.Cards}.", Usual.ToJson())];
        if (CommonKnobs.TooShort("form", CommonKnobs.FormAt(setup, Knobs.Form), [.. deck.Counts.Keys], Forms.Form.None) is { } tooShort) return [tooShort];
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            if (rule.Rule != TargetRule.Number || setup.At(s, Knobs.Ops).Operations.Contains(Operation.Minus) || setup.At(s, Knobs.Ops).Operations.Contains(Operation.By) || deck.Wilds > 0 || setup.Get(Knobs.Wild).On) continue;
            // Added and multiplied, a number is made by cards that are no larger than it.
            var (_, more) = rule.Number < 64 ? CardSets.Sums(deck.Counts, rule.Number) : (0, ~0UL);
            bool sums = rule.Number >= 64 || (more >> rule.Number & 1) != 0;
            if (!sums && !setup.At(s, Knobs.Ops).Operations.Contains(Operation.Times))
                return [new("table.target", $"No cards of this pack make {rule.Number}.", Enumerable.Range(2, 60).Where(t => (CardSets.Sums(deck.Counts, t).More >> t & 1) != 0).OrderBy(t => Math.Abs(t - rule.Number)).Select(t => (int?)t).FirstOrDefault())];
        }
        return [];
    }

    protected internal override Game Compile(Setup setup) => new Game<TargetRules, TargetState>(setup, new(new TargetTable(setup)));

    public override IReadOnlyList<Need> Needs(Setup setup) => [Need.Pack(TargetTable.WithWild(setup))];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var preparation = DeckPreparation.Of(TargetTable.WithWild(setup));
        var rule = setup.Get(Knobs.Target);
        return
        [
            .. preparation.Sentences,
            $"{Words.Count(preparation.CardsLeft, "card")} in play. Each gets {Words.Count(setup.Get(Knobs.Hand).Number, "card")}; the others lie face down.",
            rule.Rule switch
            {
                TargetRule.Sum => "Each turn two cards are turned up: what they make together is to be made.",
                TargetRule.TwoDigits => "Each turn two cards are turned up and read as tens and ones: that is to be made.",
                _ => $"It is always {rule.Number} that is to be made.",
            },
            "What was used is laid aside and filled up again; a hand that makes nothing is changed for a new one.",
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending) => PlayedFacts(setup, behaviour, spending);

    /// <summary>Hands and targets as they come from the whole pack: the chance that the cards make it, and how many are used.</summary>
    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var rules = new TargetRules(new TargetTable(setup));
        var known = new Dictionary<(int, LimitValue, OperationsValue), (PlayedFigure Makes, PlayedFigure Cards)>();
        return new() { ["pMake"] = PerSeat(setup, s => Deals(s).Makes.Mean), ["cardsMean"] = PerSeat(setup, s => Deals(s).Cards.Mean) };

        // Places that play alike are dealt to once.
        (PlayedFigure Makes, PlayedFigure Cards) Deals(int seat)
        {
            var plays = (setup.At(seat, Knobs.Hand).Number, setup.At(seat, Knobs.Most), setup.At(seat, Knobs.Ops));
            return known.TryGetValue(plays, out var alike) ? alike : known[plays] = rules.Deals(seat, behaviour, spending);
        }
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    /// <summary>What a hand makes of a target.</summary>
    protected internal override Facts? At(Setup setup, JsonElement position, List<Problem> problems)
    {
        const string at = "forecast.position";
        var fields = Fields.Read(position, at, ["hand", "target", "ops"], problems);
        var hand = Hand(fields, at, TargetBook.MostCards, problems);
        int? target = fields.TryGetValue("target", out var number) ? (new WholeKind(0, 1_000_000).FromJson(number, $"{at}.target", problems) as WholeValue)?.Number : setup.Get(Knobs.Target) is { Rule: TargetRule.Number, Number: var always } ? always : null;
        var signs = fields.TryGetValue("ops", out var listed) ? (new OperationsKind().FromJson(listed, $"{at}.ops", problems) as OperationsValue)?.Operations : setup.Get(Knobs.Ops).Operations;
        if (target is null && problems.Count == 0) problems.Add(new($"{at}.target", "Here stands the number that is to be made.", 10));
        if (problems.Count > 0) return null;
        var best = new HandEquations(hand!, signs!).Best(target!.Value);
        return new()
        {
            ["best"] = new NumberFact(best.Sum(b => System.Numerics.BitOperations.PopCount((uint)b.Set))),
            ["equations"] = new ListFact([.. best.Select(b => new WordsFact($"{b.Made} = {target}"))]),
        };
    }

    /// <summary>A hand as a file has it: numbers, and "wild".</summary>
    internal static IReadOnlyList<int>? Hand(Dictionary<string, JsonElement> fields, string path, int most, List<Problem> problems)
    {
        if (fields.TryGetValue("hand", out var list) && list.ValueKind == JsonValueKind.Array && list.GetArrayLength() is >= 1 and var cards && cards <= most)
        {
            var read = list.EnumerateArray().Select(c => c.ValueKind == JsonValueKind.Number && c.TryGetInt32(out int n) && n is >= 0 and <= Deck.LargestNumber ? n
                : c.ValueKind == JsonValueKind.String && c.GetString() == CardValue.Wild ? HandEquations.Wild : (int?)null).ToList();
            if (!read.Contains(null)) return [.. read.Select(c => c!.Value)];
        }
        problems.Add(new($"{path}.hand", $"Here stand the cards of a hand, 1 to {most}: whole numbers from 0 to {Deck.LargestNumber}, or \"wild\".", new JsonArray(8, 2, 3)));
        return null;
    }

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        double Of(string name) => facts.Find(name) switch { NumberFact n => n.Value, ListFact { Items: [NumberFact first, ..] } => first.Value, _ => double.NaN };
        return double.IsNaN(Of("pMake")) ? null : ("What a hand makes", $"Of 100 hands {100 * Of("pMake"):0} make what is turned up, with {Words.About(Of("cardsMean"), "card")} in the mean.");
    }

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Wild || setup.Get(Knobs.Deck).Deck.Wilds == 0;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => [.. Steps(setup, seat, Knobs.Target), .. CommonKnobs.CardsUpTo(setup, Knobs.Deck, setup.Get(Knobs.Target).Rule == TargetRule.TwoDigits ? 9 : 10)];

    public override string Summary(Setup setup) => $"{Words.Count(setup.Get(Knobs.Hand).Number, "card")} each, {setup.Get(Knobs.Deck).Deck.Says}, {setup.Get(Knobs.Target)}, {setup.Get(Knobs.Ops)}";

    public override string Summary(Setup setup, int seat) => string.Join(", ", new[] { OwnLevel(setup, seat), setup.Seats[seat].Allowance.ContainsKey(Knobs.Hand.Id) ? Words.Count(setup.At(seat, Knobs.Hand).Number, "card") : "", setup.Seats[seat].Allowance.ContainsKey(Knobs.Ops.Id) ? setup.At(seat, Knobs.Ops).Says() : "" }.Where(p => p.Length > 0));
}

/// <summary>The pack of one setup, and what each player makes with.</summary>
internal sealed record TargetTable : Seating
{
    public TargetTable(Setup setup) : base(setup)
    {
        var deck = setup.Get(TargetHand.Knobs.Deck).Deck;
        Rule = setup.Get(TargetHand.Knobs.Target);
        Pack = HandCards.Pack(WithWild(setup));
        Wilds = (byte)Pack.Count(c => c == HandCards.Wild);
        var seats = Enumerable.Range(0, Seats).ToList();
        Hand = [.. seats.Select(s => setup.At(s, TargetHand.Knobs.Hand).Number)];
        Form = [.. seats.Select(s => FormTable.Find(setup.At(s, TargetHand.Knobs.Form).Id)!.Value)];
        Shown = CommonKnobs.FormAt(setup, TargetHand.Knobs.Form);
        Books = [.. seats.Select(s => new TargetBook(setup.At(s, TargetHand.Knobs.Ops).Operations, setup.At(s, TargetHand.Knobs.Most).Number ?? TargetBook.MostCards, Rule.Rule == TargetRule.Number ? Rule.Number : 2 * deck.Counts.Keys.Last(), Form[s], Support[s]))];
    }

    /// <summary>The pack with the wild cards that are put to it.</summary>
    public static Deck WithWild(Setup setup)
    {
        var deck = setup.Get(TargetHand.Knobs.Deck).Deck;
        return !setup.Get(TargetHand.Knobs.Wild).On || deck.Wilds > 0 ? deck : deck.HomeMade ? Deck.FromCounts(deck.HomeCounts, 2) : deck.WithRank("joker", new(0, IsWild: true));
    }

    public TargetRuleValue Rule { get; }

    public byte[] Pack { get; }

    /// <summary>Wild cards in the pack.</summary>
    public byte Wilds { get; }

    public int[] Hand { get; }

    public Form[] Form { get; }

    /// <summary>What the cards of the table show.</summary>
    public Form Shown { get; }

    public TargetBook[] Books { get; }
}
