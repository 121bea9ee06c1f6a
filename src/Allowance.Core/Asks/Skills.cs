using System.Collections.Frozen;

namespace Allowance.Core.Asks;

public enum Strand { Counting, Seeing, Signs, Comparing, Line, Partners, Joining }

public static class StrandWords
{
    public static string Says(this Strand strand) => strand switch { Strand.Line => "the number line", Strand.Joining => "joining and taking away", _ => strand.ToString().ToLowerInvariant() };
}

/// <param name="Bands">Upper ends of its bands, rising.</param>
/// <param name="RestsOn">Skills that should be mostly steady first: an id, or an id and a band ("numeral 20").</param>
/// <param name="Says">What the child does.</param>
public sealed record Skill(string Id, Strand Strand, string Says, IReadOnlyList<int> Bands, IReadOnlyList<string> RestsOn);

/// <summary>The table of skills, strand by strand in the order in which they usually grow.</summary>
public static class Skills
{
    public static IReadOnlyList<Skill> All { get; } =
    [
        new("words", Strand.Counting, "say the words forwards", [5, 10, 20, 30, 100], []),
        new("touch", Strand.Counting, "touch each thing once", [5, 10, 20], ["words"]),
        new("howmany", Strand.Counting, "the last word tells how many", [5, 10, 20], ["touch"]),
        new("takeout", Strand.Counting, "count out a number from a heap", [3, 5, 10, 20], ["howmany"]),
        new("hold", Strand.Counting, "keep a number in mind while fetching", [3, 5, 10], ["takeout"]),
        new("unmoved", Strand.Counting, "still as many when spread out or moved", [5, 10], ["howmany"]),
        new("wordsback", Strand.Counting, "say the words backwards", [5, 10, 20], ["words"]),
        new("glance", Strand.Seeing, "see up to five at a glance", [3, 4, 5], []),
        new("fives", Strand.Seeing, "see six to ten as five-and-some or two groups", [10], ["glance"]),
        new("tens", Strand.Seeing, "see eleven to twenty as ten-and-some", [20], ["fives", "numeral 20"]),
        new("numeral", Strand.Signs, "read numerals", [5, 10, 20, 30, 100], ["words"]),
        new("match", Strand.Signs, "match numeral, picture and word", [5, 10, 20], ["numeral", "howmany"]),
        new("write", Strand.Signs, "form the numeral", [5, 10], ["numeral"]),
        new("ordinal", Strand.Signs, "first, second …", [5, 10], ["words"]),
        new("more", Strand.Comparing, "more, fewer, the same", [5, 10, 20, 100], ["howmany", "numeral"]),
        new("guess", Strand.Comparing, "about how many", [10, 20], ["howmany"]),
        new("even", Strand.Comparing, "make two sets equal", [10, 20], ["more"]),
        new("share", Strand.Comparing, "share fairly", [12, 20], ["more"]),
        new("gap", Strand.Comparing, "how many more", [5, 10, 20], ["more", "join"]),
        new("order", Strand.Line, "put in order", [5, 10, 20, 100], ["numeral"]),
        new("place", Strand.Line, "find a place, or the hidden number", [10, 20, 30, 100], ["numeral"]),
        new("next", Strand.Line, "one more, one fewer", [5, 10, 20], ["words"]),
        new("on", Strand.Line, "count on", [10, 20, 30, 100], ["next"]),
        new("back", Strand.Line, "count back", [10, 20, 30, 100], ["next", "wordsback"]),
        new("steps", Strand.Line, "in twos, fives, tens", [20, 30, 100], ["on"]),
        new("partners", Strand.Partners, "parts that make a number", [5, 9, 10], ["glance", "join 5"]),
        new("hidden", Strand.Partners, "given the whole and a part, the other part", [5, 10, 20], ["partners"]),
        new("ways", Strand.Partners, "many ways to make a number", [5, 10, 20], ["partners"]),
        new("double", Strand.Partners, "doubles, and one more", [10, 20], ["join 5"]),
        new("join", Strand.Joining, "join two sets", [5, 10, 20], ["takeout", "more"]),
        new("take", Strand.Joining, "take away", [5, 10, 20], ["join"]),
        new("ones", Strand.Joining, "join and take within the ones", [20], ["tens", "partners 5"]),
        new("cross", Strand.Joining, "over ten by way of ten", [20], ["partners 10", "ones"]),
        new("several", Strand.Joining, "three and more addends", [10, 20], ["join"]),
        new("story", Strand.Joining, "tell or write the story and the sentence", [5, 10, 20], ["join"]),
        new("digits", Strand.Joining, "two- and three-digit numbers", [100, 1000], ["place 100"]),
        new("ops", Strand.Joining, "times, divide, mixed", [100], ["join 20"]),
    ];

