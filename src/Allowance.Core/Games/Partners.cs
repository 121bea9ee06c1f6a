using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Games;

/// <summary>Partners: find cards that make the target, face up, as they are called, from memory, or by turning and adding.</summary>
public sealed class Partners : Frame
{
    public const string Spot = "spot", Call = "call", Memory = "memory", RunOn = "run";

    public const int MostPlaces = 60, LeastTarget = 3, MostTarget = 30;

    private static readonly ChoiceKind Modes = ChoiceKind.Of((Spot, "face up"), (Call, "called one by one"), (Memory, "face down, two at a time"), (RunOn, "face down, turn and add"));
    private static readonly ChoiceKind Addends = ChoiceKind.Of(("2", "two cards"), ("any", "any number of cards"));
    private static readonly ChoiceKind CardForms = ChoiceKind.OfForms(Form.Dice, Form.Scatter, Form.TenFrame, Form.Fingers, Form.Domino, Form.Numeral);
    private static readonly ChoiceKind Supports = ChoiceKind.Of(("none", "none"), ("things", "things to count"), ("frame", "a ten-frame"), ("fingers", "her fingers"), ("line", "a number line"), ("rack", "a bead rack"));

    public override FrameData Data { get; } = new(
        "partners", "Partners", "Find cards that make the target.", 1, 8,
        [
            new("deck", "The pack", new DeckKind(), new DeckValue(Deck.Plain(1, 9)), Belongs.Range, Scope.Table, "deck", "Which cards come out, and what the odd ones count as."),
            new("target", "Target", new WholeKind(LeastTarget, MostTarget), new WholeValue(10), Belongs.Range, Scope.Both, "centre", "What the cards must make together."),
            new("layout", "Layout", new SizeKind(MostPlaces), new SizeValue(4, 5), Belongs.Length, Scope.Table, "cards", "More cards on the table: more to find, more to look through."),
            new("mode", "Way of playing", Modes, Modes[Spot], Belongs.RuleLevel, Scope.Table, "centre", "Face up, called, from memory, or turning and adding."),
            new("refill", "Refill the gaps", new FlagKind(), new FlagValue(true), Belongs.Length, Scope.Table, "deck", "Whether the pack fills the places that become free."),
            new("addends", "Cards in a set", Addends, Addends["2"], Belongs.RuleLevel, Scope.Both, "centre", "Two cards, or any number of cards that make the target."),
            new("form", "Cards show", CardForms, CardForms["numeral"], Belongs.Form, Scope.Both, "cards", "How the cards show their numbers; at a place: a help card in her form."),
            new("range", "Her range", new RangeKind(0, 60), null, Belongs.Range, Scope.Seat, "place", "The numbers she holds; what comes up outside them is shown."),
            new("support", "Support", Supports, Supports["none"], Belongs.Support, Scope.Seat, "place", "What she may use to find out; it is kept with the note."),
            new("first", "Who begins", ChoiceKind.Of(("seat", "the first place"), ("alternate", "in turn, game by game"), ("youngest", "the youngest"), ("draw", "drawn")), new ChoiceValue("seat", "the first place"), Belongs.Fairness, Scope.Table, "centre", "Whose turn comes first."),
            new("winning", "Winning", ChoiceKind.Of(("compete", "most cards"), ("together", "all together clear the table"), ("none", "nobody wins")), new ChoiceValue("compete", "most cards"), Belongs.Fairness, Scope.Table, "centre", "Whether somebody wins, or all together."),
        ],
        [
            Rung("same", "Pairs of equals", "Take two cards that show the same number.", Spot, "2", new SizeValue(3, 4)),
            Rung("memory-small", "Few cards, face down", "Turn two of a few cards; keep them if they make the target.", Memory, "2", new SizeValue(2, 4)),
            Rung("spot", "Face up", "Take any two cards that make the target.", Spot, "2", new SizeValue(4, 5)),
            Rung("memory", "From memory", "Turn two cards; keep them if they make the target.", Memory, "2", new SizeValue(4, 5)),
            Rung("run", "Turn and add", "Turn cards one after another: exactly the target keeps them all, past it turns them back.", RunOn, "2", new SizeValue(4, 5)),
            Rung("any", "Any number of cards", "Take two, three or more cards that make the target.", Spot, "any", new SizeValue(4, 5)),
            Rung("higher", "Another target", "The target is another number than ten.", Spot, "2", new SizeValue(4, 5),
                ("target", new WholeValue(12)), ("deck", new DeckValue(Deck.Plain(1, 11)))),
            Rung("write", "Write it", "Take two cards and write the sentence.", Spot, "2", new SizeValue(4, 5)),
        ],
        Spot, [AskKind.Part, AskKind.Match, AskKind.Join]);

    private static Level Rung(string id, string label, string says, string mode, string addends, SizeValue layout, params (string Knob, KnobValue Value)[] more)
    {
        var suggests = new Dictionary<string, KnobValue> { ["layout"] = layout, ["addends"] = Addends[addends] };
        foreach (var (knob, value) in more) suggests[knob] = value;
        return new(id, label, says, new Dictionary<string, KnobValue> { ["mode"] = Modes[mode] }, suggests);
    }

    public override IReadOnlyList<Problem> Check(Setup setup)
    {
        var problems = new List<Problem>();
        var deck = setup.Get<DeckValue>("deck").Deck;
        var layout = setup.Get<SizeValue>("layout");
        if (deck.Wilds > 0)
            problems.Add(new("table.deck", "Partners has no wild cards; take them out, or give them a number.", new DeckValue(WithoutWilds(deck)).ToJson()));
        if (layout.Places > deck.Cards)
        {
            var fits = SizeKind.Usual.LastOrDefault(s => s.Places <= deck.Cards);
            problems.Add(new("table.layout", $"{layout.Says()} needs {layout.Places} cards on the table and the pack has {deck.Cards}.", fits?.ToJson()));
        }
        var rules = new PartnersRules(setup);
        for (int i = 0; i < setup.Seats.Length; i++)
        {
            if (setup.Seats[i].Level is { } level && setup.Frame.Level(level)!.Fixes["mode"] is var mode && mode != setup.Get("mode"))
            {
                var fitting = setup.Frame.Levels.Where(l => l.Fixes["mode"] == setup.Get("mode")).MinBy(l => Math.Abs(setup.Frame.Rung(l.Id) - setup.Frame.Rung(level)));
                problems.Add(new($"players[{i}].allowance.level", $"\"{setup.Frame.Level(level)!.Label}\" is played {mode}, but this table plays {setup.Get("mode")}.", fitting?.Id));
            }
            if (rules.CanEverMove(i)) continue;
            int target = setup.At<WholeValue>(i, "target").Number;
            bool own = setup.Seats[i].Allowance.ContainsKey("target");
            int? nearest = Enumerable.Range(LeastTarget, MostTarget - LeastTarget + 1).Where(t => rules.CanEverMake(i, t)).OrderBy(t => Math.Abs(t - target)).Select(t => (int?)t).FirstOrDefault();
            problems.Add(setup.LevelAt(i) == "same"
                ? new("table.deck", "No two cards of this pack are alike.", new DeckValue(Deck.Plain(1, 9)).ToJson())
                : new(own ? $"players[{i}].allowance.target" : "table.target", $"No {(rules.TakesSets(i) ? "" : "two ")}cards of this pack make {target}" + (nearest is { } n ? $"; the nearest target that goes is {n}." : "."), nearest));
        }
        return [.. problems.DistinctBy(p => p.Path)];
    }

