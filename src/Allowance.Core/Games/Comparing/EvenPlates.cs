using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Even Plates: two plates made the same, one thing at a time; or one heap shared fairly.</summary>
public sealed class EvenPlates : CalledFrame
{
    public const string Even = "even", Share = "share", None = "none", Allowed = "allowed", Sum = "sum", Times = "times", Divided = "divided", Unsaid = "none";

    private const int MostThings = 32, MostWays = 8;

    private static readonly ChoiceKind Modes = ChoiceKind.Of((Even, "two plates made the same"), (Share, "one heap shared"));
    private static readonly ChoiceKind Sentences = ChoiceKind.Of((Unsaid, "in her own words"), (Sum, "as a sum: 4 and 4 and 4"), (Times, "as times: three times four"), (Divided, "as sharing: twelve among three are four each"));
    private static readonly ChoiceKind Leftovers = ChoiceKind.Of((None, "nothing is left over"), (Allowed, "some may be left over"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Max = new("max", "Things at most", new WholeKind(2, MostThings), new WholeValue(10), Belongs.Range, Scope.Both, Sits.Things, "The fuller plate, or the heap, has at most so many.");
        public static readonly Knob<ChoiceValue> Mode = new("mode", "Way of playing", Modes, Modes[Even], Belongs.RuleLevel, Scope.Table, Sits.Game, "Two plates made even, or one heap shared.");
        public static readonly Knob<WholeValue> Ways = new("ways", "Shared among", new WholeKind(2, MostWays), new WholeValue(2), Belongs.Range, Scope.Both, Sits.Things, "How many share the heap.");
        public static readonly Knob<ChoiceValue> Leftovers = new("leftovers", "In the end", EvenPlates.Leftovers, EvenPlates.Leftovers[None], Belongs.RuleLevel, Scope.Both, Sits.Game, "Whether heaps come that cannot be shared without a rest.");
        public static readonly Knob<ChoiceValue> Sentence = new("sentence", "It is said", Sentences, Sentences[Unsaid], Belongs.RuleLevel, Scope.Both, Sits.Game, "How the fair shares are told at the end.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Turns each", new WholeKind(1, 20), new WholeValue(5), Belongs.Length, Scope.Table, Sits.Game, "How many turns each player gets.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together make them even");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(2 * MostThings);
    }

    public override FrameData Data { get; } = new(
        "evenplates", "Even Plates", Family.Comparing, "Which plate has more? Move one at a time until they are the same.", "It ends when everyone has had her turns.", 1, Engine.MostSeats,
        [Knobs.Max, Knobs.Mode, Knobs.Ways, Knobs.Leftovers, Knobs.Sentence, Knobs.Rounds, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Rung(Even, "Make them even", "Guess each plate, count both, say which has more, and move one at a time.", Even),
            Rung(Share, "Share a heap", "Guess how many each will get, share the heap, look, and put it right until all have the same.", Share),
        ],
        Even, [AskKind.Guess, AskKind.Say, AskKind.More, AskKind.Even, AskKind.Share]);

    private static Level Rung(string id, string label, string says, string mode) =>
        Level.Fixed(id, label, says, [(Knobs.Mode, Modes[mode])]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            if (setup.Against(s).Any())
                return [new($"players[{s}].allowance.level", $"This table plays {setup.Get(Knobs.Mode)}.", setup.Get(Knobs.Mode).Id)];
            if (Calls(setup, s).Count > 0) continue;
            string at = setup.Path(s, Knobs.Max);
            return [IsShared(setup)
                ? new(at, $"With {setup.At(s, Knobs.Max)} things at most nothing can be shared among {setup.At(s, Knobs.Ways)}.", setup.At(s, Knobs.Ways).Number)
                : new(at, "Two plates can be made even from three things on the fuller one.", 3)];
        }
        return [];
    }

    private static bool IsShared(Setup setup) => setup.Get(Knobs.Mode).Id == Share;

    /// <summary>Unordered pairs that can be made even: their difference is even.</summary>
    private static IEnumerable<(int Fewer, int More)> Pairs(int max) =>
        Enumerable.Range(2, max - 1).SelectMany(b => Enumerable.Range(1, b - 1).Where(a => (b - a) % 2 == 0).Select(a => (a, b)));

