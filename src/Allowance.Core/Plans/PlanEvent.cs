using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Allowance.Core.Plans;

/// <summary>When somebody plays: how long, and who.</summary>
/// <param name="Minutes">How many there are.</param>
/// <param name="Who">The keys of the people, children and grown-ups.</param>
/// <param name="IsTired">After a long day: short, and nothing new.</param>
/// <param name="At">About when; null where that is left open.</param>
public sealed record Evening(int Minutes, ImmutableSortedSet<string> Who, bool IsTired = false, TimeOnly? At = null)
{
    public const int LeastMinutes = 3, MostMinutes = 120;

    /// <summary>How long is played on a tired day, at most.</summary>
    public const int TiredMinutes = 5;

    [JsonIgnore]
    public int Planned => IsTired ? Math.Min(Minutes, TiredMinutes) : Minutes;
}

/// <summary>
/// What the grown-ups said about their weeks, in order. What is planned follows from it, and from what was played: a plan itself is
/// never kept. A sitting is known by the day for which it was first planned.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(Usually), "usually")]
[JsonDerivedType(typeof(ForOnce), "once")]
[JsonDerivedType(typeof(MovedTo), "moved")]
[JsonDerivedType(typeof(KeptAs), "kept")]
[JsonDerivedType(typeof(Swapped), "swapped")]
[JsonDerivedType(typeof(LeftOut), "leftout")]
public abstract record PlanEvent
{
    private static readonly JsonSerializerOptions Json = new() { DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault };

    public string ToJson() => JsonSerializer.Serialize(this, Json);

    public static PlanEvent FromJson(string json) => JsonSerializer.Deserialize<PlanEvent>(json, Json)!;
}

/// <summary>From a day on, this is how that day of the week usually goes.</summary>
/// <param name="Evening">Null where nobody plays.</param>
public sealed record Usually(DayOfWeek Day, Evening? Evening, DateOnly From) : PlanEvent;

/// <summary>One sitting goes otherwise for once: longer, with others; or one is put on a day without any.</summary>
public sealed record ForOnce(DateOnly Sitting, Evening Evening) : PlanEvent;

public sealed record MovedTo(DateOnly Sitting, DateOnly Day) : PlanEvent;

/// <summary>It is to stay as it is, whatever else changes.</summary>
/// <param name="Setups">As links, one, or one each side by side; none: it is planned anew with the others.</param>
public sealed record KeptAs(DateOnly Sitting, ImmutableArray<string> Setups) : PlanEvent;

/// <summary>The next best is wished for instead of this game.</summary>
public sealed record Swapped(DateOnly Sitting, string Game) : PlanEvent;

/// <param name="IsOut">False: it is taken in again.</param>
public sealed record LeftOut(DateOnly Sitting, bool IsOut) : PlanEvent;
