using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

public sealed record ChoiceValue(string Id, string Label) : KnobValue
{
    public override string ToLink() => Id;

    public override JsonNode ToJson() => JsonValue.Create(Id);

    public override string Says() => Label;
}

/// <summary>One of a few named values, in an order from gentle to hard where they have one.</summary>
public sealed record ChoiceKind(IReadOnlyList<ChoiceValue> Options) : KnobKind
{
    public static ChoiceKind Of(params (string Id, string Label)[] options) => new([.. options.Select(o => new ChoiceValue(o.Id, o.Label))]);

    public static ChoiceKind OfForms(params Form[] forms) => new([.. forms.Select(f => new ChoiceValue(f.Id(), f.Facts().Label))]);

    public ChoiceValue this[string id] => Options.First(o => o.Id == id);

    public override string Says => string.Join(", ", Options.Select(o => o.Id));

    /// <summary>An id that is a number may stand as one.</summary>
    public override JsonObject Schema => new() { ["enum"] = new JsonArray([.. Options.Select(o => (JsonNode)o.Id), .. Options.Where(o => int.TryParse(o.Id, out _)).Select(o => (JsonNode)int.Parse(o.Id))]) };

    public override Field Field => new PickField(Options);

    public override KnobValue Sample(ref Rng rng) => Options[rng.Below(Options.Count)];

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) => json.ValueKind switch
    {
        JsonValueKind.String => FromLink(json.GetString()!, path, problems),
        JsonValueKind.Number => FromLink(json.GetRawText(), path, problems),
        _ => Refuse(problems, path, $"Here stands one of: {Says}.", Options[0].Id),
    };

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) =>
        Options.FirstOrDefault(o => o.Id == text) ?? Refuse(problems, path, $"\"{Closest.Shorten(text)}\" is not one of: {Says}.", Closest.To(text, Options.Select(o => o.Id)));

    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        int i = Options.ToList().IndexOf((ChoiceValue)value);
        if (i > 0) yield return Options[i - 1];
        if (i < Options.Count - 1) yield return Options[i + 1];
    }
}