    private static Deck WithoutWilds(Deck deck) => deck.HomeMade
        ? Deck.FromCounts(deck.HomeCounts)
        : Deck.FromRanks(deck.Ranks.Where(r => !r.Value.IsWild), deck.Packs, deck.Suits, deck.Missing);

    public override Game Compile(Setup setup) => new Game<PartnersRules, PartnersState>(setup, new PartnersRules(setup));

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        int target = setup.At<WholeValue>(seat, "target").Number;
        bool alone = setup.Seats.Length == 1;
        return [.. new[] { target - 1, target + 1 }.Where(t => t is >= LeastTarget and <= MostTarget).Select(t => new SingleChange(
            $"target {t} instead of {target}", Belongs.Range,
            alone ? setup.With("target", new WholeValue(t)).With("deck", new DeckValue(PackFor(t))) : setup.WithSeat(seat, setup.Seats[seat].With("target", new WholeValue(t)))))];
    }

    /// <summary>A pack in which every card has a partner for this target: of ordinary ranks up to 24, above that home-made.</summary>
    public static Deck PackFor(int target)
    {
        if (target <= 24) return Deck.Plain(Math.Max(1, target - 13), Math.Min(13, target - 1), target == 3 ? 3 : target <= 5 ? 2 : 1);
        int low = target / 2 - 6;
        return Deck.FromCounts(Enumerable.Range(low, target - 2 * low + 1).Select(n => KeyValuePair.Create(n, 4)));
    }

    public override IReadOnlyList<Need> Needs(Setup setup) => [new("cards", setup.Get<DeckValue>("deck").Deck.Cards)];

    public override IReadOnlyList<string> Audit(Setup setup)
    {
        var deck = setup.Get<DeckValue>("deck").Deck;
        var lines = new List<string>();
        if (setup.Get<ChoiceValue>("mode").Id == RunOn || Enumerable.Range(0, setup.Seats.Length).Any(i => Aim.Of(setup, i) is { Same: true } or { Any: true })) return lines;
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
        .Where(i => setup.LevelAt(i) != "same" && setup.At<ChoiceValue>(i, "addends").Id == "2")
        .Select(i => setup.At<WholeValue>(i, "target").Number).Distinct();

    public override Facts ExactFacts(Setup setup)
    {
        var facts = new Facts();
        var counts = setup.Get<DeckValue>("deck").Deck.Counts;
        int places = setup.Get<SizeValue>("layout").Places;
        bool refill = setup.Get<FlagValue>("refill").On;
        string mode = setup.Get<ChoiceValue>("mode").Id;
        var seats = Enumerable.Range(0, setup.Seats.Length).Select(i => Aim.Of(setup, i)).ToList();
        var kinds = seats.Distinct().ToList();
        var perKind = kinds.ToDictionary(k => k, k => SeatFacts(counts, k, places, mode));
        foreach (string name in perKind[kinds[0]].Keys.Union(perKind.Values.SelectMany(f => f.Keys)))
            facts[name] = kinds.Count == 1 ? perKind[kinds[0]][name] : new ListFact([.. seats.Select(s => perKind[s].GetValueOrDefault(name, new FlagFact(false)))]);
        if (kinds.Count == 1 && !kinds[0].Any && mode != RunOn
            && (kinds[0].Same ? PairFacts.EndOfEquals(counts, places, refill) : PairFacts.End(counts, kinds[0].Target, places, refill)) is { } end)
        {
            facts["pStuck"] = new NumberFact(end.Stuck);
            facts["leftMean"] = new NumberFact(end.LeftMean);
            facts.AimReached = 1 - end.Stuck;
            if (mode == Spot) facts.Turns = end.Pairs;
        }
        return facts;
    }

    private static Dictionary<string, Fact> SeatFacts(IReadOnlyDictionary<int, int> counts, Aim aim, int places, string mode)
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
        double[]? curve = aim.Any && mode == Spot ? PairFacts.SetMoveBySize(counts, aim.Target, CurveTo(counts)) : PairFacts.MoveBySize(counts, aim.Target, CurveTo(counts));
        if (curve is not null)
        {
            facts["pMove"] = new NumberFact(curve[places]);
            facts["pMoveBySize"] = MapFact.Of(curve.Select((p, n) => (n, p)).Skip(2));
        }
        if (mode == RunOn) facts["pRun"] = new NumberFact(PairFacts.RunReaches(counts, aim.Target, places));
        return facts;
    }

    private static int CurveTo(IReadOnlyDictionary<int, int> counts) => Math.Min(MostPlaces, counts.Values.Sum());

    public override IReadOnlyList<string> SimulatedFacts(Setup setup) => setup.Get<ChoiceValue>("mode").Id == RunOn ? ["pStuck", "leftMean"] : ["pStuck", "leftMean", "pMove"];

    /// <summary>What decides which facts hold for a seat.</summary>
    private readonly record struct Aim(bool Same, bool Any, int Target)
    {
        public static Aim Of(Setup setup, int seat)
        {
            bool same = setup.LevelAt(seat) == "same", any = setup.At<ChoiceValue>(seat, "addends").Id == "any";
            return new(same, any, same ? 0 : setup.At<WholeValue>(seat, "target").Number);
        }
    }
}

[InlineArray(Deck.MostCards)]
internal struct PackCards
{
    private byte first;
}

[InlineArray(64)]
internal struct SixtyFour
{
    private byte first;
}

[InlineArray(64)]
internal struct SixtyFourSets
{
    private ulong first;
}

[InlineArray(8)]
internal struct EightCounts
{
    private short first;
}

