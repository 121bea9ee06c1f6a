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

/// <summary>Homing: roll and go up or down, as one likes; after some rounds the nearest to the mark wins.</summary>
public sealed class Homing : Frame
{
    public const int MostRounds = 20, LargestNumber = 1000;

    private static readonly DiceValue OneDie = new(new Dice(Die.Of(6)));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Start = new("start", "Begin on", new WholeKind(0, LargestNumber), new WholeValue(10), Belongs.Range, Scope.Table, Sits.Line, "The number everyone begins on.");
        public static readonly OpenKnob<WholeValue> Mark = new("mark", "The mark", new WholeKind(0, LargestNumber), Belongs.Range, Scope.Table, Sits.Line, "The number to come home to; the first one where it is left open.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Rounds", new WholeKind(1, MostRounds), new WholeValue(5), Belongs.Length, Scope.Table, Sits.Game, "How often each player rolls.");
        public static readonly Knob<DiceValue> Dice = new("dice", "Dice", new DiceKind(), OneDie, Belongs.Range, Scope.Both, Sits.Dice, "What is rolled and added; at a place: her own dice.", KnobRole.Dice);
        public static readonly OpenKnob<RangeValue> Line = new("line", "The line", new RangeKind(0, LargestNumber), Belongs.Range, Scope.Table, Sits.Line, "The numbers on the line; a move off it is not allowed. Endless where it is left open.");
        public static readonly Knob<FlagValue> Signs = new("signs", "Write + and −", new FlagKind(), new FlagValue(false), Belongs.RuleLevel, Scope.Table, Sits.Game, "Each move is written down with its sign.");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(100);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("the nearest", "all together come home");
    }

    public override FrameData Data { get; } = new(
        "homing", "Homing", Family.Line, "Roll and go up or down the line: who is nearest to the mark in the end?", "It ends after the last round.", 1, Engine.MostSeats,
        [Knobs.Start, Knobs.Mark, Knobs.Rounds, Knobs.Dice, Knobs.Line, Knobs.Signs, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free("move", "Up or down", "Choose up or down, and say where you land."),
            Level.Free("written", "Written down", "Choose up or down, and write it with plus or minus.", (Knobs.Signs, new FlagValue(true))),
        ],
        "move", [AskKind.On, AskKind.Back, AskKind.Gap]);

    public override bool ShowsPoints => false;

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        var line = new HomingLine(setup);
        for (int s = 0; s < setup.Seats.Length; s++)
            if (line.Cups[s].Dice.Most == 0) problems.Add(new(setup.Path(s, Knobs.Dice), "With nothing but zeros nobody moves.", OneDie.ToJson()));
        if (setup.Get(Knobs.Line) is RangeValue { Range: var range })
        {
            if (!range.Contains(line.Start)) problems.Add(new("table.start", $"{line.Start} is not on the line from {range.Low} to {range.High}.", Math.Clamp(line.Start, range.Low, range.High)));
            if (setup.Get(Knobs.Mark) is not null && !range.Contains(line.Mark)) problems.Add(new("table.mark", $"The mark {line.Mark} is not on the line from {range.Low} to {range.High}.", Math.Clamp(line.Mark, range.Low, range.High)));
            for (int s = 0; s < setup.Seats.Length && problems.Count == 0; s++)
                if (line.Cups[s].Dice.Least > range.High - range.Low) problems.Add(new("table.line", $"No roll of {setup.At(s, Knobs.Dice)} has room on this line.", new RangeValue(new(range.Low, range.Low + 2 * line.Cups[s].Dice.Most)).ToJson()));
        }
        else if (line.Start + line.Furthest > LargestNumber)
            problems.Add(new("table.rounds", $"One could come beyond {LargestNumber}.", Math.Max(1, (LargestNumber - line.Start) / Math.Max(1, line.Cups.Max(c => c.Dice.Most)))));
        return [.. problems.DistinctBy(p => p.Path)];
    }

    protected internal override Game Compile(Setup setup) => new Game<HomingRules, HomingState>(setup, new(new HomingLine(setup)));

    public override IReadOnlyList<Need> Needs(Setup setup) =>
        [new("lines", 1), Need.For(new HomingLine(setup).Cups.Select(c => c.Dice)), new("pieces", setup.Seats.Length)];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var line = new HomingLine(setup);
        return
        [
            setup.Get(Knobs.Line) is RangeValue { Range: var range } ? $"Draw a line from {range.Low} to {range.High}." : LongEnough(line),
            $"Everyone begins on {line.Start}; the mark is {line.Mark}. {Words.Count(line.Rounds, "round")}.",
            .. setup.Get(Knobs.Signs).On ? ["Paper and pencil: each move is written with + or −."] : Array.Empty<string>(),
        ];
    }

    private static string LongEnough(HomingLine line)
    {
        var (low, high) = HomingFacts.Reach(line, 0, false, Spending.Unlimited);
        return $"Draw a line from {Math.Max(0, low)} to {high}: nineteen times in twenty that is long enough.";
    }

    /// <summary>Best play is for oneself alone; what is believed of a child chooses evenly.</summary>
    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var line = new HomingLine(setup);
        // Those with the same dice end alike.
        var byDice = new Dictionary<Dice, HomingFacts>();
        for (int s = 0; s < setup.Seats.Length; s++)
            if (!byDice.ContainsKey(line.Cups[s].Dice)) byDice[line.Cups[s].Dice] = HomingFacts.Of(line, s, behaviour == Behaviour.Perfect, spending);
        return Told(setup, line, s => byDice[line.Cups[s].Dice]);
    }

    /// <summary>Where one comes is played; how far one can come at all is counted.</summary>
    protected internal override Facts PlayedFacts(Setup setup, Behaviour behaviour, Spending spending)
    {
        var line = new HomingLine(setup);
        var ends = HomingFacts.Played(line, behaviour == Behaviour.Perfect, spending);
        return ends is null ? new() : Told(setup, line, s => ends[s]);
    }

    private static Facts Told(Setup setup, HomingLine line, Func<int, HomingFacts> ends)
    {
        var turns = new double[line.Rounds * setup.Seats.Length + 1];
        turns[^1] = 1;
        return new Facts
        {
            ["gapMean"] = PerSeat(setup, s => ends(s).GapMean),
            ["pExact"] = PerSeat(setup, s => ends(s).Exactly),
            ["reach"] = PerSeat(setup, s => new MapFact([("low", new(ends(s).Low)), ("high", new(ends(s).High)), ("lowP95", ends(s).LowP95), ("highP95", ends(s).HighP95)])),
            Turns = new Pmf(turns),
        };
    }

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var line = new HomingLine(setup);
        var best = HomingFacts.Of(line, 0, true, spending);
        var any = HomingFacts.Of(line, 0, false, spending);
        return ("Coming home", $"Who always chooses best ends {Words.About(best.GapMean.Value, "step")} from the mark, and on it in {100 * best.Exactly.Value:0} of 100 games; who chooses by chance ends {Words.About(any.GapMean.Value, "step")} from it. Nineteen games in twenty stay between {any.LowP95.Value:0} and {any.HighP95.Value:0}; none leaves {any.Low} to {any.High}.");
    }

    /// <summary>Choosing best, and choosing anyhow.</summary>
    protected internal override IReadOnlyList<Journey> Journeys(Setup setup, Spending spending)
    {
        var line = new HomingLine(setup);
        return [HomingFacts.Journey(line, true, "choosing best", spending), HomingFacts.Journey(line, false, "choosing anyhow", spending)];
    }

    protected internal override ChoiceTree Choices(Setup setup)
    {
        var line = new HomingLine(setup);
        var plan = line.Best[0].Value;
        var chances = line.Cups[0].Dice.Chances.ToArray();
        var rolls = new List<(int, IReadOnlyList<Branch>)>();
        for (int roll = 1; roll < chances.Length; roll++)
        {
            if (chances[roll] == 0) continue;
            var (up, down) = (line.Start + roll, line.Start - roll);
            bool ups = line.Allows(up), downs = line.Allows(down), best = ups && plan.Prefers(up, down, line.Rounds - 1);
            var branches = new List<Branch>();
            if (ups) branches.Add(new("up", up, plan.Gap(up, line.Rounds - 1), best));
            if (downs) branches.Add(new("down", down, plan.Gap(down, line.Rounds - 1), !best || plan.AreEqual(up, down, line.Rounds - 1)));
            if (branches.Count > 0) rolls.Add((roll, branches));
        }
        return new(line.Start, rolls);
    }

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Dice);

    public override KnobValue? LeftOpen(Setup setup, Knob knob) => knob == Knobs.Mark ? setup.Get(Knobs.Start) : null;

    public override IReadOnlyList<string> Audit(Setup setup) => [];

    public override string Summary(Setup setup) => $"from {setup.Get(Knobs.Start)} to {new HomingLine(setup).Mark} in {Words.Count(new HomingLine(setup).Rounds, "round")}";
}

