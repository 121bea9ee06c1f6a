using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>
/// Glimpse: a picture shows for a moment, then a cover. How long is no rule of the game: it follows from what was seen
/// before (<c>Learner/Staircase</c>), and the time really shown stands in the note.
/// </summary>
public sealed class Glimpse : CalledFrame
{
    public const string Name = "name", Show = "show", ToFive = "toFive", ToTen = "toTen", OneMore = "oneMore", OneFewer = "oneFewer", FiveAnd = "fiveAnd", HowSeen = "howSeen";

    public const string AtOnce = "atOnce", InTurn = "inTurn", Many = "many", Fixed = "fixed";

    private const int MostNumber = 20;

    private static readonly FormsKind Pictured = new([Form.Dice, Form.Scatter, Form.Row, Form.Twos, Form.Domino, Form.FiveFrame, Form.TenFrame, Form.DoubleTenFrame, Form.Fingers, Form.Tally, Form.Rack, Form.Bar, Form.Numeral]);
    private static readonly ChoiceKind PictureChoice = ChoiceKind.Of((Many, "many pictures"), (Fixed, "one fixed picture"));
    private static readonly ChoiceKind Answering = ChoiceKind.Of((InTurn, "one after another"), (AtOnce, "all at once"));

    public static class Knobs
    {
        public static readonly Knob<RangeValue> Range = new("range", "Range", new RangeKind(0, MostNumber), new RangeValue(new(1, 5)), Belongs.Range, Scope.Both, Sits.Cards, "The numbers that are shown.", KnobRole.Range);
        public static readonly Knob<FormsValue> Forms = new("forms", "Shown as", Pictured, new FormsValue([Form.Dice, Form.Scatter]), Belongs.Form, Scope.Both, Sits.Cards, "The pictures, one or several in turn.");
        public static readonly Knob<ChoiceValue> Pictures = new("pictures", "Pictures", PictureChoice, PictureChoice[Many], Belongs.Form, Scope.Table, Sits.Cards, "Always the same picture of a number, or many.");
        public static readonly Knob<WholeValue> ShowMs = new("showMs", "Shown first for, in thousandths of a second", new WholeKind((int)(1000 * ShowTimes.Shortest), (int)(1000 * ShowTimes.Longest), ShowTimes.Step), new WholeValue(2000), Belongs.Support, Scope.Both, Sits.Game, "How long a picture shows that was never seen before.");
        public static readonly Knob<FlagValue> Adaptive = new("adaptive", "Time follows her", new FlagKind(), new FlagValue(true), Belongs.Support, Scope.Both, Sits.Game, "Three right in a row shorten the time of a picture by a step, one wrong lengthens it.");
        public static readonly Knob<FlagValue> Cover = new("cover", "Cover", new FlagKind(), new FlagValue(true), Belongs.Support, Scope.Table, Sits.Game, "A pattern covers the picture afterwards, so that nothing lingers in the eye.");
        public static readonly Knob<WholeValue> Looks = new("looks", "Pictures each", new WholeKind(8, 12), new WholeValue(10), Belongs.Length, Scope.Table, Sits.Game, "How many pictures each player sees.");
        public static readonly Knob<ChoiceValue> Answers = new("answers", "They answer", Answering, Answering[InTurn], Belongs.Length, Scope.Table, Sits.Game, "One after another, or all at once on fingers or little boards.", KnobRole.Answers);
        public static readonly Knob<ChoiceValue> Winning = CommonKnobs.Winning(null, "all together see them all");
    }

    public override FrameData Data { get; } = new(
        "glimpse", "Glimpse", Family.Seeing, "A picture shows for a moment: how many?", "It ends when everyone has seen her pictures.", 1, Engine.MostInGroup,
        [Knobs.Range, Knobs.Forms, Knobs.Pictures, Knobs.ShowMs, Knobs.Adaptive, Knobs.Cover, Knobs.Looks, Knobs.Answers, Knobs.Winning, CommonKnobs.Support],
        [
            Level.Free(Name, "Name it", "Say how many there were."),
            Level.Free(Show, "Show it", "Show as many fingers."),
            Level.Free(ToFive, "To five", "Say how many more make five."),
            Level.Free(ToTen, "To ten", "Say how many more make ten."),
            Level.Free(OneMore, "One more", "Say the number that is one more."),
            Level.Free(OneFewer, "One fewer", "Say the number that is one fewer."),
            Level.Free(FiveAnd, "Five and", "Say it as five and some: five and three make eight.", (Knobs.Range, new RangeValue(new(6, 10))), (Knobs.Forms, new FormsValue([Form.Fingers, Form.TenFrame]))),
            Level.Free(HowSeen, "How did you see it?", "Say how many, then draw a ring round the groups you saw."),
        ],
        Name, [AskKind.Say, AskKind.Part, AskKind.On, AskKind.Back, AskKind.Join]);

    /// <summary>What stands at a seat otherwise than the table has it.</summary>
    private static string? OfHerOwn(Setup setup, int seat)
    {
        var (allowance, level) = (setup.Seats[seat].Allowance, setup.Seats[seat].Level);
        return allowance.Keys.FirstOrDefault(id => !Equals(allowance[id], setup.Get(setup.Frame.Knob(id)!)))
            ?? (level is null || level == setup.LevelId ? null : "level");
    }

