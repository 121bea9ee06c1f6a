using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>The faces of a sign die, a plus or a minus each.</summary>
public sealed record SignDieValue(string Faces) : KnobValue
{
    public override string ToLink() => Faces;

    public override JsonNode ToJson() => new JsonArray([.. Faces.Select(f => (JsonNode)f.ToString())]);

    public override string Says() => string.Join(' ', Faces.Select(f => f == '+' ? '+' : '−'));
}

/// <summary>A die with plus and minus on its faces.</summary>
public sealed record SignDieKind(int MostFaces) : KnobKind
{
    public override string Says => "a list of faces, each \"+\" or \"-\"";

    public override JsonObject Schema => Schemas.List(Schemas.OneOf(["+", "-"]), 1, MostFaces);

    public override Field Field => new TextField("++-");

    public override KnobValue Sample(ref Rng rng)
    {
        string faces = "";
        for (int n = 1 + rng.Below(Math.Min(6, MostFaces)); n > 0; n--) faces += rng.Below(2) == 0 ? '+' : '-';
        return new SignDieValue(faces);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind == JsonValueKind.String) return FromLink(json.GetString()!, path, problems);
        return json.ValueKind == JsonValueKind.Array && json.EnumerateArray().All(f => f.ValueKind == JsonValueKind.String)
            ? FromLink(string.Concat(json.EnumerateArray().Select(f => f.GetString()!.Length == 1 ? f.GetString() : "?")), path, problems)
            : FromLink("?", path, problems);
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        string faces = text.Replace('−', '-').Replace(" ", "").Replace(",", "");
        return faces.Length is >= 1 && faces.Length <= MostFaces && faces.All(f => f is '+' or '-')
            ? new SignDieValue(faces)
            : Refuse(problems, path, $"A sign die is a list of up to {MostFaces} faces, each + or −.", new JsonArray("+", "+", "-"));
    }

    /// <summary>A minus more, or a plus more.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        string faces = ((SignDieValue)value).Faces;
        if (faces.Length >= MostFaces) yield break;
        yield return new SignDieValue(faces + "+");
        yield return new SignDieValue(faces + "-");
    }
}
