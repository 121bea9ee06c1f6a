using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <param name="Number">Null where there is no limit.</param>
/// <param name="Without">What no limit is called.</param>
public sealed record LimitValue(int? Number, string Without = LimitValue.NoLimit) : KnobValue
{
    public override int? Largest => Number ?? int.MaxValue;

    public const string NoLimit = "no limit";

    public override string ToLink() => Number?.ToString() ?? "none";

    public override JsonNode ToJson() => Number is { } number ? JsonValue.Create(number) : null!;

    public override string Says() => Number?.ToString() ?? Without;
}

/// <summary>A whole number, or no limit: null in a file.</summary>
public sealed record LimitKind(int Least, int Most, string Without = LimitValue.NoLimit) : KnobKind
{
    private readonly WholeKind numbers = new(Least, Most);

    public override string Says => $"{numbers.Says}, or null for {Without}";

    public override JsonObject Schema => Schemas.Any(numbers.Schema, Schemas.Typed("null"));

    public override Field Field => new TextField("0, or none");

    public override KnobValue Sample(ref Rng rng) => new LimitValue(rng.Below(3) == 0 ? null : Least, Without);

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        json.ValueKind == JsonValueKind.Null ? new LimitValue(null, Without) : Limited(numbers.FromJson(json, path, problems));

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) =>
        text.Trim() is "none" || text.Trim() == Without ? new LimitValue(null, Without) : Limited(numbers.FromLink(text, path, problems));

    private LimitValue? Limited(KnobValue? number) => number is WholeValue { Number: var n } ? new(n, Without) : null;
}