/// <summary>
/// The table: what lies at each place, what was seen, and what is still unseen. A face-down card has no number until it
/// is turned: the unseen cards are a multiset, so a referee may type in what real cards show.
/// </summary>
internal struct PartnersState
{
    public Head Head;
    public StepKind Phase;

    /// <summary>The seats that could still find something, for games with cards face down.</summary>
    public byte Hope;

    /// <summary>In <c>call</c>: the mover has turned up her card.</summary>
    public bool Called;

    /// <summary>The place whose card is being turned, and the first and last places turned in this turn.</summary>
    public byte Pending, First, Last;
    public short Sum, Unseen, Stock;

    /// <summary>In <c>run</c>: the numbers turned in this turn, the larger first, one in each byte; the first six.</summary>
    public ulong Lanes;
    public byte Lying;

    /// <summary>Places as bits: with a card; whose card has been seen; turned in this turn; shown from the last turn; to be filled.</summary>
    public ulong Cards, Known, Up, Shown, ToFill;

    /// <summary>Numbers as bits: seen on the table; the same mirrored (bit 63 − n); seen at least twice.</summary>
    public ulong Present, Mirror, Twice;
    public EightCounts Taken;
    public SixtyFour Places;

    /// <summary>How many cards of each number were seen on the table, and at which places, as bits.</summary>
    public SixtyFour Seen;
    public SixtyFourSets At;

    /// <summary>The same of the cards that are still unseen: how many of each number, and as bits.</summary>
    public SixtyFour Hidden;
    public ulong HiddenPresent, HiddenMirror, HiddenTwice;
    public PackCards Pack;
}

