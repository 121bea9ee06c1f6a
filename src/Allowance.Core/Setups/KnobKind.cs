using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>What cannot be read or played, where it stands, and the nearest thing that works.</summary>
/// <param name="Path">Where in the file, for example <c>players[0].allowance.target</c>; empty for the whole.</param>
/// <param name="Nearest">A value to put in its place, or null where there is none.</param>
public sealed record Problem(string Path, string Message, JsonNode? Nearest = null);

/// <summary>What values a knob can have, and how they are read from a file or a link. Reading never throws.</summary>
public abstract record KnobKind
{
    public abstract KnobValue? FromJson(JsonElement json, string path, List<Problem> problems);

    public abstract KnobValue? FromLink(string text, string path, List<Problem> problems);

    /// <summary>The neighbouring values, the smaller first; what <em>easier</em> and <em>harder</em> try.</summary>
    public virtual IEnumerable<KnobValue> Neighbours(KnobValue value) => [];

    /// <summary>The values in words, for the published table of knobs.</summary>
    public abstract string Says { get; }

    /// <summary>How a value is written in a field, by an example; empty where it is chosen.</summary>
    public virtual string Written => "";

    private protected static KnobValue? Refuse(List<Problem> problems, string path, string message, JsonNode? nearest)
    {
        problems.Add(new(path, message, nearest));
        return null;
    }
}

/// <summary>A whole number within limits.</summary>
/// <param name="Factor">Neighbours are so many times as large or small; 1 for one more and one fewer.</param>
public sealed record WholeKind(int Least, int Most, double Factor = 1) : KnobKind
{
    public override string Says => $"{Least}–{Most}";

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

public sealed record FlagKind : KnobKind
{
    public override string Says => "true or false";

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        json.ValueKind is JsonValueKind.True or JsonValueKind.False
            ? new FlagValue(json.GetBoolean())
            : Refuse(problems, path, "Here stands true or false.", false);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => text switch
    {
        "yes" => new FlagValue(true),
        "no" => new FlagValue(false),
        _ => Refuse(problems, path, "Here stands yes or no.", false),
    };

    public override IEnumerable<KnobValue> Neighbours(KnobValue value) => [new FlagValue(!((FlagValue)value).On)];
}

/// <summary>One of a few named values, in an order from gentle to hard where they have one.</summary>
public sealed record ChoiceKind(IReadOnlyList<ChoiceValue> Options) : KnobKind
{
    public static ChoiceKind Of(params (string Id, string Label)[] options) => new([.. options.Select(o => new ChoiceValue(o.Id, o.Label))]);

    public static ChoiceKind OfForms(params Form[] forms) => new([.. forms.Select(f => new ChoiceValue(f.Id(), f.Facts().Label))]);

    public ChoiceValue this[string id] => Options.First(o => o.Id == id);

    public override string Says => string.Join(", ", Options.Select(o => o.Id));

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

/// <summary>Rows and columns of a layout of at most <paramref name="MostPlaces"/> places.</summary>
public sealed record SizeKind(int MostPlaces) : KnobKind
{
    /// <summary>The layouts that the bench offers, by number of places.</summary>
    public static IReadOnlyList<SizeValue> Usual { get; } =
        [new(1, 4), new(2, 3), new(2, 4), new(3, 3), new(2, 5), new(3, 4), new(3, 5), new(4, 4), new(3, 6), new(4, 5), new(4, 6), new(5, 5), new(5, 6), new(6, 6)];

    public override string Says => $"[rows, columns], at most {MostPlaces} places";

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

/// <summary>A range of numbers.</summary>
public sealed record RangeKind(int Least, int Most) : KnobKind
{
    public override string Says => $"[low, high], {Least}–{Most}";

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        json.ValueKind == JsonValueKind.Array && json.GetArrayLength() == 2
        && json[0].ValueKind == JsonValueKind.Number && json[1].ValueKind == JsonValueKind.Number
        && json[0].TryGetInt32(out int low) && json[1].TryGetInt32(out int high)
            ? Check(low, high, path, problems)
            : Refuse(problems, path, "A range is written [low, high], for example [0, 10].", new JsonArray(0, 10));

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var parts = text.Split('-');
        return parts.Length == 2 && int.TryParse(parts[0], out int low) && int.TryParse(parts[1], out int high)
            ? Check(low, high, path, problems)
            : Refuse(problems, path, "A range is written low-high, for example 0-10.", "0-10");
    }

