using System.Collections.Immutable;
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

/// <summary>Gather: roll, say how many, and take so many from the heap until it is gone.</summary>
public sealed class Gather : Frame
{
    public const string One = "one", Two = "two", TwoOn = "two-on", Colour = "colour", Sign = "sign";

    public const int MostPieces = 1000, MostColours = 6, UsualOfEach = 6, UsualRounds = 8;

    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6))), TwoDice = new(new Dice(Die.Of(6), Die.Of(6)));
    private static readonly ChoiceKind Takes = ChoiceKind.Of(("partial", "take what is left"), ("exact", "too large a roll takes none"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Pool = new("pool", "Things in the heap", new WholeKind(1, MostPieces, 1.25), new WholeValue(30), Belongs.Length, Scope.Table, Sits.Things, "How many things lie in the heap; with colours it is the sum of them.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), OneDie, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled; at a place: her own dice.", KnobRole.Dice);
        public static readonly Knob<ChoiceValue> LastTake = new("lastTake", "At the end", Takes, Takes["partial"], Belongs.Length, Scope.Table, Sits.Things, "Whether a roll larger than what is left takes the rest, or none.");
        public static readonly OpenKnob<ColourDieValue> ColourDie = new("colourDie", "Colour die", new ColourDieKind(12), Belongs.RuleLevel, Scope.Table, Sits.Dice, "Rolled with the dice: only things of that colour are taken; with two colours she chooses.");
        public static readonly OpenKnob<ColoursValue> Pieces = new("pieces", "Of each colour", new ColoursKind(MostColours, 200), Belongs.Length, Scope.Table, Sits.Things, "How many things there are of each colour; six where it is left open.");
        public static readonly OpenKnob<SignDieValue> SignDie = new("signDie", "Sign die", new SignDieKind(12), Belongs.RuleLevel, Scope.Table, Sits.Dice, "Rolled with the dice: plus takes, minus gives back to the heap.");
        public static readonly OpenKnob<WholeValue> Rounds = new("rounds", "Rounds", new WholeKind(1, 50), Belongs.Length, Scope.Table, Sits.Game, "How often each player rolls; until the heap is gone where it is left open, or eight times with a sign die.");
        public static readonly Knob<FlagValue> Total = new("total", "Says her total", new FlagKind(), new FlagValue(false), Belongs.RuleLevel, Scope.Both, Sits.Game, "Whether she also says how many she has then.");
        public static readonly Knob<WholeValue> HeadStart = new("headStart", "Head start", new WholeKind(0, 200), new WholeValue(0), Belongs.Fairness, Scope.Seat, Sits.Place, "Things she has before it begins, beside the heap.", KnobRole.HeadStart);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostPieces);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most things", "all together empty the heap");
    }

    public override FrameData Data { get; } = new(
        "gather", "Gather", Family.Counting, "Roll, say how many, and take so many from the heap.", "It ends when the heap is gone, or after the last round.", 1, Engine.MostSeats,
        [Knobs.Pool, Knobs.Dice, Knobs.LastTake, Knobs.ColourDie, Knobs.Pieces, Knobs.SignDie, Knobs.Rounds, Knobs.Total, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free(One, "One die", "Roll one die, say how many, and take so many.", (Knobs.Dice, OneDie)),
            Level.Free(Two, "Two dice, counted", "Roll two dice, count all the dots, and take so many.", (Knobs.Dice, TwoDice)),
            Level.Free(TwoOn, "Two dice, counted on", "Roll two dice, count on from the larger, and take so many.", (Knobs.Dice, TwoDice)),
            Level.Free(Colour, "With a colour", "Roll a number and a colour; take so many of that colour.", (Knobs.Dice, OneDie), (Knobs.ColourDie, new ColourDieValue([["red"], ["red"], ["yellow"], ["yellow"], ["blue"], ["blue"]])), (Knobs.Pieces, new ColoursValue([("red", 8), ("yellow", 8), ("blue", 8)]))),
            Level.Free(Sign, "Plus and minus", "Roll a number and a sign; take so many, or give so many back.", (Knobs.Dice, OneDie), (Knobs.SignDie, new SignDieValue("+++-")), (Knobs.Total, new FlagValue(true))),
        ],
        One, [AskKind.Say, AskKind.Join, AskKind.Take, AskKind.Gone]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var heap = new GatherHeap(setup);
        for (int s = 0; s < heap.Seats; s++)
            if (heap.Cups[s].Dice.Most == 0) problems.Add(new(setup.Path(s, Knobs.Dice), "With nothing but zeros nobody takes anything.", OneDie.ToJson()));
        for (int s = 0; s < heap.Seats; s++)
            if (heap.Pool + heap.HeadStart[s] > MostPieces) problems.Add(new($"players[{s}].allowance.headStart", $"With the heap she could come to more than {MostPieces}.", MostPieces - heap.Pool));
        if (heap.Faces.Length > 0 && heap.Signs.Length > 0)
            problems.Add(new("table.signDie", "A colour die and a sign die do not go together here.", null));
        else if (heap.Faces.Length > 0)
        {
            var missing = heap.Colours.Where((_, c) => heap.Faces.All(f => f.One != c && f.Other != c)).ToList();
            if (missing.Count > 0)
                problems.Add(new("table.colourDie", $"No face shows {Words.List(missing)}; those things would lie for ever.", new ColourDieValue(heap.Colours.Select(c => new[] { c })).ToJson()));
            if (setup.Table.ContainsKey("pool") && setup.Get(Knobs.Pool).Number != heap.Pool)
                problems.Add(new("table.pool", $"Of all colours together there are {heap.Pool}.", heap.Pool));
            if (heap.States > GatherFacts.MostStates)
                problems.Add(new("table.pieces", $"So many colours with so many things can lie in {heap.States:N0} ways, too many to foresee.", Fewer(heap).ToJson()));
        }
        if (problems.Count == 0 && heap is { Exact: true, Rounds: null } && GatherFacts.NeverTaken(heap) is { } left)
            problems.Add(new("table.lastTake", $"When {left} {(left == 1 ? "is" : "are")} left, these dice never roll so little; it would not end.", "partial"));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    /// <summary>The same colours with the most of each that can be foreseen.</summary>
    private static ColoursValue Fewer(GatherHeap heap)
    {
        int each = 1;
        while (Math.Pow(each + 2, heap.Colours.Length) <= GatherFacts.MostStates) each++;
        return new(heap.Colours.Select((c, i) => (c, Math.Min(each, heap.Pieces[i]))));
    }

    /// <summary>How many there are now, where that is said; else how many the dice show.</summary>
    public override Ask MattersMost(Setup setup, int seat, IReadOnlyList<Ask> asks) => asks[^1].Kind == AskKind.Take ? asks[0] : asks[^1];

    protected internal override Game Compile(Setup setup) => new Game<GatherRules, GatherState>(setup, new(new GatherHeap(setup)));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var heap = new GatherHeap(setup);
        var needs = new List<Need> { new("pieces", heap.Pool + heap.HeadStart.Sum()), Need.For(heap.Cups.Select(c => c.Dice)) };
        if (heap.Faces.Length > 0) needs.Add(Need.Blank("colour dice", "colour die", heap.FaceWords));
        if (heap.Signs.Length > 0) needs.Add(Need.Blank("sign dice", "sign die", heap.Signs.Select(f => f == '+' ? "+" : "−")));
        return needs;
    }

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var heap = new GatherHeap(setup);
        var lines = new List<string> { $"A heap of {heap.Pool} small things in the middle{(heap.Faces.Length > 0 ? $": {heap.Value}" : "")}." };
        if (heap.Faces.Length > 0) lines.Add($"On a blank die: {setup.Get(Knobs.ColourDie)}.");
        if (heap.Signs.Length > 0) lines.Add($"On a blank die: {setup.Get(Knobs.SignDie)}.");
        lines.AddRange(Enumerable.Range(0, setup.Seats.Length).Where(s => heap.HeadStart[s] > 0).Select(s => $"Place {s + 1} begins with {heap.HeadStart[s]} of her own."));
        return lines;
    }

    /// <summary>Until the heap is gone; averaged over who begins where that is drawn or goes round.</summary>
    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var heap = new GatherHeap(setup);
        var (rolls, empty) = GatherFacts.Until(heap, Beginners(setup, heap), behaviour == Behaviour.Perfect, spending);
        var facts = new Facts { ["rollsMean"] = new NumberFact(rolls.Mean), ["rollsP90"] = new NumberFact(rolls.Quantile(.9)), Turns = rolls };
        if (heap.Faces.Length > 0) facts["emptyRolls"] = new NumberFact(empty);
        if (heap.Rounds is null) facts.AimReached = 1;
        return facts;
    }

    private static ImmutableArray<int> Beginners(Setup setup, GatherHeap heap)
    {
        var beginners = setup.Beginners;
        // Where all roll alike it is no matter who begins.
        return heap.Cups.Select(c => c.Dice).Distinct().Count() > 1 ? beginners : [beginners[0]];
    }

    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var heap = new GatherHeap(setup);
        var beginners = Beginners(setup, heap);
        var rules = new GatherRules(heap);
        if (PlayedGames.Play<GatherRules, GatherState>(rules, behaviour, game => beginners[game % beginners.Length], 2, Look, spending) is not [var rolls, var empty]) return new();
        var facts = new Facts { ["rollsMean"] = rolls.Mean, ["rollsP90"] = rolls.Quantile(.9) };
        if (heap.Faces.Length > 0) facts["emptyRolls"] = empty.Mean;
        if (heap.Rounds is null) facts.AimReached = 1;
        return facts;

        void Look(in GatherState state, bool over, Span<double> figures)
        {
            if (over) figures[0] = state.Head.Turns;
            else if (rules.IsEmpty(in state)) figures[1]++;
        }
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var heap = new GatherHeap(setup);
        string empty = heap.Faces.Length > 0 ? $" Of those, {Words.About(facts.Number("emptyRolls"), "roll")} {(facts.Number("emptyRolls") < 1.5 ? "meets" : "meet")} a colour that is gone." : "";
        return (heap.Rounds is null ? "Until the heap is gone" : "How many rolls", $"{Words.Capital(Words.About(facts.Number("rollsMean"), "roll"))}{(facts.Number("rollsP90") > Math.Round(facts.Number("rollsMean")) ? $"; nine games in ten take at most {facts.Number("rollsP90"):0}" : "")}.{empty}{ForTenMinutes(heap, facts, secondsATurn)}");
    }

    /// <summary>More small things than this few homes put out.</summary>
    private const int MostAtHome = 60;

    /// <summary>
    /// With more in the heap, each piece takes one roll more in so many as a roll takes on average; so the heap for a number of rolls
    /// follows from the rolls for this one.
    /// </summary>
    private static string ForTenMinutes(GatherHeap heap, Facts facts, double secondsATurn)
    {
        if (heap.Rounds is not null || heap.Faces.Length > 0 || secondsATurn <= 0) return "";
        double more = TenMinutes / secondsATurn - facts.Number("rollsMean");
        int pieces = (int)Math.Round(heap.Pool + more * heap.Cups.Average(c => c.Dice.Total.Mean));
        return pieces is >= 1 and <= MostAtHome ? $" For about ten minutes put out {Words.Count(pieces, "thing")}." : SuchGames(facts.Number("rollsMean"), secondsATurn);
    }

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "pool" => setup.Get(Knobs.ColourDie) is null,
        "pieces" => setup.Get(Knobs.ColourDie) is not null,
        "colourDie" => setup.Get(Knobs.SignDie) is null,
        "signDie" => setup.Get(Knobs.ColourDie) is null,
        _ => true,
    };

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob.Id switch
    {
        "pieces" when setup.Get(Knobs.ColourDie) is not null => new GatherHeap(setup).Value,
        "rounds" when setup.Get(Knobs.SignDie) is not null => new WholeValue(UsualRounds),
        _ => null,
    };

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override IReadOnlyList<string> Audit(Setup setup) => [];

    public override string Summary(Setup setup) => $"a heap of {new GatherHeap(setup).Pool}, {setup.Get(Knobs.Dice)}";

    public override string Summary(Setup setup, int seat) => OwnDice(setup, seat, base.Summary(setup, seat));
}

