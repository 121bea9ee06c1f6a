namespace Allowance.Core.Forms;

/// <summary>A way of showing a number. The order is that of the published table.</summary>
public enum Form
{
    None, Objects, Dice, Scatter, Row, Twos, Domino, FiveFrame, TenFrame, DoubleTenFrame, Fingers, Tally, Rack, Bar,
    Line, Spots, Bond, Numeral, Word, Spoken, Equation,
}

/// <summary>What groups the marks of a form, so that an amount can be seen without counting one by one.</summary>
public enum Structure { None, Twos, Fives, Tens, Sign }

/// <param name="Id">The word used in files.</param>
/// <param name="Label">The word used on screens.</param>
/// <param name="Low">The smallest number the form can show.</param>
/// <param name="High">The largest number the form can show.</param>
/// <param name="Ease">How much easier seeing an amount is than with loose things, in logits (Learner/Constants explains the scale).</param>
/// <param name="Says">What it asks of a child, in one line.</param>
/// <param name="GoodFor">What it is good for, in one line.</param>
/// <param name="Schools">Where grown-ups are taught different things about it; empty where they are not.</param>
public sealed record FormFacts(Form Form, string Id, string Label, int Low, int High, Structure Structure, double Ease, string Says, string GoodFor, string Schools = "");

/// <summary>The table of forms: range, structure, and what each asks of a child.</summary>
public static class FormTable
{
    public static IReadOnlyList<FormFacts> All { get; } =
    [
        new(Form.None, "none", "no form", 0, 1000, Structure.None, 0, "Nothing is shown.", ""),
        new(Form.Objects, "objects", "things", 0, 30, Structure.None, 0, "Real things: touch each one once.", "Touching, moving and counting out; the beginning of every new idea.", "Things first and pictures later, or numerals beside the things from the start."),
        new(Form.Dice, "dice", "dice", 0, 12, Structure.Twos, 0.5, "Die faces; two dice for more than six.", "Seeing up to six at once; rolling makes many asks in little time.", "Always the same faces, or turned and split between two dice as they fall."),
        new(Form.Scatter, "scatter", "loose dots", 0, 20, Structure.None, 0, "Loose dots: up to four or five at a glance, more must be grouped or counted.", "Seeing small amounts in any arrangement, and finding groups in larger ones.", "One fixed picture of each number, or many: a number is more than its picture."),
        new(Form.Row, "row", "row", 0, 20, Structure.None, -0.1, "Dots in a line: easy to count, hard to see at once.", "Touching each one once; a line that can be halved, hidden or broken into parts."),
        new(Form.Twos, "twos", "twos", 0, 20, Structure.Twos, 0.3, "Two by two, the odd one on top: shows doubles and odd or even.", "Doubles, and whether one is left over.", "Odd and even early, by looking; or later, when sharing comes."),
        new(Form.Domino, "domino", "domino", 0, 12, Structure.Twos, 0.4, "Two faces side by side: an amount as two parts.", "A number as two parts that are seen together."),
        new(Form.FiveFrame, "five-frame", "five-frame", 0, 5, Structure.Fives, 0.5, "Five boxes: what is there, and what is missing to five.", "The first five: full or not, and what is missing.", "A full five before any other number, or each number as it comes."),
        new(Form.TenFrame, "ten-frame", "ten-frame", 0, 10, Structure.Fives, 0.5, "Two rows of five boxes: five-and-some, and what is missing to ten.", "Six to ten as five-and-some; partners of ten as what is empty.", "Filled along the row, so that five shows; or two by two, so that doubles show."),
        new(Form.DoubleTenFrame, "double-ten-frame", "double ten-frame", 0, 20, Structure.Tens, 0.5, "Two ten-frames: ten-and-some.", "Eleven to twenty as ten-and-some; going over ten.", "Filled along the row, or two by two."),
        new(Form.Fingers, "fingers", "fingers", 0, 20, Structure.Fives, 0.5, "Hands: a full five and some; toes for eleven to twenty.", "Always at hand; a five that need not be counted.", "Thumb first, index finger first, or the little finger of the left hand first and then across."),
        new(Form.Tally, "tally", "tally", 0, 30, Structure.Fives, 0.2, "Strokes in bundles of five.", "Keeping count while a game goes on; reading by fives."),
        new(Form.Rack, "rack", "rack", 0, 20, Structure.Fives, 0.4, "Two rows of ten beads, the colour changes after five.", "Five-and-some and ten-and-some that can be pushed in one move.", "All on one rod first, or near doubles on both."),
        new(Form.Bar, "bar", "bar", 0, 20, Structure.Fives, 0.2, "A strip of unit squares, a heavier line after each five.", "Numbers as lengths: joining end to end, comparing side by side."),
        new(Form.Line, "line", "line", 0, 100, Structure.Tens, 0.1, "A place on a number line.", "Order, next to, before and after; counting on and back as steps.", "Every number written, only the fives, only the ends, or none: fewer numbers ask for more."),
        new(Form.Spots, "spots", "rings", 0, 20, Structure.Fives, 0.1, "A card with rings to fill.", "Putting one thing on each ring: a number prepared, then filled."),
        new(Form.Bond, "bond", "bond", 0, 100, Structure.Sign, 0, "A whole and its two parts.", "A whole and its parts in one picture; each of the three can be hidden.", "Parts by looking first, or by counting them out."),
        new(Form.Numeral, "numeral", "numerals", 0, 1000, Structure.Sign, 0, "The written figure: nothing is left to count.", "Reading and writing numbers of any size.", "After things and pictures, or beside the things from the start."),
        new(Form.Word, "word", "words", 0, 100, Structure.Sign, -0.2, "The written word.", "Reading, once words are read."),
        new(Form.Spoken, "spoken", "spoken", 0, 1000, Structure.Sign, 0, "Heard, not seen: it must be kept in mind.", "Keeping a number in mind while fetching or counting."),
        new(Form.Equation, "equation", "equation", 0, 1000, Structure.Sign, -0.1, "The written sentence.", "Writing down what was done or seen.", "Said aloud, written each time, or not at all: the household chooses."),
    ];

    public static FormFacts Facts(this Form form) => All[(int)form];

    public static string Id(this Form form) => All[(int)form].Id;

    /// <summary>The form with this id, or null.</summary>
    public static Form? Find(string id) => All.FirstOrDefault(f => f.Id == id)?.Form;
}
