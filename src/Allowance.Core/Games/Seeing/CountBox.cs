using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Fives and Ones: eleven to twenty in pictures that are built of fives and tens; told, shown, joined and taken by looking.</summary>
public sealed class CountBox : CalledFrame
{
    public const string Tell = "tell", Show = "show", JoinOnes = "joinOnes", TakeOnes = "takeOnes", TakeMost = "takeMost", Cross = "cross";

    private const string Joining = "join", Taking = "take", Both = "both";
    private const int Ten = 10, LeastNumber = 11, MostNumber = 20;

    private static readonly FormsKind Pictured = new([Form.Tally, Form.Fingers, Form.DoubleTenFrame, Form.Rack]);
    private static readonly ChoiceKind Crossing = ChoiceKind.Of((Joining, "joining"), (Taking, "taking away"), (Both, "now one, now the other"));

    public static class Knobs
    {
        public static readonly Knob<NumbersValue> Numbers = new("numbers", "Numbers", new NumbersKind(LeastNumber, MostNumber), NumbersValue.Range(LeastNumber, MostNumber), Belongs.Range, Scope.Both, Sits.Cards, "The numbers that are shown; what is joined or taken stays among them.");
        public static readonly Knob<FormsValue> Forms = new("forms", "Shown as", Pictured, new FormsValue([Form.Tally, Form.DoubleTenFrame]), Belongs.Form, Scope.Both, Sits.Cards, "The pictures, one or several in turn.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Calls each", new WholeKind(1, 20), new WholeValue(6), Belongs.Length, Scope.Table, Sits.Game, "How many calls each player gets.");
        public static readonly Knob<ChoiceValue> Crossing = new("crossing", "Over ten by", CountBox.Crossing, CountBox.Crossing[Joining], Belongs.RuleLevel, Scope.Both, Sits.Game, "At the last level: joining, taking away, or both.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together answer them all");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
    }

