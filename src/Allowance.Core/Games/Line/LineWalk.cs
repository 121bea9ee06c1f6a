using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>Line Walk: a caller leads along a line, a stick or a bead rack, whose numbers show or are taken away one after another.</summary>
public sealed class LineWalk : CalledFrame
{
    public const string Point = "point", Covered = "covered", Bounce = "bounce", UpStopDown = "upstopdown", Jump = "jump", Steps2 = "steps", Doubles = "doubles", Write = "write";

    private const int MostNumber = 100, Thumbs = 5, MostOneWay = 3, ShortLine = 5, MostWords = 30;

    private static readonly ChoiceKind Lines = ChoiceKind.Of((Line, "a number line"), (Rack, "a bead rack"));
    private static readonly ChoiceKind StepSizes = ChoiceKind.Of(("2", "two"), ("5", "five"), ("10", "ten"));
    private static readonly ChoiceKind LabelChoice = ChoiceKind.Of(("all", "every number"), ("fives", "the fives"), ("ends", "the ends"), ("none", "no number"), (Away, "every number, taken away one after another"));

    private const string Away = "away";

    private const string Line = "line", Rack = "rack";

    public static class Knobs
    {
        public static readonly Knob<WholeValue> From = new("from", "The line from", new WholeKind(0, MostNumber), new WholeValue(0), Belongs.Range, Scope.Both, Sits.Line, "The first number.");
        public static readonly Knob<WholeValue> To = new("to", "to", new WholeKind(0, MostNumber), new WholeValue(10), Belongs.Range, Scope.Both, Sits.Line, "The last number.");
        public static readonly Knob<ChoiceValue> On = new("on", "It is", Lines, Lines[Line], Belongs.Form, Scope.Table, Sits.Line, "A line or a stick; or a bead rack, up to 20.");
        public static readonly Knob<ChoiceValue> Labels = new("labels", "It shows", LabelChoice, LabelChoice["fives"], Belongs.Form, Scope.Table, Sits.Line, "Which numbers are written; they can be taken away one after another.");
        public static readonly Knob<WholeValue> Jump = new("jump", "Jumps of at most", new WholeKind(1, 10), new WholeValue(3), Belongs.Range, Scope.Both, Sits.Game, "How far a jump goes.");
        public static readonly Knob<ChoiceValue> Step = new("step", "Steps of", StepSizes, StepSizes["2"], Belongs.Range, Scope.Both, Sits.Game, "How far apart the steps are.");
        public static readonly Knob<WholeValue> Rounds = new("rounds", "Calls each", new WholeKind(1, 20), new WholeValue(8), Belongs.Length, Scope.Table, Sits.Game, "How many calls each player gets.");
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together walk the line");
        public static readonly OpenKnob<RangeValue> Range = CommonKnobs.Range(MostNumber);
    }

