using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Allowance.Core.Setups;

/// <summary>How the players behave in a forecast.</summary>
public enum Behaviour
{
    /// <summary>The learner's estimate decides right or wrong, method and seconds.</summary>
    Child,
    /// <summary>Always right; chooses evenly among the legal moves.</summary>
    Plain,
    /// <summary>Always right, and plays best for the frame's aim.</summary>
    Perfect,
    /// <summary>Always right; wins if she can, else stops who would win next, else chooses as in plain. Only where lines are made.</summary>
    Blocking,
}

/// <param name="Samples">Games to simulate, 100 to 1,000,000.</param>
public sealed record ForecastOptions(Behaviour Behaviour = Behaviour.Child, long Seed = 1, int Samples = 20_000);

/// <summary>A setup as read, with what it asks of the forecast.</summary>
/// <param name="IsJson">False where the text is no JSON at all.</param>
/// <param name="Position">A position that is asked about; only its frame can read it.</param>
public sealed record SetupReading(Setup? Setup, ForecastOptions Options, IReadOnlyList<Problem> Problems, bool IsJson = true, JsonElement? Position = null);

/// <summary>
/// Reads setup files and links. Nothing is guessed: an unknown or doubled key, another format version or a value out of
/// its range is a <see cref="Problem"/> with its path. What only the frame's rules can refuse is checked by the catalogue.
/// </summary>
public static class SetupFile
{
    public const string Format = "allowance-setup/1";

    /// <summary>Every game's file may name it; see <see cref="KnobRole.HeadStart"/>.</summary>
    internal const string HeadStart = "headStart";

    public const int MostBytes = 256 * 1024;

    private static readonly string[] TopKeys = ["format", "game", "level", "table", "players", "forecast", "note"];
    private static readonly string[] PlayerKeys = ["name", "age", "grownUp", "allowance"];
    private static readonly string[] ForecastKeys = ["behaviour", "memory", "aim", "position", "seed", "samples"];

    public static SetupReading Read(string text, IReadOnlyList<FrameData> frames)
    {
        var problems = new List<Problem>();
        var options = new ForecastOptions();
        if (text.Length > MostBytes) return Refused(new("", $"This file is larger than {MostBytes / 1024} KB; a setup is a page of text.", null));
        JsonDocument document;
        try
        {
            document = JsonDocument.Parse(text, new JsonDocumentOptions { MaxDepth = 16 });
        }
        catch (JsonException e)
        {
            return Refused(new("", $"This is not JSON (line {(e.LineNumber ?? 0) + 1}). A setup file begins with {{\"format\": \"{Format}\", \"game\": \"{frames[0].Id}\"}}.",
                new JsonObject { ["format"] = Format, ["game"] = frames[0].Id })) with { IsJson = false };
        }
        using (document)
        {
            if (!IsText(document.RootElement)) return Refused(new("", "Half a character stands in one of the texts (a \\u of a pair without the other).")) with { IsJson = false };
            var top = Fields.Read(document.RootElement, "", TopKeys, problems);
            if (Text(top, "format", "format", problems) is var format && format != Format)
                problems.Add(new("format", format is null ? $"The format is missing; it is \"{Format}\"." : $"\"{Closest.Shorten(format)}\" is another format; this version reads \"{Format}\".", Format));
            string? id = Text(top, "game", "game", problems);
            var frame = frames.FirstOrDefault(f => f.Id == id);
            if (frame is null)
            {
                problems.Add(new("game", id is null ? $"The game is missing; known are {Ids(frames)}." : $"\"{Closest.Shorten(id)}\" is no game here; known are {Ids(frames)}.", Closest.To(id ?? "", frames.Select(f => f.Id))));
                return new(null, options, problems);
            }
            string level = ReadLevel(Text(top, "level", "level", problems), "level", frame, problems) ?? frame.DefaultLevel;
            var table = top.TryGetValue("table", out var t) ? ReadTable(t, frame, problems) : Empty;
            var seats = top.TryGetValue("players", out var p) ? ReadPlayers(p, frame, problems) : [Seat.Child("")];
            JsonElement? position = null;
            if (top.TryGetValue("forecast", out var f)) (options, position) = ReadForecast(f, frame, ref table, problems);
            string note = Text(top, "note", "note", problems) ?? "";
            return new(problems.Count == 0 ? new Setup(frame, level, table, seats, note) : null, options, problems, Position: position);
        }

        SetupReading Refused(Problem problem) => new(null, options, [problem]);
    }

    /// <summary>All texts and keys are whole characters.</summary>
    private static bool IsText(JsonElement json)
    {
        try
        {
            return json.ValueKind switch
            {
                JsonValueKind.String => json.GetString() is not null,
                JsonValueKind.Array => json.EnumerateArray().All(IsText),
                JsonValueKind.Object => json.EnumerateObject().All(f => f.Name is not null && IsText(f.Value)),
                _ => true,
            };
        }
        catch (InvalidOperationException)
        {
            return false;
        }
    }