/// <summary>The rules of one Partners setup. Numbers on cards go up to 60, so sets of numbers and of places are 64-bit sets.</summary>
internal readonly struct PartnersRules : IRules<PartnersState>
{
    private const byte Nothing = 255;

    private readonly byte[] pack;
    private readonly SeatRule[] seats;
    private readonly string mode;
    private readonly bool faceDown, runs, calls, refill;
    private readonly int places, rows, columns;
    private readonly float dealing;
    private readonly ulong allPlaces;
    private readonly (SixtyFour Counts, ulong Present, ulong Mirror, ulong Twice) hidden;
    private readonly Form form;
    private readonly IReadOnlyDictionary<int, int> counts;

    internal sealed class SeatRule
    {
        public required int Target;
        public required bool Same, Any, GrownUp;

        /// <summary>Seconds of handling when cards are taken or turned back.</summary>
        public required float Taking;
        public required Form Form;
        public required Support Support;
        public required ulong LowHalf, Half;
        public required Ask[] Part, Match;
        public required string Name;

        /// <summary>For sets of any number of cards: every set that the pack allows, as how many of each number up to 15; null where there are too many.</summary>
        public required Vector128<byte>[]? Patterns;
    }

    public PartnersRules(Setup setup)
    {
        counts = setup.Get<DeckValue>("deck").Deck.Counts;
        pack = [.. counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value))];
        foreach (byte number in pack)
        {
            if (hidden.Counts[number]++ > 0) hidden.Twice |= 1UL << number;
            hidden.Present |= 1UL << number;
            hidden.Mirror |= 1UL << (63 - number);
        }
        mode = setup.Get<ChoiceValue>("mode").Id;
        runs = mode == Partners.RunOn;
        calls = mode == Partners.Call;
        faceDown = runs || mode == Partners.Memory;
        dealing = faceDown || calls ? Handling.PartnersTurnUp : Handling.PartnersDeal;
        refill = setup.Get<FlagValue>("refill").On;
        var layout = setup.Get<SizeValue>("layout");
        (rows, columns, places) = (layout.Rows, layout.Columns, layout.Places);
        allPlaces = (1UL << places) - 1;
        form = FormTable.Find(setup.Get<ChoiceValue>("form").Id)!.Value;
        var cards = counts;
        seats = [.. Enumerable.Range(0, setup.Seats.Length).Select(i => RuleOf(setup, i, cards))];
    }

    private static SeatRule RuleOf(Setup setup, int i, IReadOnlyDictionary<int, int> counts)
    {
        int target = setup.At<WholeValue>(i, "target").Number;
        var form = FormTable.Find(setup.At<ChoiceValue>(i, "form").Id)!.Value;
        var support = Enum.Parse<Support>(setup.At<ChoiceValue>(i, "support").Id, true);
        string level = setup.LevelAt(i), mode = setup.Get<ChoiceValue>("mode").Id;
        bool any = level != "same" && setup.At<ChoiceValue>(i, "addends").Id == "any";
        return new()
        {
            Target = target,
            Same = level == "same",
            Any = any,
            Patterns = any ? Sets.Patterns(counts, target) : null,
            Taking = mode is Partners.Memory or Partners.RunOn ? Handling.PartnersTurnBack : Handling.PartnersTake + (level == "write" ? Handling.PartnersWrite : 0),
            GrownUp = setup.Seats[i].GrownUp,
            Form = form,
            Support = support,
            LowHalf = (1UL << ((target + 1) / 2)) - 1,
            Half = target % 2 == 0 ? 1UL << (target / 2) : 0,
            Part = [.. Enumerable.Range(0, target + 1).Select(n => new Ask(AskKind.Part, target, n, form, support))],
            Match = [.. Enumerable.Range(0, Deck.LargestNumber + 1).Select(n => new Ask(AskKind.Match, n, form, form, support))],
            Name = setup.Seats[i].Name,
        };
    }

    public int Seats => seats.Length;

    public bool TakesSets(int seat) => seats[seat].Any;

    /// <summary>Whether any cards of the whole pack ever make a move for this seat.</summary>
    public bool CanEverMove(int seat) => seats[seat].Same && !runs ? counts.Values.Any(c => c > 1) : CanEverMake(seat, seats[seat].Target);

    public bool CanEverMake(int seat, int target)
    {
        if (!runs && !seats[seat].Any) return PairFacts.Combos(counts, target).Count > 0;
        var (one, more) = Sums(counts, target);
        return ((runs ? one | more : more) >> target & 1) != 0;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref PartnersState s) => ref s.Head;

    public void Start(ref PartnersState s, int first)
    {
        s.Head = new Head { Mover = (byte)first, Active = (byte)((1 << seats.Length) - 1) };
        s.Phase = StepKind.Chance;
        s.Called = false;
        s.Pending = s.First = s.Last = 0;
        TurnBack(ref s);
        s.Unseen = (short)pack.Length;
        s.Stock = (short)(refill ? pack.Length : places);
        s.Known = s.Up = s.Shown = s.Cards = s.Present = s.Mirror = s.Twice = 0;
        s.ToFill = calls ? 0 : allPlaces;
        s.Taken = default;
        s.Seen = default;
        s.At = default;
        ((Span<byte>)s.Places)[..places].Fill(Nothing);
        pack.CopyTo((Span<byte>)s.Pack);
        if (faceDown)
        {
            s.Cards = allPlaces;
            s.ToFill = 0;
            s.Stock -= (short)places;
            s.Hidden = hidden.Counts;
            (s.HiddenPresent, s.HiddenMirror, s.HiddenTwice) = (hidden.Present, hidden.Mirror, hidden.Twice);
            FindHope(ref s);
        }
        Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Step Next(in PartnersState s) => new(s.Phase, s.Head.Mover);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref PartnersState s, ref Rng rng)
    {
        int pick = rng.Below(s.Unseen), last = s.Unseen - 1;
        (s.Pack[pick], s.Pack[last]) = (s.Pack[last], s.Pack[pick]);
        return s.Pack[last];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref PartnersState s, int outcome)
    {
        byte number = (byte)outcome;
        TakeFromPack(ref s, number);
        if (faceDown)
        {
            Put(ref s, s.Pending, number);
            int unknown = BitOperations.PopCount(s.Cards & ~s.Known);
            if (unknown < 2 && s.Unseen > unknown) FindHope(ref s);
            Turned(ref s);
            return;
        }
        int place = BitOperations.TrailingZeroCount(calls ? ~s.Cards : s.ToFill);
        s.ToFill &= s.ToFill - 1;
        s.Stock--;
        s.Cards |= 1UL << place;
        Put(ref s, place, number);
        s.Called = true;
        if (s.ToFill == 0 || s.Stock == 0) Settle(ref s);
    }

    private void TakeFromPack(ref PartnersState s, byte number)
    {
        int last = --s.Unseen;
        if (faceDown) Reveal(ref s, number);
        if (s.Pack[last] == number) return;
        Span<byte> unseen = s.Pack;
        unseen[unseen.IndexOf(number)] = unseen[last];
    }

    private static void Reveal(ref PartnersState s, byte number)
    {
        int left = --s.Hidden[number];
        s.HiddenTwice &= ~(Bits.If(left < 2) << number);
        s.HiddenPresent &= ~(Bits.If(left == 0) << number);
        s.HiddenMirror &= ~(Bits.If(left == 0) << (63 - number));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Put(ref PartnersState s, int place, byte number)
    {
        s.Places[place] = number;
        s.Known |= 1UL << place;
        s.At[number] |= 1UL << place;
        ulong bit = 1UL << number;
        s.Seen[number]++;
        s.Twice |= s.Present & bit;
        s.Present |= bit;
        s.Mirror |= 1UL << (63 - number);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Lift(ref PartnersState s, int place)
    {
        byte number = s.Places[place];
        s.Places[place] = Nothing;
        ulong bit = 1UL << place;
        s.Cards &= ~bit;
        s.Known &= ~bit;
        s.At[number] &= ~bit;
        int left = --s.Seen[number];
        s.Twice &= ~(Bits.If(left < 2) << number);
        s.Present &= ~(Bits.If(left == 0) << number);
        s.Mirror &= ~(Bits.If(left == 0) << (63 - number));
    }

    /// <summary>The smaller numbers of the pairs that lie open for a seat, as bits: n and target − n are both there.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static ulong PairsOpen(in PartnersState s, SeatRule seat) => seat.Same
        ? s.Twice
        : s.Present & s.Mirror >> (63 - seat.Target) & seat.LowHalf | s.Twice & seat.Half;

    private bool CanMove(in PartnersState s, int seat)
    {
        var rule = seats[seat];
        if (faceDown) return (s.Hope >> seat & 1) != 0;
        return rule.Any ? Sets.Open(in s, rule) : PairsOpen(in s, rule) != 0;
    }

    public void Settle(ref PartnersState s)
    {
        if (s.Head.Active == 0)
        {
            s.Phase = StepKind.Over;
            return;
        }
        if (faceDown && s.Phase == StepKind.Chance && s.Pending != Nothing && s.Up != 0) return;
        if (faceDown && s.Up != 0)
        {
            s.Phase = StepKind.Choice;
            return;
        }
        if (s.ToFill != 0 && s.Stock > 0)
        {
            s.Phase = StepKind.Chance;
            return;
        }
        while (calls)
        {
            if (!s.Called && s.Stock > 0 && s.Cards != allPlaces)
            {
                s.Phase = StepKind.Chance;
                return;
            }
            if (!s.Called || CanMove(in s, s.Head.Mover)) break;
            EndTurn(ref s);
        }
        s.Phase = StepKind.Choice;
        for (int tries = 0; tries < 8; tries++)
        {
            if (CanMove(in s, s.Head.Mover)) return;
            if (s.Cards == 0) break;
            s.Head.Stuck = true;
            s.Head.NextMover();
        }
        s.Phase = StepKind.Over;
    }

    private static void TurnBack(ref PartnersState s)
    {
        s.Up = s.Lanes = 0;
        s.Sum = 0;
        s.Lying = 0;
    }

    private static void EndTurn(ref PartnersState s)
    {
        s.Head.Turns++;
        s.Head.NextMover();
        s.Called = false;
        TurnBack(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in PartnersState s, ref Rng rng)
    {
        var rule = seats[s.Head.Mover];
        if (faceDown)
        {
            if (Forced(in s, rule)) return new(s.Up, -1, s.First);
            ulong down = s.Cards & ~s.Up;
            return new(0, Bits.Nth(down, rng.Below(BitOperations.PopCount(down))));
        }
        if (rule.Any) return Sets.Draw(in s, rule, ref rng);
        ulong pairs = PairsOpen(in s, rule);
        int pick = rng.Below(2 * BitOperations.PopCount(pairs));
        int low = Bits.Nth(pairs, pick >> 1);
        return Pair(in s, low, rule.Same ? low : rule.Target - low, (pick & 1) == 1);
    }

    /// <summary>The move that takes the first cards with these numbers; <paramref name="highFirst"/>: the larger was seen first.</summary>
    private static Move Pair(in PartnersState s, int low, int high, bool highFirst)
    {
        ulong lows = s.At[low], first = lows & (0 - lows);
        ulong highs = high == low ? lows ^ first : s.At[high], second = highs & (0 - highs);
        return new(first | second, -1, BitOperations.TrailingZeroCount(highFirst ? second : first));
    }

    public Move Best(in PartnersState s, ref Rng rng)
    {
        var rule = seats[s.Head.Mover];
        if (!faceDown) return rule.Any ? Sets.Largest(in s, rule.Target) : Plain(in s, ref rng);
        if (Forced(in s, rule)) return new(s.Up, -1, s.First);
        ulong known = s.Cards & s.Known & ~s.Up, unknown = s.Cards & ~s.Known;
        int wanted = runs ? WantedInRun(in s, rule, known) : WantedInMemory(in s, rule, known);
        if (wanted >= 0) return new(0, wanted);
        ulong from = unknown != 0 ? unknown : known;
        return new(0, Bits.Nth(from, rng.Below(BitOperations.PopCount(from))));
    }

    /// <summary>A place whose known card completes, or begins, a known pair; −1 where none is known.</summary>
    private static int WantedInMemory(in PartnersState s, SeatRule rule, ulong known)
    {
        if (s.Up != 0)
        {
            int first = s.Places[s.First];
            return PlaceOf(in s, known, rule.Same ? first : rule.Target - first);
        }
        ulong pairs = PairsOpen(in s, rule);
        return pairs == 0 ? -1 : PlaceOf(in s, known, BitOperations.TrailingZeroCount(pairs));
    }

    /// <summary>A place whose known card leads to the target with known cards alone; −1 where none does.</summary>
    private static int WantedInRun(in PartnersState s, SeatRule rule, ulong known)
    {
        int missing = rule.Target - s.Sum;
        ulong reach = 1;
        for (ulong rest = known; rest != 0; rest &= rest - 1) reach |= reach << s.Places[BitOperations.TrailingZeroCount(rest)];
        if (missing <= 0 || (reach >> missing & 1) == 0) return -1;
        for (ulong rest = known; rest != 0; rest &= rest - 1)
        {
            int place = BitOperations.TrailingZeroCount(rest), number = s.Places[place];
            if (number == 0 || number > missing) continue;
            ulong others = 1;
            for (ulong o = known & ~(1UL << place); o != 0; o &= o - 1) others |= others << s.Places[BitOperations.TrailingZeroCount(o)];
            if ((others >> (missing - number) & 1) != 0) return place;
        }
        return -1;
    }

    private static int PlaceOf(in PartnersState s, ulong among, int number)
    {
        ulong at = number < 0 ? 0 : s.At[number] & among;
        return at == 0 ? -1 : BitOperations.TrailingZeroCount(at);
    }

    /// <summary>Cards turned up in this turn settle it: they are kept or turned back.</summary>
    private bool Forced(in PartnersState s, SeatRule rule) => runs
        ? s.Up != 0 && (s.Sum >= rule.Target || (s.Cards & ~s.Up) == 0)
        : BitOperations.PopCount(s.Up) == 2;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in PartnersState s, Move move, Span<SeatAsk> into)
    {
        int mover = s.Head.Mover;
        var rule = seats[mover];
        if (rule.GrownUp || move.IsPass) return 0;
        if (runs) return AsksInRun(in s, rule, mover, into);
        if (move.Items == 0) return 0;
        if (rule.Any) return AsksOfSet(in s, rule, mover, move.Items, into);
        int first = s.Places[move.First];
        into[0] = new(mover, rule.Same ? rule.Match[first] : rule.Part[first]);
        return 1;
    }

    private static int AsksInRun(in PartnersState s, SeatRule rule, int mover, Span<SeatAsk> into)
    {
        int n = 0;
        if (s.Lying > 1) into[n++] = new(mover, Together(rule, s.Lanes, s.Lying, s.Sum, s.Places[s.Last]));
        if (s.Lying > 0 && s.Sum < rule.Target) into[n++] = new(mover, rule.Part[s.Sum]);
        return n;
    }

    /// <summary>The largest cards lie first; the smallest is the one that is missing.</summary>
    private static int AsksOfSet(in PartnersState s, SeatRule rule, int mover, ulong items, Span<SeatAsk> into)
    {
        ulong lanes = 0;
        int count = 0, smallest = 64;
        for (; items != 0; items &= items - 1)
        {
            int number = s.Places[BitOperations.TrailingZeroCount(items)];
            if (number < smallest) (number, smallest) = (smallest, number);
            if (number > 60) continue;
            if (count++ < 6) lanes = Insert(lanes, number);
        }
        int n = 0, lying = rule.Target - smallest;
        if (count > 1) into[n++] = new(mover, Together(rule, lanes, count, lying, (int)(lanes & 255)));
        into[n++] = new(mover, rule.Part[lying]);
        return n;
    }

    /// <summary>Puts a number among those that lie already, the larger first.</summary>
    private static ulong Insert(ulong lanes, int number)
    {
        // Numbers stay below 128, so the top bit of each byte of the difference tells whether the lane is larger.
        ulong larger = (((ulong)(number | 128) * 0x0101_0101_0101_0101) - lanes & 0x8080_8080_8080_8080) ^ 0x8080_8080_8080_8080;
        int at = 8 * BitOperations.PopCount(larger);
        ulong below = (1UL << at) - 1;
        return lanes & below | (ulong)number << at | (lanes & ~below) << 8;
    }

    /// <summary>"How many together", the larger first; more than six cards are asked as the total so far and the last card.</summary>
    private static Ask Together(SeatRule rule, ulong lanes, int count, int sum, int last) => count <= 6
        ? Ask.Join(lanes, count, rule.Form, rule.Support)
        : new(AskKind.Join, Math.Max(sum - last, last), Math.Min(sum - last, last), rule.Form, rule.Support);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float Seconds(in PartnersState s, Step step, Move move)
    {
        if (step.Kind == StepKind.Chance) return dealing;
        return move.Items == 0 ? 0 : seats[step.Seat].Taking;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Seeking(in PartnersState s, Move move) => !runs;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref PartnersState s, Move move, Answered answered)
    {
        s.Shown = 0;
        if (faceDown && move.Items == 0 && move.Pick >= 0)
        {
            TurnOver(ref s, move.Pick);
            return;
        }
        if (move.IsPass || !answered.All || runs && s.Sum != seats[s.Head.Mover].Target)
        {
            s.Shown = s.Up;
            EndTurn(ref s);
            if (!faceDown || (s.Hope >> s.Head.Mover & 1) == 0) Settle(ref s);
            return;
        }
        Take(ref s, move.Items);
        TurnBack(ref s);
        if (runs && CanMove(in s, s.Head.Mover)) s.Phase = StepKind.Choice;
        else
        {
            EndTurn(ref s);
            Settle(ref s);
        }
    }

    private void Take(ref PartnersState s, ulong items)
    {
        s.Taken[s.Head.Mover] += (short)BitOperations.PopCount(items);
        for (ulong rest = items; rest != 0; rest &= rest - 1)
        {
            int place = BitOperations.TrailingZeroCount(rest);
            Lift(ref s, place);
            if (!faceDown || s.Stock == 0) continue;
            s.Stock--;
            s.Cards |= 1UL << place;
        }
        if (faceDown) FindHope(ref s);
        else if (!calls) s.ToFill |= items;
    }

    private void TurnOver(ref PartnersState s, int place)
    {
        if (s.Up == 0) s.First = (byte)place;
        s.Last = (byte)place;
        s.Up |= 1UL << place;
        s.Pending = (byte)place;
        if ((s.Known >> place & 1) != 0) Turned(ref s);
        else s.Phase = StepKind.Chance;
    }

    /// <summary>A card has been turned over and its number is known.</summary>
    private void Turned(ref PartnersState s)
    {
        s.Pending = Nothing;
        s.Phase = StepKind.Choice;
        int number = s.Places[s.Last];
        if (runs)
        {
            s.Sum += (short)number;
            if (s.Lying++ < 6) s.Lanes = Insert(s.Lanes, number);
            return;
        }
        if (BitOperations.PopCount(s.Up) < 2) return;
        var rule = seats[s.Head.Mover];
        int first = s.Places[s.First];
        if (rule.Same ? first == number : first + number == rule.Target) return;
        s.Shown = s.Up;
        EndTurn(ref s);
        if ((s.Hope >> s.Head.Mover & 1) == 0) Settle(ref s);
    }

    /// <summary>
    /// Finds out which seats could still take something, from the cards that were seen and those that may lie unseen.
    /// What can be found only shrinks when cards are taken, or when hardly a place is left unseen while cards are.
    /// </summary>
    private void FindHope(ref PartnersState s)
    {
        int unknown = BitOperations.PopCount(s.Cards & ~s.Known);
        s.Hope = 0;
        for (int i = 0; i < seats.Length; i++)
            if (runs ? RunHope(in s, unknown, seats[i].Target) : PairHope(in s, unknown, seats[i])) s.Hope |= (byte)(1 << i);
    }

    private static bool PairHope(in PartnersState s, int unknown, SeatRule rule)
    {
        ulong one = unknown > 0 ? ulong.MaxValue : 0, two = unknown > 1 ? ulong.MaxValue : 0;
        if (rule.Same) return (s.Twice | s.Present & s.HiddenPresent & one | s.HiddenTwice & two) != 0;
        int mirrored = 63 - rule.Target;
        ulong partners = s.Mirror >> mirrored, hiddenPartners = s.HiddenMirror >> mirrored;
        ulong pairs = s.Present & partners | (s.Present & hiddenPartners | s.HiddenPresent & partners) & one | s.HiddenPresent & hiddenPartners & two;
        return (pairs & rule.LowHalf) != 0 || rule.Half != 0 && s.Seen[rule.Target / 2] + Math.Min((int)s.Hidden[rule.Target / 2], unknown) > 1;
    }

    private static bool RunHope(in PartnersState s, int unknown, int target)
    {
        ulong reach = 1;
        for (ulong numbers = (s.Present | (unknown > 0 ? s.HiddenPresent : 0)) & ((2UL << target) - 2); numbers != 0; numbers &= numbers - 1)
        {
            int n = BitOperations.TrailingZeroCount(numbers);
            for (int copies = Math.Min(s.Seen[n] + (unknown > 0 ? s.Hidden[n] : 0), target / n); copies > 0; copies--) reach |= reach << n;
        }
        return (reach >> target & 1) != 0;
    }

    /// <summary>The sums up to the target that one card, and that two or more cards, of these can make, as bits.</summary>
    private static (ulong One, ulong More) Sums(IReadOnlyDictionary<int, int> counts, int target)
    {
        ulong one = 0, more = 0;
        foreach (var (n, count) in counts)
            for (int copies = n > target ? 0 : Math.Min(count, n == 0 ? 2 : target / n); copies > 0; copies--)
            {
                more |= (more | one) << n;
                one |= 1UL << n;
            }
        return (one, more);
    }

    public int Points(in PartnersState s, int seat) => s.Taken[seat];

    public bool AimReached(in PartnersState s) => s.Cards == 0 && s.Stock == 0;

    public int Left(in PartnersState s) => BitOperations.PopCount(s.Cards) + s.Stock;

    public IReadOnlyList<Possible> Possibilities(in PartnersState s) =>
        [.. ((ReadOnlySpan<byte>)s.Pack)[..s.Unseen].ToArray().GroupBy(n => n).OrderBy(g => g.Key).Select(g => new Possible(g.Key, g.Count(), g.Key.ToString()))];

    public bool IsLegal(in PartnersState s, Move move)
    {
        var rule = seats[s.Head.Mover];
        if (s.Phase != StepKind.Choice) return false;
        if (faceDown)
        {
            if (Forced(in s, rule)) return move.Items == s.Up;
            return move.IsPass && s.Up == 0 || move.Items == 0 && move.Pick is >= 0 and < Partners.MostPlaces && ((s.Cards & ~s.Up) >> move.Pick & 1) != 0;
        }
        if (move.IsPass) return true;
        if ((move.Items & ~s.Cards) != 0) return false;
        var numbers = Numbers(in s, move.Items);
        if (rule.Any) return numbers.Count >= 2 && numbers.Sum() == rule.Target;
        return numbers.Count == 2 && move.First is >= 0 and < 64 && (move.Items >> move.First & 1) != 0
            && (rule.Same ? numbers[0] == numbers[1] : numbers[0] + numbers[1] == rule.Target);
    }

    public IReadOnlyList<Move> Moves(in PartnersState s)
    {
        var rule = seats[s.Head.Mover];
        if (s.Phase != StepKind.Choice) return [];
        if (faceDown)
        {
            if (Forced(in s, rule)) return [new(s.Up, -1, s.First)];
            var picks = new List<Move>();
            for (ulong down = s.Cards & ~s.Up; down != 0; down &= down - 1) picks.Add(new(0, BitOperations.TrailingZeroCount(down)));
            return picks;
        }
        if (rule.Any) return Sets.All(in s, rule.Target);
        var moves = new List<Move>();
        for (ulong pairs = PairsOpen(in s, rule); pairs != 0; pairs &= pairs - 1)
        {
            int low = BitOperations.TrailingZeroCount(pairs);
            moves.Add(Pair(in s, low, rule.Same ? low : rule.Target - low, false));
        }
        return moves;
    }

    private static List<int> Numbers(in PartnersState s, ulong items)
    {
        var numbers = new List<int>();
        for (; items != 0; items &= items - 1) numbers.Add(s.Places[BitOperations.TrailingZeroCount(items)]);
        return numbers;
    }

    public Tapped Read(in PartnersState s, IReadOnlyList<int> items)
    {
        var rule = seats[s.Head.Mover];
        if (items.Count == 0) return Tapped.NeedsMore;
        ulong cards = s.Cards;
        int most = places;
        if (items.Any(i => i < 0 || i >= most || (cards >> i & 1) == 0)) return Tapped.No("There is no card at that place.");
        if (faceDown)
        {
            var pick = Forced(in s, rule) ? new Move(s.Up, -1, s.First) : new Move(0, items[0]);
            return IsLegal(in s, pick) ? Tapped.As(pick) : Tapped.No("That card is turned already.");
        }
        ulong set = items.Aggregate(0UL, (bits, i) => bits | 1UL << i);
        var move = new Move(set, -1, items[0]);
        if (IsLegal(in s, move)) return Tapped.As(move);
        var numbers = Numbers(in s, set);
        int sum = numbers.Sum();
        if (numbers.Count < 2 || rule.Any && sum < rule.Target) return Tapped.NeedsMore;
        return rule.Same
            ? Tapped.No($"{numbers[0]} and {numbers[1]} are not the same. Look again together.")
            : Tapped.No($"{Words.List(numbers.Select(n => n.ToString()))} make {sum}, not {rule.Target}. Look again together.");
    }

    public IReadOnlyList<Zone> Zones(in PartnersState s)
    {
        var state = s;
        var cardForm = form;
        bool down = faceDown;
        bool choosing = s.Phase == StepKind.Choice, forced = choosing && faceDown && Forced(in s, seats[s.Head.Mover]);
        var items = Enumerable.Range(0, places).Select(i =>
        {
            bool card = (state.Cards >> i & 1) != 0, turned = (state.Up >> i & 1) != 0;
            bool open = (state.Known >> i & 1) != 0 && (!down || turned || (state.Shown >> i & 1) != 0);
            return new Item(i, card && open ? state.Places[i] : -1, cardForm, !card ? ItemState.Gone : open ? ItemState.Up : ItemState.Down, choosing && card && (forced ? turned : !down || !turned));
        });
        return
        [
            new(ZoneKind.Grid, "Cards on the table", rows, columns, [.. items]),
            new(ZoneKind.Pile, "Cards to come", 1, 1, [], s.Stock),
            new(ZoneKind.Scores, "Cards taken", 1, seats.Length, [.. Enumerable.Range(0, seats.Length).Select(i => new Item(i, state.Taken[i], Form.Numeral, ItemState.Up, false))]),
        ];
    }

    public string Says(in PartnersState s)
    {
        var rule = seats[s.Head.Mover];
        if (s.Phase == StepKind.Over) return s.Cards == 0 && s.Stock == 0 ? "All cards are taken." : "Nothing goes any more.";
        if (s.Phase == StepKind.Chance) return faceDown || calls ? "Turn up a card." : "Lay out the cards.";
        if (Forced(in s, rule) && faceDown)
            return runs && s.Sum == rule.Target ? $"That makes {rule.Target}: keep them." : runs ? $"Past {rule.Target}: turn them back." : "A pair: keep it.";
        if (runs) return s.Up == 0 ? $"Turn cards to make {rule.Target}." : "Turn one more.";
        if (faceDown) return s.Up == 0 ? "Turn two cards." : "Turn one more.";
        return rule.Same ? "Find two that are the same." : rule.Any ? $"Find cards that make {rule.Target}." : $"Find two that make {rule.Target}.";
    }

    public string Tells(in PartnersState before, Move move, bool found)
    {
        if (move.IsPass) return "found nothing this time";
        if (move.Items == 0) return "turned a card";
        string cards = Words.List(Numbers(in before, move.Items).Select(n => n.ToString()));
        if (runs) return before.Sum == seats[before.Head.Mover].Target ? $"kept {cards}" : $"turned back {cards}";
        return found ? $"took {cards}" : $"passed by {cards}";
    }
}

/// <summary>Choosing among bits.</summary>
internal static class Bits
{
    /// <summary>1 or 0, without a branch: what cards show is hard to foretell.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ulong If(bool holds) => (ulong)Unsafe.BitCast<bool, byte>(holds);

    /// <summary>The position of the n-th set bit, counted from 0.</summary>
    public static int Nth(ulong bits, int n)
    {
        if (System.Runtime.Intrinsics.X86.Bmi2.X64.IsSupported)
            return BitOperations.TrailingZeroCount(System.Runtime.Intrinsics.X86.Bmi2.X64.ParallelBitDeposit(1UL << n, bits));
        for (; n > 0; n--) bits &= bits - 1;
        return BitOperations.TrailingZeroCount(bits);
    }
}

/// <summary>Sets of two or more open cards that make a target. Cards that are alike make the same set.</summary>
internal static class Sets
{
    private const int MostPatterns = 128;

    /// <summary>Every set of two or more cards of a pack that makes the target; null where they are too many or too large for 16 bytes.</summary>
    public static Vector128<byte>[]? Patterns(IReadOnlyDictionary<int, int> counts, int target)
    {
        if (target > 15) return null;
        var numbers = counts.Keys.Where(n => n <= target).Order().ToArray();
        var found = new List<Vector128<byte>>();
        Extend(0, target, 0, new byte[16]);
        return found.Count > MostPatterns ? null : [.. found];

        void Extend(int i, int left, int cards, byte[] need)
        {
            if (found.Count > MostPatterns) return;
            if (i == numbers.Length)
            {
                if (left == 0 && cards >= 2) found.Add(Vector128.Create(need));
                return;
            }
            for (int k = 0; k <= Math.Min(counts[numbers[i]], Partners.MostPlaces) && k * numbers[i] <= left; k++)
            {
                need[numbers[i]] = (byte)k;
                Extend(i + 1, left - k * numbers[i], cards + k, need);
            }
            need[numbers[i]] = 0;
        }
    }

    private static Vector128<byte> Lying(in PartnersState s) => Vector128.Create(((ReadOnlySpan<byte>)s.Seen)[..16]);

    /// <summary>Whether some set lies open.</summary>
    public static bool Open(in PartnersState s, PartnersRules.SeatRule rule)
    {
        if (rule.Patterns is not { } patterns) return SetsOpen(in s, rule.Target);
        var lying = Lying(in s);
        foreach (var need in patterns)
            if (Vector128.GreaterThanOrEqualAll(lying, need)) return true;
        return false;
    }

    /// <summary>Draws one of the open sets, each equally likely.</summary>
    public static Move Draw(in PartnersState s, PartnersRules.SeatRule rule, ref Rng rng)
    {
        if (rule.Patterns is not { } patterns) return DrawByCounting(in s, rule.Target, ref rng);
        var lying = Lying(in s);
        ulong low = 0, high = 0;
        int half = Math.Min(64, patterns.Length);
        for (int i = 0; i < half; i++) low |= (Vector128.GreaterThanOrEqualAll(lying, patterns[i]) ? 1UL : 0) << i;
        for (int i = half; i < patterns.Length; i++) high |= (Vector128.GreaterThanOrEqualAll(lying, patterns[i]) ? 1UL : 0) << (i - half);
        int lows = BitOperations.PopCount(low), pick = rng.Below(lows + BitOperations.PopCount(high));
        var need = patterns[pick < lows ? Bits.Nth(low, pick) : half + Bits.Nth(high, pick - lows)];
        ulong items = 0;
        int first = 0;
        for (uint used = ~Vector128.Equals(need, Vector128<byte>.Zero).ExtractMostSignificantBits() & 0xFFFF; used != 0; used &= used - 1)
        {
            int number = BitOperations.TrailingZeroCount(used);
            ulong at = s.At[number];
            first = BitOperations.TrailingZeroCount(at);
            for (int k = need[number]; k > 0; k--, at &= at - 1) items |= at & (0 - at);
        }
        return new(items, -1, first);
    }

    private static bool SetsOpen(in PartnersState s, int target)
    {
        ulong one = 0, more = 0;
        for (ulong rest = s.Present & ((2UL << target) - 1); rest != 0; rest &= rest - 1)
        {
            int n = BitOperations.TrailingZeroCount(rest);
            for (int copies = n == 0 ? 1 : Math.Min((int)s.Seen[n], target / n); copies > 0; copies--)
            {
                more |= (more | one) << n;
                one |= 1UL << n;
            }
        }
        return (more >> target & 1) != 0;
    }

    /// <summary>The numbers up to the target that lie open, rising.</summary>
    private static int Numbers(in PartnersState s, int target, Span<int> numbers)
    {
        int n = 0;
        for (ulong rest = s.Present & ((2UL << target) - 1); rest != 0; rest &= rest - 1) numbers[n++] = BitOperations.TrailingZeroCount(rest);
        return n;
    }

    /// <summary>
    /// Draws one of the sets evenly: ways[i][t] counts the sets of numbers i, i + 1 … that make t. The single card that
    /// equals the target would be the first in this order, and is passed over.
    /// </summary>
    private static Move DrawByCounting(in PartnersState s, int target, ref Rng rng)
    {
        Span<int> numbers = stackalloc int[32];
        int n = Numbers(in s, target, numbers), width = target + 1;
        // At most 31 numbers from 0 to 30, and sums from 0 to 30.
        Span<int> ways = stackalloc int[32 * 31];
        ways[..((n + 1) * width)].Clear();
        ways[n * width] = 1;
        for (int i = n - 1; i >= 0; i--)
        {
            int number = numbers[i], copies = s.Seen[number];
            var here = ways.Slice(i * width, width);
            var after = ways.Slice((i + 1) * width, width);
            if (number == 0)
            {
                for (int t = 0; t < width; t++) here[t] = after[t] * (copies + 1);
                continue;
            }
            int drop = (copies + 1) * number;
            for (int t = 0; t < width; t++)
                here[t] = after[t] + (t >= number ? here[t - number] : 0) - (t >= drop ? after[t - drop] : 0);
        }
        int single = s.Seen[target] > 0 ? 1 : 0;
        int pick = single + rng.Below(ways[target] - single);
        SixtyFour need = default;
        for (int i = 0, t = target; i < n; i++)
            for (int k = 0; ; k++)
            {
                int w = ways[(i + 1) * width + t - k * numbers[i]];
                if (pick < w)
                {
                    need[numbers[i]] = (byte)k;
                    t -= k * numbers[i];
                    break;
                }
                pick -= w;
            }
        return Collect(in s, in need);
    }

    /// <summary>A set with the most cards.</summary>
    public static Move Largest(in PartnersState s, int target)
    {
        Span<int> numbers = stackalloc int[32];
        int n = Numbers(in s, target, numbers), width = target + 1;
        Span<int> most = stackalloc int[32 * 31];
        most[..((n + 1) * width)].Fill(-1000);
        most[n * width] = 0;
        for (int i = n - 1; i >= 0; i--)
            for (int t = 0; t < width; t++)
                for (int k = 0; k <= s.Seen[numbers[i]] && k * numbers[i] <= t; k++)
                    most[i * width + t] = Math.Max(most[i * width + t], most[(i + 1) * width + t - k * numbers[i]] + k);
        SixtyFour need = default;
        for (int i = 0, t = target; i < n; i++)
            for (int k = 0; k <= s.Seen[numbers[i]] && k * numbers[i] <= t; k++)
            {
                if (most[i * width + t] != most[(i + 1) * width + t - k * numbers[i]] + k) continue;
                need[numbers[i]] = (byte)k;
                t -= k * numbers[i];
                break;
            }
        return Collect(in s, in need);
    }

    /// <summary>Every set, each once; at most 500 of them, which is more than any screen shows.</summary>
    public static IReadOnlyList<Move> All(in PartnersState s, int target)
    {
        Span<int> open = stackalloc int[32];
        int[] numbers = open[..Numbers(in s, target, open)].ToArray();
        var state = s;
        var moves = new List<Move>();
        Extend(0, target, 0, default);
        return moves;

        void Extend(int i, int left, int cards, SixtyFour need)
        {
            if (moves.Count >= 500) return;
            if (i == numbers.Length)
            {
                if (left == 0 && cards >= 2) moves.Add(Collect(in state, in need));
                return;
            }
            for (int k = 0; k <= state.Seen[numbers[i]] && k * numbers[i] <= left; k++)
            {
                need[numbers[i]] = (byte)k;
                Extend(i + 1, left - k * numbers[i], cards + k, need);
            }
        }
    }

    private static Move Collect(in PartnersState s, in SixtyFour need)
    {
        var left = need;
        ulong items = 0;
        int first = -1, largest = -1;
        for (ulong cards = s.Cards; cards != 0; cards &= cards - 1)
        {
            int place = BitOperations.TrailingZeroCount(cards), number = s.Places[place];
            if (left[number] == 0) continue;
            left[number]--;
            items |= 1UL << place;
            if (number > largest) (largest, first) = (number, place);
        }
        return new(items, -1, first);
    }
}