/// <summary>The line of one setup.</summary>
internal sealed record HomingLine : Seating
{
    public HomingLine(Setup setup) : base(setup)
    {
        Start = setup.Get(Homing.Knobs.Start).Number;
        Mark = setup.Get(Homing.Knobs.Mark) is WholeValue mark ? mark.Number : Start;
        Rounds = setup.Get(Homing.Knobs.Rounds).Number;
        Writes = setup.Get(Homing.Knobs.Signs).On;
        Cups = [.. Enumerable.Range(0, setup.Seats.Length).Select(s => new DiceCup(setup.At(s, Homing.Knobs.Dice).Dice))];
        (Low, High) = setup.Get(Homing.Knobs.Line) is RangeValue { Range: var range } ? (range.Low, range.High) : (int.MinValue, int.MaxValue);
        Furthest = Rounds * Cups.Max(c => c.Dice.Most);
        var plans = Cups.Select(c => c.Dice).Distinct().ToDictionary(d => d, d => new Lazy<HomingPlan>(() => new HomingPlan(this, d)));
        Best = [.. Cups.Select(c => plans[c.Dice])];
    }

    public int Start { get; }

    public int Mark { get; }

    public int Rounds { get; }

    public DiceCup[] Cups { get; }

    public int Low { get; }

    public int High { get; }

