using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Chain Call: a card calls a number, whoever holds the card that answers calls next, until the chain is back at the first card.</summary>
public sealed class ChainCall : Frame
{
    public const int LeastCards = 2, MostCards = 30;

    private static readonly NumbersKind Values = new(0, 100);

    public static class Knobs
    {
        public static readonly Knob<NumbersValue> Values = new("values", "Numbers", ChainCall.Values, NumbersValue.Range(1, 10), Belongs.Range, Scope.Table, Sits.Deck, "The numbers that cards may have and call.", KnobRole.Numbers);
        public static readonly OpenKnob<WholeValue> Cards = new("cards", "Cards", new WholeKind(LeastCards, MostCards), Belongs.Length, Scope.Table, Sits.Cards, "How many cards the chain has; as many as go where it is left open.");
        public static readonly Knob<ChoiceValue> FormHas = new("formHas", "A card has", CommonKnobs.CardForms, CommonKnobs.CardForms["numeral"], Belongs.Form, Scope.Table, Sits.Cards, "The form of the number a card has.");
        public static readonly OpenKnob<ChoiceValue> FormSeeks = new("formSeeks", "It looks for", CommonKnobs.CardForms, Belongs.Form, Scope.Table, Sits.Cards, "The form of the number a card calls.");
        public static readonly Knob<RelationValue> Relation = new("relation", "What answers", new RelationKind(), new RelationValue(Setups.Relation.Same), Belongs.RuleLevel, Scope.Table, Sits.Game, "The same number, so many more or fewer, the partner of a target, or the double.");
        public static readonly Knob<WholeValue> Shuffle = new("shuffle", "Chain", new WholeKind(1, 999), new WholeValue(1), Belongs.Fairness, Scope.Table, Sits.Cards, "Another number gives another order of the same cards.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together close the chain");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(100);
    }

    public override FrameData Data { get; } = new(
        "chaincall", "Chain Call", Family.Seeing, "Answer the card that calls your number, and call the next.", "It ends when the first card is called again.", 1, 8,
        [Knobs.Values, Knobs.Cards, Knobs.FormHas, Knobs.FormSeeks, Knobs.Relation, Knobs.Shuffle, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Rung("same", "The same", "Answer the card that calls your number in another form.", new(Relation.Same)),
            Rung("more", "One more", "Answer when your number is one more than the one that is called.", new(Relation.Plus, 1)),
            Rung("fewer", "One fewer", "Answer when your number is one fewer than the one that is called.", new(Relation.Minus, 1)),
            Rung("partner", "Partners", "Answer when your number and the one that is called make the target.", new(Relation.Partner, 10)),
            Rung("double", "Doubles", "Answer when your number is twice the one that is called.", new(Relation.Double)),
        ],
        "same", [AskKind.Match, AskKind.On, AskKind.Back, AskKind.Part, AskKind.Double]);

    private static Level Rung(string id, string label, string says, RelationValue relation) =>
        Level.Free(id, label, says, (Knobs.Relation, relation));

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var chain = new Chain(setup);
        if (chain.Possible.Count < LeastCards)
            problems.Add(new("table.relation", $"With {setup.Get(Knobs.Relation)} only {Words.Count(chain.Possible.Count, "card")} of these numbers can be called; a chain needs two.", Nearest(setup)?.ToJson() ?? new RelationValue(Relation.Same).ToJson()));
        else if (setup.Get(Knobs.Cards) is WholeValue wanted && wanted.Number > chain.Possible.Count)
            problems.Add(new("table.cards", $"Only {chain.Possible.Count} of these numbers can be called with {setup.Get(Knobs.Relation)}, each once.", chain.Possible.Count));
        if (chain.FormHas == chain.FormSeeks && chain.Relation.Relation == Relation.Same)
            problems.Add(new("table.formSeeks", $"The card would show the very picture that is called; {chain.FormHas.Facts().Label} need another form beside them.", CommonKnobs.Showing(chain.Called, chain.FormHas).Id()));
        if (CommonKnobs.TooShort("formHas", chain.FormHas, chain.Has, chain.FormSeeks) is { } shortHas) problems.Add(shortHas);
        if (CommonKnobs.TooShort("formSeeks", chain.FormSeeks, chain.Called, chain.FormHas) is { } shortSeeks) problems.Add(shortSeeks);
        for (int i = 0; i < setup.Seats.Length; i++)
            if (setup.Seats[i].Level is { } own && RelationOf(own) != chain.Relation.Relation)
                problems.Add(new($"players[{i}].allowance.level", $"One chain goes through all hands, and here {setup.Get(Knobs.Relation)} answers.", setup.Frame.Levels.First(l => RelationOf(l.Id) == chain.Relation.Relation).Id));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    private Relation RelationOf(string level) => ((RelationValue)Data.Level(level)![Knobs.Relation]!).Relation;

