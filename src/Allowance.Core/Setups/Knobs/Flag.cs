using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

public sealed record FlagValue(bool On) : KnobValue
{
    public override string ToLink() => On ? "yes" : "no";

    public override JsonNode ToJson() => JsonValue.Create(On);
}

public sealed record FlagKind : KnobKind
{
    public override string Says => "true or false";

    public override JsonObject Schema => Schemas.Typed("boolean");

    public override Field Field => new PickField([new FlagValue(true), new FlagValue(false)]);

    public override KnobValue Sample(ref Rng rng) => new FlagValue(rng.Below(2) == 0);

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        json.ValueKind is JsonValueKind.True or JsonValueKind.False
            ? new FlagValue(json.GetBoolean())
            : Refuse(problems, path, "Here stands true or false.", false);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => text switch
    {
        "yes" => new FlagValue(true),
        "no" => new FlagValue(false),
        _ => Refuse(problems, path, "Here stands yes or no.", false),
    };

    public override IEnumerable<KnobValue> Neighbours(KnobValue value) => [new FlagValue(!((FlagValue)value).On)];
}