    private KnobValue? Check(int low, int high, string path, List<Problem> problems)
    {
        if (low <= high && low >= Least && high <= Most) return new RangeValue(new(low, high));
        int a = Math.Clamp(Math.Min(low, high), Least, Most), b = Math.Clamp(Math.Max(low, high), Least, Most);
        return Refuse(problems, path, $"A range runs upwards within {Least} to {Most}.", new JsonArray(a, b));
    }
}

/// <summary>Different numbers: from … to …, or one by one.</summary>
public sealed record NumbersKind(int Least, int Most) : KnobKind
{
    public override string Says => $"[low, high] or three and more numbers, {Least}–{Most}";

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

/// <summary>Dice rolled together: <c>d6</c>, a run of faces as <c>0-5</c>, or listed faces.</summary>
public sealed record DiceKind(int Most = Dice.MostDice) : KnobKind
{
    /// <summary>What the bench offers.</summary>
    public static IReadOnlyList<DiceValue> Usual { get; } =
        [.. new[] { "1.1.2.2.3.3", "d3", "d4", "0-5", "d6", "d8", "d10", "d12", "d20", "d6+d6", "d10+d10", "d6+d6+d6" }.Select(t => (DiceValue)new DiceKind().FromLink(t, "", [])!)];

    public override string Says => $"a list of up to {Most} dice, each \"d6\", \"0-5\" or its faces, 0–{Die.LargestFace}";

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
        double mean = ((DiceValue)value).Dice.Total.Mean;
        var fitting = Usual.Where(d => d.Dice.All.Length <= Most).OrderBy(d => d.Dice.Total.Mean).ToList();
        if (fitting.LastOrDefault(d => d.Dice.Total.Mean < mean - .01) is { } smaller) yield return smaller;
        if (fitting.FirstOrDefault(d => d.Dice.Total.Mean > mean + .01) is { } larger) yield return larger;
    }
}

/// <summary>How many there are of each number: slips, bars, pieces of a worth.</summary>
public sealed record CountsKind(int Most, int MostCopies, int MostInAll) : KnobKind
{
    private static JsonObject Example => new() { ["1"] = 2, ["2"] = 2, ["3"] = 2 };

    public override string Says => $"how many of each number, as {{\"1\": 2, \"2\": 2}}; numbers 0–{Most}, at most {MostInAll} in all";

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind != JsonValueKind.Object) return Refuse(problems, path, "Here stands how many there are of each number, for example {\"1\": 2, \"2\": 2}.", Example);
        int before = problems.Count;
        var counts = new Dictionary<int, int>();
        foreach (var (key, value) in Fields.Read(json, path, null, problems))
        {
            string at = $"{path}.{Closest.Shorten(key)}";
            if (!int.TryParse(key, System.Globalization.NumberStyles.None, null, out int n) || n > Most) Refuse(problems, at, $"Here stands a number from 0 to {Most}.", null);
            else if (new WholeKind(0, MostCopies).FromJson(value, at, problems) is WholeValue copies && !counts.TryAdd(n, copies.Number)) Refuse(problems, at, $"{n} is given twice.", null);
        }
        return problems.Count == before ? Check(counts, path, problems) : null;
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var counts = new Dictionary<int, int>();
        foreach (string part in text.Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries))
        {
            var pair = part.Split(['x', '×', '.', ':']);
            if (pair.Length > 2 || !int.TryParse(pair[0], out int n) || n < 0 || n > Most) return Unread(part);
            int copies = 1;
            if (pair.Length == 2 && (!int.TryParse(pair[1], out copies) || copies < 0 || copies > MostCopies)) return Unread(part);
            counts[n] = copies;
        }
        return Check(counts, path, problems);

