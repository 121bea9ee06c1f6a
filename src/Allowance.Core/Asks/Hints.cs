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
    /// <summary>More than this lies on no frame and in no row; and no line goes further than <see cref="MostOnLine"/>.</summary>
    private const int MostInFrame = 20, MostOnLine = 100, MostOnAHand = 5;

    public static Hint Of(Ask ask, int step, Approach approach)
    {
        bool structure = approach["answers"] == "structure", fromLarger = approach["larger"] == "larger";
        return step switch
        {
            1 => new(1, Question(ask, structure)),
            2 => ask.IsWithoutNumbers && LaidOut(ask, structure) is { } says ? new(2, says) : Shown(ask, structure),
            _ => new(3, (ask.IsWithoutNumbers ? TogetherWithWhatLies(ask, fromLarger) : null) ?? Together(ask, structure, fromLarger)),
        };
    }

    /// <summary>A numeral or a word: there is nothing to count.</summary>
    private static bool IsRead(Ask ask) => ask is { Kind: AskKind.Say, Form: Form.Numeral or Form.Word };

    private static string Question(Ask ask, bool structure) => ask.Kind switch
    {
        AskKind.Part => structure ? "What is there already, and what is still to come?" : "Where would you start to count?",
        AskKind.Join when structure => ask.Answer is >= 0 and < 5 ? "Which of them do you see at once?" : "Can you see a five, or a ten, in it?",
        AskKind.Join => "Which one could you start from?",
        AskKind.Gone => structure ? "What stays as it is?" : "What do you have before anything goes?",
        AskKind.Say when IsRead(ask) => "Where have you seen it before?",
        AskKind.Say => structure ? "Is there a five, or a group you know?" : "Which one do you touch first?",
        AskKind.Take => structure ? "Which group of it could you take at once?" : "Which word will be the last one?",
        AskKind.Guess => "Are there more than you have fingers?",
        AskKind.Match => "What do you look at first?",
        AskKind.More or AskKind.Gap or AskKind.Even => structure ? "What do both of them have?" : "How could you put them side by side?",
        AskKind.Share => "How could everyone get one first?",
        AskKind.On or AskKind.Back or AskKind.Step => "Where are you now, and which way do you go?",
        AskKind.Place => "Which numbers near it do you know?",
        AskKind.Order => "Which of them is the smallest?",
        AskKind.Words => "Which one comes right at the start?",
        AskKind.Double when structure => ask[0] <= MostOnAHand ? "What do both hands show?" : "Which fives do you see in it?",
        AskKind.Double => "How would you count both?",
        AskKind.Split => structure ? "Which part of it could you see at once?" : "Which part could you begin with?",
        AskKind.Trace => "Where does the pen start?",
        AskKind.Story => "Who has what, and what is asked?",
        AskKind.Digits => "Which of them says how many tens?",
        AskKind.Times => "What is there again and again?",
        _ => throw new ArgumentOutOfRangeException(nameof(ask), ask.Kind, null),
    };

    private static Hint Shown(Ask ask, bool structure)
    {
        int n = ask.Kind == AskKind.Part ? ask[1] : ask[0];
        if (OnLine(ask, n) is { } onLine) return n <= MostOnLine ? new(2, onLine, Form.Line, n) : new(2, "Look at the hundreds first, then at the tens, then at the ones.");
        return ask.Kind switch
        {
            AskKind.Trace => new(2, "Trace it once with a finger.", Form.Numeral, n),
            AskKind.Story => new(2, "Draw it, or lay things out for it."),
            AskKind.Digits => new(2, "Cover all but the first. What is it worth there?"),
            AskKind.Guess => n == 5 ? new(2, "Here are ten. Is it more than that, or fewer?", Form.TenFrame, 10) : new(2, "Here are five. Is it more than that, or fewer?", Form.TenFrame, 5),
            AskKind.Double when n <= MostOnAHand => new(2, "Here it is on one side. The other side is the same.", Form.Fingers, n),
            AskKind.Double when n > MostInFrame => new(2, "How much are the tens twice? And the ones?"),
            AskKind.Times when n > MostInFrame => new(2, "Take the tens as often as the other says. Then the ones."),
            AskKind.More or AskKind.Gap or AskKind.Even when n > MostInFrame => new(2, "Look at the first figure of each. Then at the next."),
            _ when n > MostInFrame => new(2, "Make groups of ten of it first."),
            AskKind.Times => new(2, $"Here are {n}. Lay them out again, as often as the other says.", Form.Row, n),
            _ when structure => new(2, OnFrame(ask), n <= 10 && ask.Largest <= 10 ? Form.TenFrame : Form.DoubleTenFrame, n),
            _ => new(2, InRow(ask), Form.Row, n),
        };
    }

    /// <summary>What is looked for on a line; null where there is a nearer picture.</summary>
    private static string? OnLine(Ask ask, int n) => ask.Kind switch
    {
        AskKind.On or AskKind.Step => "Here you are on the line. Go on from there.",
        AskKind.Back => "Here you are on the line. Go back from there.",
        AskKind.Place or AskKind.Words => "Here is the line. Walk along it.",
        AskKind.Order => "Here is the line. Which of them comes first on it?",
        AskKind.Say when IsRead(ask) && n > MostInFrame => "Here it stands on the line. What comes before it?",
        AskKind.Join when n > MostInFrame => "Here is the first on the line. Go on from there.",
        AskKind.Gone when n > MostInFrame => "Here you are on the line. Go back from there.",
        AskKind.Part when ask[0] > MostInFrame => $"Here you are on the line. How far is it to {ask[0]}?",
        AskKind.Split when n > MostInFrame => "Here it is on the line. Which jumps lead there?",
        _ => null,
    };

    private static string OnFrame(Ask ask) => ask.Kind switch
    {
        AskKind.Part => ask[0] == 10 ? "Here it is on the frame. What is empty?" : $"Here it is on the frame. What is missing to {ask[0]}?",
        AskKind.Join => ask.Count > 2 ? "Here is the first. Where do the others go?" : "Here is the first. Where does the other go?",
        AskKind.Gone => "Here it is before. Cover what goes.",
        AskKind.More or AskKind.Gap or AskKind.Even => "Here is one of them. Put the other beside it.",
        AskKind.Double => "Here it is once. How much is it twice?",
        AskKind.Split => "Here it all is. Hold a finger between: what is on each side?",
        AskKind.Share => "Here they all are. Give everyone one, and look at what is left.",
        AskKind.Take => "So it looks on the frame. What is full?",
        _ => IsRead(ask) ? "So many it is. What do you see?" : "Here it is on the frame. What is full?",
    };

    private static string InRow(Ask ask) => ask.Kind switch
    {
        AskKind.Part => $"Here are {ask[1]}. Count on from there to {ask[0]}.",
        AskKind.Join => ask.Count > 2 ? "Here is the first. Go on counting with the others." : "Here is the first. Go on counting with the other.",
        AskKind.Gone => "Here it is before. Take away what goes, one by one.",
        AskKind.More or AskKind.Gap or AskKind.Even => "Here is one of them in a row. Lay the other beside it, one to one.",
        AskKind.Double => "Here it is once. Go on counting with the same again.",
        AskKind.Split => "Here they all lie in a row. Push some to one side: how many are there, and how many here?",
        AskKind.Share => "Here they all are. Give everyone one, and look at what is left.",
        AskKind.Take => "So many they are, in a row. Put one beside each.",
        _ => IsRead(ask) ? "So many it is. Count them." : "Here they lie in a row. Touch each one and say a word.",
    };

    private static string Together(Ask ask, bool structure, bool fromLarger) => ask.Kind switch
    {
        AskKind.Part when ask[0] > MostInFrame => $"Go on together from {ask[1]} to {ask[0]}, by tens where it goes.",
        AskKind.Part when structure => $"Put {ask[1]} on the frame together, fill up to {ask[0]}, and look at what you added.",
        AskKind.Part => $"Put out {ask[1]} together and count on until there are {ask[0]}.",
        AskKind.Join when fromLarger || ask[0] > MostInFrame => $"Start together from {ask[0]} and count on the rest.",
        AskKind.Join => ask.Count > 2 ? "Put them all out together and count them." : "Put both out together and count them all.",
        AskKind.Gone when ask[0] > MostInFrame => ask[1] <= 10 ? $"Go back together from {ask[0]}, a step for each that goes." : $"Go on together from {ask[1]} to {ask[0]}, by tens where it goes, and look how far it was.",
        AskKind.Gone => $"Put out {ask[0]} together, take {ask[1]} away, and look at what is left.",
        AskKind.Say when IsRead(ask) => "Count along the line together until you come to it.",
        AskKind.Say => "Touch each one together and say the words: the last is how many.",
        AskKind.Guess => "Guess together first, then count them together.",
        AskKind.Take => "Count them out together, one by one, and say the last word again.",
        AskKind.Match => "Lay the two side by side and compare.",
        AskKind.More or AskKind.Gap when ask.Largest > MostInFrame => "Find both on a long line together, and see which is further on.",
        AskKind.More or AskKind.Gap => "Put them side by side, one to one, and see what has no partner.",
        AskKind.Even => "Move one at a time together until both are the same.",
        AskKind.Share => "Deal them out together, one each, until none are left.",
        AskKind.On => $"Take {Steps(ask[1])} forward together and say each number.",
        AskKind.Back => $"Take {Steps(ask[1])} back together and say each number.",
        AskKind.Step => "Jump along together and say where you land.",
        AskKind.Place => "Walk there together from a number you both know.",
        AskKind.Order => "Find the smallest together, then the next.",
        AskKind.Words => "Say them together, and point along a line.",
        AskKind.Double when ask[0] > 10 => "Take the tens twice together, then the ones.",
        AskKind.Double when structure && ask[0] <= MostOnAHand => "Show it with both hands together, and look at all the fingers.",
        AskKind.Double when structure => $"Put out {ask[0]} and {ask[0]} together, and look for the fives in it.",
        AskKind.Double => $"Put out {ask[0]} and {ask[0]} together and count both.",
        AskKind.Split when ask[0] > MostInFrame => "Begin together with the largest part that goes, and look at what is missing.",
        AskKind.Split => $"Put out {ask[0]} together, push some to one side, and say both parts.",
        AskKind.Trace => "Write it together, hand over hand.",
        AskKind.Story => ask.Form == Form.Equation ? "Act it out together with things, then look for the sentence." : "Act it out together with things, and look at what comes out.",
        AskKind.Digits => "Say the tens together, then the ones, then both.",
        AskKind.Times => "Lay them out in rows together, and count by rows.",
        _ => throw new ArgumentOutOfRangeException(nameof(ask), ask.Kind, null),
    };

    /// <summary>With real things nobody told the numbers: what to do with those that lie there. Null where <see cref="Shown"/> needs none.</summary>
    private static string? LaidOut(Ask ask, bool structure) => ask.Kind switch
    {
        AskKind.Part => structure ? "Lay it on a frame. What is empty, or missing?" : "Put out what there is, and count on.",
        AskKind.Join => structure ? "Lay the first on a frame. Where does the other go?" : "Put out the first. Go on counting with the other.",
        AskKind.Gone => structure ? "Lay it on a frame as it was. Cover what goes." : "Put out what there was. Take away what goes, one by one.",
        AskKind.On or AskKind.Back or AskKind.Step or AskKind.Place or AskKind.Words or AskKind.Order => "Look for it on a line, and walk along it.",
        AskKind.More or AskKind.Gap or AskKind.Even => "Lay one of them out. Put the other beside it.",
        AskKind.Double => "Show it on one side. The other side is the same.",
        AskKind.Split => "Lay it all out. Hold a finger between: what is on each side?",
        AskKind.Share => "Put them all out. Give everyone one, and look at what is left.",
        AskKind.Guess => "Lay out five. Is it more than that, or fewer?",
        AskKind.Times => "Lay out the one, as often as the other says.",
        AskKind.Trace => "Trace it once with a finger.",
        AskKind.Story or AskKind.Digits => null,
        AskKind.Take => structure ? "How would it look on a frame?" : "Lay them in a row, one for each word.",
        _ when IsRead(ask) => "Look for it on a line. What comes before it?",
        _ => structure ? "Lay it on a frame. What is full?" : "Lay them in a row. Touch each one and say a word.",
    };

    /// <summary>Null where <see cref="Together"/> names no number.</summary>
    private static string? TogetherWithWhatLies(Ask ask, bool fromLarger) => ask.Kind switch
    {
        AskKind.Part => "Put out what there is together, fill up to the whole, and look at what you added.",
        AskKind.Join when fromLarger => "Start together from the larger one and count on the rest.",
        AskKind.Gone => "Put out what there was together, take away what goes, and look at what is left.",
        AskKind.On => "Take the steps forward together and say each number.",
        AskKind.Back => "Take the steps back together and say each number.",
        AskKind.Double => "Put it out twice together and count both.",
        AskKind.Split => "Put it all out together, push some to one side, and say both parts.",
        _ => null,
    };

    private static string Steps(int steps) => steps == 1 ? "one step" : $"{steps} steps";
}
