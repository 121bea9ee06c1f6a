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

/// <summary>Many Makes: a number is called, and bars are laid end to end until they are as long.</summary>
public sealed class ManyMakes : Frame
{
    public const string Any = "any", Most = "most", Fewest = "fewest", Different = "different";

    internal const int MostNumber = BarWays.MostNumber, MostLengths = BarWays.MostLengths, MostLength = 20;

    private const int MostBars = 500, MostCalls = 20, MostTarget = 1000;

    private static readonly ChoiceKind Scores = ChoiceKind.Of((Any, "a number that is made"), (Most, "every bar"), (Fewest, "a make with as few as can be"), (Different, "a way nobody used yet"));

    public static class Knobs
    {
        public static readonly Knob<CountsValue> Stock = new("stock", "The bars", new CountsKind(MostLength, MostBars, MostBars), new CountsValue([new(1, 20), new(2, 10), new(3, 8), new(4, 6), new(5, 6)]), Belongs.Range, Scope.Table, Sits.Things, "How many bars there are of each length.");
        public static readonly Knob<RangeValue> Numbers = new("numbers", "Called are", new RangeKind(1, MostNumber), new RangeValue(new(5, 10)), Belongs.Range, Scope.Both, Sits.Game, "The numbers that are called.", KnobRole.Numbers);
        public static readonly Knob<WholeValue> Calls = new("calls", "Calls each", new WholeKind(1, MostCalls), new WholeValue(5), Belongs.Length, Scope.Table, Sits.Game, "How many numbers each player makes.");
        public static readonly Knob<LimitValue> Sand = CommonKnobs.Sand("What is not made when the sand has run out is not made.");
        public static readonly Knob<ChoiceValue> Score = new("score", "Counted is", Scores, Scores[Most], Belongs.RuleLevel, Scope.Both, Sits.Game, "A point for each number, for each bar, for as few bars as can be, or for a way nobody used.");
        public static readonly Knob<WholeValue> HeadStart = new("headStart", "Head start", new WholeKind(0, 60), new WholeValue(0), Belongs.Fairness, Scope.Seat, Sits.Place, "Points she begins with.", KnobRole.HeadStart);
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning("most points", "all together make every number");
    }

