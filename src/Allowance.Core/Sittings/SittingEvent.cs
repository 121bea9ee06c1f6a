using System.Text.Json;
using System.Text.Json.Serialization;
using Allowance.Core.Rules;

namespace Allowance.Core.Sittings;

/// <summary>How a sitting is played.</summary>
public enum Way { Screen, Refereed, Notes }

/// <summary>How a child left the table.</summary>
public enum Closing { Again, Fine, NotToday }

/// <summary>
/// What happened in a sitting, in order. The log of these is the truth: the table is what replaying them gives. Nothing is
/// ever taken out; <see cref="Undone"/> says what no longer counts.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(Dealt), "chance")]
[JsonDerivedType(typeof(Moved), "move")]
[JsonDerivedType(typeof(Passed), "turn")]
[JsonDerivedType(typeof(Called), "caller")]
[JsonDerivedType(typeof(Hinted), "hint")]
[JsonDerivedType(typeof(Noted), "noted")]
[JsonDerivedType(typeof(AllowanceChanged), "allowance")]
[JsonDerivedType(typeof(Joined), "joined")]
[JsonDerivedType(typeof(Left), "left")]
[JsonDerivedType(typeof(Undone), "undone")]
[JsonDerivedType(typeof(Stopped), "stopped")]
[JsonDerivedType(typeof(Closed), "closed")]
public abstract record SittingEvent
{
    private static readonly JsonSerializerOptions Json = new() { DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault };

    public string ToJson() => JsonSerializer.Serialize(this, Json);

    public static SittingEvent FromJson(string json) => JsonSerializer.Deserialize<SittingEvent>(json, Json)!;
}

/// <summary>Chance brought something: drawn by the app or typed in by the referee.</summary>
public sealed record Dealt(int Outcome, bool Typed) : SittingEvent;

/// <param name="Told">What it did, in the words of the rules it was made under; null in logs older than that.</param>
public sealed record Moved(ulong Items, int Pick, int First, bool Found, string? Told = null) : SittingEvent
{
    public static Moved By(Move move, bool found) => new(move.Items, move.Pick, move.First, found);

    [JsonIgnore]
    public Move Move => new(Items, Pick, First);
}

/// <summary>With real things and no cards entered: a turn is over.</summary>
public sealed record Passed : SittingEvent;

/// <summary>With real things: from now on the app calls, or a person does again.</summary>
public sealed record Called(bool ByApp) : SittingEvent;

/// <summary>A hint was given; after step 2 or 3 the next answer counts as helped.</summary>
public sealed record Hinted(int Step) : SittingEvent;

/// <param name="Outcome">0 to 5, or null where nobody watched how.</param>
/// <param name="Turn">The turn it belongs to, counted from 0.</param>
/// <param name="Replaces">The number of the noted event that this one puts right.</param>
/// <param name="How">With <em>not yet</em>: miscounted, guessed, other; of a glimpse the groups she saw, as 3+2; empty where not said.</param>
/// <param name="Shown">Of a glimpse: for how many thousandths of a second the picture was really shown.</param>
public sealed record Noted(int Seat, string Ask, int? Outcome, bool Right, int Turn, int? Replaces = null, string How = "", int? Shown = null) : SittingEvent;

/// <param name="Knob">A knob's id, or <c>level</c>.</param>
/// <param name="Value">Its value as in a link; null puts it back to the table's.</param>
public sealed record AllowanceChanged(int Seat, string Knob, string? Value) : SittingEvent;

/// <param name="Key">The player's number in the household.</param>
public sealed record Joined(string Key, bool GrownUp) : SittingEvent;

public sealed record Left(int Seat) : SittingEvent;

/// <summary>All that happened from event <paramref name="From"/> on, up to this, no longer counts.</summary>
public sealed record Undone(int From) : SittingEvent;

public sealed record Stopped(bool Early) : SittingEvent;

public sealed record Closed(int Seat, Closing How) : SittingEvent;
