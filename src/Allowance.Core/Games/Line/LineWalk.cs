using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Line Walk: a caller leads along a line, a stick or a bead rack, whose numbers show or are taken away one after another.</summary>
public sealed class LineWalk : CalledFrame
{
    public const string Point = "point", Covered = "covered", Bounce = "bounce", UpStopDown = "upstopdown", Jump = "jump", Steps2 = "steps", Doubles = "doubles", Write = "write";

    public const string Next = "next", Run = "run";

    private const int MostNumber = 100, ShortLine = 5, MostWords = 30, ShortestRun = 3, LongestRun = 10;

    private static readonly ChoiceKind Saying = ChoiceKind.Of((Next, "the next one"), (Run, "all of them along the line"));

    private static readonly ChoiceKind Lines = ChoiceKind.Of((Line, "a number line"), (Rack, "a bead rack"));
    private static readonly ChoiceKind StepSizes = ChoiceKind.Of(("2", "two"), ("5", "five"), ("10", "ten"));
    private static readonly ChoiceKind LabelChoice = ChoiceKind.Of(("all", "every number"), ("fives", "the fives"), ("ends", "the ends"), ("none", "no number"), (Away, "every number, taken away one after another"));

    private const string Away = "away";

    private const string Line = "line", Rack = "rack";

    public static class Knobs
    {
        public static readonly Knob<WholeValue> From = new("from", "Line from", new WholeKind(0, MostNumber), new WholeValue(0), Belongs.Range, Scope.Both, Sits.Line, "The first number.");
        public static readonly Knob<WholeValue> To = new("to", "Line to", new WholeKind(0, MostNumber), new WholeValue(10), Belongs.Range, Scope.Both, Sits.Line, "The last number.");
        public static readonly Knob<ChoiceValue> On = new("on", "The line is", Lines, Lines[Line], Belongs.Form, Scope.Table, Sits.Line, "A line or a stick; or a bead rack, up to 20.");
        public static readonly Knob<ChoiceValue> Labels = new("labels", "It shows", LabelChoice, LabelChoice["all"], Belongs.Form, Scope.Table, Sits.Line, "Which numbers are written; they can be taken away one after another.");
        public static readonly Knob<WholeValue> Jump = new("jump", "Jumps of at most", new WholeKind(1, 10), new WholeValue(3), Belongs.Range, Scope.Both, Sits.Game, "How far a jump goes.");
        public static readonly Knob<ChoiceValue> Step = new("step", "Steps of", StepSizes, StepSizes["2"], Belongs.Range, Scope.Both, Sits.Game, "How far apart the steps are.");
        public static readonly Knob<ChoiceValue> Say = new("say", "In steps she says", Saying, Saying[Next], Belongs.RuleLevel, Scope.Both, Sits.Game, "Only the next number, or all marked numbers along the line.");
        public static readonly Knob<FlagValue> MarkOff = new("markOff", "Doubles are marked off", new FlagKind(), new FlagValue(false), Belongs.RuleLevel, Scope.Table, Sits.Game, "Every double is marked on the line, until none is left.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Calls each", new WholeKind(1, 20), new WholeValue(8), Belongs.Length, Scope.Table, Sits.Game, "How many calls each player gets.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together walk the line");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
    }

