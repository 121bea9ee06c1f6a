using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>How a target comes about.</summary>
public enum TargetRule { Sum, TwoDigits, Number }

/// <param name="Number">Where it is always the same.</param>
public sealed record TargetRuleValue(TargetRule Rule, int Number = 0) : KnobValue
{
    public override int? Largest => Rule == TargetRule.Number ? Number : null;

    internal const string Sum = "sum", TwoDigits = "twoDigits";

    public override string ToLink() => Rule switch { TargetRule.Sum => Sum, TargetRule.TwoDigits => TwoDigits, _ => $"{Number}" };

    public override JsonNode ToJson() => Rule == TargetRule.Number ? JsonValue.Create(Number) : JsonValue.Create(ToLink());

    public override string Says() => Rule switch { TargetRule.Sum => "what two cards make together", TargetRule.TwoDigits => "two cards read as two digits", _ => $"always {Number}" };
}

/// <summary>What two cards that are turned up make, or a number.</summary>
public sealed record TargetRuleKind(int Least, int Most) : KnobKind
{
    private readonly WholeKind numbers = new(Least, Most);

    public override string Says => $"\"{TargetRuleValue.Sum}\", \"{TargetRuleValue.TwoDigits}\", or {numbers.Says}";

    public override JsonObject Schema => Schemas.Any(Schemas.OneOf([TargetRuleValue.Sum, TargetRuleValue.TwoDigits]), numbers.Schema);

    public override Field Field => new TextField("sum, twoDigits, or a number");

    public override KnobValue Sample(ref Rng rng) => rng.Below(4) switch { 0 => new TargetRuleValue(TargetRule.TwoDigits), 1 => new TargetRuleValue(TargetRule.Number, Least + rng.Below(Math.Min(20, Most - Least + 1))), _ => new TargetRuleValue(TargetRule.Sum) };

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) => json.ValueKind switch
    {
        JsonValueKind.String => FromLink(json.GetString()!, path, problems),
        JsonValueKind.Number when numbers.FromJson(json, path, problems) is WholeValue number => new TargetRuleValue(TargetRule.Number, number.Number),
        JsonValueKind.Number => null,
        _ => Refuse(problems, path, $"Here stands {Says}.", TargetRuleValue.Sum),
    };

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => text switch
    {
        TargetRuleValue.Sum => new TargetRuleValue(TargetRule.Sum),
        TargetRuleValue.TwoDigits => new TargetRuleValue(TargetRule.TwoDigits),
        _ when text.Length > 0 && char.IsAsciiDigit(text[0]) => numbers.FromLink(text, path, problems) is WholeValue number ? new TargetRuleValue(TargetRule.Number, number.Number) : null,
        _ => Refuse(problems, path, $"\"{Closest.Shorten(text)}\" is no target; here stands {Says}.", TargetRuleValue.Sum),
    };

    /// <summary>The next numbers; two digits are far from a sum.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        if (value is not TargetRuleValue { Rule: TargetRule.Number, Number: var now }) yield break;
        foreach (int next in new[] { now - 1, now + 1 })
            if (next >= Least && next <= Most) yield return new TargetRuleValue(TargetRule.Number, next);
    }
}
