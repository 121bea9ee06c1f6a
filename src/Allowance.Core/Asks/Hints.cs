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
    private const int MostInFrame = 20;

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
        AskKind.Gone => structure ? "What stays as it is?" : "What do you have before anything goes?",
        AskKind.Say when ask.Form is Form.Numeral or Form.Word => "Where have you seen it before?",
        AskKind.Say or AskKind.Take or AskKind.Guess => structure ? "Is there a five, or a group you know?" : "Which one do you touch first?",
        AskKind.Match => "What do you look at first?",
        AskKind.More or AskKind.Gap or AskKind.Even => structure ? "What do both of them have?" : "How could you put them side by side?",
        AskKind.Share => "How could everyone get one first?",
        AskKind.On or AskKind.Back or AskKind.Step => "Where are you now, and which way do you go?",
        AskKind.Place or AskKind.Order => "Which numbers near it do you know?",
        AskKind.Words => "Which one comes right at the start?",
        AskKind.Double => structure ? "What do both hands show?" : "How would you count both?",
        AskKind.Trace => "Where does the pen start?",
        AskKind.Digits => "Which of them says how many tens?",
        AskKind.Times => "What is there again and again?",
        _ => structure ? "What do you see in it?" : "How could you find out?",
    };

    private static Hint Shown(Ask ask, bool structure)
    {
        int n = ask.Kind == AskKind.Part ? ask[1] : ask[0];
        if (ask.Kind is AskKind.On or AskKind.Back or AskKind.Step or AskKind.Place or AskKind.Words or AskKind.Order)
            return new(2, ask.Kind is AskKind.Words or AskKind.Place or AskKind.Order ? "Here is the line. Walk along it." : "Here you are on the line. Go on from there.", Form.Line, Math.Min(n, 100));
        if (ask.Kind == AskKind.Trace) return new(2, "Trace it once with a finger.", Form.Numeral, n);
        if (ask is { Kind: AskKind.Double, Largest: <= 10 }) return new(2, "Here it is on one side. The other side is the same.", Form.Fingers, n);
        // What no frame holds is looked at place by place.
        if (ask.Kind == AskKind.Digits || n > MostInFrame && ask.Kind is AskKind.More or AskKind.Gap)
            return new(2, ask.Kind == AskKind.Digits ? "Cover all but the first. What is it worth there?" : "Look at the first figure of each. Then at the next.");
        if (ask.Kind == AskKind.Times) return new(2, $"Here are {n}. Lay them out again, as often as the other says.", Form.Row, Math.Min(n, 20));
        var picture = n <= 10 && ask.Largest <= 10 ? Form.TenFrame : Form.DoubleTenFrame;
        if (!structure) return new(2, $"Here are {n}. Touch each one, then go on.", Form.Row, Math.Min(n, 20));
        return new(2, ask.Kind switch
        {
            AskKind.Part when ask[0] == 10 => "Here it is on the frame. What is empty?",
            AskKind.Part => $"Here it is on the frame. What is missing to {ask[0]}?",
            AskKind.Join => "Here is the first. Where does the other go?",
            AskKind.Gone => "Here it is before. Cover what goes.",
            AskKind.More or AskKind.Gap or AskKind.Even => "Here is one of them. Put the other beside it.",
            AskKind.Say or AskKind.Take or AskKind.Match or AskKind.Guess => "Here it is on the frame. What is full?",
            _ => "Here it is on the frame.",
        }, picture, Math.Min(n, 20));
    }

    private static string Together(Ask ask, bool structure, bool fromLarger) => ask.Kind switch
    {
        AskKind.Part when structure => $"Put {ask[1]} on the frame together, fill up to {ask[0]}, and look at what you added.",
        AskKind.Part => $"Put out {ask[1]} together and count on until there are {ask[0]}.",
        AskKind.Join when fromLarger => $"Start together from {ask[0]} and count on the rest.",
        AskKind.Join => "Put both out together and count them all.",
        AskKind.Gone => $"Put out {ask[0]} together, take {ask[1]} away, and look at what is left.",
        AskKind.Say or AskKind.Guess => "Touch each one together and say the words.",
        AskKind.Take => "Count them out together, one by one, and say the last word again.",
        AskKind.Match => "Lay the two side by side and compare.",
        AskKind.More or AskKind.Gap when ask.Largest > MostInFrame => "Find both on a long line together, and see which is further on.",
        AskKind.More or AskKind.Gap => "Put them side by side, one to one, and see what has no partner.",
        AskKind.Even => "Move one at a time together until both are the same.",
        AskKind.Share => "Deal them out together, one each, until none are left.",
        AskKind.On => $"Take {ask[1]} steps forward together and say each number.",
        AskKind.Back => $"Take {ask[1]} steps back together and say each number.",
        AskKind.Step => "Jump along together and say where you land.",
        AskKind.Place => "Walk there together from a number you both know.",
        AskKind.Order => "Find the smallest together, then the next.",
        AskKind.Words => "Say them together, a little louder at each ten.",
        AskKind.Double => $"Show {ask[0]} and {ask[0]} together and count both.",
        AskKind.Trace => "Write it together, hand over hand.",
        AskKind.Digits => "Say the tens together, then the ones, then both.",
        AskKind.Times => "Lay them out in rows together, and count by rows.",
        _ => "Do it together, and count to check.",
    };
}
