using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Asks;

/// <summary>Asks in plain words, for screens and rule sheets. An ask's words never contain its answer.</summary>
public static class Wording
{
    /// <summary>The question, as a grown-up would say it.</summary>
    public static string Question(this Ask ask) => ask.IsWithoutNumbers ? OfSomeNumbers(ask) : ask.Kind switch
    {
        AskKind.Words => $"Say the numbers from {ask[0]} to {ask[1]}.",
        AskKind.Say when ask.Form is Form.Numeral or Form.Word => "Which number is this?",
        AskKind.Say => "How many?",
        AskKind.Take => $"Put out {ask[0]}.",
        AskKind.Match => $"Find another {ask[0]}.",
        AskKind.More => "More, fewer, or the same?",
        AskKind.Guess => "About how many?",
        AskKind.Order => "Put them in order.",
        AskKind.Place => "Which number is here?",
        AskKind.On => $"{ask[1]} on from {ask[0]}?",
        AskKind.Back => $"{ask[1]} back from {ask[0]}?",
        AskKind.Step => $"In steps of {ask[1]}: what comes after {ask[0]}?",
        AskKind.Join => $"How many are {Numbers(ask)} together?",
        AskKind.Gone => $"{ask[0]}, and {Going(ask[1])}: how many are left?",
        AskKind.Part => $"{ask[1]} and what make {ask[0]}?",
        AskKind.Split => $"Which parts make {ask[0]}?",
        AskKind.Gap => ask[0] == ask[1] ? $"How far apart are {ask[0]} and {ask[1]}?" : $"How many more is {ask[0]} than {ask[1]}?",
        AskKind.Even => $"Make {ask[0]} and {ask[1]} the same.",
        AskKind.Share => $"Share {ask[0]} fairly among {ask[1]}.",
        AskKind.Double => $"Twice {ask[0]}?",
        AskKind.Trace => $"Write {ask[0]}.",
        AskKind.Story => ask.Form == Form.Equation ? "Which sentence goes with the story?" : "What comes out in the story?",
        AskKind.Digits => ask.Count == 1 ? "Read it." : "Which is more?",
        _ => string.Join(" times ", Enumerable.Range(0, ask.Count).Select(i => ask[i])) + "?",
    };

    /// <summary>"1 goes away", "3 go away".</summary>
    public static string Going(int n) => n == 1 ? "1 goes away" : $"{n} go away";

    private static string OfSomeNumbers(Ask ask) => ask.Kind switch
    {
        AskKind.Words => "Say the numbers in their order.",
        AskKind.Take => "Put out that many.",
        AskKind.Match => "Find another that shows the same.",
        AskKind.On => "Counting on: where does it end?",
        AskKind.Back => "Counting back: where does it end?",
        AskKind.Step => "What comes next in these steps?",
        AskKind.Join => "How many together?",
        AskKind.Gone => "How many are left?",
        AskKind.Part => "Which part is missing?",
        AskKind.Split => "Which parts make it?",
        AskKind.Gap => "How many more?",
        AskKind.Even => "Make them the same.",
        AskKind.Share => "Share them fairly.",
        AskKind.Double => "Twice that many?",
        AskKind.Trace => "Write the number.",
        AskKind.Digits => "Read it.",
        AskKind.Times => "One times the other: how many?",
        _ => Question(new Ask(ask.Kind, 0, ask.Form)),
    };

    /// <summary>
    /// The question where the game itself has shown or said the numbers. It bears none that is the answer to it, or to
    /// anything else that the turn asks of anybody.
    /// </summary>
    public static string QuestionAtTable(this Ask ask, IEnumerable<Ask> turn)
    {
        if (ask.Kind is AskKind.Take or AskKind.Match or AskKind.Trace) return OfSomeNumbers(ask);
        var told = Enumerable.Range(0, ask.Count).Select(i => ask[i]).ToHashSet();
        return turn.Append(ask).Any(a => told.Contains(a.Answer)) ? OfSomeNumbers(ask) : ask.Question();
    }

    /// <summary>How to put an ask with things on the table, for the grown-up.</summary>
    public static string WithThings(this Ask ask) => ask.Kind switch
    {
        AskKind.Say => ask.Form == Form.Spoken ? "Say it aloud." : $"Put {ask[0]} things on the table{(ask.Form == Form.Row ? ", in a row" : ", loosely")}.",
        AskKind.More => ask.Form == Form.Numeral ? $"Write {ask[0]} and {ask[1]} side by side." : $"Put out a heap of {ask[0]} and a heap of {ask[1]}.",
        AskKind.Join => ask.Form == Form.Numeral ? "Ask it, or write the numbers." : "Put the heaps out side by side; she may count.",
        AskKind.Part => ask.Form == Form.Numeral ? "Ask it, or write the numbers." : $"Show {ask[0]} things, then hide all but {ask[1]}.",
        AskKind.Gone => "Show them, then take away.",
        AskKind.On or AskKind.Back => "On a number line, or in the air.",
        AskKind.Take => "From a heap of things.",
        _ => "Ask it aloud; things may be used.",
    };

