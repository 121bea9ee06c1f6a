using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>The faces of a colour die, each with one colour or two.</summary>
public sealed record ColourDieValue : KnobValue
{
    public ColourDieValue(IEnumerable<IEnumerable<string>> faces) => Faces = [.. faces.Select(f => (ImmutableList<string>)[.. f.Distinct()])];

    public ImmutableList<ImmutableList<string>> Faces { get; }

    public override string ToLink() => string.Join(',', Faces.Select(f => string.Join('/', f)));

    public override JsonNode ToJson() => new JsonArray([.. Faces.Select(f => (JsonNode)new JsonArray([.. f.Select(c => (JsonNode)c)]))]);

    public override string Says() => string.Join(", ", Faces.Select(f => string.Join(" or ", f)));

    public bool Equals(ColourDieValue? other) => other is not null && ToLink() == other.ToLink();

    public override int GetHashCode() => ToLink().GetHashCode(StringComparison.Ordinal);
}

/// <summary>A die with colours: each face has one, or two to choose from.</summary>
public sealed record ColourDieKind(int MostFaces) : KnobKind
{
    private static JsonArray Example => new(new JsonArray("red"), new JsonArray("blue"), new JsonArray("red", "blue"));

    public override string Says => "a list of faces, each a list of one or two colours";

    public override JsonObject Schema => Schemas.List(Schemas.List(Schemas.Typed("string"), 1, 2), 1, MostFaces);

    public override Field Field => new TextField("red, blue, red/blue");

    public override KnobValue Sample(ref Rng rng)
    {
        var faces = new List<string[]>();
        for (int n = 1 + rng.Below(Math.Min(6, MostFaces)); n > 0; n--)
        {
            int one = rng.Below(ColourWords.Usual.Count), two = rng.Below(ColourWords.Usual.Count);
            faces.Add([ColourWords.Usual[one], ColourWords.Usual[two]]);
        }
        return new ColourDieValue(faces);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind != JsonValueKind.Array) return Unread(path, problems);
        var faces = new List<IReadOnlyList<string>>();
        foreach (var face in json.EnumerateArray())
        {
            if (face.ValueKind == JsonValueKind.String) faces.Add([face.GetString()!]);
            else if (face.ValueKind == JsonValueKind.Array && face.EnumerateArray().All(c => c.ValueKind == JsonValueKind.String)) faces.Add([.. face.EnumerateArray().Select(c => c.GetString()!)]);
            else return Unread(path, problems);
        }
        return Check(faces, path, problems);
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) =>
        Check([.. text.Split([',', ';'], StringSplitOptions.RemoveEmptyEntries).Select(f => (IReadOnlyList<string>)f.Replace(" or ", "/").Split(['/', '+', ' '], StringSplitOptions.RemoveEmptyEntries))], path, problems);

    private static KnobValue? Unread(string path, List<Problem> problems) =>
        Refuse(problems, path, "A colour die is a list of faces, each with one colour or two to choose from.", Example);

    private KnobValue? Check(List<IReadOnlyList<string>> faces, string path, List<Problem> problems)
    {
        if (faces.Count == 0 || faces.Exists(f => f.Count is 0 or > 2)) return Unread(path, problems);
        if (faces.Count > MostFaces) return Refuse(problems, path, $"{faces.Count} faces are too many; {MostFaces} at most.", Example);
        return faces.TrueForAll(f => f.All(ColourWords.IsOne)) ? new ColourDieValue(faces) : Refuse(problems, path, ColourWords.Says, Example);
    }
}