    /// <summary>Each move is written down with its sign.</summary>
    public bool Writes { get; }

    /// <summary>By seat, how to choose best; worked out when it is first needed.</summary>
    public Lazy<HomingPlan>[] Best { get; }

    /// <summary>How far one can come from the start.</summary>
    public int Furthest { get; }

    /// <summary>Down, up, or to stay; in the last round or before.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Allows(int number) => number >= Low && number <= High;
}

/// <summary>
/// The best choices: least expected distance from the mark in the end, and of equal ones the higher chance of ending on
/// it. A walk backwards over rounds and numbers.
/// </summary>
internal sealed class HomingPlan
{
    private const double Tie = 1e-12;

    private readonly HomingLine line;
    private readonly int lowest, most;
    private readonly (double Gap, double Exact)[][] value;

    public HomingPlan(HomingLine line, Dice dice)
    {
        this.line = line;
        most = dice.Most;
        int reach = line.Rounds * most;
        lowest = Math.Max(line.Low, line.Start - reach);
        int highest = Math.Min(line.High, line.Start + reach), n = highest - lowest + 1;
        value = new (double, double)[line.Rounds + 1][];
        value[0] = [.. Enumerable.Range(0, n).Select(i => ((double)Math.Abs(lowest + i - line.Mark), lowest + i == line.Mark ? 1.0 : 0))];
        var chances = dice.Chances.ToArray();
        for (int left = 1; left <= line.Rounds; left++)
        {
            value[left] = new (double, double)[n];
            // Only numbers that can be met by then have their followers in the table.
            int far = (line.Rounds - left) * most;
            for (int i = Math.Max(0, line.Start - far - lowest); i <= Math.Min(n - 1, line.Start + far - lowest); i++)
            {
                double gap = 0, exact = 0;
                for (int roll = 0; roll < chances.Length; roll++)
                {
                    if (chances[roll] == 0) continue;
                    var (up, down) = (lowest + i + roll, lowest + i - roll);
                    int to = !line.Allows(up) && !line.Allows(down) ? i : (Prefers(up, down, left - 1) ? up : down) - lowest;
                    var best = value[left - 1][to];
                    gap += chances[roll] * best.Gap;
                    exact += chances[roll] * best.Exact;
                }
                value[left][i] = (gap, exact);
            }
        }
    }