    /// <summary>The relation of the same kind that goes with these numbers.</summary>
    private static RelationValue? Nearest(Setup setup)
    {
        var now = setup.Get(Knobs.Relation);
        return Enumerable.Range(1, RelationKind.Most).OrderBy(by => Math.Abs(by - now.By)).Select(by => now with { By = by })
            .FirstOrDefault(r => now.Relation is Relation.Plus or Relation.Minus or Relation.Partner && new Chain(setup.With(Knobs.Relation, r)).Possible.Count >= LeastCards);
    }

    protected internal override Game Compile(Setup setup) => new Game<ChainCallRules, ChainCallState>(setup, new(new Chain(setup)));

    /// <summary>Cards of paper are dealt as they come: any of them may be hers.</summary>
    public override IEnumerable<Ask> AsksOfThings(Setup setup, int seat) => new Chain(setup).Asks[seat] ?? [];

    public override IReadOnlyList<Need> Needs(Setup setup) => [new("cards", new Chain(setup).Has.Length)];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var chain = new Chain(setup);
        return
        [
            $"{Words.Count(chain.Has.Length, "card")}, each with what it has ({chain.FormHas.Facts().Label}) and what it looks for ({chain.FormSeeks.Facts().Label}).",
            "Has and looks for: " + string.Join(", ", chain.Has.Select((has, i) => $"{has} → {chain.Called[i]}")) + ".",
            .. setup.Seats.Length == 1 ? Array.Empty<string>() : [$"Deal them out: {Words.List(Enumerable.Range(0, setup.Seats.Length).Select(s => $"{chain.Owner.Count(o => o == s)} to {setup.Who(s)}"))}."],
        ];
    }


    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var chain = new Chain(setup);
        return new Facts
        {
            ["cards"] = new ListFact([.. chain.Has.Select((has, i) => new MapFact([("has", new(has)), ("seeks", new(chain.Called[i]))]))]),
            Turns = Pmf.Always(chain.Has.Length),
            AimReached = 1,
        };
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Values);

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        var chain = new Chain(setup);
        bool selfAnswers = setup.Seats.Length > 1 && chain.Owner.Where((o, i) => o == chain.Owner[(i + 1) % chain.Owner.Length]).Any();
        var remarks = new List<Remark>();
        if (selfAnswers) remarks.Add("Once a player answers her own card: an odd chain cannot go to and fro between two.");
        if (setup.Get(Knobs.Relation).WithoutPartner(setup.Get(Knobs.Values).Numbers) is { } without) remarks.Add(without);
        return remarks;
    }

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob.Id switch
    {
        "formSeeks" => CommonKnobs.CardForms[new Chain(setup).FormSeeks.Id()],
        "cards" => new WholeValue(new Chain(setup).Has.Length),
        _ => null,
    };

    public override string Summary(Setup setup) => $"numbers {setup.Get(Knobs.Values)}, answered by {setup.Get(Knobs.Relation)}";
}

/// <summary>
/// The cards of one setup in the order of their chain. Every number that can be called by one of the values is held by one
/// card at most, and each card calls what the next one answers; so any order of such numbers is one cycle.
/// </summary>
public sealed class Chain
{
    public Chain(Setup setup)
    {
        var values = setup.Get(ChainCall.Knobs.Values).Numbers;
        Relation = setup.Get(ChainCall.Knobs.Relation);
        Possible = [.. values.Where(v => Relation.CalledBy(v) is { } called && values.Contains(called))];
        int wanted = Math.Min(setup.Get(ChainCall.Knobs.Cards) is WholeValue cards ? cards.Number : ChainCall.MostCards, Possible.Count);
        var rng = Rng.ForGame(setup.Get(ChainCall.Knobs.Shuffle).Number, wanted);
        int[] order = rng.Order(wanted);
        Has = [.. order.Select(i => Possible[wanted == 1 ? 0 : i * (Possible.Count - 1) / (wanted - 1)])];
        Called = [.. Has.Select((_, i) => Relation.CalledBy(Has[(i + 1) % wanted])!.Value)];
        FormHas = CommonKnobs.FormAt(setup, ChainCall.Knobs.FormHas);
        FormSeeks = CommonKnobs.SecondForm(setup, ChainCall.Knobs.FormSeeks, Called, FormHas);
        Owner = Deal(wanted, setup.Seats.Length);
        Asks = [.. Enumerable.Range(0, setup.Seats.Length).Select(s => setup.Seats[s].GrownUp ? null
            : Called.Select(called => CommonKnobs.Answering(Relation, called, FormSeeks, FormHas, CommonKnobs.SupportAt(setup, s))).ToArray())];
    }