/// <summary>The heap of one setup, and what each seat rolls. Without a colour die it has one colour, without a name.</summary>
internal sealed record GatherHeap : Seating
{
    public GatherHeap(Setup setup) : base(setup)
    {
        var seats = Enumerable.Range(0, setup.Seats.Length).ToList();
        var die = setup.Get(Gather.Knobs.ColourDie) as ColourDieValue;
        var pieces = setup.Get(Gather.Knobs.Pieces) as ColoursValue;
        Value = die is null ? null : pieces ?? new ColoursValue(die.Faces.SelectMany(f => f).Distinct().Take(Gather.MostColours).Select(c => (c, Gather.UsualOfEach)));
        Colours = Value is null ? [""] : [.. Value.Colours.Select(c => c.Colour)];
        Pieces = Value is null ? [setup.Get(Gather.Knobs.Pool).Number] : [.. Value.Colours.Select(c => c.Count)];
        Faces = die is null ? [] : [.. die.Faces.Select(f => new Face(Array.IndexOf(Colours, f[0]), f.Count > 1 ? Array.IndexOf(Colours, f[1]) : -1))];
        FaceWords = die is null ? [] : [.. die.Faces.Select(f => string.Join(" or ", f))];
        Signs = (setup.Get(Gather.Knobs.SignDie) as SignDieValue)?.Faces ?? "";
        BesideWords = [.. FaceWords, .. Signs.Select(f => f == '+' ? "plus" : "minus")];
        Alike = [.. BesideWords.Select(w => Array.IndexOf(BesideWords, w))];
        (HasBeside, HasSigns) = (Alike.Length > 0, Signs.Length > 0);
        Rounds = (setup.Get(Gather.Knobs.Rounds) as WholeValue)?.Number ?? (Signs.Length > 0 ? Gather.UsualRounds : null);
        Exact = setup.Get(Gather.Knobs.LastTake).Id == "exact";
        Cups = [.. seats.Select(s => new DiceCup(setup.At(s, Gather.Knobs.Dice).Dice))];
        HeadStart = [.. seats.Select(s => setup.At(s, Gather.Knobs.HeadStart).Number)];
        SaysTotal = [.. seats.Select(s => setup.At(s, Gather.Knobs.Total).On)];
        Kinds = new(seats.Select(s => SaysTotal[s] ? (HasSigns ? 2.0 : 1.0) * (Pool + HeadStart.Sum() + 1) * RollKinds(s) : RollKinds(s)));
        CountsAll = [.. Level.Select(l => l is Gather.One or Gather.Two)];
    }

