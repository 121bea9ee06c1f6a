using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

public sealed record RangeValue(NumberRange Range) : KnobValue
{
    public override int? Largest => Range.High;

    public override string ToLink() => $"{Range.Low}-{Range.High}";

    public override JsonNode ToJson() => new JsonArray(Range.Low, Range.High);

    public override string Says() => Range.Low == Range.High ? $"{Range.Low}" : Range.ToString();
}

/// <summary>A range of numbers.</summary>
/// <param name="OrOne">One number may stand for the range of itself alone.</param>
public sealed record RangeKind(int Least, int Most, bool OrOne = false) : KnobKind
{
    public override string Says => $"[low, high]{(OrOne ? " or one number" : "")}, {Least} to {Most}";

    public override JsonObject Schema => OrOne ? Schemas.Any(Schemas.Pair(Least, Most), Schemas.Whole(Least, Most)) : Schemas.Pair(Least, Most);

    public override Field Field => new PairField(Least, Most, [("low", "from", v => ((RangeValue)v).Range.Low), ("high", "to", v => ((RangeValue)v).Range.High)]);

    public override string? FromFields(Func<string, string?> part) => part("low") is { Length: > 0 } low && part("high") is { Length: > 0 } high ? $"{low}-{high}" : null;

    public override KnobValue Sample(ref Rng rng)
    {
        int low = Math.Max(Least, -4) + rng.Below(Math.Min(9, Most - Least + 1));
        return new RangeValue(new(low, low + rng.Below(Math.Min(9, Most - low + 1))));
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        OrOne && json.ValueKind == JsonValueKind.Number && json.TryGetInt32(out int only) ? Check(only, only, path, problems)
        : json.ValueKind == JsonValueKind.Array && json.GetArrayLength() == 2
        && json[0].ValueKind == JsonValueKind.Number && json[1].ValueKind == JsonValueKind.Number
        && json[0].TryGetInt32(out int low) && json[1].TryGetInt32(out int high)
            ? Check(low, high, path, problems)
            : Refuse(problems, path, "A range is written [low, high], for example [0, 10].", new JsonArray(0, 10));

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        // A number may be below nothing: -3-6.
        int dash = text.IndexOf('-', Math.Min(1, text.Length));
        string[] parts = dash < 0 ? [text] : [text[..dash], text[(dash + 1)..]];
        return OrOne && int.TryParse(text, out int only) ? Check(only, only, path, problems) : parts.Length == 2 && int.TryParse(parts[0], out int low) && int.TryParse(parts[1], out int high)
            ? Check(low, high, path, problems)
            : Refuse(problems, path, "A range is written low-high, for example 0-10.", "0-10");
    }

    /// <summary>Of ranges that may be one number: both ends one on, or one back.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var range = ((RangeValue)value).Range;
        if (!OrOne) yield break;
        if (range.Low > Least) yield return new RangeValue(new(range.Low - 1, range.High - 1));
        if (range.High < Most) yield return new RangeValue(new(range.Low + 1, range.High + 1));
    }

    private KnobValue? Check(int low, int high, string path, List<Problem> problems)
    {
        if (low <= high && low >= Least && high <= Most) return new RangeValue(new(low, high));
        int a = Math.Clamp(Math.Min(low, high), Least, Most), b = Math.Clamp(Math.Max(low, high), Least, Most);
        return Refuse(problems, path, $"A range runs upwards within {Least} to {Most}.", new JsonArray(a, b));
    }
}
