using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Some Gone: from a row of things some go away; how many are left?</summary>
public sealed class SomeGone : CalledFrame
{
    public const string See = "see", Cover = "cover", Say = "say", Chunk = "chunk", PutBack = "all", SayBack = "say", AlwaysAll = "fixed", AnyRow = "any";

    private const int MostThings = 30;

    private static readonly ChoiceKind Rows = ChoiceKind.Of((AlwaysAll, "always all of them"), (AnyRow, "rows of one and more, in turn"));
    private static readonly ChoiceKind Restoring = ChoiceKind.Of((PutBack, "put back"), (SayBack, "put back and said"));

    public static class Knobs
    {
        public static readonly Knob<WholeValue> Start = new("start", "Things in the row", new WholeKind(1, MostThings), new WholeValue(8), Belongs.Range, Scope.Both, Sits.Things, "How many lie in the row.");
        public static readonly Knob<ChoiceValue> From = new("from", "Each time there are", Rows, Rows[AlwaysAll], Belongs.RuleLevel, Scope.Both, Sits.Things, "Whether the row is always the whole one, or shorter ones come too.");
        public static readonly Knob<WholeValue> TakeMax = new("takeMax", "Taken at most", new WholeKind(1, MostThings), new WholeValue(5), Belongs.Range, Scope.Both, Sits.Things, "How many go away at most.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Turns each", new WholeKind(1, 20), new WholeValue(6), Belongs.Length, Scope.Table, Sits.Game, "How many turns each player gets.");
        public static readonly Knob<ChoiceValue> Restore = new("restore", "Afterwards they are", Restoring, Restoring[PutBack], Belongs.RuleLevel, Scope.Both, Sits.Game, "Whether putting them back is also said: 5 and 3 make 8.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together answer them all");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostThings);
    }

    public override FrameData Data { get; } = new(
        "somegone", "Some Gone", Family.Counting, "Some of a row go away: how many are left?", "It ends when everyone has had her turns.", 1, Engine.MostSeats,
        [Knobs.Start, Knobs.From, Knobs.TakeMax, Knobs.Rounds, Knobs.Restore, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(See, "In view", "Take some away; all can be seen, and the rest counted."),
            Level.Free(Cover, "Covered", "Take some away under a cloth; say how many are still under it."),
            Level.Free(Say, "Say the sentence", "Say what happened, and say it backwards when they come back.", (Knobs.Restore, Restoring[SayBack])),
            Level.Free(Chunk, "Five or ten at once", "Take five or ten at once.", (Knobs.Start, new WholeValue(20)), (Knobs.From, Rows[AnyRow]), (Knobs.TakeMax, new WholeValue(10))),
        ],
        See, [AskKind.Gone, AskKind.Join]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            var (start, most) = Limits(setup, s);
            int calls = Pairs(setup, s).Count();
            if (calls == 0) return [new(setup.Path(s, Knobs.Start), "Five at once can only be taken from five and more.", 10)];
            if (calls > MostCalls) return [new(setup.Path(s, Knobs.TakeMax), $"With {start} things and up to {most} taken there are {calls} different turns; at most {MostCalls} can be kept apart.", Enumerable.Range(1, most).Last(m => Count(start, m) <= MostCalls))];
        }
        return [];
    }

    private static bool IsAlwaysAll(Setup setup, int seat) => setup.At(seat, Knobs.From).Id == AlwaysAll;

    private static int Count(int start, int most) => Enumerable.Range(1, start).Sum(n => Math.Min(n, most));

    private static (int Start, int Most) Limits(Setup setup, int seat) => (setup.At(seat, Knobs.Start).Number, setup.At(seat, Knobs.TakeMax).Number);

    /// <summary>The whole row, or every row up to it, with every number that can go.</summary>
    private static IEnumerable<(int Things, int Gone)> Pairs(Setup setup, int seat)
    {
        var (start, most) = Limits(setup, seat);
        bool chunk = setup.LevelAt(seat) == Chunk;
        for (int n = IsAlwaysAll(setup, seat) ? start : 1; n <= start; n++)
            for (int k = 1; k <= Math.Min(n, most); k++)
                if (!chunk || k is 5 or 10) yield return (n, k);
    }

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        var support = CommonKnobs.SupportAt(setup, seat);
        bool said = setup.At(seat, Knobs.Restore).Id == SayBack;
        return [.. Pairs(setup, seat).Select(p => new Call(
            [new Ask(AskKind.Gone, p.Things, p.Gone, Form.Objects, support), .. said ? [Together(p.Things - p.Gone, p.Gone, support)] : Array.Empty<Ask>()],
            IsAlwaysAll(setup, seat) ? p.Gone : p.Things, $"{p.Things}, {p.Gone} gone", $"{p.Gone} of {p.Things} {(p.Gone == 1 ? "goes" : "go")} away.{(said ? " Put them back, and say it." : "")}", [new ThingRow("The row", p.Things, p.Gone, setup.LevelAt(seat) == Cover)]))];
    }

    /// <summary>All lie there again, or are in reach for another row.</summary>
    private protected override IReadOnlyList<Zone> Waits(Setup setup, int seat, int left, IReadOnlyList<Call> made) =>
        [IsAlwaysAll(setup, seat) ? new ThingRow("The row", Limits(setup, seat).Start, 0, false) : new Heap("Things in reach", [new("", Limits(setup, seat).Start)])];

    private static Ask Together(int left, int back, Support support) => new(AskKind.Join, Math.Max(left, back), Math.Min(left, back), Form.Objects, support);

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override float Handling(Setup setup, Call call) =>
        // Those that go are put back; where the row changes it is laid anew.
        Games.Handling.AskForThings + Games.Handling.LayThing * (2 * call.Asks[0][1] + (setup.Get(Knobs.From).Id == AnyRow ? call.Asks[0][0] : 0));

    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        int things = Enumerable.Range(0, setup.Seats.Length).Max(s => Limits(setup, s).Start);
        return Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) == Cover) ? [new("pieces", things), new("cloths", 1)] : [new("pieces", things)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup) => [Enumerable.Range(0, setup.Seats.Length).All(s => IsAlwaysAll(setup, s)) ? $"Lay {Needs(setup)[0].Count} small things in a row." : $"Put {Needs(setup)[0].Count} small things in reach, and lay as many in a row as are called.", "Take away what is called: eaten, squashed, hidden or driven off."];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) =>
        [.. new[] { Knobs.Start, Knobs.TakeMax }.SelectMany(k => Steps(setup, seat, k)).Where(c => Pairs(c.Setup, seat).Any())];

    public override bool IsOfThings(Setup setup, int seat) => true;

    public override IReadOnlyList<Remark> Audit(Setup setup)
    {
        int seat = Enumerable.Range(0, setup.Seats.Length).FirstOrDefault(s => Limits(setup, s) is var (things, most) && most > things, -1);
        return seat < 0 ? [] : [$"There {(Limits(setup, seat).Start == 1 ? "is" : "are")} only {Words.Count(Limits(setup, seat).Start, "thing")}, so {Limits(setup, seat).Most} can never go."];
    }

    public override string Summary(Setup setup) => $"{(setup.Get(Knobs.From).Id == AnyRow ? "up to " : "")}{setup.Get(Knobs.Start)} things, up to {setup.Get(Knobs.TakeMax)} go";
}
