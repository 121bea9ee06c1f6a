using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>The faces of a sign die, one character each: plus, minus, twice or half.</summary>
public sealed record SignDieValue(string Faces) : KnobValue
{
    public const char Twice = '×', Half = '÷';

    public override string ToLink() => string.Concat(Faces.Select(Written));

    public override JsonNode ToJson() => new JsonArray([.. Faces.Select(f => (JsonNode)Written(f))]);

    public override string Says() => string.Join(' ', Faces.Select(Says));

    private static string Written(char face) => face is Twice or Half ? $"{face}2" : face.ToString();

    /// <summary>A face as it is drawn.</summary>
    public static string Says(char face) => face == '-' ? "−" : Written(face);

    public static string InWords(char face) => face switch { '+' => "plus", '-' => "minus", Twice => "times two", _ => "half" };
}

/// <summary>A die with plus, minus, ×2 and ÷2 on its faces.</summary>
public sealed record SignDieKind(int MostFaces) : KnobKind
{
    public override string Says => "a list of faces, each \"+\", \"-\", \"×2\" or \"÷2\"";

    public override JsonObject Schema => Schemas.List(Schemas.OneOf(["+", "-", "×2", "÷2"]), 1, MostFaces);

    public override Field Field => new TextField("++-");

    public override KnobValue Sample(ref Rng rng)
    {
        string faces = "";
        for (int n = 1 + rng.Below(Math.Min(6, MostFaces)); n > 0; n--) faces += "++--×÷"[rng.Below(6)];
        return new SignDieValue(faces);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind == JsonValueKind.String) return FromLink(json.GetString()!, path, problems);
        return json.ValueKind == JsonValueKind.Array && json.EnumerateArray().All(f => f.ValueKind == JsonValueKind.String && f.GetString()!.Length is 1 or 2)
            ? FromLink(string.Concat(json.EnumerateArray().Select(f => f.GetString())), path, problems)
            : FromLink("", path, problems);
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        string faces = text.Replace(" ", "").Replace(",", "").Replace('−', '-').Replace('*', SignDieValue.Twice).Replace('x', SignDieValue.Twice).Replace('/', SignDieValue.Half);
        // Two characters for twice and half, one for the others.
        string read = faces.Replace("×2", "t").Replace("÷2", "h");
        return read.Length >= 1 && read.Length <= MostFaces && read.All(f => f is '+' or '-' or 't' or 'h')
            ? new SignDieValue(read.Replace('t', SignDieValue.Twice).Replace('h', SignDieValue.Half))
            : Refuse(problems, path, $"A sign die is a list of up to {MostFaces} faces, each +, −, ×2 or ÷2.", new JsonArray("+", "+", "-"));
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