    /// <summary>The answer in words, shown only while the grown-up holds it open; empty where there is none.</summary>
    public static string AnswerWords(this Ask ask) => ask.IsWithoutNumbers ? "" : ask.Kind switch
    {
        AskKind.Part => $"{ask[0] - ask[1]}",
        AskKind.Join => $"{ask.Total}",
        // Which is fewer may be asked as well.
        AskKind.More when ask.Count == 2 => ask[0] == ask[1] ? "the same" : $"{Math.Max(ask[0], ask[1])} > {Math.Min(ask[0], ask[1])}",
        AskKind.Order => string.Join(", ", Enumerable.Range(0, ask.Count).Select(i => ask[i]).Order()),
        AskKind.Share when ask[0] % Math.Max(1, ask[1]) is > 0 and var left => $"{ask.Answer}, and {left} left over",
        _ => ask.Answer < 0 ? "" : ask.Answer.ToString(),
    };

    /// <summary>What is written of it with its answer: 5 + 3 = 8; empty where nothing is.</summary>
    public static string Equation(this Ask ask)
    {
        if (ask.IsWithoutNumbers) return "";
        string sum = string.Join(" + ", Enumerable.Range(0, ask.Count).Select(i => ask[i]));
        return ask.Kind switch
        {
            AskKind.Join => $"{sum} = {ask.Answer}",
            AskKind.Gone or AskKind.Gap or AskKind.Back => $"{ask[0]} − {ask[1]} = {ask.Answer}",
            AskKind.On => $"{ask[0]} + {ask[1]} = {ask.Answer}",
            AskKind.Part => $"{ask[1]} + {ask.Answer} = {ask[0]}",
            AskKind.Double => $"{ask[0]} + {ask[0]} = {ask.Answer}",
            AskKind.Share when ask[0] % ask[1] == 0 => $"{ask[0]} ÷ {ask[1]} = {ask.Answer}",
            AskKind.Times => $"{string.Join(" × ", Enumerable.Range(0, ask.Count).Select(i => ask[i]))} = {ask.Answer}",
            AskKind.More when ask.Count == 2 => ask[0] == ask[1] ? $"{ask[0]} = {ask[1]}" : $"{Math.Max(ask[0], ask[1])} > {Math.Min(ask[0], ask[1])}",
            _ => "",
        };
    }

    /// <summary>The same in words, to be said aloud: five and three make eight.</summary>
    public static string Sentence(this Ask ask)
    {
        if (ask.IsWithoutNumbers || ask.Count < 1 || ask.Answer is < 0 or > MostSaid || ask.Largest > MostSaid) return "";
        string all = string.Join(" and ", Enumerable.Range(0, ask.Count).Select(i => NumberWords.Of(ask[i]))), answer = NumberWords.Of(ask.Answer);
        string first = NumberWords.Of(ask[0]), second = ask.Count > 1 ? NumberWords.Of(ask[1]) : "";
        return ask.Kind switch
        {
            AskKind.Join => $"{all} make {answer}",
            AskKind.Gone => $"{first} take away {second} leaves {answer}",
            AskKind.Gap => $"{first} is {answer} more than {second}",
            AskKind.On => $"{second} on from {first} is {answer}",
            AskKind.Back => $"{second} back from {first} is {answer}",
            AskKind.Part => $"{second} and {answer} make {first}",
            AskKind.Double => $"twice {first} is {answer}",
            AskKind.Share when ask[0] % ask[1] == 0 => $"{first} among {second} is {answer} each",
            AskKind.Times => $"{string.Join(" times ", Enumerable.Range(0, ask.Count).Select(i => NumberWords.Of(ask[i])))} is {answer}",
            AskKind.More when ask.Count == 2 => ask[0] == ask[1] ? $"{first} and {second} are the same" : $"{NumberWords.Of(Math.Max(ask[0], ask[1]))} is more than {NumberWords.Of(Math.Min(ask[0], ask[1]))}",
            _ => "",
        };
    }

    /// <summary>Larger numbers have no words here.</summary>
    private const int MostSaid = 999;

    private static string Numbers(Ask ask) =>
        string.Join(", ", Enumerable.Range(0, ask.Count - 1).Select(i => ask[i])) + " and " + ask[ask.Count - 1];
}
