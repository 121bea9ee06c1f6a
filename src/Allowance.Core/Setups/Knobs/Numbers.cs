using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>Different numbers, rising.</summary>
public sealed record NumbersValue : KnobValue
{
    public override int? Largest => Numbers.IsEmpty ? null : Numbers[^1];

    public NumbersValue(IEnumerable<int> numbers) => Numbers = [.. numbers.Distinct().Order()];

    public static NumbersValue Range(int low, int high) => new(Enumerable.Range(low, high - low + 1));

    public ImmutableList<int> Numbers { get; }

    private bool IsRange => Numbers[^1] - Numbers[0] == Numbers.Count - 1;

    public override string ToLink() => IsRange ? $"{Numbers[0]}-{Numbers[^1]}" : string.Join('.', Numbers);

    public override JsonNode ToJson() => new JsonArray([.. (IsRange && Numbers.Count > 1 ? [Numbers[0], Numbers[^1]] : Numbers).Select(n => (JsonNode)n)]);

    public override string Says() => Words.Numbers(Numbers);

    public bool Equals(NumbersValue? other) => other is not null && Numbers.SequenceEqual(other.Numbers);

    public override int GetHashCode() => Numbers.Aggregate(Numbers.Count, HashCode.Combine);
}

/// <summary>Different numbers: from … to …, or one by one.</summary>
public sealed record NumbersKind(int Least, int Most) : KnobKind
{
    public override string Says => $"[low, high] or three and more numbers, {Least}–{Most}";

    public override JsonObject Schema => new() { ["type"] = "array", ["items"] = Schemas.Whole(Least, Most), ["minItems"] = 1 };

    public override Field Field => new TextField($"{Math.Max(Least, 1)}-{Math.Min(Most, 6)}");

    public override KnobValue Sample(ref Rng rng)
    {
        if (rng.Below(2) == 0)
        {
            int low = Least + rng.Below(4);
            return NumbersValue.Range(low, low + 1 + rng.Below(6));
        }
        var numbers = new List<int>();
        for (int n = 3 + rng.Below(7); n > 0; n--) numbers.Add(Least + rng.Below(Math.Min(13, Most - Least + 1)));
        // Two numbers stand for all between them.
        return numbers.Distinct().Count() == 2 ? NumbersValue.Range(numbers.Min(), numbers.Max()) : new NumbersValue(numbers);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind != JsonValueKind.Array) return Unread(path, problems);
        var numbers = new List<int>();
        foreach (var item in json.EnumerateArray())
        {
            if (item.ValueKind != JsonValueKind.Number || !item.TryGetInt32(out int n)) return Unread(path, problems);
            numbers.Add(n);
        }
        return Check(numbers, path, problems);
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var parts = text.Split('-', '.', ',', ' ').Where(p => p.Length > 0).ToList();
        var numbers = parts.Select(p => int.TryParse(p, out int n) ? n : -1).ToList();
        return numbers.Count == 0 || numbers.Contains(-1) || text.Contains('-') && numbers.Count != 2 ? Unread(path, problems) : Check(numbers, path, problems);
    }

    private KnobValue? Unread(string path, List<Problem> problems) =>
        Refuse(problems, path, "Numbers are written [low, high], or one by one, for example [1, 6] or [2, 4, 5].", new JsonArray(Math.Max(Least, 1), Math.Min(Most, 6)));

    private KnobValue? Check(List<int> numbers, string path, List<Problem> problems)
    {
        if (numbers.Count == 0) return Unread(path, problems);
        if (numbers.Min() < Least || numbers.Max() > Most)
            return Refuse(problems, path, $"The numbers here lie within {Least} to {Most}.", new JsonArray(Math.Clamp(numbers.Min(), Least, Most), Math.Clamp(numbers.Max(), Least, Most)));
        return numbers.Count == 2 ? NumbersValue.Range(numbers.Min(), numbers.Max()) : new NumbersValue(numbers);
    }

    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var numbers = ((NumbersValue)value).Numbers;
        if (numbers.Count > 3 || numbers.Count > 1 && numbers[^1] - numbers[0] == numbers.Count - 1) yield return new NumbersValue(numbers.Take(numbers.Count - 1));
        if (numbers[^1] < Most) yield return new NumbersValue(numbers.Append(numbers[^1] + 1));
    }
}