    /// <summary>From where a roll leads where, choosing best, with so many rounds left after it: numbers that can be met by then, counted from the lowest.</summary>
    public List<HomingStretch> Ways(int left, int roll, int most)
    {
        var ways = new List<HomingStretch>();
        int far = (line.Rounds - left - 1) * most, n = value[0].Length;
        for (int i = Math.Max(0, line.Start - far - lowest); i <= Math.Min(n - 1, line.Start + far - lowest); i++)
        {
            var (up, down) = (lowest + i + roll, lowest + i - roll);
            HomingStretch.Add(ways, i, !line.Allows(up) && !line.Allows(down) ? 0 : Prefers(up, down, left) ? roll : -roll);
        }
        return ways;
    }

    /// <summary>How far from the mark one ends on average from a number that can be met, with so many rounds left.</summary>
    public double Gap(int number, int left) => value[left][number - lowest].Gap;

    /// <summary>Up and down, where both are allowed, lead to the same.</summary>
    public bool AreEqual(int up, int down, int left) =>
        line.Allows(up) && line.Allows(down) && Math.Abs(Gap(up, left) - Gap(down, left)) <= Tie && Math.Abs(value[left][up - lowest].Exact - value[left][down - lowest].Exact) <= Tie;

    /// <summary>A number that these dice can bring one to with so many rounds left. Who came with other dice may stand further off: nearer is better there.</summary>
    private bool IsMet(int number, int left) => Math.Abs(number - line.Start) <= (line.Rounds - left) * most;

    /// <summary>Whether up is better than down, of two of which one at least is allowed, with so many rounds left afterwards.</summary>
    public bool Prefers(int up, int down, int left)
    {
        if (!line.Allows(up)) return false;
        if (!line.Allows(down)) return true;
        if (!IsMet(up, left) || !IsMet(down, left)) return Math.Abs(up - line.Mark) <= Math.Abs(down - line.Mark);
        var (a, b) = (value[left][up - lowest], value[left][down - lowest]);
        return Math.Abs(a.Gap - b.Gap) > Tie ? a.Gap < b.Gap : a.Exact >= b.Exact - Tie;
    }
}

/// <summary>Numbers next to each other, counted from the lowest, from which one goes the same way.</summary>
internal readonly record struct HomingStretch(int From, int To, int By)
{
    /// <summary>Adds the next number to the last stretch, or begins a new one.</summary>
    public static void Add(List<HomingStretch> stretches, int number, int by)
    {
        if (stretches.Count > 0 && stretches[^1] is var last && last.To == number - 1 && last.By == by) stretches[^1] = last with { To = number };
        else stretches.Add(new(number, number, by));
    }
}

/// <summary>Where one is in the end, and how far one came.</summary>
/// <param name="Low">The lowest number that can be met at all; <paramref name="LowP95"/>: the lowest met is not below it in 95 of 100 games.</param>
internal sealed record HomingFacts(NumberFact GapMean, NumberFact Exactly, int Low, int High, NumberFact LowP95, NumberFact HighP95)
{
    private const int Enough = 20_000;

    public static HomingFacts Of(HomingLine line, int seat, bool best, Spending spending)
    {
        var walk = new HomingWalk(line, seat, best, spending);
        var (ends, low, high) = walk.Along(int.MinValue, int.MaxValue);
        var (lowP95, highP95) = Quantiles(walk, line.Start, low, high);
        return new(new(ends.Sum(e => e.Value * Math.Abs(e.Key - line.Mark))), new(ends.GetValueOrDefault(line.Mark)), low, high, new(lowP95), new(highP95));
    }

