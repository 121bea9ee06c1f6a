using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>How many of the cards seen last are remembered.</summary>
public sealed record MemoryValue(int Span) : KnobValue
{
    public const int Nothing = 0, Everything = 1000;

    public override string ToLink() => Span switch { Nothing => "none", Everything => "perfect", _ => Span.ToString() };

    public override JsonNode ToJson() => Span is Nothing or Everything ? JsonValue.Create(ToLink()) : JsonValue.Create(Span);

    public override string Says() => Span switch { Nothing => "nothing", Everything => "everything", 1 => "the card seen last", _ => $"the {Span} cards seen last" };
}

/// <summary>What is remembered of cards face down: <c>none</c>, <c>perfect</c>, or a number of cards seen last.</summary>
public sealed record MemoryKind : KnobKind
{
    public const int MostSpan = 60;

    /// <summary>What the bench offers.</summary>
    public static IReadOnlyList<MemoryValue> Usual { get; } = [.. new[] { MemoryValue.Nothing, 1, 2, 3, 4, 6, 8, 12, MemoryValue.Everything }.Select(span => new MemoryValue(span))];

    public override string Says => $"none, perfect, or 1–{MostSpan} cards";

    public override JsonObject Schema => Schemas.Any(Schemas.OneOf(["none", "perfect"]), Schemas.Whole(1, MostSpan));

    public override Field Field => new PickField(Usual);

    public override KnobValue Sample(ref Rng rng) => Usual[rng.Below(Usual.Count)];

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        FromLink(json.ValueKind == JsonValueKind.String ? json.GetString()! : json.GetRawText(), path, problems);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => text switch
    {
        "none" => new MemoryValue(MemoryValue.Nothing),
        "perfect" => new MemoryValue(MemoryValue.Everything),
        _ when int.TryParse(text, out int span) && span is >= 1 and <= MostSpan => new MemoryValue(span),
        _ => Refuse(problems, path, $"Here stands none, perfect, or how many cards, from 1 to {MostSpan}.", 4),
    };

    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        int span = ((MemoryValue)value).Span;
        if (span is > 1 and <= MostSpan) yield return new MemoryValue(span - 1);
        if (span is > 0 and < MostSpan) yield return new MemoryValue(span + 1);
    }
}
