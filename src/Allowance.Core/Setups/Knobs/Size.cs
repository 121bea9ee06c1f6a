using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>Rows and columns.</summary>
public sealed record SizeValue(int Rows, int Columns) : KnobValue
{
    public int Places => Rows * Columns;

    public override string ToLink() => $"{Rows}x{Columns}";

    public override JsonNode ToJson() => new JsonArray(Rows, Columns);

    public override string Says() => $"{Rows} × {Columns}";
}

/// <summary>Rows and columns of a layout of at most <paramref name="MostPlaces"/> places.</summary>
public sealed record SizeKind(int MostPlaces) : KnobKind
{
    /// <summary>The layouts that the bench offers, by number of places.</summary>
    public static IReadOnlyList<SizeValue> Usual { get; } =
        [new(1, 4), new(2, 3), new(2, 4), new(3, 3), new(2, 5), new(3, 4), new(3, 5), new(4, 4), new(3, 6), new(4, 5), new(4, 6), new(5, 5), new(5, 6), new(6, 6)];

    public override string Says => $"[rows, columns], at most {MostPlaces} places";

    public override JsonObject Schema => Schemas.Pair(1, MostPlaces);

    public override Field Field => new PairField(1, MostPlaces / 2, [("rows", "Rows", v => ((SizeValue)v).Rows), ("columns", "Columns", v => ((SizeValue)v).Columns)]);

    public override string? FromFields(Func<string, string?> part) => part("rows") is { Length: > 0 } rows && part("columns") is { Length: > 0 } columns ? $"{rows}x{columns}" : null;

    public override KnobValue Sample(ref Rng rng)
    {
        int rows = 1 + rng.Below(6);
        return new SizeValue(rows, Math.Max(1 + rng.Below(6), rows == 1 ? 2 : 1));
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind == JsonValueKind.Array && json.GetArrayLength() == 2
            && json[0].ValueKind == JsonValueKind.Number && json[1].ValueKind == JsonValueKind.Number
            && json[0].TryGetInt32(out int rows) && json[1].TryGetInt32(out int columns)) return Check(rows, columns, path, problems);
        return Refuse(problems, path, "A layout is written [rows, columns], for example [4, 5].", new JsonArray(4, 5));
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var parts = text.Split('x');
        if (parts.Length == 2 && int.TryParse(parts[0], out int rows) && int.TryParse(parts[1], out int columns)) return Check(rows, columns, path, problems);
        return Refuse(problems, path, "A layout is written rows x columns, for example 4x5.", "4x5");
    }

    private KnobValue? Check(int rows, int columns, string path, List<Problem> problems)
    {
        if (rows >= 1 && columns >= 1 && (long)rows * columns >= 2 && (long)rows * columns <= MostPlaces) return new SizeValue(rows, columns);
        long places = (long)Math.Max(0, rows) * Math.Max(0, columns);
        var nearest = Usual.MinBy(s => Math.Abs(s.Places - places))!;
        return Refuse(problems, path, $"A layout of {rows} × {columns} has {places} places; it needs 2 to {MostPlaces}.", nearest.ToJson());
    }

    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        int places = ((SizeValue)value).Places;
        if (Usual.LastOrDefault(s => s.Places < places) is { } smaller) yield return smaller;
        if (Usual.FirstOrDefault(s => s.Places > places && s.Places <= MostPlaces) is { } larger) yield return larger;
    }
}