    /// <summary>What the lowest number met is not below, and the highest not above, in 95 of 100 games each.</summary>
    public static (int Low, int High) Reach(HomingLine line, int seat, bool best, Spending spending)
    {
        var walk = new HomingWalk(line, seat, best, spending);
        var (_, low, high) = walk.Along(int.MinValue, int.MaxValue);
        return Quantiles(walk, line.Start, low, high);
    }

    private static (int Low, int High) Quantiles(HomingWalk walk, int start, int low, int high)
    {
        return (Quantile(low, bound => walk.Along(bound, int.MaxValue)), Quantile(high, bound => walk.Along(int.MinValue, bound)));

        // The bound nearest to the start that is kept in 95 of 100 games; the chance grows with the distance.
        int Quantile(int extreme, Func<int, (Dictionary<int, double> Ends, int, int)> inside)
        {
            int near = start, far = extreme;
            if (Kept(near)) return near;
            while (Math.Abs(far - near) > 1)
            {
                int middle = near + (far - near) / 2;
                if (Kept(middle)) far = middle;
                else near = middle;
            }
            return far;

            bool Kept(int bound) => inside(bound).Ends.Values.Sum() >= .95 - 1e-12;
        }
    }

    /// <summary>Where one is after each round.</summary>
    public static Journey Journey(HomingLine line, bool best, string whose, Spending spending)
    {
        var rounds = new List<Stretch>();
        var (_, low, high) = new HomingWalk(line, 0, best, spending).Along(int.MinValue, int.MaxValue, (chances, lowest) => rounds.Add(Stretch.Of(chances, lowest)));
        return new(whose, low, high, line.Start, rounds);
    }

    /// <summary>The same by games that are played, by seat; null where none ended in time.</summary>
    public static HomingFacts[]? Played(HomingLine line, bool best, Spending spending)
    {
        // Those with the same dice end alike.
        var played = line.Cups.Select((c, s) => (c.Dice, Seat: s)).DistinctBy(c => c.Dice).ToDictionary(c => c.Dice, c => (c.Seat, Figures: Enumerable.Range(0, 4).Select(_ => new PlayedFigure()).ToArray()));
        int game = 0;
        for (; game < Enough && !spending.IsSpent; game++)
            foreach (var (seat, figures) in played.Values) PlayOne(line, seat, best, game, figures);
        if (game == 0) return null;
        return [.. line.Cups.Select(c =>
        {
            var (seat, figures) = played[c.Dice];
            var (low, high) = Extremes(line, seat, best);
            return new HomingFacts(figures[0].Mean, figures[1].Mean, low, high, figures[2].Quantile(.05), figures[3].Quantile(.95));
        })];
    }

    private static void PlayOne(HomingLine line, int seat, bool best, int game, PlayedFigure[] figures)
    {
        var rng = Rng.ForGame(20 + seat, game);
        var cup = line.Cups[seat];
        int here = line.Start, low = here, high = here;
        for (int left = line.Rounds - 1; left >= 0; left--)
        {
            var rolled = default(Rolled);
            while (rolled.Count < cup.Count) rolled.Add(cup.Draw(in rolled, ref rng));
            var (up, down) = (here + rolled.Total, here - rolled.Total);
            bool ups = line.Allows(up), downs = line.Allows(down);
            if (ups || downs) here = (best ? line.Best[seat].Value.Prefers(up, down, left) : ups && (!downs || rng.Below(2) == 1)) ? up : down;
            (low, high) = (Math.Min(low, here), Math.Max(high, here));
        }
        figures[0].Add(Math.Abs(here - line.Mark));
        figures[1].Add(here == line.Mark ? 1 : 0);
        figures[2].Add(low);
        figures[3].Add(high);
    }

