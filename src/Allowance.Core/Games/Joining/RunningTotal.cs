using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Running Total: cards are turned up one upon another, and each is added to what there is, or taken from it.</summary>
public sealed class RunningTotal : Frame
{
    public const string Things = "things", Line = "line", Head = "head", Down = "down";

    /// <summary>Where counting down begins when nothing else is said.</summary>
    internal const int UsualStart = 20;

    private const int MostTotal = 1000, MostRounds = 10, TotalStep = 5;

    private static readonly DeckValue Small = new(Deck.Plain(1, 6));

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "Pack", new DeckKind(), Small, Belongs.Range, Scope.Table, Sits.Deck, "Which cards are in, and what each counts as.", KnobRole.Deck);
        public static readonly Knob<LimitValue> StopAt = new("stopAt", "The total", new LimitKind(1, MostTotal), new LimitValue(UsualStart), Belongs.Range, Scope.Both, Sits.Game, "The total that ends a round; where she takes away, the number she begins from.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Rounds each", new WholeKind(1, MostRounds), new WholeValue(2), Belongs.Length, Scope.Table, Sits.Game, "How often each player begins anew.");
        public static readonly Knob<LimitValue> Sand = CommonKnobs.Sand("A round ends when the sand has run out.");
        public static readonly Knob<ChoiceValue> Form = new("form", "Cards show", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Table, Sits.Cards, "The form of the numbers on the cards.", KnobRole.Form);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostTotal);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the most in all rounds together", "all together play every round");
    }

    public override FrameData Data { get; } = new(
        "runningtotal", "Running Total", Family.Joining, "Turn up a card, add it on, and the next, and the next: how many now?", "It ends when everyone has had her rounds, or all cards are turned.", 1, Engine.MostSeats,
        [Knobs.Deck, Knobs.StopAt, Knobs.Rounds, Knobs.Sand, Knobs.Form, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free(Things, "With things", "Turn up a card, put as many things to yours, and say how many there are now.", (CommonKnobs.Support, CommonKnobs.Supported(Support.Things))),
            Level.Free(Line, "Along a line", "Turn up a card, go on as far along the line, and say where you are.", (CommonKnobs.Support, CommonKnobs.Supported(Support.Line))),
            Level.Free(Head, "In the head", "Turn up a card, and say how many that makes with all before."),
            Level.Free(Down, "Taking away", "Begin with many; turn up a card, take that away, and say how many are left."),
        ],
        Things, [AskKind.Say, AskKind.Join, AskKind.Gone]);

    public override bool ShowsPoints(Setup setup) => false;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        if (deck.Counts.Keys.Last() == 0) return [new("table.deck", "With nothing but zeros nothing is added.", Small.ToJson())];
        if (CommonKnobs.TooShort("form", CommonKnobs.FormAt(setup, Knobs.Form), [.. deck.Counts.Keys], Forms.Form.None) is { } problem) return [problem];
        int all = deck.Counts.Sum(c => c.Key * c.Value);
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            if (setup.LevelAt(s) == Down)
            {
                int start = setup.At(s, Knobs.StopAt).Number ?? UsualStart;
                if (deck.Counts.Keys.First(n => n > 0) > start) return [new(setup.Path(s, Knobs.StopAt), $"From {start} no card of this pack can be taken away.", deck.Counts.Keys.Last())];
            }
            else if (setup.At(s, Knobs.StopAt).Number is { } stop && stop > all) return [new(setup.Path(s, Knobs.StopAt), $"All cards together make {all}; nobody comes to {stop}.", all)];
        }
        return [];
    }

    protected internal override Game Compile(Setup setup) => new Game<TotalRules, TotalState>(setup, new(new TotalTable(setup)));

    public override bool IsRace(Setup setup) => setup.Get(Knobs.Sand).Number is not null;

    /// <summary>The first card is only read.</summary>
    internal override bool ShowsWhatItIsAbout(Setup setup, IReadOnlyList<SeatAsk> asks) => asks.Any(a => a.Ask.Kind != AskKind.Say);

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var table = new TotalTable(setup);
        int things = (int)Enumerable.Range(0, table.Seats).Where(s => table.Level[s] == Things).Sum(s => Math.Min(Form.Objects.Facts().High, (long)table.Stop[s] + table.Most));
        return [Need.Pack(setup.Get(Knobs.Deck).Deck), .. things > 0 ? [new(Need.Pieces, things)] : Array.Empty<Need>(), .. table.Level.Contains(Line) ? [new Need("lines", 1)] : Array.Empty<Need>()];
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var preparation = DeckPreparation.Of(setup.Get(Knobs.Deck).Deck);
        return
        [
            .. preparation.Sentences,
            $"{Words.Count(preparation.CardsLeft, "card")} lie face down in one pile.",
            .. setup.Get(Knobs.Sand).Number is { } seconds ? [$"The sand runs for {Words.Lasting(seconds)}. When it is out, the round is over, whatever was said last."] : Array.Empty<string>(),
            setup.LevelId == Down ? $"Each round begins with {setup.Get(Knobs.StopAt).Number ?? UsualStart}; a card that is more than what is left ends it."
                : setup.Get(Knobs.StopAt).Number is { } stop ? $"A round ends when {stop} is reached or passed." : "A round goes on until no card is left.",
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var table = new TotalTable(setup);
        var totals = new DrawTotals(setup.Get(Knobs.Deck).Deck.Counts, spending);
        var facts = new Facts
        {
            ["totalMean"] = MapFact.Of(Enumerable.Range(1, totals.Most).Select(c => (c, totals.Of(c).Mean))),
            ["totalP90"] = MapFact.Of(Enumerable.Range(1, totals.Most).Select(c => (c, (double)totals.Of(c).Quantile(.9)))),
        };
        if (Enumerable.Range(0, table.Seats).All(s => setup.At(s, Knobs.Range) is null)) return facts;
        facts["cardsInRange"] = PerSeat(setup, s => new NumberFact(InRange(s)));
        return facts;

        // Taking away, the total is what is left of the number it begins with.
        int InRange(int seat)
        {
            var range = setup.At(seat, Knobs.Range)?.Range ?? new NumberRange(0, MostTotal);
            var (low, high) = table.Takes[seat] ? (Math.Max(0, table.Stop[seat] - range.High), table.Stop[seat] - range.Low) : (range.Low, range.High);
            return Enumerable.Range(1, totals.Most).LastOrDefault(c => totals.Within(c, low, high) >= .9 - 1e-12);
        }
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var table = new TotalTable(setup);
        var totals = new DrawTotals(setup.Get(Knobs.Deck).Deck.Counts, spending);
        int some = Math.Min(5, totals.Most);
        string toStop = table.Stop[0] < int.MaxValue && Enumerable.Range(1, totals.Most).FirstOrDefault(c => totals.Of(c).Mean >= table.Stop[0]) is > 0 and var cards ? $" It takes about {Words.Count(cards, "card")} to {(table.Takes[0] ? "use up" : "come to")} {table.Stop[0]}." : "";
        return ("How far it goes", $"{Words.Capital(Words.Count(some, "card"))} make about {totals.Of(some).Mean:0}, and in nine of ten rounds no more than {totals.Of(some).Quantile(.9)}.{toStop}");
    }

    /// <summary>Cards one smaller or larger, and a total five off.</summary>
    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        int stop = setup.At(seat, Knobs.StopAt).Number ?? UsualStart;
        return [.. CommonKnobs.CardsUpTo(setup, Knobs.Deck), .. new[] { stop - TotalStep, stop + TotalStep }.Where(n => n is >= TotalStep and <= 100).Select(n => Turned(setup, seat, Knobs.StopAt, new LimitValue(n)))];
    }

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        int largest = setup.Get(Knobs.Deck).Deck.Counts.Keys.Last();
        var seats = Enumerable.Range(0, setup.Seats.Length).Select(s => (Down: setup.LevelAt(s) == Down, setup.At(s, Knobs.StopAt).Number)).ToList();
        var remarks = new List<Remark>();
        if (seats.Exists(s => !s.Down && s.Number <= largest)) remarks.Add($"A card may count {largest}: a round can be over with the first.");
        if (seats.Exists(s => s.Down && s.Number < largest)) remarks.Add($"A card may count {largest}, which is more than there is to take away from.");
        return remarks;
    }

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Deck).Deck.Says}, " + (setup.Get(Knobs.StopAt).Number is { } stop ? setup.LevelId == Down ? $"taking away from {stop}" : $"adding on to {stop}" : "adding on to the last card");

    public override string Summary(Setup setup, int seat) => string.Join(", ", new[] { OwnLevel(setup, seat), setup.Seats[seat].Allowance.ContainsKey(Knobs.StopAt.Id) && setup.At(seat, Knobs.StopAt).Number is { } own ? $"{(setup.LevelAt(seat) == Down ? "from" : "to")} {own}" : "" }.Where(p => p.Length > 0));
}