    private Chain(Chain other, int[] owner)
    {
        (Relation, FormHas, FormSeeks, Possible, Has, Called, Asks) = (other.Relation, other.FormHas, other.FormSeeks, other.Possible, other.Has, other.Called, other.Asks);
        Owner = owner;
    }

    /// <summary>The same chain as it was dealt to fewer, of whom each who came hands on.</summary>
    /// <param name="next">The card that answers next, and how many are still to answer.</param>
    public Chain Dealt(int[] owner, int next, int left)
    {
        var toCome = Enumerable.Range(next, left).Select(card => card % owner.Length).ToList();
        int[] now = [.. owner];
        for (int seat = owner.Max() + 1; seat < Asks.Length; seat++)
            for (int share = toCome.Count / (seat + 1); share > 0; share--)
            {
                int fullest = toCome.GroupBy(card => now[card]).Where(g => g.Key != seat).MaxBy(g => g.Count())!.Key;
                now[toCome.Last(card => now[card] == fullest)] = seat;
            }
        return new(this, now);
    }

    public RelationValue Relation { get; }

    public Form FormHas { get; }

    public Form FormSeeks { get; }

    /// <summary>The numbers that some value calls.</summary>
    public IReadOnlyList<int> Possible { get; }

    /// <summary>What the cards have, in the order of the chain; what each calls; and who holds it.</summary>
    public int[] Has { get; }

    public int[] Called { get; }

    public int[] Owner { get; }

    /// <summary>By seat, what each card's call asks of the one who answers; null for a grown-up.</summary>
    public Ask[]?[] Asks { get; }

    /// <summary>
    /// In turn along the chain, so that hands differ by one at most and neighbours have different holders. Where the last
    /// card would go to the holder of the first, it goes to the second of three or more.
    /// </summary>
    private static int[] Deal(int cards, int seats)
    {
        int[] owner = [.. Enumerable.Range(0, cards).Select(i => i % seats)];
        if (seats > 2 && cards % seats == 1) owner[^1] = 1;
        return owner;
    }
}

internal struct ChainCallState
{
    public Head Head;

    /// <summary>The card that calls, in the order of the chain, and how many have answered.</summary>
    public byte Calls, Answers;
    public EightCounts Given;
}