    public override FrameData Data { get; } = new(
        "countbox", "Fives and Ones", Family.Seeing, "See eleven to twenty as ten and some; join and take away by looking.", "It ends when everyone has had her calls.", 1, 8,
        [Knobs.Numbers, Knobs.Forms, Knobs.Rounds, Knobs.Crossing, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Tell, "Tell", "Say how many there are, without counting each."),
            Level.Free(Show, "Show", "Make the number: strokes, fingers, counters or beads."),
            Level.Free(JoinOnes, "Some more ones", "Add ones to ten-and-some: the ten stays as it is."),
            Level.Free(TakeOnes, "Some ones away", "Take ones from ten-and-some: the ten stays as it is."),
            Level.Free(TakeMost, "The ten and more away", "Take the ten and some ones: look at what is left."),
            Level.Free(Cross, "Over ten", "Join or take away past ten: fill the ten first, or empty the ones."),
        ],
        Tell, [AskKind.Say, AskKind.Take, AskKind.Join, AskKind.Gone]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup) =>
        [.. Enumerable.Range(0, setup.Seats.Length).Where(s => Calls(setup, s).Count == 0).Take(1).Select(s => new Problem(
            setup.Path(s, Knobs.Numbers),
            $"Nothing can be {(setup.LevelAt(s) == JoinOnes ? "added" : "taken away")} here with {setup.At(s, Knobs.Numbers)} alone.", NumbersValue.Range(LeastNumber, MostNumber).ToJson()))];

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        var numbers = setup.At(seat, Knobs.Numbers).Numbers;
        var support = CommonKnobs.SupportAt(setup, seat);
        string crossing = setup.At(seat, Knobs.Crossing).Id;
        return [.. setup.At(seat, Knobs.Forms).Forms.SelectMany(form => Asked(setup.LevelAt(seat), numbers, crossing, form, support)
            .Select((ask, i) => new Call([ask], Math.Max(ask[0], ask.Answer), Labelled(ask), Said(ask), Shown(ask))))];
    }

    private static IEnumerable<Ask> Asked(string level, IReadOnlyList<int> numbers, string crossing, Form form, Support support)
    {
        var ones = Enumerable.Range(1, Ten - 1).ToList();
        return level switch
        {
            Tell => numbers.Select(n => new Ask(AskKind.Say, n, form, support: support)),
            Show => numbers.Select(n => new Ask(AskKind.Take, n, form, support: support)),
            JoinOnes => numbers.SelectMany(n => ones.Where(k => numbers.Contains(n + k)).Select(k => new Ask(AskKind.Join, n, k, form, support))),
            TakeOnes => numbers.SelectMany(n => ones.Where(k => k <= (n == MostNumber ? Ten : n - Ten)).Select(k => new Ask(AskKind.Gone, n, k, form, support))),
            TakeMost => numbers.SelectMany(n => Enumerable.Range(Ten, Ten).Where(k => k < n).Select(k => new Ask(AskKind.Gone, n, k, form, support))),
            _ => Crossed(numbers, crossing, form, support),
        };
    }

    /// <summary>Two numbers below ten that make one of these, the larger first; or ones taken from one of these that need the ten.</summary>
    private static IEnumerable<Ask> Crossed(IReadOnlyList<int> numbers, string crossing, Form form, Support support)
    {
        var small = Enumerable.Range(1, Ten - 1).ToList();
        if (crossing != Taking)
            foreach (int larger in small)
                foreach (int smaller in small.Where(k => k <= larger && larger + k > Ten && numbers.Contains(larger + k)))
                    yield return new(AskKind.Join, larger, smaller, form, support);
        if (crossing != Joining)
            foreach (int n in numbers.Where(n => n < MostNumber))
                foreach (int k in small.Where(k => n - k < Ten))
                    yield return new(AskKind.Gone, n, k, form, support);
    }

    private static string Labelled(Ask ask) => ask.Kind switch
    {
        AskKind.Join => $"{ask[0]} and {ask[1]}, {ask.Form.Facts().Label}",
        AskKind.Gone => $"{ask[0]} take away {ask[1]}, {ask.Form.Facts().Label}",
        AskKind.Take => $"show {ask[0]}, {ask.Form.Facts().Label}",
        _ => $"{ask[0]}, {ask.Form.Facts().Label}",
    };

    private static string Said(Ask ask) => ask.Kind switch
    {
        AskKind.Say => "How many? Not one by one.",
        AskKind.Take => ask.Form switch { Form.Tally => $"Make {ask[0]} strokes.", Form.Fingers => $"Show {ask[0]}: fingers and toes.", Form.Rack => $"Push {ask[0]} beads.", _ => $"Fill in {ask[0]}." },
        AskKind.Join => $"{ask[0]} and {ask[1]} more?",
        _ => $"{ask[0]}, and {Wording.Going(ask[1])}?",
    };

    /// <summary>What is told; what is added fills it up in the second tone, what goes is struck; where she makes it herself, the numeral.</summary>
    private static IReadOnlyList<Zone> Shown(Ask ask) => [new Stage("What is shown", ask.Kind switch
    {
        AskKind.Take => [new(0, ask[0], Form.Numeral, ItemState.Up, false)],
        AskKind.Join => [new(0, ask[0] + ask[1], ask.Form, ItemState.Up, false) { Change = ask[1] }],
        AskKind.Gone => [new(0, ask[0], ask.Form, ItemState.Up, false) { Change = -ask[1] }],
        _ => [new(0, ask[0], ask.Form, ItemState.Up, false)],
    })];

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override float Handling(Setup setup, Call call) => Games.Handling.ShowPicture;

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Crossing || Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) == Cross);

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        var forms = Enumerable.Range(0, setup.Seats.Length).SelectMany(s => setup.At(s, Knobs.Forms).Forms).ToHashSet();
        var needs = new List<Need>();
        if (forms.Contains(Form.Tally)) needs.Add(new("sheets of paper", setup.Seats.Length, "sheet of paper"));
        if (forms.Contains(Form.DoubleTenFrame)) needs.AddRange([new("double ten-frames", setup.Seats.Length), new("pieces", MostNumber * setup.Seats.Length)]);
        if (forms.Contains(Form.Rack)) needs.Add(new("bead racks", 1));
        return needs;
    }

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        "Every picture is built of fives and tens: strokes in bundles, hands and feet, full rows.",
        "Show it, wait, and let her look for the ten first; nobody counts one by one.",
    ];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.Numbers);

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Numbers)}, as {setup.Get(Knobs.Forms)}";
}
