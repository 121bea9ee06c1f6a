using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <param name="Number">Null where there is no limit.</param>
public sealed record LimitValue(int? Number) : KnobValue
{
    public override string ToLink() => Number?.ToString() ?? "none";

    public override JsonNode ToJson() => Number is { } number ? JsonValue.Create(number) : null!;

    public override string Says() => Number?.ToString() ?? "no limit";
}

/// <summary>A whole number, or no limit: null in a file.</summary>
public sealed record LimitKind(int Least, int Most) : KnobKind
{
    private readonly WholeKind numbers = new(Least, Most);

    public override string Says => $"{numbers.Says}, or null for no limit";

    public override JsonObject Schema => Schemas.Any(numbers.Schema, Schemas.Typed("null"));

    public override Field Field => new TextField("0, or none");

    public override KnobValue Sample(ref Rng rng) => new LimitValue(rng.Below(3) == 0 ? null : Least);

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        json.ValueKind == JsonValueKind.Null ? new LimitValue(null) : Limited(numbers.FromJson(json, path, problems));

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) =>
        text.Trim() is "none" or "no limit" ? new LimitValue(null) : Limited(numbers.FromLink(text, path, problems));

    private static LimitValue? Limited(KnobValue? number) => number is WholeValue { Number: var n } ? new(n) : null;
}