    public override FrameData Data { get; } = new(
        "linewalk", "Line Walk", Family.Line, "Walk along the line with eyes and fingers: which number is here, and what comes next?", "It ends when everyone has had her calls.", 1, Engine.MostSeats,
        [Knobs.From, Knobs.To, Knobs.On, Knobs.Labels, Knobs.Jump, Knobs.Step, Knobs.Say, Knobs.MarkOff, Knobs.Rounds, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Point, "Point and say", "Say the number that is pointed at."),
            Level.Free(Bounce, "To the marker and back", "Say the numbers up to just before the marker, then back."),
            Level.Free(Covered, "Hidden numbers", "Say which number is covered, or which two."),
            Level.Free(UpStopDown, "Up, stop, down", "Thumb up: say the next number; down: the one before; to the side: wait."),
            Level.Free(Jump, "Jumps", "Jump that many on or back, and say where you land."),
            Level.Free(Steps2, "In steps", "Go along in twos, fives or tens."),
            Level.Free(Doubles, "Doubles", "Say twice the number, and find it on the line."),
            Level.Free(Write, "Write it", "Look at the number, cover it, write it, compare."),
        ],
        Point, [AskKind.Place, AskKind.Words, AskKind.On, AskKind.Back, AskKind.Step, AskKind.Double, AskKind.Trace]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            var (from, to) = Ends(setup, s);
            if (from >= to)
                return [from + 10 <= MostNumber ? new(setup.Path(s, Knobs.To), $"A line from {from} ends beyond {from}.", from + 10)
                    : new(setup.Path(s, Knobs.From), $"A line to {to} does not begin on {from}: begin it lower.", Math.Max(0, to - 10))];
            if (setup.Get(Knobs.On).Id == Rack && to > Form.Rack.Facts().High) return [new(setup.Path(s, Knobs.To), $"A bead rack goes to {Form.Rack.Facts().High}.", Form.Rack.Facts().High)];
            if (Calls(setup, s).Count == 0) return [new(setup.Path(s, Knobs.To), $"From {from} to {to} there is nothing for \"{Data.Level(setup.LevelAt(s))!.Label.ToLowerInvariant()}\".", Math.Min(MostNumber, from + 20))];
        }
        return [];
    }

    private static (int From, int To) Ends(Setup setup, int seat) => (setup.At(seat, Knobs.From).Number, setup.At(seat, Knobs.To).Number);

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        var (from, to) = Ends(setup, seat);
        var support = CommonKnobs.SupportAt(setup, seat);
        var form = setup.Get(Knobs.On).Id == Rack ? Form.Rack : Form.Line;
        var places = Enumerable.Range(from, Math.Max(0, to - from + 1)).ToList();
        int step = int.Parse(setup.At(seat, Knobs.Step).Id), jump = setup.At(seat, Knobs.Jump).Number;
        var marked = places.Where(n => (n - from) % step == 0).ToList();
        var calls = setup.LevelAt(seat) switch
        {
            Covered => [.. places.Select(n => Here(n, "Which number is hidden?", Place(n))), .. places.SkipLast(1).Select(n => Here(n, "Which two are hidden?", Place(n), Place(n + 1)))],
            Bounce => [.. places.Where(m => m >= from + 2 && m - from <= MostWords).Select(m => Here(m, $"Up to just before {m}, and back.", Words(from, m - 1), Words(m - 1, from)))],
            UpStopDown => places.SelectMany(n => Thumbs(n, from, to, form, support)),
            Jump => places.SelectMany(n => Enumerable.Range(1, jump).SelectMany(k => new[] { k, -k }).Where(k => n + k >= from && n + k <= to)
                .Select(k => Here(n, k > 0 ? $"From {n}, {k} on?" : $"From {n}, {-k} back?", new Ask(k > 0 ? AskKind.On : AskKind.Back, n, Math.Abs(k), form, support)))),
            Steps2 when setup.At(seat, Knobs.Say).Id == Run => marked.Take(Math.Max(1, marked.Count - ShortestRun)).Where(n => n + step <= to)
                .Select(n => Here(n, $"Go on in {StepWord(step)} from {n}.", [.. marked.Where(k => k >= n && k + step <= to).Take(LongestRun).Select(k => new Ask(AskKind.Step, k, step, form, support))])),
            Steps2 => marked.Where(n => n + step <= to).Select(n => Here(n, $"In {StepWord(step)}: what comes after {n}?", new Ask(AskKind.Step, n, step, form, support))),
            Doubles => Doubled(setup, seat).Select(n => Here(n, IsMarkedOff(setup, seat) ? $"Mark twice {n}." : $"Twice {n}?", new Ask(AskKind.Double, n, form, support: support))),
            Write => places.Select(n => Here(n, "Look, cover it, write it.", new Ask(AskKind.Trace, n, Form.Numeral))),
            _ => places.Select(n => Here(n, "Which number is here?", Place(n))),
        };
        return form == Form.Rack ? Thinned([.. calls]) : [.. Thinned([.. calls]).Select(c => c with { LiesAfter = before => Walked(setup, seat, c, before) })];

        Ask Place(int n) => new(AskKind.Place, n, form, support: support);

        Ask Words(int a, int b) => new(AskKind.Words, a, b, Form.None, support);

        Call Here(int n, string says, params Ask[] asks) => new([.. asks], n, Called(asks), says, Shown(n, form));
    }

    /// <summary>What a call was, told afterwards.</summary>
    private static string Called(Ask[] asks) => asks[0].Kind switch
    {
        AskKind.Place => Materials.Words.List(asks.Select(a => $"{a[0]}")),
        AskKind.Words => $"{asks[0][0]} to {asks[0][1]}, and back",
        AskKind.On => $"{asks[0][1]} on from {asks[0][0]}",
        AskKind.Back => $"{asks[0][1]} back from {asks[0][0]}",
        AskKind.Step => $"in {StepWord(asks[0][1])} from {asks[0][0]}",
        AskKind.Double => $"twice {asks[0][0]}",
        _ => $"{asks[0][0]}, written",
    };

    /// <summary>The numbers whose doubles are on the line; where they are marked off, shared out between the players.</summary>
    private static IEnumerable<int> Doubled(Setup setup, int seat)
    {
        var (from, to) = Ends(setup, seat);
        var all = Enumerable.Range(from, Math.Max(0, to - from + 1)).Where(n => 2 * n <= to);
        return IsMarkedOff(setup, seat) ? all.Where((_, i) => i % setup.Seats.Length == seat) : all;
    }

    private static bool IsMarkedOff(Setup setup, int seat) => setup.LevelAt(seat) == Doubles && setup.Get(Knobs.MarkOff).On;

    private protected override IReadOnlyList<Zone> Waits(Setup setup, int seat, int left, IReadOnlyList<Call> made) => setup.Get(Knobs.On).Id == Rack ? base.Waits(setup, seat, left, made) : [Bare(setup, seat, made)];

    /// <summary>The line as it lies there after these calls: what is hidden as it was called, and what is marked off.</summary>
    private static NumberLine Bare(Setup setup, int seat, IReadOnlyList<Call> before)
    {
        var (from, to) = Ends(setup, seat);
        bool away = setup.Get(Knobs.Labels).Id == Away;
        return new("The line", from, to, away ? LineLabels.All : Enum.Parse<LineLabels>(setup.Get(Knobs.Labels).Id, true))
        {
            Away = away ? [.. before.Select(c => c.Number)] : [],
            Ringed = IsMarkedOff(setup, seat) ? [.. before.Select(c => 2 * c.Number)] : [],
        };
    }

    /// <summary>The line of a call, as it looks after those before it. Numbers stay in view, unless hiding them is the game.</summary>
    private static IReadOnlyList<Zone> Walked(Setup setup, int seat, Call call, IReadOnlyList<Call> before)
    {
        var (from, to) = Ends(setup, seat);
        bool away = setup.Get(Knobs.Labels).Id == Away;
        var line = Bare(setup, seat, before) with { Pointed = [call.Number] };
        if (away) line = line with { Away = [.. line.Away.Where(n => n != call.Number), .. call.Asks.Where(a => a.Kind == AskKind.Place).Select(a => a[0])] };
        return setup.LevelAt(seat) switch
        {
            Covered => [line with { Pointed = [], Covered = [.. call.Asks.Select(a => a[0])] }],
            UpStopDown => [new Thumb("The thumb", Math.Sign(call.Leads!.Value - call.Number)), line],
            // As a finger makes it, one after another, for her to say the number where it lands.
            Jump => [line with { Jumps = [new(call.Number, call.Asks[0].Kind == AskKind.On ? call.Asks[0][1] : -call.Asks[0][1])] }],
            Steps2 => [line with { Ringed = [.. Enumerable.Range(from, to - from + 1).Where(n => (n - from) % call.Asks[0][1] == 0)] }],
            _ => [line],
        };
    }

    private static string StepWord(int step) => step switch { 2 => "twos", 5 => "fives", _ => "tens" };

    private static IReadOnlyList<Zone> Shown(int n, Form form) => [new Stage("What is shown", [new(0, n, form, ItemState.Up, false)])];

    /// <summary>From a number, one sign at a time: up, down, or to the side, at which nothing is said.</summary>
    private static IEnumerable<Call> Thumbs(int n, int from, int to, Form form, Support support)
    {
        if (n < to) yield return Shows("Thumb up.", 1, new Ask(AskKind.On, n, 1, form, support));
        if (n > from) yield return Shows("Thumb down.", -1, new Ask(AskKind.Back, n, 1, form, support));
        yield return Shows("Thumb to the side: say nothing.", 0);

        Call Shows(string says, int way, params Ask[] asks) => new([.. asks], n, $"from {n}: {(way > 0 ? "up" : way < 0 ? "down" : "pause")}", says, [new Thumb("The thumb", way), .. Shown(n, form)]) { Leads = n + way };
    }

    /// <summary>A caller keeps so many calls apart; of more, every so many along the line.</summary>
    private static IReadOnlyList<Call> Thinned(IReadOnlyList<Call> calls) =>
        calls.Count <= MostCalls ? calls : [.. Enumerable.Range(0, MostCalls).Select(i => calls[i * calls.Count / MostCalls])];

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    /// <summary>Doubles are marked off until none is left.</summary>
    protected override int Rounds(Setup setup, int seat) => IsMarkedOff(setup, seat) ? Doubled(setup, seat).Count() : Rounds(setup);

    protected override float Handling(Setup setup, Call call) => Games.Handling.CallOnLine;

    /// <summary>On a line long enough, no place again within three calls.</summary>
    protected override int Apart(Setup setup, int seat) => Ends(setup, seat) is var (from, to) && to - from + 1 >= ShortLine && setup.LevelAt(seat) is Point or Covered or Jump or Doubles ? 3 : 1;

    protected override bool NeverForeseen => true;

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "jump" => Played(setup, Jump),
        "step" or "say" => Played(setup, Steps2),
        "markOff" => Played(setup, Doubles),
        "rounds" => !Enumerable.Range(0, setup.Seats.Length).All(s => IsMarkedOff(setup, s)),
        "labels" => setup.Get(Knobs.On).Id == Line,
        _ => true,
    };

    private static bool Played(Setup setup, string level) => Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) == level);

    public override IReadOnlyList<Need> Needs(Setup setup) => [setup.Get(Knobs.On).Id == Rack ? new("bead racks", 1) : new("lines", 1)];

    public override IReadOnlyList<string> GetReady(Setup setup) =>
        [$"{(setup.Get(Knobs.On).Id == Rack ? "A bead rack" : $"A line or a stick from {setup.Get(Knobs.From)} to {setup.Get(Knobs.To)} that shows {setup.Get(Knobs.Labels)}")}; a clip or a scrap of paper covers a number.", "Point with a finger, wait, and let her say it before you do."];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat) => Steps(setup, seat, Knobs.To);

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.From)} to {setup.Get(Knobs.To)} on {setup.Get(Knobs.On)}";
}
