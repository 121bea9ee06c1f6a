using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>The cells of a board: the number in each, or only how many the board maker makes.</summary>
/// <param name="Values">Row by row; empty where they are made.</param>
public sealed record CellsValue(int Count, ImmutableArray<int> Values) : KnobValue
{
    public static CellsValue Made(int count) => new(count, []);

    public static CellsValue Of(IEnumerable<int> values) => new(values.Count(), [.. values]);

    public bool IsMade => Values.IsEmpty;

    public override string ToLink() => IsMade ? $"{Count}" : string.Join('.', Values) + (Count == 1 ? "." : "");

    public override JsonNode ToJson() => IsMade ? JsonValue.Create(Count) : Fields.List(Values);

    public override string Says() => IsMade ? $"{Count}, made for it" : string.Join(' ', Values);

    public bool Equals(CellsValue? other) => other is not null && Count == other.Count && Values.SequenceEqual(other.Values);

    public override int GetHashCode() => Values.Aggregate(Count, HashCode.Combine);
}

/// <summary>A list of the numbers in the cells, or how many cells are made.</summary>
public sealed record CellsKind(int Most, int LargestNumber) : KnobKind
{
    public override string Says => $"a list of up to {Most} numbers, or how many are made";

    public override JsonObject Schema => Schemas.Any(Schemas.Whole(1, Most), Schemas.List(Schemas.Whole(0, LargestNumber), 1, Most));

    public override Field Field => new TextField("16, or 2.3.4.5");

    public override KnobValue Sample(ref Rng rng)
    {
        int count = 2 + rng.Below(Math.Min(20, Most - 1));
        if (rng.Below(2) == 0) return CellsValue.Made(count);
        var values = new List<int>();
        while (values.Count < count) values.Add(1 + rng.Below(Math.Min(12, LargestNumber)));
        return CellsValue.Of(values);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind == JsonValueKind.Number) return new WholeKind(1, Most).FromJson(json, path, problems) is WholeValue made ? CellsValue.Made(made.Number) : null;
        if (json.ValueKind != JsonValueKind.Array) return Unread(path, problems);
        var values = json.EnumerateArray().Select(n => n.ValueKind == JsonValueKind.Number && n.TryGetInt32(out int number) ? number : -1).ToList();
        return Check(values, path, problems);
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        if (int.TryParse(text, out _)) return new WholeKind(1, Most).FromLink(text, path, problems) is WholeValue made ? CellsValue.Made(made.Number) : null;
        return Check([.. text.Split(['.', ',', ' '], StringSplitOptions.RemoveEmptyEntries).Select(p => int.TryParse(p, out int n) ? n : -1)], path, problems);
    }

    private KnobValue? Unread(string path, List<Problem> problems) => Refuse(problems, path, $"Here stands how many cells there are, or a list of numbers up to {LargestNumber}.", Math.Min(16, Most));

    private KnobValue? Check(List<int> values, string path, List<Problem> problems)
    {
        if (values.Count == 0 || values.Exists(v => v < 0 || v > LargestNumber)) return Unread(path, problems);
        return values.Count <= Most ? CellsValue.Of(values) : Refuse(problems, path, $"{values.Count} cells are too many; {Most} at most.", Fields.List(values.Take(Most)));
    }

    /// <summary>Of made boards: a cell fewer, or one more.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var cells = (CellsValue)value;
        if (!cells.IsMade) yield break;
        if (cells.Count > 4) yield return CellsValue.Made(cells.Count - 1);
        if (cells.Count < Most) yield return CellsValue.Made(cells.Count + 1);
    }
}
