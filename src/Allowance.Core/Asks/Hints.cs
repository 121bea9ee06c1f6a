using Allowance.Core.Forms;

namespace Allowance.Core.Asks;

/// <summary>A hint: what to say, and a picture of the structure where one helps.</summary>
/// <param name="Picture">The form to show, or none.</param>
/// <param name="Shown">How many are shown in it.</param>
public sealed record Hint(int Step, string Says, Form Picture = Form.None, int Shown = 0);

/// <summary>
/// Hints in three steps, by the household's approach: a question without a number; the structure shown; done together.
/// After the second or third the answer is noted as <em>with help</em>. A hint never states the answer.
/// </summary>
public static class Hints
{
    public static Hint Of(Ask ask, int step, Approach approach)
    {
        bool structure = approach["answers"] == "structure";
        return step switch
        {
            1 => new(1, Question(ask, structure)),
            2 => Shown(ask, structure),
            _ => new(3, Together(ask, structure, approach["larger"] == "larger")),
        };
    }

    private static string Question(Ask ask, bool structure) => ask.Kind switch
    {
        AskKind.Part => structure ? "What do you see that is full already?" : "Where would you start to count?",
        AskKind.Join => structure ? "Can you see a five, or a ten, in it?" : "Which one could you start from?",
        AskKind.Match => "What do you look at first?",
        _ => structure ? "What do you see in it?" : "How could you find out?",
    };

    private static Hint Shown(Ask ask, bool structure)
    {
        int n = ask.Kind == AskKind.Join ? ask[0] : ask.Kind == AskKind.Part ? ask[1] : ask[0];
        var picture = n <= 10 && ask.Largest <= 10 ? Form.TenFrame : Form.DoubleTenFrame;
        if (!structure) return new(2, $"Here are {n}. Touch each one, then go on.", Form.Row, Math.Min(n, 20));
        return new(2, ask.Kind switch
        {
            AskKind.Part when ask[0] == 10 => "Here it is on the frame. What is empty?",
            AskKind.Part => $"Here it is on the frame. What is missing to {ask[0]}?",
            AskKind.Join => "Here is the first. Where does the other go?",
            _ => "Here it is on the frame.",
        }, picture, Math.Min(n, 20));
    }

    private static string Together(Ask ask, bool structure, bool fromLarger) => ask.Kind switch
    {
        AskKind.Part when structure => $"Put {ask[1]} on the frame together, fill up to {ask[0]}, and look at what you added.",
        AskKind.Part => $"Put out {ask[1]} together and count on until there are {ask[0]}.",
        AskKind.Join when fromLarger => $"Start together from {ask[0]} and count on the rest.",
        AskKind.Join => "Put both out together and count them all.",
        AskKind.Match => "Lay the two side by side and compare.",
        _ => "Do it together, and count to check.",
    };
}
