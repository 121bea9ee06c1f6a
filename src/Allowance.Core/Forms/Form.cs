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
public sealed record FormFacts(Form Form, string Id, string Label, int Low, int High, Structure Structure, double Ease, string Says);

/// <summary>The table of forms: range, structure, and what each asks of a child.</summary>
public static class FormTable
{
    public static IReadOnlyList<FormFacts> All { get; } =
    [
        new(Form.None, "none", "no form", 0, 1000, Structure.None, 0, "Nothing is shown."),
        new(Form.Objects, "objects", "things", 0, 30, Structure.None, 0, "Real things: touch each one once."),
        new(Form.Dice, "dice", "dice", 0, 12, Structure.Twos, 0.5, "Die faces; two dice for more than six."),
        new(Form.Scatter, "scatter", "loose dots", 0, 20, Structure.None, 0, "Loose dots: up to four or five at a glance, more must be grouped or counted."),
        new(Form.Row, "row", "row", 0, 20, Structure.None, -0.1, "Dots in a line: easy to count, hard to see at once."),
        new(Form.Twos, "twos", "twos", 0, 20, Structure.Twos, 0.3, "Two by two, the odd one on top: shows doubles and odd or even."),
        new(Form.Domino, "domino", "domino", 0, 12, Structure.Twos, 0.4, "Two faces side by side: an amount as two parts."),
        new(Form.FiveFrame, "five-frame", "five-frame", 0, 5, Structure.Fives, 0.5, "Five boxes: what is there, and what is missing to five."),
        new(Form.TenFrame, "ten-frame", "ten-frame", 0, 10, Structure.Fives, 0.5, "Two rows of five boxes: five-and-some, and what is missing to ten."),
        new(Form.DoubleTenFrame, "double-ten-frame", "double ten-frame", 0, 20, Structure.Tens, 0.5, "Two ten-frames: ten-and-some."),
        new(Form.Fingers, "fingers", "fingers", 0, 20, Structure.Fives, 0.5, "Hands: a full five and some; toes for eleven to twenty."),
        new(Form.Tally, "tally", "tally", 0, 30, Structure.Fives, 0.2, "Strokes in bundles of five."),
        new(Form.Rack, "rack", "rack", 0, 20, Structure.Fives, 0.4, "Two rows of ten beads, the colour changes after five."),
        new(Form.Bar, "bar", "bar", 0, 20, Structure.Fives, 0.2, "A strip of unit squares, a heavier line after each five."),
        new(Form.Line, "line", "line", 0, 100, Structure.Tens, 0.1, "A place on a number line."),
        new(Form.Spots, "spots", "rings", 0, 20, Structure.Fives, 0.1, "A card with rings to fill."),
        new(Form.Bond, "bond", "bond", 0, 100, Structure.Sign, 0, "A whole and its two parts."),
        new(Form.Numeral, "numeral", "numerals", 0, 1000, Structure.Sign, 0, "The written figure: nothing is left to count."),
        new(Form.Word, "word", "words", 0, 100, Structure.Sign, -0.2, "The written word."),
        new(Form.Spoken, "spoken", "spoken", 0, 1000, Structure.Sign, 0, "Heard, not seen: it must be kept in mind."),
        new(Form.Equation, "equation", "equation", 0, 1000, Structure.Sign, -0.1, "The written sentence."),
    ];

    public static FormFacts Facts(this Form form) => All[(int)form];

    public static string Id(this Form form) => All[(int)form].Id;

    /// <summary>The form with this id, or null.</summary>
    public static Form? Find(string id) => All.FirstOrDefault(f => f.Id == id)?.Form;
}