    public static Skill Find(string id) => All.First(s => s.Id == id);

    /// <summary>The skill that speaks for its strand where one must: by its bands a child's level is told.</summary>
    public static Skill Lead(Strand strand) => Find(strand switch
    {
        Strand.Counting => "howmany",
        Strand.Seeing => "glance",
        Strand.Signs => "numeral",
        Strand.Comparing => "more",
        Strand.Line => "on",
        Strand.Partners => "hidden",
        _ => "join",
    });
}

/// <summary>A skill in one of its bands: the unit in which progress is kept.</summary>
public readonly record struct SkillBand(Skill Skill, int Band)
{
    public override string ToString() => $"{Skill.Id} {Band}";
}

/// <summary>Which skill bands an ask tells something about, and how much of it each carries.</summary>
public static class Feeding
{
    /// <summary>Every skill band, in the order of the table; the index is the learner's index.</summary>
    public static IReadOnlyList<SkillBand> Bands { get; } =
        [.. Skills.All.SelectMany(s => s.Bands.Select(b => new SkillBand(s, b)))];

    /// <summary>The index of a skill in a band; −1 where there is none such.</summary>
    public static int Find(string skill, int band)
    {
        for (int i = 0; i < Bands.Count; i++)
            if (Bands[i].Skill.Id == skill && Bands[i].Band == band) return i;
        return -1;
    }

    private static readonly FrozenDictionary<string, (int First, int[] Bands)> Index = BuildIndex().ToFrozenDictionary();

    /// <summary>The index of the band of this skill in which a number falls: the smallest band that reaches it, else the last.</summary>
    public static int BandIndex(string skill, int number)
    {
        var (first, bands) = Index[skill];
        int i = 0;
        while (i < bands.Length - 1 && number > bands[i]) i++;
        return first + i;
    }