    public override FrameData Data { get; } = new(
        "manymakes", "Many Makes", Family.Partners, "A number is called: which bars make it, laid end to end?", "It ends when everyone has had her calls, or no number can be made any more.", 1, Engine.MostSeats,
        [Knobs.Stock, Knobs.Numbers, Knobs.Calls, Knobs.Sand, Knobs.Score, Knobs.HeadStart, Knobs.Range, CommonKnobs.Support, CommonKnobs.First, Knobs.Winning],
        [
            Level.Free("find", "Any bars", "Find bars that make the number, and say which.", (Knobs.Score, Scores[Any])),
            Level.Free("ones-and-more", "Ones and a longer one", "Lay one longer bar, and fill up with ones; say both parts.", (Knobs.Stock, new CountsValue([new(1, 40), new(5, 10)])), (Knobs.Score, Scores[Fewest])),
            Level.Free(Most, "As many as can be", "Make the number with as many bars as you can; every bar is a point.", (Knobs.Score, Scores[Most])),
            Level.Free(Different, "In another way", "Make the number in a way that nobody used yet.", (Knobs.Score, Scores[Different])),
            Level.Free("clock", "While the sand runs", "Make the number with as many bars as you can before the sand has run out.", (Knobs.Score, Scores[Most]), (Knobs.Sand, new LimitValue(60))),
        ],
        "find", [AskKind.Split]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var stock = setup.Get(Knobs.Stock).Counts;
        if (stock.ContainsKey(0)) return [new("table.stock", "A bar is as long as one square at least.", new CountsValue(stock.Count > 1 ? stock.Remove(0) : [new(1, 10)]).ToJson())];
        if (stock.Count > MostLengths) return [new("table.stock", $"Bars of {stock.Count} lengths are too many to keep apart; {MostLengths} at most.", new CountsValue(stock.Take(MostLengths)).ToJson())];
        var makeable = new BarFacts(stock).Makeable().ToList();
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            var range = setup.At(s, Knobs.Numbers).Range;
            if (makeable.Exists(n => n >= range.Low && n <= range.High)) continue;
            int nearest = makeable.MinBy(n => Math.Min(Math.Abs(n - range.Low), Math.Abs(n - range.High)));
            return [new(setup.Path(s, Knobs.Numbers), nearest > MostNumber ? $"These bars make no number up to {MostNumber}." : $"These bars make none of the numbers from {range.Low} to {range.High}; the nearest is {nearest}.", new JsonArray(Math.Min(nearest, MostNumber), Math.Min(nearest, MostNumber)))];
        }
        return [];
    }

    protected internal override Game Compile(Setup setup) => Compile(setup, null);

    protected internal override Game Compile(Setup setup, IAnswers? beliefs) => new Game<MakesRules, MakesState>(setup, new(new MakesTable(setup, beliefs)));

    public override bool IsRace(Setup setup) => setup.Get(Knobs.Sand).Number is not null;

    public override IReadOnlyList<Need> Needs(Setup setup) => [new("bars", setup.Get(Knobs.Stock).All.Count)];

    public override IReadOnlyList<string> GetReady(Setup setup)
    {
        var stock = setup.Get(Knobs.Stock).Counts;
        return
        [
            $"Strips of squares lie in a heap: {Words.List(stock.Select(s => s.Key == 1 ? Words.Count(s.Value, "single square") : $"{s.Value} of {s.Key}"))}. To fish them out of a tub is more fun.",
            $"Numbers from {setup.Get(Knobs.Numbers)} are called, only such as these bars can still make; what is laid stays out.",
            .. setup.Get(Knobs.Sand).Number is { } seconds ? [$"The sand runs for {Words.Lasting(seconds)}, for each number anew."] : Array.Empty<string>(),
        ];
    }

    protected internal override Facts ExactFacts(Setup setup, Behaviour behaviour, Spending spending) =>
        new() { ["makeable"] = new ListFact([.. new BarFacts(setup.Get(Knobs.Stock).Counts).Makeable().Select(n => new NumberFact(n))]) };

    protected internal override IReadOnlyList<string> SimulatedFacts(Setup setup) => [];

    /// <summary>In how many ways a number is made, and with how many bars.</summary>
    protected internal override Facts? At(Setup setup, JsonElement position, List<Problem> problems)
    {
        const string at = "forecast.position";
        var fields = Fields.Read(position, at, ["target"], problems);
        if (problems.Count > 0) return null;
        if (!fields.TryGetValue("target", out var json) || new WholeKind(1, MostTarget).FromJson(json, $"{at}.target", problems) is not WholeValue target)
        {
            if (problems.Count == 0) problems.Add(new($"{at}.target", $"Here stands the number that is to be made, from 1 to {MostTarget}.", 10));
            return null;
        }
        var bars = new BarFacts(setup.Get(Knobs.Stock).Counts);
        var facts = new Facts { ["ways"] = new NumberFact(bars.Ways(target.Number)) };
        if (bars.Bars(target.Number) is not var (fewest, most)) return facts;
        facts["most"] = new NumberFact(most);
        facts["fewest"] = new NumberFact(fewest);
        return facts;
    }

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending)
    {
        var bars = new BarFacts(setup.Get(Knobs.Stock).Counts);
        var range = setup.Get(Knobs.Numbers).Range;
        var made = bars.Makeable().Where(n => n >= range.Low && n <= range.High).ToList();
        if (made is not [var low, ..]) return null;
        int high = made[^1];
        var (fewest, most) = bars.Bars(high)!.Value;
        string gaps = made.Count < high - low + 1 ? $" Of the numbers from {range} only {Words.List(made.Select(n => n.ToString()))} can be made." : "";
        return ("In how many ways", $"{high} can be made in {Words.Count((int)Math.Min(int.MaxValue, bars.Ways(high)), "way")}, with {(fewest == most ? Words.Count(most, "bar") : $"{fewest} to {most} bars")}.{gaps}");
    }

    /// <summary>A number that is a bar by itself shows nothing of what it is about.</summary>
    internal override bool ShowsWhatItIsAbout(Setup setup, IReadOnlyList<SeatAsk> asks) => asks.All(a => a.Ask[1] > 1);

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Score || setup.Get(Knobs.Winning).Id != Winnings.None || setup.Get(Knobs.Score).Id == Different;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => [.. Steps(setup, seat, Knobs.Numbers), .. Steps(setup, seat, Knobs.Stock)];

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        var range = setup.Get(Knobs.Numbers).Range;
        int bars = setup.Get(Knobs.Stock).Counts.Sum(s => s.Key * s.Value), wanted = setup.Get(Knobs.Calls).Number * setup.Seats.Length * (range.Low + range.High) / 2;
        return bars < wanted ? [$"These bars together are {bars} squares long, and about {wanted} are laid: some numbers cannot be made in the end."] : [];
    }

    public override string Summary(Setup setup) => $"numbers from {setup.Get(Knobs.Numbers)}, bars of {Words.Numbers(setup.Get(Knobs.Stock).Counts.Keys)}";

    public override string Summary(Setup setup, int seat) => OwnDice(setup, seat, string.Join(", ", new[] { OwnLevel(setup, seat), setup.Seats[seat].Allowance.ContainsKey(Knobs.Numbers.Id) ? $"numbers from {setup.At(seat, Knobs.Numbers)}" : "" }.Where(p => p.Length > 0)));
}

