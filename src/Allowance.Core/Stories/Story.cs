using System.Collections.Immutable;
using Allowance.Core.Numbers;

namespace Allowance.Core.Stories;

/// <summary>What happens with the numbers.</summary>
public enum StoryKind { Joining, Taking, Parts, Comparing }

/// <summary>Which of a story's three numbers is asked for.</summary>
public enum Unknown
{
    /// <summary>What it comes to: the whole, what is left, how many more.</summary>
    Result,
    /// <summary>What comes or goes, the second part, or the one who has fewer.</summary>
    Change,
    /// <summary>What it begins with, the first part, or the one who has more.</summary>
    Start,
}

/// <summary>What a story is about: one of something, and several.</summary>
public sealed record Noun(string One, string Several)
{
    /// <summary>From the word for several, by the rules of the language; a word that follows none of them stays as it is: sheep.</summary>
    public static Noun FromSeveral(string several) =>
        several.EndsWith("ies", StringComparison.Ordinal) && several.Length > 4 ? new(several[..^3] + "y", several)
        : several.EndsWith("ches", StringComparison.Ordinal) || several.EndsWith("shes", StringComparison.Ordinal) || several.EndsWith("sses", StringComparison.Ordinal) || several.EndsWith("xes", StringComparison.Ordinal) ? new(several[..^2], several)
        : several.EndsWith('s') && !several.EndsWith("ss", StringComparison.Ordinal) ? new(several[..^1], several)
        : new(several, several);

    /// <summary>"no shells", "one shell", "four shells"; some where the number is not told.</summary>
    public string Counted(int? n) => n switch { null => $"some {Several}", 0 => $"no {Several}", 1 => $"one {One}", var many => $"{NumberWords.Of(many.Value)} {Several}" };

    /// <summary>"no more shells", "one more shell", "four more shells".</summary>
    public string CountedMore(int? n) => n switch { null => $"some more {Several}", 0 => $"no more {Several}", 1 => $"one more {One}", var many => $"{NumberWords.Of(many.Value)} more {Several}" };

    /// <summary>"none of them", "one of them", "four of them".</summary>
    public static string CountedOf(int? n) => n switch { null => "some of them", 0 => "none of them", var many => $"{NumberWords.Of(many.Value)} of them" };
}

/// <summary>A number story: its sentences, the last of them the question.</summary>
public sealed record Story(ImmutableArray<string> Sentences)
{
    /// <summary>In how many scenes each kind of story can happen.</summary>
    public static int ScenesOf(StoryKind kind) => Of(kind).Count;

    private static IReadOnlyList<string[]> Of(StoryKind kind) => kind switch { StoryKind.Joining => Scenes.Joining, StoryKind.Taking => Scenes.Taking, StoryKind.Parts => Scenes.Parts, _ => Scenes.Comparing };

    /// <summary>Tells a story.</summary>
    /// <param name="a">What it begins with; the first part; what the one has who has more.</param>
    /// <param name="b">What comes or goes; the second part; what the other has.</param>
    /// <param name="scene">Any number: scenes come round.</param>
    public static Story Tell(StoryKind kind, Unknown unknown, int a, int b, Noun things, string who, string other, int scene)
    {
        var scenes = Of(kind);
        string[] told = scenes[(int)((uint)scene % (uint)scenes.Count)];
        int whole = kind == StoryKind.Taking || kind == StoryKind.Comparing ? a - b : a + b;
        int? first = unknown == Unknown.Start ? null : a, second = unknown == Unknown.Change ? null : b;
        return new(kind switch
        {
            StoryKind.Joining => [Fill(told[0]), Fill(told[1]), .. unknown == Unknown.Result ? [$"How many {things.Several} is that in all?"] : new[] { $"That makes {things.Counted(whole)} in all.", unknown == Unknown.Change ? $"How many more {things.Several} was that?" : $"How many {things.Several} were there first?" }],
            StoryKind.Taking => [Fill(told[0]), Fill(told[1]), .. unknown == Unknown.Result ? [$"How many {things.Several} are left?"] : new[] { $"That leaves {things.Counted(whole)}.", unknown == Unknown.Change ? $"How many {things.Several} went away?" : $"How many {things.Several} were there first?" }],
            StoryKind.Parts => [Fill(told[0]), .. unknown == Unknown.Result ? [$"How many {things.Several} is that in all?"] : new[] { $"That makes {things.Counted(whole)} in all.", Fill($"How many are {(unknown == Unknown.Change ? told[2] : told[1])}?") }],
            _ => unknown switch
            {
                Unknown.Result => [Fill(told[0]), Fill(told[1]), $"How many more does {who} {told[2]} than {other}?"],
                Unknown.Change => [Fill(told[0]), $"That is {AsMany(whole)} {other} {told[3]}.", $"How many does {other} {told[2]}?"],
                _ => [Fill(told[1]), $"{who} {told[3]} {AsMany(whole)} {other}.", $"How many does {who} {told[2]}?"],
            },
        });

        string Fill(string sentence) => sentence.Replace("{who}", who, StringComparison.Ordinal).Replace("{other}", other, StringComparison.Ordinal)
            .Replace("{a}", things.Counted(first), StringComparison.Ordinal).Replace("{b}", things.Counted(second), StringComparison.Ordinal)
            .Replace("{more}", things.CountedMore(second), StringComparison.Ordinal).Replace("{of}", Noun.CountedOf(second), StringComparison.Ordinal);

        static string AsMany(int more) => more == 0 ? "as many as" : $"{NumberWords.Of(more)} more than";
    }
}