    private static IEnumerable<int> Totals(Setup setup, int seat)
    {
        int ways = setup.At(seat, Knobs.Ways).Number, max = setup.At(seat, Knobs.Max).Number;
        bool rest = setup.At(seat, Knobs.Leftovers).Id == Allowed;
        return Enumerable.Range(1, max).Where(n => n >= ways && (rest || n % ways == 0));
    }

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        var support = CommonKnobs.SupportAt(setup, seat);
        int ways = setup.At(seat, Knobs.Ways).Number;
        Ask Say(int n) => new(AskKind.Say, n, Form.Objects, support: support);
        if (IsShared(setup))
            return [.. Totals(setup, seat).Select(n => new Call([new Ask(AskKind.Guess, n / ways, Form.Objects), Say(n), new Ask(AskKind.Share, n, ways, Form.Objects, support)],
                n, $"{n} among {ways}", $"Guess how many each gets, then share.{SaysIt(setup, seat)}", [new Heap("The heap", [new("", n)]), Empty(setup, seat)]))];
        return [.. Pairs(setup.At(seat, Knobs.Max).Number).Select(p => new Call(
            [.. InEitherOrder(p.More, p.Fewer).Select(n => new Ask(AskKind.Guess, n, Form.Objects)), .. InEitherOrder(p.More, p.Fewer).Select(Say), new Ask(AskKind.More, p.More, p.Fewer, Form.Objects, support), new Ask(AskKind.Even, p.More, p.Fewer, Form.Objects, support)],
            p.More, $"{p.More} and {p.Fewer}", "Which has more? Make them even.", [new Plates("Two plates", InEitherOrder(p.More, p.Fewer))]))];
    }

    private protected override IReadOnlyList<Zone> Waits(Setup setup, int seat, int left, IReadOnlyList<Call> made) => [Empty(setup, seat)];

    private static Plates Empty(Setup setup, int seat) => IsShared(setup) ? new("Plates to share on", new int[setup.At(seat, Knobs.Ways).Number]) : new("Two plates", [0, 0]);

    /// <summary>How the shares are told, asked for when they are dealt.</summary>
    private static string SaysIt(Setup setup, int seat) => setup.At(seat, Knobs.Sentence).Id switch { Sum => " Say the sum.", Times => " Say it with times.", Divided => " Say who gets what.", _ => "" };

    /// <summary>The fuller plate is not always the first: which one it is comes with the numbers.</summary>
    private static int[] InEitherOrder(int more, int fewer) => (more + fewer) / 2 % 2 == 0 ? [more, fewer] : [fewer, more];

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override float Handling(Setup setup, Call call) =>
        // Both plates are filled, and things move; or a heap is laid out and dealt.
        Games.Handling.AskForThings + Games.Handling.LayThing * (IsShared(setup) ? 2 * call.Number : call.Asks[^1][0] + call.Asks[^1][1] + (call.Asks[^1][0] - call.Asks[^1][1]) / 2f);

    protected override void AddFacts(Setup setup, Facts facts)
    {
        if (IsShared(setup))
        {
            facts["totals"] = PerSeat(setup, s => new ListFact([.. Totals(setup, s).Select(n => new NumberFact(n))]));
            return;
        }
        facts["pairs"] = PerSeat(setup, s => new NumberFact(Pairs(Max(setup, s)).Count()));
        facts["movesMean"] = PerSeat(setup, s => new NumberFact(Pairs(Max(setup, s)).Average(p => (p.More - p.Fewer) / 2.0)));
    }

    private static int Max(Setup setup, int seat) => setup.At(seat, Knobs.Max).Number;

    protected internal override (string Heading, string Says)? InWords(Setup setup, Facts facts, double secondsATurn, Spending spending) => IsShared(setup)
        ? ("What can be shared", $"{Words.List(Totals(setup, 0).Select(n => n.ToString()))} among {setup.At(0, Knobs.Ways)}.")
        : ("What can be made even", $"Two plates whenever one has an even number more than the other: {Words.Count(Pairs(Max(setup, 0)).Count(), "pair")} of plates can come, and {Words.About(Pairs(Max(setup, 0)).Average(p => (p.More - p.Fewer) / 2.0), "thing")} is moved each time.");

    public override bool Matters(Setup setup, Knob knob) => knob != Knobs.Ways && knob != Knobs.Leftovers && knob != Knobs.Sentence || IsShared(setup);

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        int most = Enumerable.Range(0, setup.Seats.Length).Max(s => Max(setup, s));
        return IsShared(setup) ? [new("pieces", most), new("plates", Enumerable.Range(0, setup.Seats.Length).Max(s => setup.At(s, Knobs.Ways).Number))]
            : [Need.PiecesAlike(Math.Max(2, 2 * most - 2)), new("plates", 2)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup) => IsShared(setup)
        ? ["Put out the plates, and as many things in a heap as are called.", "First guess how many each plate will get; then deal them out, look, and put it right.", .. setup.Get(Knobs.Sentence).Id != Unsaid ? [$"At the end it is said {setup.Get(Knobs.Sentence)}."] : Array.Empty<string>()]
        : ["Two plates, with as many things of one kind on each as are called.", "Look at one plate, guess, cover it; then the other. After that uncover both and count.", "Say each move in two sentences: seven less one is six, five and one is six."];

    public override bool IsOfThings(Setup setup, int seat) => true;

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) =>
        [.. new Knob[] { Knobs.Max, Knobs.Ways }.Where(k => Matters(setup, k)).SelectMany(k => Steps(setup, seat, k))];

    public override string Summary(Setup setup) => IsShared(setup) ? $"up to {setup.Get(Knobs.Max)}, shared among {setup.Get(Knobs.Ways)}" : $"two plates, up to {setup.Get(Knobs.Max)} on one";
}