    /// <summary>The lowest and the highest number that can be met at all.</summary>
    private static (int Low, int High) Extremes(HomingLine line, int seat, bool best)
    {
        int[] rolls = [.. Enumerable.Range(0, line.Cups[seat].Dice.Most + 1).Where(r => line.Cups[seat].Dice.Chances[r] > 0)];
        int reach = line.Rounds * line.Cups[seat].Dice.Most, lowest = Math.Max(line.Low, line.Start - reach), n = Math.Min(line.High, line.Start + reach) - lowest + 1;
        bool[] here = new bool[n], next = new bool[n];
        here[line.Start - lowest] = true;
        int low = line.Start, high = line.Start;
        for (int left = line.Rounds - 1; left >= 0; left--)
        {
            Array.Clear(next);
            for (int i = 0; i < n; i++)
            {
                if (!here[i]) continue;
                foreach (int roll in rolls)
                {
                    var (up, down) = (lowest + i + roll, lowest + i - roll);
                    bool ups = line.Allows(up), downs = line.Allows(down);
                    if (best && ups && downs) (ups, downs) = line.Best[seat].Value.Prefers(up, down, left) ? (true, false) : (false, true);
                    if (ups) next[i + roll] = true;
                    if (downs) next[i - roll] = true;
                    if (!ups && !downs) next[i] = true;
                }
            }
            (low, high) = (Math.Min(low, lowest + Array.IndexOf(next, true)), Math.Max(high, lowest + Array.LastIndexOf(next, true)));
            (here, next) = (next, here);
        }
        return (low, high);
    }
}

/// <summary>The chances of all numbers, carried over round by round; the ways of choosing best are kept from walk to walk.</summary>
internal sealed class HomingWalk(HomingLine line, int seat, bool best, Spending spending)
{
    private readonly Dice dice = line.Cups[seat].Dice;
    private readonly Dictionary<(int Left, int Roll), List<HomingStretch>> ways = [];

    /// <summary>The chances of the last number, of games that never left what lies between two bounds; and the furthest numbers met.</summary>
    /// <param name="after">Is told the chances of all numbers after each round, and the lowest of those numbers.</param>
    public (Dictionary<int, double> Ends, int Low, int High) Along(int from, int to, Action<double[], int>? after = null)
    {
        var chances = dice.Chances.ToArray();
        int reach = line.Rounds * dice.Most, lowest = Math.Max(line.Low, line.Start - reach), n = Math.Min(line.High, line.Start + reach) - lowest + 1;
        double[] here = new double[n], next = new double[n];
        here[line.Start - lowest] = 1;
        int low = line.Start, high = line.Start;
        for (int left = line.Rounds - 1; left >= 0; left--)
        {
            Array.Clear(next);
            for (int roll = 0; roll < chances.Length; roll++)
            {
                if (chances[roll] == 0) continue;
                spending.Check();
                if (best)
                    foreach (var way in Ways(left, roll)) Carry(way.From, way.To, way.By, chances[roll]);
                else
                {
                    // Either way from the middle; from the ends the only one there is, or none. Beyond what can be met nothing is carried.
                    int ups = n - roll - 1;
                    Carry(roll, ups, roll, chances[roll] / 2);
                    Carry(roll, ups, -roll, chances[roll] / 2);
                    Carry(0, Math.Min(roll - 1, ups), roll, chances[roll]);
                    Carry(Math.Max(roll, ups + 1), n - 1, -roll, chances[roll]);
                    Carry(Math.Max(0, ups + 1), Math.Min(n, roll) - 1, 0, chances[roll]);
                }
            }
            int first = Array.FindIndex(next, c => c > 0), last = Array.FindLastIndex(next, c => c > 0);
            if (first >= 0) (low, high) = (Math.Min(low, lowest + first), Math.Max(high, lowest + last));
            if (from > lowest) Array.Clear(next, 0, Math.Min(n, from - lowest));
            if (to < lowest + n - 1) Array.Clear(next, Math.Max(0, to - lowest + 1), n - Math.Max(0, to - lowest + 1));
            (here, next) = (next, here);
            after?.Invoke(here, lowest);
        }
        return (Enumerable.Range(0, n).Where(i => here[i] > 0).ToDictionary(i => lowest + i, i => here[i]), low, high);

        void Carry(int first, int last, int by, double chance)
        {
            if (last >= first) Walks.Carry(here.AsSpan(first, last - first + 1), chance, next.AsSpan(first + by));
        }
    }

