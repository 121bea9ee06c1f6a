using Allowance.Core.Asks;

namespace Allowance.Core.Setups;

/// <summary>What turning a knob changes for a child. The house rule changes one of range, form and rule level at a time.</summary>
public enum Belongs { Range, Form, RuleLevel, Support, Length, Fairness }

/// <summary>Whether a knob is set for the whole table, for one seat, or for the table with a seat's own value going before.</summary>
[Flags]
public enum Scope { Table = 1, Seat = 2, Both = Table | Seat }

/// <param name="Id">The key in files and links.</param>
/// <param name="Says">One line: what it changes.</param>
/// <param name="Default">Its value where neither the setup nor the level gives one; null for "none".</param>
/// <param name="Sits">The thing on the pictured table that it belongs to: deck, cards, centre or place.</param>
public sealed record Knob(string Id, string Label, KnobKind Kind, KnobValue? Default, Belongs Belongs, Scope Scope, string Sits, string Says);

/// <summary>A rung of a frame's ladder: a named set of knob values and a way of asking.</summary>
/// <param name="Fixes">Values that make this level what it is; a seat may have the level only at a table that agrees with them.</param>
/// <param name="Suggests">Values it starts from; they may be changed freely.</param>
public sealed record Level(string Id, string Label, string Says, IReadOnlyDictionary<string, KnobValue> Fixes, IReadOnlyDictionary<string, KnobValue> Suggests)
{
    public KnobValue? this[string knob] => Fixes.GetValueOrDefault(knob) ?? Suggests.GetValueOrDefault(knob);

    /// <summary>A level that any table can have at a place: it fixes nothing.</summary>
    public static Level Free(string id, string label, string says, params (string Knob, KnobValue Value)[] suggests) =>
        new(id, label, says, new Dictionary<string, KnobValue>(), suggests.ToDictionary(s => s.Knob, s => s.Value));
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
public sealed record FrameData(
    string Id, string Name, Family Family, string Says, string Ends, int LeastPlayers, int MostPlayers,
    IReadOnlyList<Knob> Knobs, IReadOnlyList<Level> Levels, string DefaultLevel, IReadOnlyList<AskKind> Asks)
{
    public Knob? Knob(string id) => Knobs.FirstOrDefault(k => k.Id == id);

    public Level? Level(string? id) => Levels.FirstOrDefault(l => l.Id == id);

    public int Rung(string level) => Levels.ToList().FindIndex(l => l.Id == level);
}