    private static ImmutableSortedDictionary<string, KnobValue> Empty => ImmutableSortedDictionary<string, KnobValue>.Empty;

    private static string Ids(IReadOnlyList<FrameData> frames) => string.Join(", ", frames.Select(f => f.Id));

    private static string? Text(Dictionary<string, JsonElement> fields, string key, string path, List<Problem> problems)
    {
        if (!fields.TryGetValue(key, out var value)) return null;
        if (value.ValueKind == JsonValueKind.String && value.GetString()!.Length <= 4000) return value.GetString();
        problems.Add(new(path, "Here stands a short text in quotes.", ""));
        return null;
    }

    private static string? ReadLevel(string? id, string path, FrameData frame, List<Problem> problems)
    {
        if (id is null || frame.Level(id) is not null) return id;
        problems.Add(new(path, $"\"{Closest.Shorten(id)}\" is no level of {frame.Name}; its levels are {string.Join(", ", frame.Levels.Select(l => l.Id))}.", Closest.To(id, frame.Levels.Select(l => l.Id))));
        return null;
    }

    private static ImmutableSortedDictionary<string, KnobValue> ReadTable(JsonElement json, FrameData frame, List<Problem> problems)
    {
        var knobs = frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Table)).Select(k => k.Id).ToList();
        var values = Empty;
        foreach (var (id, value) in Fields.Read(json, "table", knobs, problems))
            if (!IsLeftOpen(frame.Knob(id)!, value) && frame.Knob(id)!.Kind.FromJson(value, $"table.{id}", problems) is { } read) values = values.Add(id, read);
        return values;
    }

    /// <summary>A knob that may be left open may say so: null.</summary>
    private static bool IsLeftOpen(Knob knob, JsonElement value) => value.ValueKind == JsonValueKind.Null && knob.Default is null;

    private static ImmutableArray<Seat> ReadPlayers(JsonElement json, FrameData frame, List<Problem> problems)
    {
        if (json.ValueKind != JsonValueKind.Array)
        {
            problems.Add(new("players", "Here stands a list of players.", new JsonArray(new JsonObject())));
            return [];
        }
        int count = json.GetArrayLength();
        if (count < frame.LeastPlayers || count > frame.MostPlayers)
        {
            problems.Add(new("players", $"{frame.Name} is for {frame.LeastPlayers} to {frame.MostPlayers} players; here are {count}.", count < frame.LeastPlayers ? frame.LeastPlayers : frame.MostPlayers));
            return [];
        }
        return [.. json.EnumerateArray().Select((player, i) => ReadPlayer(player, $"players[{i}]", frame, problems))];
    }

    private static Seat ReadPlayer(JsonElement json, string path, FrameData frame, List<Problem> problems)
    {
        var fields = Fields.Read(json, path, PlayerKeys, problems);
        string name = Text(fields, "name", $"{path}.name", problems) ?? "";
        double? age = null;
        if (fields.TryGetValue("age", out var years))
        {
            if (years.ValueKind == JsonValueKind.Number && years.TryGetDouble(out double y) && y is >= 0 and <= 120) age = y;
            else problems.Add(new($"{path}.age", "An age is a number of years from 0 to 120.", 5));
        }
        bool grownUp = fields.TryGetValue("grownUp", out var flag) && new FlagKind().FromJson(flag, $"{path}.grownUp", problems) is FlagValue { On: true };
        string? level = null;
        var allowance = Empty;
        if (fields.TryGetValue("allowance", out var own))
        {
            var known = AllowanceKeys(frame);
            foreach (var (id, value) in Fields.Read(own, $"{path}.allowance", known, problems))
            {
                string at = $"{path}.allowance.{id}";
                if (id == "level") level = value.ValueKind == JsonValueKind.String ? ReadLevel(value.GetString(), at, frame, problems) : ReadLevel(value.GetRawText(), at, frame, problems);
                else if (id == HeadStart && frame.Knob(id) is null) NoHeadStart(value, at, frame, problems);
                else if (!IsLeftOpen(frame.Knob(id)!, value) && frame.Knob(id)!.Kind.FromJson(value, at, problems) is { } read) allowance = allowance.Add(id, read);
            }
        }
        return new(name, "", age, grownUp, level, allowance);
    }

    /// <summary>Every game's file may say "no head start"; only some games can give one.</summary>
    private static void NoHeadStart(JsonElement value, string path, FrameData frame, List<Problem> problems)
    {
        if (value.ValueKind != JsonValueKind.Number || !value.TryGetDouble(out double n) || n != 0)
            problems.Add(new(path, $"{frame.Name} has no head start; give her another target, level or support instead.", 0));
    }

    private static List<string> AllowanceKeys(FrameData frame) =>
        [.. frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Seat)).Select(k => k.Id), "level", HeadStart];

    private static (ForecastOptions Options, JsonElement? Position) ReadForecast(JsonElement json, FrameData frame, ref ImmutableSortedDictionary<string, KnobValue> table, List<Problem> problems)
    {
        var options = new ForecastOptions();
        var fields = Fields.Read(json, "forecast", ForecastKeys, problems);
        if (fields.TryGetValue("behaviour", out var b))
        {
            if (b.ValueKind == JsonValueKind.String && Enum.TryParse<Behaviour>(b.GetString(), true, out var behaviour) && char.IsAsciiLetterLower(b.GetString()![0]) && (behaviour != Behaviour.Blocking || frame.CanBlock)) options = options with { Behaviour = behaviour };
            else problems.Add(new("forecast.behaviour", $"A behaviour is child, plain or perfect{(frame.CanBlock ? ", or blocking" : "")}.", "child"));
        }
        // How much is remembered by everyone of whom nothing else is said, and what best play is for.
        table = AsKnob(table, "memory", KnobRole.Memory, $"Nothing need be remembered in {frame.Name}; leave it out.");
        table = AsKnob(table, "aim", KnobRole.Aim, $"{frame.Name} has one aim only; leave it out.");
        if (fields.TryGetValue("seed", out var s))
        {
            if (s.ValueKind == JsonValueKind.Number && s.TryGetInt64(out long seed)) options = options with { Seed = seed };
            else problems.Add(new("forecast.seed", "A seed is a whole number.", 1));
        }
        if (fields.TryGetValue("samples", out var n) && new WholeKind(100, 1_000_000).FromJson(n, "forecast.samples", problems) is WholeValue samples)
            options = options with { Samples = samples.Number };
        return (options, fields.TryGetValue("position", out var position) ? position.Clone() : null);

        ImmutableSortedDictionary<string, KnobValue> AsKnob(ImmutableSortedDictionary<string, KnobValue> table, string key, KnobRole role, string otherwise)
        {
            if (!fields.TryGetValue(key, out var value)) return table;
            if (frame.Knob(role) is not { } knob) problems.Add(new($"forecast.{key}", otherwise, null));
            else if (knob.Kind.FromJson(value, $"forecast.{key}", problems) is { } read && !table.ContainsKey(knob.Id)) return table.Add(knob.Id, read);
            return table;
        }
    }

    /// <summary>
    /// Reads a link or a posted form: <c>game</c>, <c>level</c>, table knobs by id, <c>s1</c> … for who sits where, and
    /// <c>s1.target</c> … for allowances. Keys that are not the setup's are passed over, so a page may add its own.
    /// </summary>
    /// <param name="seatOf">Turns a seat's key into the person; null where nobody has that key.</param>
    public static SetupReading ReadLink(IEnumerable<KeyValuePair<string, string>> pairs, IReadOnlyList<FrameData> frames, Func<string, Seat?> seatOf)
    {
        var problems = new List<Problem>();
        var values = new Dictionary<string, string>();
        foreach (var (key, value) in pairs) values.TryAdd(key, value);
        string id = values.GetValueOrDefault("game", frames[0].Id);
        var frame = frames.FirstOrDefault(f => f.Id == id);
        if (frame is null)
            return new(null, new(), [new("game", $"\"{Closest.Shorten(id)}\" is no game here; known are {Ids(frames)}.", Closest.To(id, frames.Select(f => f.Id)))]);
        string level = ReadLevel(values.GetValueOrDefault("level"), "level", frame, problems) ?? frame.DefaultLevel;
        var table = Empty;
        foreach (var knob in frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Table)))
            if (values.TryGetValue(knob.Id, out var text) && text.Length > 0 && knob.Kind.FromLink(text, knob.Id, problems) is { } read) table = table.Add(knob.Id, read);
        var seats = ImmutableArray.CreateBuilder<Seat>();
        for (int i = 1; i <= frame.MostPlayers && values.TryGetValue($"s{i}", out var key); i++)
        {
            if (key.Length == 0) continue;
            var seat = ReadSeat(key, seatOf);
            if (seat is null)
            {
                problems.Add(new($"s{i}", "Nobody in this household has that place; a child of five sits there instead.", "age-5"));
                continue;
            }
            if (values.TryGetValue($"s{i}.level", out var own) && own.Length > 0) seat = seat with { Level = ReadLevel(own, $"s{i}.level", frame, problems) };
            foreach (var knob in frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Seat)))
                if (values.TryGetValue($"s{i}.{knob.Id}", out var text) && text.Length > 0 && knob.Kind.FromLink(text, $"s{i}.{knob.Id}", problems) is { } read) seat = seat.With(knob, read);
            seats.Add(seat);
        }
        if (seats.Count == 0) seats.Add(Seat.Child(""));
        return new(new Setup(frame, level, table, seats.ToImmutable()), new(), problems);
    }

    private static Seat? ReadSeat(string key, Func<string, Seat?> seatOf)
    {
        if (key == "child") return Seat.Child("");
        if (key == "grown-up") return Seat.Child("") with { GrownUp = true };
        if (key.StartsWith("age-", StringComparison.Ordinal)) return double.TryParse(key[4..], out double age) && age is >= 0 and <= 120 ? Seat.Child("", age) : null;
        return seatOf(key);
    }
}