    private List<HomingStretch> Ways(int left, int roll)
    {
        if (ways.TryGetValue((left, roll), out var known)) return known;
        var found = line.Best[seat].Value.Ways(left, roll, dice.Most);
        spending.Hold(16L * found.Capacity + 64);
        return ways[(left, roll)] = found;
    }
}

internal struct HomingState
{
    public Head Head;
    public Rolled Rolled;
    public EightCounts Rolls;

    /// <summary>Rolls still to come, of all who are here.</summary>
    public int ToCome;

    /// <summary>By seat, where she is.</summary>
    public EightNumbers At;
}

/// <summary>The rules of Homing: roll, then up (1) or down (0); or stay where neither goes.</summary>
internal readonly struct HomingRules(HomingLine line) : IRules<HomingState>
{
    private const int GoDown = 0, GoUp = 1, Around = 8;

    public int Seats => line.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref HomingState s) => ref s.Head;

    public void Start(ref HomingState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int seat = 0; seat < Seats; seat++) s.At[seat] = line.Start;
        s.ToCome = Left(in s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref HomingState s, ref Rng rng) => line.Cups[s.Head.Mover].Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref HomingState s, int outcome)
    {
        s.Rolled.Add(outcome);
        if (s.Rolled.Count < line.Cups[s.Head.Mover].Count) return;
        s.Head.Phase = StepKind.Choice;
        if (!Goes(in s, GoUp) && !Goes(in s, GoDown)) s.Head.Stuck = true;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int To(in HomingState s, int way) => s.At[s.Head.Mover] + (way == GoUp ? s.Rolled.Total : -s.Rolled.Total);

    /// <summary>Where a move leads.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int There(in HomingState s, Move move) => move.IsPass ? s.At[s.Head.Mover] : To(in s, move.Pick);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool Goes(in HomingState s, int way) => line.Allows(To(in s, way));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in HomingState s, ref Rng rng)
    {
        bool up = Goes(in s, GoUp), down = Goes(in s, GoDown);
        return up && down ? new(0, rng.Below(2)) : up ? new(0, GoUp) : down ? new(0, GoDown) : Move.Pass;
    }

    public Move Best(in HomingState s, ref Rng rng)
    {
        if (!Goes(in s, GoUp) && !Goes(in s, GoDown)) return Move.Pass;
        return new(0, line.Best[s.Head.Mover].Value.Prefers(To(in s, GoUp), To(in s, GoDown), line.Rounds - s.Rolls[s.Head.Mover] - 1) ? GoUp : GoDown);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in HomingState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, here = s.At[seat], count = 0;
        if (line.GrownUp[seat] || here < 0) return 0;
        int there = There(in s, move);
        if (there != here && there >= 0)
            into[count++] = new(seat, new Ask(there > here ? AskKind.On : AskKind.Back, here, Math.Abs(there - here), Form.Line, line.Support[seat]));
        // In the end she says how far she is from home.
        if (s.Rolls[seat] == line.Rounds - 1 && there != line.Mark && there >= 0) into[count++] = new(seat, new Ask(AskKind.Gap, Math.Max(there, line.Mark), Math.Min(there, line.Mark), Form.Numeral, line.Support[seat]));
        return count;
    }

    /// <summary>One seldom stands at the same number with the same roll: numbering that would cost more than looking up the asks.</summary>
    public int TurnKinds => 0;

    public int TurnKind(in HomingState s, Move move) => 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in HomingState s) => Handling.RollDie;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in HomingState s, Move move) => line.Writes ? Handling.MovePiece + Handling.WriteMove : Handling.MovePiece;

    public bool Seeking(in HomingState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref HomingState s, Move move, Answered answered)
    {
        s.At[s.Head.Mover] = There(in s, move);
        s.Rolls[s.Head.Mover]++;
        s.Rolled = default;
        s.Head.Turns++;
        s.Head.Phase = --s.ToCome == 0 ? StepKind.Over : StepKind.Chance;
        if (s.ToCome > 0) Pass(ref s);
    }

    /// <summary>On to the next who still has rolls.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Pass(ref HomingState s)
    {
        do s.Head.NextMover();
        while (s.Rolls[s.Head.Mover] >= line.Rounds);
    }

    public void Recount(ref HomingState s) => s.ToCome = Left(in s);

    public void Arrange(ref HomingState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) s.At[seat] = line.Start;
        s.Rolled = default;
        s.ToCome = Left(in s);
        s.Head.Phase = s.ToCome == 0 ? StepKind.Over : StepKind.Chance;
        if (s.ToCome > 0 && s.Rolls[s.Head.Mover] >= line.Rounds) Pass(ref s);
    }

    /// <summary>Nearer is more: how far one can be off at most, less how far she is.</summary>
    public int Points(in HomingState s, int seat) => line.Furthest + Math.Abs(line.Start - line.Mark) - Math.Abs(s.At[seat] - line.Mark);

    public bool AimReached(in HomingState s)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (s.At[seat] != line.Mark) return false;
        return true;
    }

    public int Left(in HomingState s)
    {
        int left = 0;
        for (int seat = 0; seat < Seats; seat++) left += (s.Head.Active >> seat & 1) != 0 ? line.Rounds - s.Rolls[seat] : 0;
        return left;
    }

    /// <summary>The pieces on the line.</summary>
    public int Things(in HomingState s) => Seats;

    public IReadOnlyList<Possible> Possibilities(in HomingState s) => line.Cups[s.Head.Mover].Possibilities(in s.Rolled);

    public bool IsLegal(in HomingState s, Move move) => s.Head.Phase == StepKind.Choice && Moves(in s).Contains(move);

    public IReadOnlyList<Move> Moves(in HomingState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var moves = new List<Move>();
        if (Goes(in s, GoUp)) moves.Add(new(0, GoUp));
        if (Goes(in s, GoDown)) moves.Add(new(0, GoDown));
        return moves.Count == 0 ? [Move.Pass] : moves;
    }

    public Tapped Read(in HomingState s, IReadOnlyList<int> items) => items.Count == 0 ? Tapped.NeedsMore
        : Goes(in s, items[^1]) ? Tapped.As(new(0, items[^1])) : Tapped.No("That way leads off the line.");

    public IReadOnlyList<Zone> Zones(in HomingState s)
    {
        var zones = new List<Zone>();
        if (s.Rolled.Count > 0) zones.Add(DiceCup.Lying(in s.Rolled));
        if (s.Head.Phase == StepKind.Choice)
        {
            var ways = new List<Item>();
            foreach (int way in new[] { GoUp, GoDown })
                if (Goes(in s, way)) ways.Add(new(way, s.Rolled.Total, Form.None, ItemState.Up, true) { Words = way == GoUp ? "up" : "down" });
            if (ways.Count > 0) zones.Add(new ChoiceKeys("Up or down", ways));
        }
        var pieces = new List<Piece>();
        for (int seat = 0; seat < Seats; seat++) pieces.Add(new(seat, s.At[seat]));
        // Of an endless line the part around home and the pieces is drawn.
        int low = line.Low > int.MinValue ? line.Low : Math.Min(line.Mark, pieces.Min(p => p.At)) - Around, high = line.High < int.MaxValue ? line.High : Math.Max(line.Mark, pieces.Max(p => p.At)) + Around;
        zones.Add(new NumberLine($"The line, home is {line.Mark}", low, high, LineLabels.Fives) { Pieces = pieces, Home = line.Mark });
        return zones;
    }

    public string Says(in HomingState s) => s.Head.Phase switch
    {
        StepKind.Over => "Who is nearest?",
        StepKind.Chance => "Roll.",
        _ => $"Up or down? Home is {line.Mark}.",
    };

    public string Tells(in HomingState before, Move move, bool found) => move.IsPass ? $"rolled {before.Rolled.Total} and stayed on {before.At[before.Head.Mover]}"
        : $"{(move.Pick == GoUp ? "up" : "down")} {before.Rolled.Total} from {before.At[before.Head.Mover]} to {To(in before, move.Pick)}";
}