    protected override IReadOnlyList<Problem> Refusals(Setup setup)
    {
        var problems = new List<Problem>();
        if (setup.Seats.Length > Engine.MostSeats && !AnswersAtOnce(setup))
            problems.Add(new("table.answers", $"{setup.Seats.Length} players would wait long for their turns; more than {Engine.MostSeats} answer all at once.", AtOnce));
        for (int s = 0; s < setup.Seats.Length && problems.Count == 0; s++)
        {
            if (AnswersAtOnce(setup) && OfHerOwn(setup, s) is { } own)
                problems.Add(new($"players[{s}].allowance.{own}", "All answer the same picture at once; nobody has pictures of her own.", own == "level" ? setup.LevelId : setup.Get(setup.Frame.Knob(own)!)?.ToJson()));
            var range = setup.At(s, Knobs.Range).Range;
            string level = setup.LevelAt(s);
            if (level is not (Show or ToFive or ToTen or OneMore or OneFewer) && setup.At(s, Knobs.Forms).Forms is var shown && shown.Contains(Form.Numeral))
                problems.Add(new(setup.Path(s, Knobs.Forms), "A numeral is read and not seen at a glance; it goes where something is made of it.", new FormsValue([.. shown.Where(f => f != Form.Numeral).DefaultIfEmpty(Form.Dice)]).ToJson()));
            else if (Numbers(range, level).Count == 0)
                problems.Add(new(setup.Path(s, Knobs.Range), $"{range} has nothing for \"{Data.Level(level)!.Label.ToLowerInvariant()}\".", new RangeValue(level == OneFewer ? new(1, 5) : new(0, level == ToFive ? 5 : 10)).ToJson()));
            else if (setup.At(s, Knobs.Forms).Forms.FirstOrDefault(f => !Numbers(range, level).Exists(n => Pictures.CanDraw(f, n)), Form.None) is var form and not Form.None)
                problems.Add(new(setup.Path(s, Knobs.Forms), $"{Words.Sentence(form.Facts().Label).TrimEnd('.')} show {form.Facts().Low} to {form.Facts().High}, and the pictures go from {Numbers(range, level)[0]} to {Numbers(range, level)[^1]}.", new FormsValue([Form.Scatter]).ToJson()));
        }
        return problems;
    }

    private static List<int> Numbers(NumberRange range, string level) =>
        [.. Enumerable.Range(range.Low, range.High - range.Low + 1).Where(n => level switch { ToFive => n <= 5, ToTen => n <= 10, OneFewer => n >= 1, FiveAnd => n is > 5 and <= 10, _ => true })];

    public override IReadOnlyList<Call> Calls(Setup setup, int seat)
    {
        string level = setup.LevelAt(seat);
        return [.. setup.At(seat, Knobs.Forms).Forms.SelectMany(form => Numbers(setup.At(seat, Knobs.Range).Range, level).Where(n => Pictures.CanDraw(form, n))
            .Select(n => new Call([AskOf(level, n, form, CommonKnobs.SupportAt(setup, seat))], n, $"{n}, {form.Facts().Label}", Says(level), [new Stage("The picture", [new(0, n, form, ItemState.Up, false)])])))];
    }

    private static Ask AskOf(string level, int n, Form form, Support support) => level switch
    {
        ToFive => new(AskKind.Part, 5, n, form, support),
        ToTen => new(AskKind.Part, 10, n, form, support),
        OneMore => new(AskKind.On, n, 1, form, support),
        OneFewer => new(AskKind.Back, n, 1, form, support),
        FiveAnd => new(AskKind.Join, 5, n - 5, form, support),
        _ => new(AskKind.Say, n, form, support: support),
    };

    private static string Says(string level) => level switch
    {
        Show => "Show as many fingers.",
        ToFive => "How many more make five?",
        ToTen => "How many more make ten?",
        OneMore => "What is one more?",
        OneFewer => "What is one fewer?",
        FiveAnd => "Five and how many more? How many is that?",
        HowSeen => "How many? How did you see it?",
        _ => "How many?",
    };

    protected override int Rounds(Setup setup) => setup.Get(Knobs.Looks).Number;

    protected override float Handling(Setup setup, Call call) => Games.Handling.GlimpseLook;

    public override bool AnswersAtOnce(Setup setup) => setup.Get(Knobs.Answers).Id == AtOnce;

    public override bool Matters(Setup setup, Knob knob) => knob.Id switch
    {
        "support" => Enumerable.Range(0, setup.Seats.Length).Any(s => setup.LevelAt(s) is ToFive or ToTen),
        "answers" => setup.Seats.Length > 1 || AnswersAtOnce(setup),
        _ => true,
    };

    /// <summary>Without a screen: cards to hold up, and nothing at all for hands.</summary>
    public override IReadOnlyList<Need> Needs(Setup setup)
    {
        int cards = Enumerable.Range(0, setup.Seats.Length).SelectMany(s => Calls(setup, s)).SelectMany(c => c.Lies).SelectMany(z => z.Items).Where(i => i.Form != Form.Fingers).Select(i => (i.Value, i.Form)).Distinct().Count();
        return cards == 0 ? [] : [new("cards", cards)];
    }

    public override IReadOnlyList<string> GetReady(Setup setup) =>
    [
        "On the screen: turn it so that all can see, and say “ready?” before each picture.",
        Needs(setup) is [_, ..] needs ? $"Without a screen: {Words.Count(needs[0].Count, "card")} to hold up for a moment and put down." : "Without a screen: hold up the fingers for a moment and close the hands.",
    ];

    public override IReadOnlyList<SingleChange> RangeSteps(Setup setup, int seat)
    {
        var range = setup.At(seat, Knobs.Range).Range;
        return [.. new[] { range.High - 1, range.High + 1 }.Where(high => high >= range.Low && high <= MostNumber).Select(high => new RangeValue(new(range.Low, high)))
            .Select(v => Turned(setup, seat, Knobs.Range, v))];
    }

    public override string Summary(Setup setup) => $"{setup.Get(Knobs.Range)}, as {setup.Get(Knobs.Forms)}";
}
