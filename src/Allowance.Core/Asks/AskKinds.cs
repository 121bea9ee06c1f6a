namespace Allowance.Core.Asks;

/// <summary>The kinds of ask, in the order of the published table.</summary>
public enum AskKind
{
    Words, Say, Take, Match, More, Guess, Order, Place, On, Back, Step, Join, Gone, Part, Split, Gap, Even, Share,
    Double, Trace, Story, Digits, Times,
}

/// <summary>Which outcomes an ask can have.</summary>
public enum OutcomeScale
{
    /// <summary>All six outcomes: she may count, use the structure or see it.</summary>
    Countable,
    /// <summary>Only not yet, with help, and right at once: there is nothing to count.</summary>
    Told,
    /// <summary>How near, not right or wrong.</summary>
    Nearness,
}

/// <param name="Numbers">Least and most numbers that the ask carries.</param>
/// <param name="Forms">How many forms it names.</param>
/// <param name="Feeds">Ids of the skills it tells something about, the leading one first.</param>
public sealed record AskKindFacts(AskKind Kind, string Id, string Example, string Asks, (int Least, int Most) Numbers, int Forms, OutcomeScale Scale, IReadOnlyList<string> Feeds);

/// <summary>The table of the kinds of ask: what each asks, and which skills it feeds.</summary>
public static class AskKinds
{
    public static IReadOnlyList<AskKindFacts> All { get; } =
    [
        new(AskKind.Words, "words", "words 1 10", "say the words from … to …", (2, 2), 0, OutcomeScale.Told, ["words", "wordsback"]),
        new(AskKind.Say, "say", "say 5 dice", "how many, or read it", (1, 1), 1, OutcomeScale.Countable, ["glance", "fives", "tens", "howmany", "touch", "unmoved", "numeral"]),
        new(AskKind.Take, "take", "take 4 spoken", "put out that many", (1, 1), 1, OutcomeScale.Told, ["takeout", "hold"]),
        new(AskKind.Match, "match", "match 5 dice numeral", "find the same in another form", (1, 1), 2, OutcomeScale.Countable, ["match"]),
        new(AskKind.More, "more", "more 6 9 numeral", "which is more, or the same", (2, 2), 1, OutcomeScale.Countable, ["more"]),
        new(AskKind.Guess, "guess", "guess 12 scatter", "about how many", (1, 1), 1, OutcomeScale.Nearness, ["guess"]),
        new(AskKind.Order, "order", "order 3 7 9 numeral", "put in order", (2, 6), 1, OutcomeScale.Told, ["order"]),
        new(AskKind.Place, "place", "place 7 line", "which number is here, or hidden", (1, 1), 1, OutcomeScale.Countable, ["place", "ordinal"]),
        new(AskKind.On, "on", "on 7 3 line", "counting on", (2, 2), 1, OutcomeScale.Countable, ["on", "next"]),
        new(AskKind.Back, "back", "back 7 3 line", "counting back", (2, 2), 1, OutcomeScale.Countable, ["back", "next"]),
        new(AskKind.Step, "step", "step 14 2 line", "the next in steps", (2, 2), 1, OutcomeScale.Told, ["steps"]),
        new(AskKind.Join, "join", "join 5 3 dice", "how many together", (2, 6), 1, OutcomeScale.Countable, ["join", "double", "ones", "cross", "several"]),
        new(AskKind.Gone, "gone", "gone 8 3 objects", "how many are left", (2, 2), 1, OutcomeScale.Countable, ["take", "ones", "cross"]),
        new(AskKind.Part, "part", "part 10 6 numeral", "the missing part", (2, 2), 1, OutcomeScale.Countable, ["partners", "hidden"]),
        new(AskKind.Split, "split", "split 7 bond", "any two (or more) parts", (1, 2), 1, OutcomeScale.Told, ["ways", "partners"]),
        new(AskKind.Gap, "gap", "gap 9 6 numeral", "how many more", (2, 2), 1, OutcomeScale.Countable, ["gap"]),
        new(AskKind.Even, "even", "even 9 5 objects", "make them the same", (2, 2), 1, OutcomeScale.Told, ["even"]),
        new(AskKind.Share, "share", "share 12 3 objects", "fair shares", (2, 2), 1, OutcomeScale.Told, ["share"]),
        new(AskKind.Double, "double", "double 6 numeral", "twice as many", (1, 1), 1, OutcomeScale.Countable, ["double"]),
        new(AskKind.Trace, "trace", "trace 5 numeral", "write it", (1, 1), 1, OutcomeScale.Told, ["write"]),
        new(AskKind.Story, "story", "story 5 3 objects", "the story, the sentence", (2, 2), 1, OutcomeScale.Told, ["story"]),
        new(AskKind.Digits, "digits", "digits 86 68 numeral", "read it, or which is larger", (1, 2), 1, OutcomeScale.Told, ["digits"]),
        new(AskKind.Times, "times", "times 4 3 numeral", "one times the other", (2, 4), 1, OutcomeScale.Countable, ["ops"]),
    ];

    public static AskKindFacts Facts(this AskKind kind) => All[(int)kind];
}
