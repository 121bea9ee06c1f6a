using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>Partners: find cards that make the target, face up, as they are called, from memory, or by turning and adding.</summary>
public sealed class Partners : Frame
{
    public const string Spot = "spot", Call = "call", Memory = "memory", RunOn = "run", FirstSaid = "firstSaid";

    public const int MostPlaces = 60, LeastTarget = 3, MostTarget = 30;

    private static readonly ChoiceKind Modes = ChoiceKind.Of((Spot, "face up"), (Call, "called one by one"), (Memory, "face down, two at a time"), (RunOn, "face down, turn and add"));
    private static readonly ChoiceKind Addends = ChoiceKind.Of(("2", "two cards"), ("any", "any number of cards"));
    private static readonly ChoiceKind Counted = ChoiceKind.Of(("cards", "cards"), ("sets", "sets"));
    private static readonly ChoiceKind Claims = ChoiceKind.Of(("mover", "whoever turned up the last card"), (FirstSaid, "whoever says it first, where a clock is liked"));
    private static readonly ChoiceKind CardForms = ChoiceKind.OfForms(Form.Dice, Form.Scatter, Form.TenFrame, Form.Fingers, Form.Domino, Form.Numeral);

    public static class Knobs
    {
        public static readonly Knob<DeckValue> Deck = new("deck", "The pack", new DeckKind(), new DeckValue(Materials.Deck.Plain(1, 9)), Belongs.Range, Scope.Table, Sits.Deck, "Which cards come out, and what the odd ones count as.", KnobRole.Deck);
        public static readonly Knob<WholeValue> Target = new("target", "Target", new WholeKind(LeastTarget, MostTarget), new WholeValue(10), Belongs.Range, Scope.Both, Sits.Game, "What the cards must make together.", KnobRole.Target);
        public static readonly Knob<SizeValue> Layout = new("layout", "Layout", new SizeKind(MostPlaces), new SizeValue(4, 5), Belongs.Length, Scope.Table, Sits.Cards, "More cards on the table: more to find, more to look through.");
        public static readonly Knob<ChoiceValue> Mode = new("mode", "Way of playing", Modes, Modes[Spot], Belongs.RuleLevel, Scope.Table, Sits.Game, "Face up, called, from memory, or turning and adding.");
        public static readonly Knob<FlagValue> Refill = new("refill", "Refill the gaps", new FlagKind(), new FlagValue(true), Belongs.Length, Scope.Table, Sits.Deck, "Whether the pack fills the places that become free.");
        public static readonly Knob<ChoiceValue> Addends = new("addends", "Cards in a set", Partners.Addends, Partners.Addends["2"], Belongs.RuleLevel, Scope.Both, Sits.Game, "Two cards, or any number of cards that make the target.");
        public static readonly Knob<ChoiceValue> Form = new("form", "Cards show", CardForms, CardForms["numeral"], Belongs.Form, Scope.Both, Sits.Cards, "How the cards show their numbers; at a place: a help card in her form.", KnobRole.Form);
        public static readonly Knob<ChoiceValue> Wins = new("wins", "Counted are", Counted, Counted["cards"], Belongs.Fairness, Scope.Table, Sits.Game, "Whether every card taken counts, or every set.");
        public static readonly Knob<ChoiceValue> Claim = new("claim", "They go to", Claims, Claims["mover"], Belongs.Fairness, Scope.Table, Sits.Game, "Called one by one: whether the one whose turn it is finds them, or anybody who says it first.");
        public static readonly Knob<MemoryValue> Remembers = new("memory", "Remembers", new MemoryKind(), new MemoryValue(4), Belongs.Support, Scope.Both, Sits.Place, "Face down, for the forecast: nothing, everything, or the cards seen last.", KnobRole.Memory);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(60);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most cards or sets", "all together clear the table");
    }