        KnobValue? Unread(string part) => Refuse(problems, path, $"\"{Closest.Shorten(part)}\" is no number up to {Most} with how many of it, up to {MostCopies}; it is written 1×2, 2×2.", "1x2,2x2");
    }

    private KnobValue? Check(Dictionary<int, int> counts, string path, List<Problem> problems)
    {
        int all = counts.Values.Sum();
        if (all == 0) return Refuse(problems, path, "There is nothing in it.", Example);
        return all <= MostInAll ? new CountsValue(counts) : Refuse(problems, path, $"{all} are too many; {MostInAll} at most.", Example);
    }

    /// <summary>Without the largest number, or with the next one, as many of it.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var counts = ((CountsValue)value).Counts;
        var (largest, copies) = counts.Last();
        if (counts.Count > 1) yield return new CountsValue(counts.Remove(largest));
        if (largest < Most && counts.Values.Sum() + copies <= MostInAll) yield return new CountsValue(counts.Add(largest + 1, copies));
    }
}

/// <summary>How many things there are of each colour; colours are words.</summary>
public sealed record ColoursKind(int MostColours, int MostOfEach) : KnobKind
{
    private static JsonObject Example => new() { ["red"] = 6, ["blue"] = 6 };

    public override string Written => "red 6, blue 6";

    public override string Says => $"how many of each colour, as {{\"red\": 6, \"blue\": 6}}; at most {MostColours} colours with {MostOfEach} each";

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems)
    {
        if (json.ValueKind != JsonValueKind.Object) return Refuse(problems, path, "Here stands how many there are of each colour, for example {\"red\": 6, \"blue\": 6}.", Example);
        int before = problems.Count;
        var colours = new List<(string, int)>();
        foreach (var (name, value) in Fields.Read(json, path, null, problems))
        {
            string at = $"{path}.{Closest.Shorten(name)}";
            if (!ColourWords.IsOne(name)) Refuse(problems, at, ColourWords.Says, null);
            else if (new WholeKind(0, MostOfEach).FromJson(value, at, problems) is WholeValue count) colours.Add((name, count.Number));
        }
        return problems.Count == before ? Check(colours, path, problems) : null;
    }

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var colours = new List<(string, int)>();
        foreach (string part in text.Split([',', ';'], StringSplitOptions.RemoveEmptyEntries))
        {
            var pair = part.Split([' ', '.', ':', '×'], StringSplitOptions.RemoveEmptyEntries);
            if (pair.Length != 2 || !ColourWords.IsOne(pair[0]) || !int.TryParse(pair[1], out int count) || count < 0 || count > MostOfEach)
                return Refuse(problems, path, $"\"{Closest.Shorten(part)}\" is no colour with how many of it, up to {MostOfEach}; it is written red 6, blue 6.", "red.6,blue.6");
            colours.Add((pair[0], count));
        }
        return Check(colours, path, problems);
    }

    private KnobValue? Check(List<(string Colour, int Count)> colours, string path, List<Problem> problems)
    {
        if (colours.Sum(c => c.Count) == 0) return Refuse(problems, path, "There is nothing in the heap.", Example);
        if (colours.Count > MostColours) return Refuse(problems, path, $"{colours.Count} colours are too many; {MostColours} at most.", Example);
        return colours.DistinctBy(c => c.Colour).Count() == colours.Count ? new ColoursValue(colours) : Refuse(problems, path, "A colour is given twice.", Example);
    }

    /// <summary>One fewer, or one more, of every colour.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var colours = ((ColoursValue)value).Colours;
        if (colours.All(c => c.Count > 1)) yield return new ColoursValue(colours.Select(c => (c.Colour, c.Count - 1)));
        if (colours.All(c => c.Count < MostOfEach)) yield return new ColoursValue(colours.Select(c => (c.Colour, c.Count + 1)));
    }
}

/// <summary>A die with colours: each face has one, or two to choose from.</summary>
public sealed record ColourDieKind(int MostFaces) : KnobKind
{
    private static JsonArray Example => new(new JsonArray("red"), new JsonArray("blue"), new JsonArray("red", "blue"));

    public override string Written => "red, blue, red/blue";

    public override string Says => "a list of faces, each a list of one or two colours";

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

/// <summary>What a colour is called.</summary>
internal static class ColourWords
{
    public const string Says = "A colour is a word of up to twelve letters.";

    public static bool IsOne(string word) => word.Length is >= 1 and <= 12 && word.All(char.IsLetter);
}

/// <summary>A die with plus and minus on its faces.</summary>
public sealed record SignDieKind(int MostFaces) : KnobKind
{
    public override string Says => "a list of faces, each \"+\" or \"-\"";