    /// <summary>A turn is told by what was rolled, how many it moved, and where she says the total by that too.</summary>
    public TurnKinds Kinds { get; }

    public int RollKinds(int seat) => (Cups[seat].Dice.Most + 1) * Cups[seat].Kinds;

    /// <summary>A face of the colour die: one colour, or two; −1 where there is none, or none of it in the heap.</summary>
    public readonly record struct Face(int One, int Other);

    /// <summary>The things by colour; null where they have none.</summary>
    public ColoursValue? Value { get; }

    public string[] Colours { get; }

    /// <summary>How many of each colour.</summary>
    public int[] Pieces { get; }

    public int Pool => Pieces.Sum();

    /// <summary>In how many ways the heap can lie.</summary>
    public double States => Pieces.Aggregate(1.0, (n, p) => n * (p + 1));

    public Face[] Faces { get; }

    public string[] FaceWords { get; }

    /// <summary>What the die beside the dice shows, face by face; and for each face the first one that shows the same.</summary>
    public string[] BesideWords { get; }

    public int[] Alike { get; }

    /// <summary>A colour die or a sign die is rolled beside the dice.</summary>
    public bool HasBeside { get; }

    public bool HasSigns { get; }

    /// <summary>The faces of the sign die; none where there is none.</summary>
    public string Signs { get; }