    public override FrameData Data { get; } = new(
        "partners", "Partners", Family.Partners, "Find cards that make the target.", "It ends when nothing on the table goes together and no more cards come.", 1, 8,
        [Knobs.Deck, Knobs.Target, Knobs.Layout, Knobs.Mode, Knobs.Refill, Knobs.Addends, Knobs.Form, Knobs.Claim, Knobs.Wins, Knobs.Remembers, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Rung("same", "Pairs of equals", "Take two cards that show the same number.", Spot, "2", new SizeValue(3, 4)),
            Rung("memory-small", "Few cards, face down", "Turn two of a few cards; keep them if they make the target.", Memory, "2", new SizeValue(2, 4)),
            Rung("spot", "Face up", "Take any two cards that make the target.", Spot, "2", new SizeValue(4, 5)),
            Rung("memory", "From memory", "Turn two cards; keep them if they make the target.", Memory, "2", new SizeValue(4, 5)),
            Rung("run", "Turn and add", "Turn cards one after another: exactly the target keeps them all, past it turns them back.", RunOn, "2", new SizeValue(4, 5)),
            Rung("any", "Any number of cards", "Take two, three or more cards that make the target.", Spot, "any", new SizeValue(4, 5)),
            Rung("higher", "Another target", "The target is another number than ten.", Spot, "2", new SizeValue(4, 5),
                (Knobs.Target, new WholeValue(12)), (Knobs.Deck, new DeckValue(Deck.Plain(1, 11)))),
            Rung("write", "Write it", "Take two cards and write the sentence.", Spot, "2", new SizeValue(4, 5)),
        ],
        Spot, [AskKind.Part, AskKind.Match, AskKind.Join]);

    private static Level Rung(string id, string label, string says, string mode, string addends, SizeValue layout, params (Knob Knob, KnobValue Value)[] more) =>
        Level.Fixed(id, label, says, [(Knobs.Mode, Modes[mode])], [(Knobs.Layout, layout), (Knobs.Addends, Addends[addends]), .. more]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var deck = setup.Get(Knobs.Deck).Deck;
        var layout = setup.Get(Knobs.Layout);
        if (layout.Places > deck.Cards)
        {
            var fits = SizeKind.Usual.LastOrDefault(s => s.Places <= deck.Cards);
            problems.Add(new("table.layout", $"{layout.Says()} needs {layout.Places} cards on the table and the pack has {deck.Cards}.", fits?.ToJson()));
        }
        var table = new PartnersTable(setup);
        for (int i = 0; i < setup.Seats.Length; i++)
        {
            foreach (var (_, mode) in setup.Against(i))
            {
                string level = setup.Seats[i].Level!;
                var fitting = setup.Frame.Levels.Where(l => Equals(l[Knobs.Mode], setup.Get(Knobs.Mode))).MinBy(l => Math.Abs(setup.Frame.Rung(l.Id) - setup.Frame.Rung(level)));
                problems.Add(new($"players[{i}].allowance.level", $"\"{setup.Frame.Level(level)!.Label}\" is played {mode}, but this table plays {setup.Get(Knobs.Mode)}.", fitting?.Id));
            }
            if (table.CanEverMove(i)) continue;
            int target = setup.At(i, Knobs.Target).Number;
            bool own = setup.Seats[i].Allowance.ContainsKey(Knobs.Target.Id);
            int? nearest = Enumerable.Range(LeastTarget, MostTarget - LeastTarget + 1).Where(t => table.CanEverMake(i, t)).OrderBy(t => Math.Abs(t - target)).Select(t => (int?)t).FirstOrDefault();
            problems.Add(setup.LevelAt(i) == "same"
                ? new("table.deck", "No two cards of this pack are alike.", new DeckValue(Deck.Plain(1, 9)).ToJson())
                : new(own ? $"players[{i}].allowance.target" : "table.target", $"No {(table.Seats[i].Any ? "" : "two ")}cards of this pack make {target}" + (nearest is { } n ? $"; the nearest target that goes is {n}." : "."), nearest));
        }
        if (IsRace(setup) && table.Seats.DistinctBy(s => (s.Target, s.Same, s.Any)).Count() > 1)
            problems.Add(new("table.claim", "Where whoever says it first takes them, all look for the same.", "mover"));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup)
    {
        var table = new PartnersTable(setup);
        return table.Mode switch
        {
            Memory => new Game<PartnersFaceDown<TwoAtATime>, PartnersFaceDownState>(setup, new(table)),
            RunOn => new Game<PartnersFaceDown<AddingUp>, PartnersFaceDownState>(setup, new(table)),
            Call when IsRace(setup) => new Game<PartnersFaceUp<UntilSaidFirst>, PartnersFaceUpState>(setup, new(table)),
            Call => new Game<PartnersFaceUp<UntilCalled>, PartnersFaceUpState>(setup, new(table)),
            _ => new Game<PartnersFaceUp<AllLaid>, PartnersFaceUpState>(setup, new(table)),
        };
    }