    /// <summary>
    /// Writes the bands an ask feeds into <paramref name="into"/>, the leading one first, and returns how many.
    /// The learner gives the leading band most of the weight (see <c>Learner/Constants.cs</c>).
    /// </summary>
    public static int Of(Ask ask, Span<int> into)
    {
        int n = 0;
        int a = ask[0], b = ask.Count > 1 ? ask[1] : 0;
        if (ask.IsWithoutNumbers)
        {
            into[n++] = Broadly(ask);
            return n;
        }
        switch (ask.Kind)
        {
            case AskKind.Words: into[n++] = a <= b ? BandIndex("words", b) : BandIndex("wordsback", a); break;
            case AskKind.Say when ask.Form is Forms.Form.Numeral or Forms.Form.Word: into[n++] = BandIndex("numeral", a); break;
            case AskKind.Say:
                into[n++] = a <= 5 ? BandIndex("glance", a) : a <= 10 ? BandIndex("fives", a) : BandIndex("tens", a);
                into[n++] = BandIndex("howmany", a);
                into[n++] = ask.Form == Forms.Form.Objects && a <= 10 ? BandIndex("unmoved", a) : BandIndex("touch", a);
                break;
            case AskKind.Take:
                into[n++] = ask.Form == Forms.Form.Spoken ? BandIndex("hold", a) : BandIndex("takeout", a);
                into[n++] = ask.Form == Forms.Form.Spoken ? BandIndex("takeout", a) : BandIndex("howmany", a);
                break;
            case AskKind.Match: into[n++] = BandIndex("match", a); break;
            case AskKind.More: into[n++] = BandIndex("more", Math.Max(a, b)); break;
            case AskKind.Guess: into[n++] = BandIndex("guess", a); break;
            case AskKind.Order: into[n++] = BandIndex("order", ask.Largest); break;
            case AskKind.Place: into[n++] = BandIndex("place", a); if (a <= 10) into[n++] = BandIndex("ordinal", a); break;
            case AskKind.On or AskKind.Back:
                into[n++] = b <= 1 ? BandIndex("next", a + 1) : BandIndex(ask.Kind == AskKind.On ? "on" : "back", Math.Max(a, ask.Answer));
                break;
            case AskKind.Step: into[n++] = BandIndex("steps", a + b); break;
            case AskKind.Join:
                int total = ask.Total;
                if (ask.Count > 2) into[n++] = BandIndex("several", total);
                else if (total > 10 && total <= 20 && a < 10 && b < 10) into[n++] = BandIndex("cross", total);
                else if (total > 10 && total <= 20) into[n++] = BandIndex("ones", total);
                else into[n++] = BandIndex("join", total);
                if (ask.Count == 2 && Math.Abs(a - b) <= 1 && a > 0 && b > 0) into[n++] = BandIndex("double", total);
                else if (total > 10 || ask.Count > 2) into[n++] = BandIndex("join", total);
                break;
            case AskKind.Gone:
                // 18 − 5 and 16 − 14 stay within the ones; 14 − 6 goes by way of ten.
                if (a > 10 && a <= 20) into[n++] = a - b >= 10 || b >= 10 && a < 20 ? BandIndex("ones", a) : BandIndex("cross", a);
                into[n++] = BandIndex("take", a);
                break;
            case AskKind.Part:
                if (a <= 10) into[n++] = BandIndex("partners", a);
                into[n++] = BandIndex("hidden", a);
                break;
            case AskKind.Split: into[n++] = BandIndex("ways", a); if (a <= 10) into[n++] = BandIndex("partners", a); break;
            case AskKind.Gap: into[n++] = BandIndex("gap", a); break;
            case AskKind.Even: into[n++] = BandIndex("even", Math.Max(a, b)); break;
            case AskKind.Share: into[n++] = BandIndex("share", a); break;
            case AskKind.Double: into[n++] = BandIndex("double", 2 * a); break;
            case AskKind.Trace: into[n++] = BandIndex("write", a); break;
            case AskKind.Story: into[n++] = BandIndex("story", Math.Max(a + b, a)); break;
            case AskKind.Digits: into[n++] = BandIndex("digits", ask.Largest); break;
            default: into[n++] = BandIndex("ops", ask.Largest); break;
        }
        return n;
    }

    /// <summary>The band that an ask speaks of whose numbers were not noted: that of its range, or the first where that is not known.</summary>
    private static int Broadly(Ask ask) => BandIndex(ask.Kind switch
    {
        AskKind.Words => "words",
        AskKind.Say when ask.Form is Forms.Form.Numeral or Forms.Form.Word => "numeral",
        AskKind.Say => ask.To <= 5 ? "glance" : ask.To <= 10 ? "fives" : "tens",
        AskKind.Take => ask.Form == Forms.Form.Spoken ? "hold" : "takeout",
        AskKind.On => "on",
        AskKind.Part => ask.To <= 10 ? "partners" : "hidden",
        AskKind.Split => "ways",
        AskKind.Gone => "take",
        AskKind.Trace => "write",
        AskKind.Step => "steps",
        AskKind.Times => "ops",
        _ => ask.Kind.Facts().Id,
    }, ask.To);

    private static Dictionary<string, (int, int[])> BuildIndex()
    {
        var index = new Dictionary<string, (int, int[])>();
        int first = 0;
        foreach (var skill in Skills.All)
        {
            index[skill.Id] = (first, [.. skill.Bands]);
            first += skill.Bands.Count;
        }
        return index;
    }
}