    /// <summary>Rolls of each player; null where the heap ends it.</summary>
    public int? Rounds { get; }

    public bool Exact { get; }

    public DiceCup[] Cups { get; }

    public int[] HeadStart { get; }

    public bool[] SaysTotal { get; }

    /// <summary>By seat: all dots are counted, also of two dice.</summary>
    public bool[] CountsAll { get; }

    /// <summary>How many a roll takes of what is left.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Taken(int roll, int left) => roll <= left ? roll : Exact ? 0 : left;

    /// <summary>The better of two colours: what brings more, then of what more is left, then the first.</summary>
    public int Better(int roll, int one, int leftOfOne, int other, int leftOfOther)
    {
        int gain = Taken(roll, leftOfOne).CompareTo(Taken(roll, leftOfOther));
        return (gain != 0 ? gain : leftOfOne.CompareTo(leftOfOther)) >= 0 ? one : other;
    }
}

/// <summary>Exact answers about a heap that is rolled away.</summary>
internal static class GatherFacts
{
    public const double MostStates = 20_000;

    private const double Negligible = 1e-13, Nothing = 1e-18;
    private const int MostRolls = 200_000;

    /// <summary>A number left of some colour that can be met and that no dice at the table roll; null where there is none.</summary>
    public static int? NeverTaken(GatherHeap heap)
    {
        var rolls = heap.Cups.SelectMany(c => c.Dice.Likely()).Select(r => r.Roll).Where(r => r > 0).Distinct().ToList();
        foreach (int pieces in heap.Pieces)
        {
            var met = new bool[pieces + 1];
            met[pieces] = true;
            for (int left = pieces; left > 0; left--)
            {
                if (!met[left]) continue;
                if (rolls.TrueForAll(r => r > left)) return left;
                foreach (int roll in rolls.Where(r => r <= left)) met[left - roll] = true;
            }
        }
        return null;
    }