    public override bool IsRace(Setup setup) => setup.Get(Knobs.Mode).Id == Call && setup.Get(Knobs.Claim).Id == FirstSaid && setup.Seats.Length > 1;

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "claim" => setup.Get(Knobs.Mode).Id == Call && setup.Seats.Length > 1,
        "memory" => setup.Get(Knobs.Mode).Id is Memory or RunOn,
        "wins" => setup.Seats.Length > 1,
        _ => true,
    };

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        int target = setup.At(seat, Knobs.Target).Number;
        bool alone = setup.Seats.Length == 1;
        return [.. new[] { target - 1, target + 1 }.Where(t => t is >= LeastTarget and <= MostTarget).Select(t => new SingleChange(
            $"target {t} instead of {target}", Belongs.Range,
            alone ? setup.With(Knobs.Target, new WholeValue(t)).With(Knobs.Deck, new DeckValue(PackFor(t))) : setup.WithSeat(seat, setup.Seats[seat].With(Knobs.Target, new WholeValue(t)))))];
    }

    /// <summary>A pack in which every card has a partner for this target: of ordinary ranks up to 24, above that home-made.</summary>
    public static Deck PackFor(int target)
    {
        if (target <= 24) return Deck.Plain(Math.Max(1, target - 13), Math.Min(13, target - 1), target == 3 ? 3 : target <= 5 ? 2 : 1);
        int low = target / 2 - 6;
        return Deck.FromCounts(Enumerable.Range(low, target - 2 * low + 1).Select(n => KeyValuePair.Create(n, 4)));
    }

    public override IReadOnlyList<Need> Needs(Setup setup) => [Need.Pack(setup.Get(Knobs.Deck).Deck)];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var preparation = DeckPreparation.Of(setup.Get(Knobs.Deck).Deck);
        return [.. preparation.Sentences, $"{Words.Count(preparation.CardsLeft, "card")} in play, {setup.Get(Knobs.Layout)} on the table."];
    }

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        var deck = setup.Get(Knobs.Deck).Deck;
        var lines = new List<Remark>();
        if (setup.Get(Knobs.Mode).Id == RunOn || Enumerable.Range(0, setup.Seats.Length).Any(i => Aim.Of(setup, i) is { Same: true } or { Any: true })) return lines;
        var targets = Targets(setup).ToList();
        if (targets.Count == 0) return lines;
        var strays = targets.Select(t => PairFacts.Strays(deck.Counts, t)).ToList();
        // What one player cannot pair another may take: only cards that are left over for everyone are worth a word.
        foreach (var why in strays[0].Where(s => strays.TrueForAll(o => o.ContainsKey(s.Key))).GroupBy(s => Why(deck, s.Key, targets[0])))
        {
            var cards = why.Select(s => (s.Key, Count: strays.Min(o => o[s.Key]))).ToList();
            lines.Add(Words.Sentence($"{Words.List(cards.Select(c => Cards(deck, c.Key, c.Count)))} can never be paired to {Words.List(targets.Select(t => t.ToString()))}: {why.Key}"));
        }
        return lines;
    }

    public override string WhatWins(Setup setup) => $"most {setup.Get(Knobs.Wins).Id}";

    public override string Summary(Setup setup)
    {
        string what = setup.LevelId == "same" ? "pairs of equals" : $"make {setup.Get(Knobs.Target)}", mode = setup.Get(Knobs.Mode).Id;
        return $"{setup.Get(Knobs.Deck).Deck.Says}, {what}, {setup.Get(Knobs.Mode)}{(setup.Get(Knobs.Addends).Id == "any" && mode is Spot or Call ? ", any number of cards" : "")}";
    }

    public override string Summary(Setup setup, int seat) =>
        (setup.LevelAt(seat) == "same" ? "pairs of equals" : $"makes {setup.At(seat, Knobs.Target)}")
        + (setup.Seats[seat].Level is { } own and not "same" ? $", {setup.Frame.Level(own)!.Label.ToLowerInvariant()}" : "");

    private static string Why(Deck deck, int number, int target) =>
        number > target ? $"they are above {target}"
        : 2 * number == target ? "their number is odd"
        : deck.Counts.ContainsKey(target - number) ? $"there are fewer cards with {target - number}"
        : number == 0 ? $"they are in as zeros, but nothing counts as {target}" : $"nothing in the pack counts as {target - number}";

    private static string Cards(Deck deck, int number, int count)
    {
        if (deck.HomeMade) return $"{Words.Count(count, "card")} with {number}";
        string name = deck.NameOf(number);
        return $"{count} {(count > 1 ? name : name == "sixes" ? "six" : name.TrimEnd('s'))}";
    }

    /// <summary>The different targets at this table, for players who pair by target.</summary>
    private static IEnumerable<int> Targets(Setup setup) => Enumerable.Range(0, setup.Seats.Length)
        .Where(i => setup.LevelAt(i) != "same" && setup.At(i, Knobs.Addends).Id == "2")
        .Select(i => setup.At(i, Knobs.Target).Number).Distinct();

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var facts = new Facts();
        var counts = setup.Get(Knobs.Deck).Deck.Counts;
        int places = setup.Get(Knobs.Layout).Places;
        bool refill = setup.Get(Knobs.Refill).On;
        string mode = setup.Get(Knobs.Mode).Id;
        var seats = Enumerable.Range(0, setup.Seats.Length).Select(i => Aim.Of(setup, i)).ToList();
        var kinds = seats.Distinct().ToList();
        var perKind = kinds.ToDictionary(k => k, k => SeatFacts(counts, k, places, mode, spending));
        foreach (string name in perKind[kinds[0]].Keys.Union(perKind.Values.SelectMany(f => f.Keys)))
            facts[name] = kinds.Count == 1 ? perKind[kinds[0]][name] : new ListFact([.. seats.Select(s => perKind[s].GetValueOrDefault(name, new FlagFact(false)))]);
        if (kinds.Count == 1 && !kinds[0].Any && mode != RunOn
            && (kinds[0].Same ? PairFacts.EndOfEquals(counts, places, refill, spending) : PairFacts.End(counts, kinds[0].Target, places, refill, spending)) is { } end)
        {
            facts["pStuck"] = new NumberFact(end.Stuck);
            facts["leftMean"] = new NumberFact(end.LeftMean);
            facts.AimReached = 1 - end.Stuck;
            if (mode == Spot) facts.Turns = end.Pairs;
        }
        return facts;
    }

    private static Dictionary<string, Fact> SeatFacts(IReadOnlyDictionary<int, int> counts, Aim aim, int places, string mode, Spending spending)
    {
        var facts = new Dictionary<string, Fact>();
        if (aim.Same)
        {
            facts["combos"] = new ListFact([.. counts.Where(c => c.Value > 1).Select(c => new ListFact([new NumberFact(c.Key), new NumberFact(c.Key)]))]);
            facts["balanced"] = new FlagFact(counts.Values.All(c => c % 2 == 0));
            facts["strays"] = MapFact.Of(counts.Where(c => c.Value % 2 == 1).Select(c => (c.Key, 1.0)));
            facts["pairsMost"] = new NumberFact(counts.Values.Sum(c => c / 2));
            facts["pMove"] = new NumberFact(PairFacts.EqualsMoveBySize(counts, places)[places]);
            facts["pMoveBySize"] = MapFact.Of(PairFacts.EqualsMoveBySize(counts, CurveTo(counts)).Select((p, n) => (n, p)).Skip(2));
            return facts;
        }
        facts["combos"] = new ListFact([.. PairFacts.Combos(counts, aim.Target).Select(c => new ListFact([new NumberFact(c.A), new NumberFact(c.B)]))]);
        facts["balanced"] = new FlagFact(PairFacts.Balanced(counts, aim.Target));
        facts["strays"] = MapFact.Of(PairFacts.Strays(counts, aim.Target).Select(s => (s.Key, (double)s.Value)));
        facts["pairsMost"] = new NumberFact(PairFacts.PairsMost(counts, aim.Target));
        double[]? curve = aim.Any && mode == Spot ? PairFacts.SetMoveBySize(counts, aim.Target, CurveTo(counts), spending) : PairFacts.MoveBySize(counts, aim.Target, CurveTo(counts));
        if (curve is not null)
        {
            facts["pMove"] = new NumberFact(curve[places]);
            facts["pMoveBySize"] = MapFact.Of(curve.Select((p, n) => (n, p)).Skip(2));
        }
        if (mode == RunOn) facts["pRun"] = new NumberFact(PairFacts.RunReaches(counts, aim.Target, places));
        return facts;
    }

    private static int CurveTo(IReadOnlyDictionary<int, int> counts) => Math.Min(MostPlaces, counts.Values.Sum());

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => setup.Get(Knobs.Mode).Id == RunOn ? ["pStuck", "leftMean"] : ["pStuck", "leftMean", "pMove"];

    /// <summary>What decides which facts hold for a seat.</summary>
    private readonly record struct Aim(bool Same, bool Any, int Target)
    {
        public static Aim Of(Setup setup, int seat)
        {
            bool same = setup.LevelAt(seat) == "same", any = setup.At(seat, Knobs.Addends).Id == "any";
            return new(same, any, same ? 0 : setup.At(seat, Knobs.Target).Number);
        }
    }
}
