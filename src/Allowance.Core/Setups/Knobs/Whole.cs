using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

public sealed record WholeValue(int Number) : KnobValue
{
    public override int? Largest => Number;

    public override string ToLink() => Number.ToString();

    public override JsonNode ToJson() => JsonValue.Create(Number);
}

/// <summary>A whole number within limits.</summary>
/// <param name="Factor">Neighbours are so many times as large or small; 1 for one more and one fewer.</param>
public sealed record WholeKind(int Least, int Most, double Factor = 1) : KnobKind
{
    public override string Says => $"{Least}–{Most}";

    public override JsonObject Schema => Schemas.Whole(Least, Most);

    public override Field Field => new NumberField(Least, Most);

    public override KnobValue Sample(ref Rng rng) => new WholeValue(Least + rng.Below(Most - Least + 1));

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        json.ValueKind == JsonValueKind.Number && json.TryGetDouble(out double d) && d == Math.Floor(d)
            ? Check(d, path, problems)
            : Refuse(problems, path, $"Here stands a whole number from {Least} to {Most}.", Least);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) =>
        double.TryParse(text, out double d) && d == Math.Floor(d)
            ? Check(d, path, problems)
            : Refuse(problems, path, $"Here stands a whole number from {Least} to {Most}.", Least);

    private KnobValue? Check(double n, string path, List<Problem> problems) => n >= Least && n <= Most
        ? new WholeValue((int)n)
        : Refuse(problems, path, $"{n:0} is outside {Least} to {Most}.", n < Least ? Least : Most);

    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        int n = ((WholeValue)value).Number;
        int fewer = Factor == 1 ? n - 1 : (int)Math.Round(n / Factor), more = Factor == 1 ? n + 1 : (int)Math.Round(n * Factor);
        if (fewer >= Least) yield return new WholeValue(fewer);
        if (more <= Most) yield return new WholeValue(more);
    }
}
