using Allowance.Core.Asks;

namespace Allowance.Core.Setups;

/// <summary>What turning a knob changes for a child. The house rule changes one of range, form and rule level at a time.</summary>
public enum Belongs { Range, Form, RuleLevel, Support, Length, Fairness }

/// <summary>Whether a knob is set for the whole table, for one seat, or for the table with a seat's own value going before.</summary>
[Flags]
public enum Scope { Table = 1, Seat = 2, Both = Table | Seat }

/// <summary>What on a table a knob belongs to; the game itself where it is no thing that lies there.</summary>
public enum Sits { Game, Deck, Cards, Dice, Line, Things, Place }

/// <summary>What a knob means beyond its own frame: what the forecast, the tuner and the screens ask every frame for.</summary>
public enum KnobRole
{
    /// <summary>It means something to its frame only.</summary>
    Own,
    WhoBegins,
    /// <summary>What reaching the end means: <see cref="Winnings"/>.</summary>
    Winning,
    /// <summary>A child's own numbers.</summary>
    Range,
    HeadStart,
    Support,
    /// <summary>A flag: something lies there that helps.</summary>
    Aid,
    /// <summary>The form of the cards; at a place, of her help card.</summary>
    Form,
    Deck,
    Target,
    /// <summary>The numbers that cards are made with, where there is no pack.</summary>
    Numbers,
    Dice,
    /// <summary>What stands on the faces of the dice.</summary>
    Faces,
    /// <summary>Whether one answers or all at once.</summary>
    Answers,
    /// <summary>How much of what was seen is remembered.</summary>
    Memory,
    /// <summary>What best play is for, where there are several aims.</summary>
    Aim,
    /// <summary>What things are called in stories.</summary>
    Nouns,
    /// <summary>Sand that runs down, in seconds; no limit where none stands there.</summary>
    Sand,
}

/// <summary>How a game is won.</summary>
public static class Winnings
{
    public const string Compete = "compete", Together = "together", None = "none";
}

/// <summary>Something about a game that can be set. A frame keeps its knobs as <see cref="Knob{T}"/> or <see cref="OpenKnob{T}"/>, so that what is read of a setup has its type.</summary>
public abstract class Knob(string id, string label, KnobKind kind, KnobValue? otherwise, Belongs belongs, Scope scope, Sits sits, string says, KnobRole role)
{
    /// <summary>The key in files and links: letters only, so that no field of a page is mistaken for it.</summary>
    public string Id { get; } = id;

    public string Label { get; } = label;

    public KnobKind Kind { get; } = kind;

    /// <summary>Its value where neither the setup nor the level gives one; null for "none".</summary>
    public KnobValue? Default { get; } = otherwise;

    public Belongs Belongs { get; } = belongs;

    public Scope Scope { get; } = scope;

    /// <summary>The thing on the pictured table that it is turned at.</summary>
    public Sits Sits { get; } = sits;

    /// <summary>One line: what it changes.</summary>
    public string Says { get; } = says;

    public KnobRole Role { get; } = role;
}

/// <summary>A knob that always has a value.</summary>
public sealed class Knob<T>(string id, string label, KnobKind kind, T otherwise, Belongs belongs, Scope scope, Sits sits, string says, KnobRole role = KnobRole.Own)
    : Knob(id, label, kind, otherwise, belongs, scope, sits, says, role) where T : KnobValue;

/// <summary>A knob that may be left open; the frame says what that comes to.</summary>
public sealed class OpenKnob<T>(string id, string label, KnobKind kind, Belongs belongs, Scope scope, Sits sits, string says, KnobRole role = KnobRole.Own)
    : Knob(id, label, kind, null, belongs, scope, sits, says, role) where T : KnobValue;

/// <summary>A rung of a frame's ladder: a named set of knob values and a way of asking.</summary>
/// <param name="Fixes">Values that make this level what it is; a seat may have the level only at a table that agrees with them.</param>
/// <param name="Suggests">Values it starts from; they may be changed freely.</param>
public sealed record Level(string Id, string Label, string Says, IReadOnlyDictionary<string, KnobValue> Fixes, IReadOnlyDictionary<string, KnobValue> Suggests)
{
    public KnobValue? this[Knob knob] => Fixes.GetValueOrDefault(knob.Id) ?? Suggests.GetValueOrDefault(knob.Id);

    /// <summary>A level that any table can have at a place: it fixes nothing.</summary>
    public static Level Free(string id, string label, string says, params (Knob Knob, KnobValue Value)[] suggests) => Fixed(id, label, says, [], suggests);

    /// <summary>A level that a place can have only where the table agrees with what it fixes, or where that can be each one’s own.</summary>
    public static Level Fixed(string id, string label, string says, (Knob Knob, KnobValue Value)[] fixes, params (Knob Knob, KnobValue Value)[] suggests) =>
        new(id, label, says, fixes.ToDictionary(s => s.Knob.Id, s => s.Value), suggests.ToDictionary(s => s.Knob.Id, s => s.Value));
}

/// <summary>What a game is mostly about, in the order in which a child grows through them.</summary>
public enum Family { Counting, Seeing, Comparing, Line, Partners, Joining }

public static class FamilyWords
{
    public static string Says(this Family family) => family switch { Family.Line => "On the line", Family.Joining => "Joining and taking", _ => family.ToString() };
}

/// <summary>All about a frame that is data: screens, files, the tuner and the checks read it.</summary>
/// <param name="Ends">When it is over, in a sentence.</param>
/// <param name="Levels">From gentlest to hardest.</param>
/// <param name="Asks">The kinds of ask its turns put to the mover.</param>
/// <param name="CanBlock">A line can be stopped: who plays best blocks.</param>
/// <param name="GoodFrom">So many make it what it is; who is alone has nobody to push off, to stop, or to hold a card against.</param>
public sealed record FrameData(
    string Id, string Name, Family Family, string Says, string Ends, int LeastPlayers, int MostPlayers,
    IReadOnlyList<Knob> Knobs, IReadOnlyList<Level> Levels, string DefaultLevel, IReadOnlyList<AskKind> Asks, bool CanBlock = false, int GoodFrom = 1)
{
    public Knob? Knob(string id) => Knobs.FirstOrDefault(k => k.Id == id);

    public Knob? Knob(KnobRole role) => Knobs.FirstOrDefault(k => k.Role == role);

    public Level? Level(string? id) => Levels.FirstOrDefault(l => l.Id == id);

    public int Rung(string level) => Levels.ToList().FindIndex(l => l.Id == level);
}