    /// <summary>
    /// The distribution of rolls until the heap is gone, or the rounds are over, and the mean number of rolls that meet nothing of
    /// their colour: the chances of all ways the heap can lie are carried on from roll to roll.
    /// </summary>
    /// <param name="beginners">Who may begin, each as likely.</param>
    /// <param name="best">Of two colours the better one is chosen; else either, as likely.</param>
    public static (Pmf Rolls, double Empty) Until(GatherHeap heap, ImmutableArray<int> beginners, bool best, Spending spending)
    {
        int seats = heap.Seats;
        int limit = heap.Rounds is { } rounds ? rounds * seats : MostRolls;
        if (heap.Signs.Length > 0)
        {
            var certain = new double[limit + 1];
            certain[^1] = 1;
            return (new Pmf(certain), 0);
        }
        var walks = beginners.Select(b => Walk(heap, b, limit, best, spending)).ToList();
        return (new Pmf([.. Enumerable.Range(0, walks.Max(w => w.Done.Count)).Select(t => walks.Average(w => t < w.Done.Count ? w.Done[t] : 0))]), walks.Average(w => w.Empty));
    }

    /// <summary>What the colour die comes to while some colours are left.</summary>
    /// <param name="ByColour">The chance that each colour is taken from, where that does not hang on the roll.</param>
    /// <param name="None">The chance of a face without a colour that is left.</param>
    /// <param name="Chosen">Faces of two colours, of which the better is chosen, and their chances.</param>
    private sealed record FaceShares(double[] ByColour, double None, (GatherHeap.Face Face, double Chance)[] Chosen)
    {
        /// <param name="there">The colours that are left, as bits.</param>
        /// <param name="best">Of two colours the better one is chosen; else either, as likely.</param>
        public static FaceShares Of((GatherHeap.Face Face, double Chance)[] faces, int there, int colours, bool best)
        {
            var byColour = new double[colours];
            double none = 0;
            var chosen = new List<(GatherHeap.Face, double)>();
            foreach (var (face, chance) in faces)
            {
                int[] left = [.. new[] { face.One, face.Other }.Where(c => c >= 0 && (there >> c & 1) != 0)];
                if (left.Length == 0) none += chance;
                else if (left.Length == 2 && best) chosen.Add((face, chance));
                else
                    foreach (int colour in left) byColour[colour] += chance / left.Length;
            }
            return new(byColour, none, [.. chosen]);
        }
    }