    public override FrameData Data { get; } = new(
        "linewalk", "Line Walk", Family.Line, "Walk along the line with eyes and fingers: which number is here, and what comes next?", "It ends when everyone has had her calls.", 1, Engine.MostSeats,
        [Knobs.From, Knobs.To, Knobs.On, Knobs.Labels, Knobs.Jump, Knobs.Step, Knobs.Rounds, Knobs.Winning, Knobs.Range, CommonKnobs.Support],
        [
            Level.Free(Point, "Point and say", "Say the number that is pointed at."),
            Level.Free(Bounce, "To the marker and back", "Say the numbers up to just before the marker, then back."),
            Level.Free(Covered, "Hidden numbers", "Say which number is covered, or which two."),
            Level.Free(UpStopDown, "Up, stop, down", "Thumb up: the next number; aside: the same again; down: the one before."),
            Level.Free(Jump, "Jumps", "Jump so many on or back, and say where you land."),
            Level.Free(Steps2, "In steps", "Say the next number in twos, fives or tens."),
            Level.Free(Doubles, "Doubles", "Say twice the number, and find it on the line."),
            Level.Free(Write, "Write it", "Write the number that is pointed at."),
        ],
        Point, [AskKind.Place, AskKind.Words, AskKind.On, AskKind.Back, AskKind.Step, AskKind.Double, AskKind.Trace]);

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        for (int s = 0; s < setup.Seats.Length; s++)
        {
            var (from, to) = Ends(setup, s);
            if (from >= to) return [new(setup.Path(s, Knobs.To), $"A line from {from} ends beyond {from}.", Math.Min(MostNumber, from + 10))];
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
        var calls = setup.LevelAt(seat) switch
        {
            Covered => [.. places.Select(n => Here(n, "Which number is hidden?", Place(n))), .. places.SkipLast(1).Select(n => Here(n, "Which two are hidden?", Place(n), Place(n + 1)))],
            Bounce => [.. places.Where(m => m >= from + 2 && m - from <= MostWords).Select(m => Here(m, $"Up to just before {m}, and back.", Words(from, m - 1), Words(m - 1, from)))],
            UpStopDown => [.. places.Select(n => Thumbed(n, from, to, form, support))],
            Jump => places.SelectMany(n => Enumerable.Range(1, jump).SelectMany(k => new[] { k, -k }).Where(k => n + k >= from && n + k <= to)
                .Select(k => Here(n, k > 0 ? $"From {n}, {k} on?" : $"From {n}, {-k} back?", new Ask(k > 0 ? AskKind.On : AskKind.Back, n, Math.Abs(k), form, support)))),
            Steps2 => places.Where(n => (n - from) % step == 0 && n + step <= to).Select(n => Here(n, $"In {StepWord(step)}: what comes after {n}?", new Ask(AskKind.Step, n, step, form, support))),
            Doubles => places.Where(n => 2 * n <= to).Select(n => Here(n, $"Twice {n}?", new Ask(AskKind.Double, n, form, support: support))),
            Write => places.Select(n => Here(n, "Write the number.", new Ask(AskKind.Trace, n, Form.Numeral))),
            _ => places.Select(n => Here(n, "Which number is here?", Place(n))),
        };
        string shows = setup.Get(Knobs.Labels).Id;
        var labels = shows == Away ? LineLabels.All : Enum.Parse<LineLabels>(shows, true);
        return [.. Thinned([.. calls]).Select(c => form == Form.Rack ? c : c with { LiesAfter = before => [Walked(c, shows == Away ? before : [])] })];

        // Numbers that are to be said bear none; a covered one lies under a scrap of paper.
        NumberLine Walked(Call call, IReadOnlyList<Call> before)
        {
            var asked = call.Asks.Where(a => a.Kind is AskKind.Place or AskKind.Trace).Select(a => a[0]).ToHashSet();
            bool covers = setup.LevelAt(seat) == Covered;
            return new("The line", from, to, labels)
            {
                Pointed = covers ? [] : [call.Number],
                Covered = covers ? asked : [],
                Away = [.. asked, .. before.Select(c => c.Number).Where(n => n != call.Number)],
            };
        }

        Ask Place(int n) => new(AskKind.Place, n, form, support: support);

        Ask Words(int a, int b) => new(AskKind.Words, a, b, Form.None, support);

        Call Here(int n, string says, params Ask[] asks) => new([.. asks], n, string.Join(", ", asks.Select(a => a.ToString())), says, Shown(n, form));
    }

    private static string StepWord(int step) => step switch { 2 => "twos", 5 => "fives", _ => "tens" };

    private static IReadOnlyList<Zone> Shown(int n, Form form) => [new Stage("What is shown", [new(0, n, form, ItemState.Up, false)])];

    /// <summary>Five thumbs from a number, never more than three one way in a row and never off the line; always the same ones for a number.</summary>
    private static Call Thumbed(int n, int from, int to, Form form, Support support)
    {
        var rng = Rng.ForGame(n, to - from);
        var asks = new List<Ask>();
        var words = new List<string>();
        int at = n, way = 0, inARow = 0;
        for (int thumb = 0; thumb < Thumbs; thumb++)
        {
            int[] open = [.. new[] { -1, 0, 1 }.Where(w => at + w >= from && at + w <= to && (w != way || inARow < MostOneWay))];
            int next = open[rng.Below(open.Length)];
            inARow = next == way ? inARow + 1 : 1;
            way = next;
            if (way != 0) asks.Add(new(way > 0 ? AskKind.On : AskKind.Back, at, 1, form, support));
            words.Add(way > 0 ? "up" : way < 0 ? "down" : "aside");
            at += way;
        }
        if (asks.Count == 0) asks.Add(new(AskKind.Place, n, form, support: support));
        return new([.. asks], n, $"from {n}: {string.Join(' ', words)}", $"{n}: {string.Join(", ", words)}.", Shown(n, form));
    }

    /// <summary>A caller keeps so many calls apart; of more, every so many along the line.</summary>
    private static IReadOnlyList<Call> Thinned(IReadOnlyList<Call> calls) =>
        calls.Count <= MostCalls ? calls : [.. Enumerable.Range(0, MostCalls).Select(i => calls[i * calls.Count / MostCalls])];

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Rounds).Number;

    protected override float Handling(Setup setup) => Games.Handling.LineWalkCall;

    /// <summary>On a line long enough, no place again within three calls.</summary>
    protected override int Apart(Setup setup, int seat) => Ends(setup, seat) is var (from, to) && to - from + 1 >= ShortLine && setup.LevelAt(seat) is Point or Covered or Jump or Doubles ? 3 : 1;

    protected override bool NeverForeseen => true;

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "jump" => Played(setup, Jump),
        "step" => Played(setup, Steps2),
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