    public override string Written => "++-";

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

/// <summary>One or several forms.</summary>
public sealed record FormsKind(IReadOnlyList<Form> Offered) : KnobKind
{
    public override string Says => "a list of " + string.Join(", ", Offered.Select(f => f.Id()));

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) => json.ValueKind switch
    {
        JsonValueKind.Array => Check([.. json.EnumerateArray().Select(f => f.ValueKind == JsonValueKind.String ? f.GetString()! : f.GetRawText())], path, problems),
        JsonValueKind.String => Check([json.GetString()!], path, problems),
        _ => Check([], path, problems),
    };

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => Check(text.Split(['.', ','], StringSplitOptions.RemoveEmptyEntries), path, problems);

    private KnobValue? Check(IReadOnlyList<string> ids, string path, List<Problem> problems)
    {
        if (ids.Count == 0) return Refuse(problems, path, $"Here stands {Says}; at least one.", new JsonArray(Offered[0].Id()));
        foreach (string id in ids)
            if (FormTable.Find(id) is not { } form || !Offered.Contains(form))
                return Refuse(problems, path, $"\"{Closest.Shorten(id)}\" is not one of: {string.Join(", ", Offered.Select(f => f.Id()))}.", new JsonArray(Closest.To(id, Offered.Select(f => f.Id()))));
        return new FormsValue(ids.Select(id => FormTable.Find(id)!.Value));
    }

    /// <summary>One form fewer, or the next one beside them.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var forms = ((FormsValue)value).Forms;
        if (forms.Count > 1) yield return new FormsValue(forms.Take(forms.Count - 1));
        if (Offered.Except(forms).Select(f => (Form?)f).FirstOrDefault() is { } next) yield return new FormsValue(forms.Append(next));
    }
}

/// <summary>What is remembered of cards face down: <c>none</c>, <c>perfect</c>, or a number of cards seen last.</summary>
public sealed record MemoryKind : KnobKind
{
    public const int MostSpan = 60;

    /// <summary>What the bench offers.</summary>
    public static IReadOnlyList<MemoryValue> Usual { get; } = [.. new[] { MemoryValue.Nothing, 1, 2, 3, 4, 6, 8, 12, MemoryValue.Everything }.Select(span => new MemoryValue(span))];

    public override string Says => $"none, perfect, or 1–{MostSpan} cards";

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        FromLink(json.ValueKind == JsonValueKind.String ? json.GetString()! : json.GetRawText(), path, problems);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => text switch
    {
        "none" => new MemoryValue(MemoryValue.Nothing),
        "perfect" => new MemoryValue(MemoryValue.Everything),
        _ when int.TryParse(text, out int span) && span is >= 1 and <= MostSpan => new MemoryValue(span),
        _ => Refuse(problems, path, $"Here stands none, perfect, or how many cards, from 1 to {MostSpan}.", 4),
    };

    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        int span = ((MemoryValue)value).Span;
        if (span is > 1 and <= MostSpan) yield return new MemoryValue(span - 1);
        if (span is > 0 and < MostSpan) yield return new MemoryValue(span + 1);
    }
}

/// <summary>A pack of cards.</summary>
public sealed record DeckKind : KnobKind
{
    public override string Says => "a pack by ranks, or home-made cards by number";

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) => DeckReading.FromJson(json, path, problems);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => DeckReading.FromLink(text, path, problems);
}

/// <summary>The nearest of a few words, for refusals that help.</summary>
public static class Closest
{
    public static string? To(string word, IEnumerable<string> words) =>
        words.MinBy(w => Distance(word.Length > 40 ? word[..40] : word, w));

    public static string Shorten(string text) => text.Length <= 40 ? text : text[..40] + "…";

    private static int Distance(string a, string b)
    {
        var row = Enumerable.Range(0, b.Length + 1).ToArray();
        for (int i = 1; i <= a.Length; i++)
        {
            int corner = row[0];
            row[0] = i;
            for (int j = 1; j <= b.Length; j++)
            {
                int up = row[j];
                row[j] = Math.Min(Math.Min(row[j], row[j - 1]) + 1, corner + (a[i - 1] == b[j - 1] ? 0 : 1));
                corner = up;
            }
        }
        return row[b.Length];
    }
}