    private static (List<double> Done, double Empty) Walk(GatherHeap heap, int beginner, int limit, bool best, Spending spending)
    {
        int colours = heap.Pieces.Length, states = (int)heap.States;
        var place = new int[colours];
        for (int c = 0, p = 1; c < colours; p *= heap.Pieces[c++] + 1) place[c] = p;
        var rolls = heap.Cups.Select(c => c.Dice.Likely()).ToArray();
        var faces = heap.Faces.Length == 0 ? [(new GatherHeap.Face(0, -1), 1.0)] : heap.Faces.GroupBy(f => f).Select(g => (Face: g.Key, Chance: g.Count() / (double)heap.Faces.Length)).ToArray();
        double[] here = new double[states], next = new double[states];
        here[^1] = 1;
        // By the colours that are left, as bits.
        var shares = Enumerable.Range(0, 1 << colours).Select(there => FaceShares.Of(faces, there, colours, best)).ToArray();
        var left = new int[colours];
        var done = new List<double> { 0 };
        double open = 1, empty = 0;
        int high = states - 1;
        while (open > Negligible && done.Count <= limit)
        {
            spending.Check();
            var mine = rolls[(beginner + done.Count - 1) % rolls.Length];
            double moving = mine.Sum(r => r.Roll > 0 ? r.Chance : 0);
            Array.Clear(next, 0, high + 1);
            while (high > 0 && here[high] < Nothing) high--;
            Array.Clear(left);
            for (int state = 1; state <= high; state++)
            {
                for (int c = 0; ++left[c] > heap.Pieces[c]; c++) left[c] = 0;
                double mass = here[state];
                if (mass < Nothing) continue;
                int there = 0;
                for (int c = 0; c < colours; c++) there |= left[c] > 0 ? 1 << c : 0;
                var share = shares[there];
                next[state] += mass * share.None;
                empty += mass * share.None * moving;
                for (int c = 0; c < colours; c++)
                    if (share.ByColour[c] > 0)
                        foreach (var (roll, chance) in mine) next[state - heap.Taken(roll, left[c]) * place[c]] += mass * share.ByColour[c] * chance;
                foreach (var (face, chosen) in share.Chosen)
                    foreach (var (roll, chance) in mine)
                    {
                        int colour = heap.Better(roll, face.One, left[face.One], face.Other, left[face.Other]);
                        next[state - heap.Taken(roll, left[colour]) * place[colour]] += mass * chosen * chance;
                    }
            }
            done.Add(next[0]);
            open -= next[0];
            next[0] = 0;
            (here, next) = (next, here);
        }
        // Where rounds end it, what is still open ends there.
        if (heap.Rounds is not null && done.Count == limit + 1) done[^1] += Math.Max(0, open);
        return (done, empty);
    }
}

[InlineArray(Gather.MostColours)]
internal struct ColourCounts
{
    private short first;
}

[InlineArray(Engine.MostSeats * Gather.MostColours)]
internal struct GatheredColours
{
    private short first;
}

internal struct GatherState
{
    public Head Head;
    public Rolled Rolled;

    /// <summary>One more than the face of the colour die, or of the sign die, that was rolled; 0 where none was.</summary>
    public byte Face;
    public ColourCounts Heap;

    /// <summary>Of all colours.</summary>
    public short InHeap;
    public EightCounts Has, Given;

    /// <summary>What each one took, by seat and colour.</summary>
    public GatheredColours Gathered;
}

