namespace Allowance.Core.Asks;

/// <summary>One question on which grown-ups are taught different things, with the answers to choose from.</summary>
/// <param name="Options">Id, words, and why; the first is the default.</param>
public sealed record School(string Id, string Question, string Changes, IReadOnlyList<(string Id, string Says, string Why)> Options);

/// <summary>The household's approach: one answer a question. Unknown answers count as the default.</summary>
public sealed record Approach(IReadOnlyDictionary<string, string> Chosen)
{
    public static Approach Default { get; } = new(new Dictionary<string, string>());

    public static IReadOnlyList<School> Schools { get; } =
    [
        new("answers", "How should an answer grow?", "With structure first, what is steady but mostly counted is proposed again, to be seen; the order of hints, and how taking away is shown.",
            [("structure", "Structure first: see fives, tens and parts; count only to check", "Structure carries into taking away and into eleven to twenty, where counting back one by one breaks down."),
             ("counting", "Counting first: count all, count on, then know", "Counting is what most children bring along, and it always leads to an answer.")]),
        new("pictures", "One picture or many?", "How fingers, dots and frames are drawn.",
            [("many", "Many pictures, the fixed one first", "A number is more than one picture of it."),
             ("fixed", "One fixed picture for each number", "A full five before the rest, always the same, is soon known by heart.")]),
        new("taking", "Joining and taking away", "Whether taking away is proposed before joining is steady.",
            [("apart", "Apart: joining is steady before taking away starts", "Two new ideas at once confuse."),
             ("mixed", "Mixed in one game", "The child listens for which it is.")]),
        new("handle", "First things to handle", "In which forms numbers are met for the first time, in what is proposed.",
            [("things", "Real things, then pictures, then numerals", "What the hands have done, the head can picture."),
             ("numerals", "Numerals from the start, beside the things", "The figures are everywhere, and most children like them.")]),
        new("clock", "Clock", "Timers, whether seconds count, and whether races are proposed.",
            [("none", "No clock", "Hurry hides how she thinks."),
             ("own", "Beat your own time", "Some children like to see themselves grow quicker."),
             ("race", "Race each other", "Only where everybody likes it.")]),
        new("winning", "Winning", "How what is proposed is won, and the words for it.",
            [("evened", "Somebody wins, chances evened out", "A game is more fun when everyone can win it."),
             ("together", "All together against the game", "Nobody loses, and everyone helps to look."),
             ("none", "No winner", "The playing is enough.")]),
        new("writing", "Writing", "What is said or written after a turn, on the rule sheet.",
            [("aloud", "Say the sentence aloud", "Saying it makes it a fact, and costs no time."),
             ("play", "Play only", "The game alone."),
             ("write", "Write every equation", "Practice in writing along the way.")]),
        new("larger", "Larger number first", "Hints for counting on.",
            [("larger", "Start from the larger", "Fewer steps to count."),
             ("dealt", "Start as dealt", "The order that lies there.")]),
        new("fingers", "Finger order", "How fingers are drawn.",
            [("thumb", "Thumb first", "The usual way to begin in many places."),
             ("index", "Index finger first", "The thumb makes the fifth."),
             ("little", "Little finger of the left hand first, across", "The fingers run like a number line, from left to right.")]),
        new("frames", "How does a ten-frame fill?", "How frames are drawn.",
            [("rows", "Along the row: a full five, then the next", "Six to ten show as five and some."),
             ("twos", "Two by two", "Doubles, and one left over, show at once.")]),
    ];

    public string this[string question]
    {
        get
        {
            var school = Schools.First(s => s.Id == question);
            return Chosen.TryGetValue(question, out var id) && school.Options.Any(o => o.Id == id) ? id : school.Options[0].Id;
        }
    }

    public Approach With(string question, string answer) => new(new Dictionary<string, string>(Chosen) { [question] = answer });
}