/// <summary>The rules of Chain Call: whoever holds the answer is to move, and there is one move.</summary>
internal readonly struct ChainCallRules(Chain chain) : IRules<ChainCallState>
{
    private readonly Chain chain = chain;
    private readonly int cards = chain.Has.Length;

    public int Seats => chain.Asks.Length;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref ChainCallState s) => ref s.Head;

    public void Start(ref ChainCallState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Head.Phase = StepKind.Choice;
        GoOn(ref s);
    }

    public int Draw(ref ChainCallState s, ref Rng rng) => 0;

    public void Deal(ref ChainCallState s, int outcome) { }

    /// <summary>The next to answer is the holder of the next card; whoever has left is answered for by the one after.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void GoOn(ref ChainCallState s)
    {
        if (s.Answers == cards)
        {
            s.Head.Phase = StepKind.Over;
            return;
        }
        s.Head.Mover = (byte)chain.Owner[Answering(in s)];
        if ((s.Head.Active >> s.Head.Mover & 1) == 0) s.Head.NextMover();
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Answering(in ChainCallState s) => s.Calls + 1 == cards ? 0 : s.Calls + 1;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in ChainCallState s, ref Rng rng) => Answer(in s);

    public Move Best(in ChainCallState s, ref Rng rng) => Answer(in s);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Move Answer(in ChainCallState s) => new(1UL << Answering(in s), -1, Answering(in s));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in ChainCallState s, Move move, Span<SeatAsk> into)
    {
        if (chain.Asks[s.Head.Mover] is not { } asks) return 0;
        into[0] = new(s.Head.Mover, asks[s.Calls]);
        return 1;
    }

    /// <summary>A turn is told by its call.</summary>
    public int TurnKinds => Seats * cards;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in ChainCallState s, Move move) => s.Head.Mover * cards + s.Calls;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in ChainCallState s) => Handling.ReadChainCard;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in ChainCallState s, Move move) => Handling.ReadChainCard;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Seeking(in ChainCallState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref ChainCallState s, Move move, Answered answered)
    {
        s.Given[s.Head.Mover]++;
        s.Answers++;
        s.Calls = (byte)Answering(in s);
        s.Head.Turns++;
        GoOn(ref s);
    }

    public void Arrange(ref ChainCallState s, uint before) => GoOn(ref s);

    /// <summary>Everyone keeps her cards; who is new is handed a fair share of those that have not answered yet, from the fullest hands.</summary>
    public IRules<ChainCallState> Over(IRules<ChainCallState> before, in ChainCallState state) =>
        before is ChainCallRules dealt ? new ChainCallRules(chain.Dealt(dealt.chain.Owner, Answering(in state), cards - state.Answers)) : this;

    public int Points(in ChainCallState s, int seat) => s.Given[seat];

    public bool AimReached(in ChainCallState s) => s.Answers == cards;

    public int Left(in ChainCallState s) => cards - s.Answers;

    public IReadOnlyList<Possible> Possibilities(in ChainCallState s) => [];

    public bool IsLegal(in ChainCallState s, Move move) => s.Head.Phase == StepKind.Choice && move == Answer(in s);

    public IReadOnlyList<Move> Moves(in ChainCallState s) => s.Head.Phase == StepKind.Choice ? [Answer(in s)] : [];

    public Tapped Read(in ChainCallState s, IReadOnlyList<int> items) => items.Count == 0 ? Tapped.NeedsMore
        : items[^1] == Answering(in s) ? Tapped.As(Answer(in s))
        : Tapped.No("That card does not answer. Look again together.");

    public IReadOnlyList<Zone> Zones(in ChainCallState s)
    {
        var dealt = chain;
        bool choosing = s.Head.Phase == StepKind.Choice;
        var zones = new List<Zone>();
        if (choosing) zones.Add(new Stage("The number that is called", [new(s.Calls, chain.Called[s.Calls], chain.FormSeeks, ItemState.Up, false)]));
        // Cards that called lie in the chain, the first of them to be found again at the end.
        int laid = s.Answers == cards ? cards : s.Answers + 1;
        zones.Add(new CardChain("The chain", [.. Enumerable.Range(0, laid).Select(Card)], s.Answers == cards));
        // In a hand cards lie by number, as their order in the chain would tell the answer.
        for (int seat = 0; seat < Seats; seat++)
        {
            Item[] hers = [.. Enumerable.Range(laid, cards - laid).Where(card => dealt.Owner[card] == seat).Select(Card).OrderBy(i => i.Value)];
            if (hers.Length > 0) zones.Add(new Hand("Cards to answer with", seat, hers));
        }
        return zones;

        Item Card(int card) => new(card, dealt.Has[card], dealt.FormHas, ItemState.Up, choosing);
    }

    /// <summary>Who holds the card that calls; for whoever has left the one after calls.</summary>
    public int? Caller(in ChainCallState s)
    {
        if (s.Head.Phase == StepKind.Over) return null;
        int caller = chain.Owner[s.Calls];
        while (!s.Head.Plays(caller)) caller = (caller + 1) % Seats;
        return caller;
    }

    /// <summary>Both parts of the card that calls, in words: a numeral can be read out, a picture has to be looked at.</summary>
    public string Says(in ChainCallState s) => s.Head.Phase == StepKind.Over ? "The chain is closed."
        : $"I have {(chain.FormHas == Form.Numeral ? $"{chain.Has[s.Calls]}" : "this many")}. Who has {chain.Relation.AnswerInWords(chain.FormSeeks == Form.Numeral ? $"{chain.Called[s.Calls]}" : "this")}?";

    public string Tells(in ChainCallState before, Move move, bool found) => $"answered {chain.Called[before.Calls]} with {chain.Has[Answering(in before)]}";
}