/// <summary>The rules of Gather: all dice, then one move; with two colours she chooses.</summary>
internal readonly struct GatherRules(GatherHeap heap) : IRules<GatherState>
{
    public int Seats => heap.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref GatherState s) => ref s.Head;

    public void Start(ref GatherState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int c = 0; c < heap.Pieces.Length; c++) s.Heap[c] = (short)heap.Pieces[c];
        s.InHeap = (short)heap.Pool;
        for (int seat = 0; seat < Seats; seat++) s.Has[seat] = (short)heap.HeadStart[seat];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool DiceLie(in GatherState s) => s.Rolled.Count == heap.Cups[s.Head.Mover].Count;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref GatherState s, ref Rng rng) => heap.HasBeside && DiceLie(in s) ? heap.Alike[rng.Below(heap.Alike.Length)] : heap.Cups[s.Head.Mover].Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref GatherState s, int outcome)
    {
        int missing = heap.Cups[s.Head.Mover].Count - s.Rolled.Count;
        if (missing > 0)
        {
            s.Rolled.Add(outcome);
            missing--;
        }
        else s.Face = (byte)(outcome + 1);
        if (missing == 0 && (s.Face > 0 || !heap.HasBeside)) s.Head.Phase = StepKind.Choice;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool IsMinus(in GatherState s) => heap.HasSigns && heap.Signs[s.Face - 1] == '-';

    /// <summary>The colours that can be taken: those of the face that still have things; the first one where none has.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private (int One, int Other) Open(in GatherState s)
    {
        if (!heap.HasBeside || heap.HasSigns) return (0, -1);
        var face = heap.Faces[s.Face - 1];
        bool one = face.One >= 0 && s.Heap[face.One] > 0, other = face.Other >= 0 && s.Heap[face.Other] > 0;
        return one && other && s.Rolled.Total > 0 ? (face.One, face.Other) : one ? (face.One, -1) : other ? (face.Other, -1) : (Nothing, -1);
    }

    /// <summary>A roll that meets nothing of its colour.</summary>
    public bool IsEmpty(in GatherState s) => Open(in s).One == Nothing && s.Rolled.Total > 0;

    /// <summary>The pick that takes nothing, where there is nothing of the colour.</summary>
    private const int Nothing = Gather.MostColours;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in GatherState s, ref Rng rng)
    {
        var (one, other) = Open(in s);
        return new(0, other >= 0 && rng.Below(2) == 1 ? other : one);
    }

    public Move Best(in GatherState s, ref Rng rng)
    {
        var (one, other) = Open(in s);
        return new(0, other < 0 ? one : heap.Better(s.Rolled.Total, one, s.Heap[one], other, s.Heap[other]));
    }

    /// <summary>How many change hands: from the heap, or back to it.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Moved(in GatherState s, Move move) => move.Pick == Nothing ? 0
        : IsMinus(in s) ? Bits.Min(s.Rolled.Total, s.Has[s.Head.Mover]) : heap.Taken(s.Rolled.Total, s.Heap[move.Pick]);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in GatherState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, count = 0;
        if (heap.GrownUp[seat]) return 0;
        var support = heap.Support[seat];
        into[count++] = new(seat, heap.CountsAll[seat] ? new Ask(AskKind.Say, s.Rolled.Total, Form.Dice, support: support) : DiceCup.Asked(in s.Rolled, support));
        int moved = Moved(in s, move), has = s.Has[seat];
        if (moved == 0) return count;
        into[count++] = new(seat, new Ask(AskKind.Take, moved, Form.Objects, support: support));
        if (heap.SaysTotal[seat] && has > 0)
            into[count++] = new(seat, IsMinus(in s) ? new Ask(AskKind.Gone, has, moved, Form.Objects, support) : new Ask(AskKind.Join, Math.Max(has, moved), Math.Min(has, moved), Form.Objects, support));
        return count;
    }

    public int TurnKinds => heap.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in GatherState s, Move move)
    {
        int seat = s.Head.Mover, moved = Moved(in s, move);
        var cup = heap.Cups[seat];
        int kind = moved * cup.Kinds + cup.Kind(in s.Rolled);
        return heap.Kinds[seat] + (heap.SaysTotal[seat] ? (heap.HasSigns ? 2 * s.Has[seat] + (IsMinus(in s) ? 1 : 0) : s.Has[seat]) * heap.RollKinds(seat) + kind : kind);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in GatherState s) => Handling.RollDie;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in GatherState s, Move move) => Handling.GatherTake;

    public bool Seeking(in GatherState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref GatherState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover, moved = Moved(in s, move);
        if (IsMinus(in s)) moved = -moved;
        if (moved != 0)
        {
            s.Heap[move.Pick] -= (short)moved;
            s.InHeap -= (short)moved;
            s.Has[seat] += (short)moved;
            s.Gathered[seat * Gather.MostColours + move.Pick] += (short)moved;
        }
        s.Rolled = default;
        s.Face = 0;
        s.Given[seat]++;
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = Onwards(in s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private StepKind Onwards(in GatherState s) =>
        !heap.HasSigns && s.InHeap == 0 || heap.Rounds is { } rounds && s.Given[s.Head.Mover] >= rounds ? StepKind.Over : StepKind.Chance;

    public void Arrange(ref GatherState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) s.Has[seat] = (short)heap.HeadStart[seat];
        (s.Rolled, s.Face) = (default, 0);
        s.Head.Phase = Onwards(in s);
    }

    public int Points(in GatherState s, int seat) => s.Has[seat];

    public bool AimReached(in GatherState s) => s.Head.Phase == StepKind.Over;

    public int Left(in GatherState s) => s.InHeap;

    public IReadOnlyList<Possible> Possibilities(in GatherState s)
    {
        if (!DiceLie(in s)) return heap.Cups[s.Head.Mover].Possibilities(in s.Rolled);
        string[] words = heap.BesideWords;
        return [.. heap.Alike.GroupBy(face => face).Select(g => new Possible(g.Key, g.Count(), words[g.Key]))];
    }

    public bool IsLegal(in GatherState s, Move move) => Moves(in s).Contains(move);

    public IReadOnlyList<Move> Moves(in GatherState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var (one, other) = Open(in s);
        return other < 0 ? [new(0, one)] : [new(0, one), new(0, other)];
    }

    public Tapped Read(in GatherState s, IReadOnlyList<int> items) => items is [var colour] && Moves(in s).Contains(new(0, colour)) ? Tapped.As(new(0, colour)) : Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in GatherState s)
    {
        var zones = new List<Zone>();
        if (s.Rolled.Count > 0)
        {
            var lying = DiceCup.Lying(in s.Rolled);
            string? beside = s.Face == 0 ? null : heap.Faces.Length > 0 ? heap.FaceWords[s.Face - 1] : IsMinus(in s) ? "−" : "+";
            zones.Add(beside is null ? lying : lying with { Dice = [.. lying.Dice, new(lying.Dice.Count, -1, Form.None, ItemState.Up, false) { Words = beside }] });
        }
        string[] colours = heap.Colours;
        if (Moves(in s) is { Count: > 1 } ways)
            zones.Add(new ChoiceKeys("Which colour", [.. ways.Select(m => new Item(m.Pick, m.Pick, Form.None, ItemState.Up, true) { Words = colours[m.Pick] })]));
        var lots = new List<Lot>();
        for (int c = 0; c < colours.Length; c++) lots.Add(new(colours[c], s.Heap[c]));
        zones.Add(new Heap("The heap", lots));
        for (int seat = 0; seat < Seats; seat++) zones.Add(new Heap("Gathered", Gathered(in s, seat), seat));
        return zones;
    }

    /// <summary>What she has, by colour; a head start has none.</summary>
    private List<Lot> Gathered(in GatherState s, int seat)
    {
        if (heap.Colours.Length == 1) return [new(heap.Colours[0], s.Has[seat])];
        var lots = new List<Lot>();
        int coloured = 0;
        for (int c = 0; c < heap.Colours.Length; c++)
        {
            int hers = s.Gathered[seat * Gather.MostColours + c];
            coloured += hers;
            lots.Add(new(heap.Colours[c], hers));
        }
        lots.Add(new("", s.Has[seat] - coloured));
        return lots;
    }

    public string Says(in GatherState s)
    {
        if (s.Head.Phase == StepKind.Over) return s.InHeap == 0 ? "The heap is gone." : "That was the last round.";
        if (s.Head.Phase == StepKind.Chance) return DiceLie(in s) ? heap.Faces.Length > 0 ? "Which colour?" : "Plus or minus?" : "Roll.";
        var (one, other) = Open(in s);
        if (other >= 0) return "How many? Choose a colour.";
        if (one == Nothing) return "How many? None of that colour is left.";
        string colour = heap.Faces.Length > 0 ? $" {heap.Colours[one]}" : "";
        return IsMinus(in s) ? "How many? Give so many back." : heap.SaysTotal[s.Head.Mover] ? "Take so many. How many then?" : $"How many? Take so many{colour}.";
    }

    public string Tells(in GatherState before, Move move, bool found)
    {
        int moved = Moved(in before, move);
        string colour = move.Pick < heap.Colours.Length && heap.Faces.Length > 0 ? $" {heap.Colours[move.Pick]}" : "";
        return $"rolled {before.Rolled.Total}, {(IsMinus(in before) ? "gave back" : "took")} {moved}{colour}";
    }
}
