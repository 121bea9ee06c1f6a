using Allowance.Core.Setups;

namespace Allowance.Core.Tables;

/// <summary>A story to be read out, a line for each of its sentences or more where they are long.</summary>
public sealed record StoryCard(string Label, IReadOnlyList<string> Sentences) : Zone(Label)
{
    private const double Wide = 190, Letters = 11, Edge = 12;

    public override string Kind => "story";

    public override Sits Sits => Sits.Things;

    public override IReadOnlyList<Item> Items => [new(0, 0, Forms.Form.None, ItemState.Up, false) { Words = string.Join(' ', Sentences) }];

    internal override Laid Lay(double width, Pen pen)
    {
        double letters = Math.Max(Letters, pen.Letters), line = 1.5 * letters, wide = Math.Min(Wide * letters / Letters, Math.Max(width, 60)), room = wide - 2 * Edge;
        var lines = Sentences.SelectMany(s => Wrapped(s, letters, room)).ToList();
        return new(wide, lines.Count * line + 2 * Edge, sketch =>
        {
            sketch.Rect(0, 0, wide, lines.Count * line + 2 * Edge, Role.Card, 3);
            for (int i = 0; i < lines.Count; i++) sketch.Words(lines[i], wide / 2, Edge + i * line + letters, letters, Role.Word);
            sketch.Tap(0, 0, wide, lines.Count * line + 2 * Edge, Items[0], "story", Items[0].Shows);
        });
    }

    /// <summary>A sentence in lines that are no longer than there is room.</summary>
    private static IEnumerable<string> Wrapped(string sentence, double letters, double room)
    {
        string line = "";
        foreach (string word in sentence.Split(' '))
        {
            string longer = line.Length == 0 ? word : $"{line} {word}";
            if (line.Length > 0 && Lettering.Width(longer, letters) > room)
            {
                yield return line;
                line = word;
            }
            else line = longer;
        }
        if (line.Length > 0) yield return Lettering.Fit(line, letters, room);
    }
}
