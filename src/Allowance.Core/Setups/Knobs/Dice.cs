using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>Dice that are rolled together.</summary>
public sealed record DiceValue(Dice Dice) : KnobValue
{
    public override int? Largest => Dice.Most;

    public override string ToLink() => Dice.ToString();

    public override JsonNode ToJson() => new JsonArray([.. Dice.All.Select(d => d.ToString().Contains('.') || d.Faces.Length == 1 ? (JsonNode)new JsonArray([.. d.Faces.Select(f => (JsonNode)f)]) : JsonValue.Create(d.ToString()))]);

    public override string Says() => Dice.All.Length == 1 ? Dice.All[0].Says : Dice.All.Distinct().Count() == 1
        ? $"{NumberWords.Of(Dice.All.Length)} dice{Dice.All[0].Says["a die".Length..]}" : Words.List(Dice.All.Select(d => d.Says));
}

/// <summary>Dice rolled together: <c>d6</c>, a run of faces as <c>0-5</c>, or listed faces.</summary>
public sealed record DiceKind(int Most = Dice.MostDice) : KnobKind
{
    /// <summary>What the bench offers.</summary>
    public static IReadOnlyList<DiceValue> Usual { get; } =
        [.. new[] { "1.1.2.2.3.3", "d3", "d4", "0-5", "d6", "d8", "d10", "d12", "d20", "1.1.2.2.3.3+1.1.2.2.3.3", "d6+d6", "d10+d10", "d6+d6+d6" }.Select(t => (DiceValue)new DiceKind().FromLink(t, "", [])!)];

    public override string Says => $"a list of up to {Most} dice, each \"d6\", \"0-5\" or its faces, 0–{Die.LargestFace}";

    private static JsonObject DieSchema => Schemas.Any(new JsonObject { ["type"] = "string", ["pattern"] = "^(d[1-9][0-9]*|[0-9]+-[0-9]+)$" }, Schemas.List(Schemas.Whole(0, Die.LargestFace), 1, Die.MostFaces));

    public override JsonObject Schema => Schemas.Any(new JsonObject { ["type"] = "string" }, Schemas.List(DieSchema, 1, Most));

    public override Field Field => new PickField([.. Usual.Where(d => d.Dice.All.Length <= Most)]);

    public override KnobValue Sample(ref Rng rng)
    {
        var fitting = Usual.Where(d => d.Dice.All.Length <= Most).ToList();
        return fitting[rng.Below(fitting.Count)];
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind == JsonValueKind.String) return FromLink(json.GetString()!, path, problems);
        if (json.ValueKind != JsonValueKind.Array || json.GetArrayLength() == 0) return Refuse(problems, path, "Dice are a list, for example [\"d6\"], [\"0-5\"] or [[1, 1, 2, 2, 3, 3]].", new JsonArray("d6"));
        var dice = new List<Die>();
        foreach (var item in json.EnumerateArray())
        {
            if (OneDie(item) is not { } die) return Refuse(problems, path, $"\"{Closest.Shorten(item.ValueKind == JsonValueKind.String ? item.GetString()! : item.GetRawText())}\" is no die; a die is \"d6\", \"0-5\" or its faces as numbers from 0 to {Die.LargestFace}, at most {Die.MostFaces}.", new JsonArray("d6"));
            dice.Add(die);
        }
        return Rolled(dice, path, problems);
    }

    private static Die? OneDie(JsonElement json)
    {
        if (json.ValueKind == JsonValueKind.String) return OneDie(json.GetString()!);
        if (json.ValueKind != JsonValueKind.Array) return null;
        var faces = new List<int>();
        foreach (var face in json.EnumerateArray())
        {
            if (face.ValueKind != JsonValueKind.Number || !face.TryGetInt32(out int n)) return null;
            faces.Add(n);
        }
        return Faces(faces);
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var dice = new List<Die>();
        foreach (string part in text.Split(['+', ' '], StringSplitOptions.RemoveEmptyEntries))
        {
            if (OneDie(part) is not { } die) return Refuse(problems, path, $"\"{Closest.Shorten(part)}\" is no die; a die is d6, 0-5 or its faces with dots between, as 1.1.2.2.3.3.", "d6");
            dice.Add(die);
        }
        return dice.Count == 0 ? Refuse(problems, path, "At least one die is rolled.", "d6") : Rolled(dice, path, problems);
    }

    private static Die? OneDie(string text)
    {
        if (text.StartsWith('d')) return int.TryParse(text[1..], out int most) && most is >= 1 and <= Die.MostFaces ? Die.Of(most) : null;
        var run = text.Split('-');
        if (run.Length == 2) return int.TryParse(run[0], out int low) && int.TryParse(run[1], out int high) && low >= 0 && low < high && high <= Die.LargestFace ? Faces([.. Enumerable.Range(low, high - low + 1)]) : null;
        var faces = text.Split('.').Select(f => int.TryParse(f, out int n) ? n : -1).ToList();
        return Faces(faces);
    }

    private static Die? Faces(List<int> faces) => faces.Count is >= 1 and <= Die.MostFaces && faces.TrueForAll(f => f is >= 0 and <= Die.LargestFace) ? new Die(faces) : null;

    private KnobValue? Rolled(List<Die> dice, string path, List<Problem> problems) => dice.Count <= Most
        ? new DiceValue(new Dice(dice))
        : Refuse(problems, path, $"Here {dice.Count} dice are rolled; {Most} at most.", new DiceValue(new Dice(dice.Take(Most))).ToJson());

    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        // As many dice as before: one more or fewer is another thing to do. Faces that are soon made come before dice that are bought,
        // and nothing is a number of its own, which no step brings in.
        var now = ((DiceValue)value).Dice;
        var alike = Usual.Where(d => d.Dice.All.Length == now.All.Length && (d.Dice.Least > 0 || now.Least == 0)).ToList();
        foreach (var smaller in alike.Where(d => d.Dice.Most < now.Most)) yield return smaller;
        if (alike.Where(d => d.Dice.Most > now.Most).MinBy(d => d.Dice.Most) is { } larger) yield return larger;
    }
}