/// <summary>What a point is given for.</summary>
internal enum MakesScore : byte { Any, Most, Fewest, Different }

/// <summary>The stock of one setup, and what is called for each player.</summary>
internal sealed record MakesTable : Seating
{
    public MakesTable(Setup setup, IAnswers? beliefs) : base(setup)
    {
        var stock = setup.Get(ManyMakes.Knobs.Stock).Counts;
        Lengths = [.. stock.Keys];
        Copies = [.. stock.Values];
        Calls = setup.Get(ManyMakes.Knobs.Calls).Number;
        HasSand = setup.Get(ManyMakes.Knobs.Sand).Number is not null;
        var seats = Enumerable.Range(0, Seats).ToList();
        Score = [.. seats.Select(s => setup.At(s, ManyMakes.Knobs.Score).Id switch { ManyMakes.Most => MakesScore.Most, ManyMakes.Fewest => MakesScore.Fewest, ManyMakes.Different => MakesScore.Different, _ => MakesScore.Any })];
        HeadStart = [.. seats.Select(s => setup.At(s, ManyMakes.Knobs.HeadStart).Number)];
        Numbers = [.. seats.Select(s => setup.At(s, ManyMakes.Knobs.Numbers).Range).Select(r => ((2UL << r.High) - 1) & ~((1UL << r.Low) - 1))];
        Ranked = [.. seats.Select(s => beliefs is null || GrownUp[s] ? [Numbers[s]] : Apart(Numbers[s], n => CalledFrame.Rank(beliefs.For(s, Asked(s, n, 2)).Right)))];
        Ways = new(Lengths, Numbers.Aggregate((a, b) => a | b));
        AnyDiffers = Score.Contains(MakesScore.Different);
        HasBehind = Array.Exists(Copies, c => c > BarWays.MostOfOne);
        Kinds = new(Level.Select(_ => (double)Kind(ManyMakes.MostNumber, ManyMakes.MostNumber) + 1));
    }

    private static ulong[] Apart(ulong numbers, Func<int, int> rank)
    {
        var ranked = new ulong[4];
        for (; numbers != 0; numbers &= numbers - 1)
            if (System.Numerics.BitOperations.TrailingZeroCount(numbers) is var n) ranked[rank(n)] |= 1UL << n;
        return ranked;
    }

    public int[] Lengths { get; }

    public int[] Copies { get; }

    public BarWays Ways { get; }

    /// <summary>Somebody makes a number in a way that nobody used.</summary>
    public bool AnyDiffers { get; }

    /// <summary>There are more bars of some length than are told at the front.</summary>
    public bool HasBehind { get; }

    public int Calls { get; }

    public bool HasSand { get; }

    public MakesScore[] Score { get; }

    public int[] HeadStart { get; }

    /// <summary>By seat, the numbers that may be called, as bits; and what of them is called first, what next.</summary>
    public ulong[] Numbers { get; }

    public ulong[][] Ranked { get; }

    /// <summary>A turn is told by the number and how many bars make it.</summary>
    public TurnKinds Kinds { get; }

    public static int Kind(int number, int bars) => number * (number - 1) / 2 + bars;

    public Ask Asked(int seat, int number, int bars) => new(AskKind.Split, number, bars, Pictures.CanDraw(Form.Bar, number) ? Form.Bar : Form.Numeral, Support[seat]);
}
