using System.Collections.Immutable;
using System.Text.Json.Nodes;

namespace Allowance.Core.Setups;

/// <summary>One place at the table and its allowance.</summary>
/// <param name="Key">Who sits here, as a link may tell it: a player's number in this household, or empty. Never a name.</param>
/// <param name="Age">In years; null where unknown.</param>
public sealed record Seat(string Name, string Key, double? Age, bool GrownUp, string? Level, ImmutableSortedDictionary<string, KnobValue> Allowance)
{
    public static Seat Child(string name, double? age = null, string key = "") =>
        new(name, key, age, false, null, ImmutableSortedDictionary<string, KnobValue>.Empty);

    public Seat With(string knob, KnobValue? value) =>
        this with { Allowance = value is null ? Allowance.Remove(knob) : Allowance.SetItem(knob, value) };
}

/// <summary>A frame with its table knobs and an allowance for each player. Immutable; equal content has the same <see cref="ToLink"/>.</summary>
public sealed record Setup(FrameData Frame, string LevelId, ImmutableSortedDictionary<string, KnobValue> Table, ImmutableArray<Seat> Seats, string Note = "")
{
    public static Setup Default(FrameData frame, params Seat[] seats) =>
        new(frame, frame.DefaultLevel, ImmutableSortedDictionary<string, KnobValue>.Empty, [.. seats]);

    public Level Level => Frame.Level(LevelId)!;

    /// <summary>A table knob's value: given, else the level's, else the default.</summary>
    public KnobValue? Get(string knob) => Table.GetValueOrDefault(knob) ?? Level[knob] ?? Frame.Knob(knob)!.Default;

    public T Get<T>(string knob) where T : KnobValue => (T)Get(knob)!;

    /// <summary>Who sits at a place: her name, or the place where nobody has told it.</summary>
    public string Who(int seat) => Seats[seat].Name.Length > 0 ? Seats[seat].Name : $"place {seat + 1}";

    public string LevelAt(int seat) => Seats[seat].Level ?? LevelId;

    /// <summary>A knob's value at a seat: the seat's own, else that of the seat's own level, else the table's.</summary>
    public KnobValue? At(int seat, string knob)
    {
        var data = Frame.Knob(knob)!;
        if (data.Scope == Scope.Table) return Get(knob);
        return Seats[seat].Allowance.GetValueOrDefault(knob)
            ?? (Seats[seat].Level is { } own ? Frame.Level(own)![knob] : null)
            ?? (data.Scope == Scope.Both ? Get(knob) : data.Default);
    }

    public T At<T>(int seat, string knob) where T : KnobValue => (T)At(seat, knob)!;

    public Setup With(string knob, KnobValue? value) =>
        this with { Table = value is null ? Table.Remove(knob) : Table.SetItem(knob, value) };

    public Setup WithSeat(int seat, Seat changed) => this with { Seats = Seats.SetItem(seat, changed) };

    /// <summary>The key–value pairs of the link in the address bar; it holds seats and never names.</summary>
    public IEnumerable<(string Key, string Value)> LinkParts()
    {
        yield return ("game", Frame.Id);
        yield return ("level", LevelId);
        foreach (var knob in Frame.Knobs)
            if (Table.TryGetValue(knob.Id, out var value)) yield return (knob.Id, value.ToLink());
        for (int i = 0; i < Seats.Length; i++)
        {
            string s = $"s{i + 1}";
            yield return (s, Seats[i].Key.Length > 0 ? Seats[i].Key : Seats[i].GrownUp ? "grown-up" : Seats[i].Age is { } age ? $"age-{age:0.##}" : "child");
            if (Seats[i].Level is { } level) yield return ($"{s}.level", level);
            foreach (var (knob, value) in Seats[i].Allowance) yield return ($"{s}.{knob}", value.ToLink());
        }
    }

    public string ToLink() => string.Join('&', LinkParts().Select(p => $"{p.Key}={Uri.EscapeDataString(p.Value)}"));

    /// <summary>The setup file.</summary>
    public JsonObject ToJson()
    {
        var json = new JsonObject
        {
            ["format"] = SetupFile.Format,
            ["game"] = Frame.Id,
            ["level"] = LevelId,
            ["table"] = new JsonObject(Table.Select(t => KeyValuePair.Create(t.Key, (JsonNode?)t.Value.ToJson()))),
            ["players"] = new JsonArray([.. Seats.Select(Json)]),
        };
        if (Note.Length > 0) json["note"] = Note;
        return json;

        static JsonNode Json(Seat seat)
        {
            var json = new JsonObject();
            if (seat.Name.Length > 0) json["name"] = seat.Name;
            if (seat.Age is { } age) json["age"] = Math.Round(age, 2);
            if (seat.GrownUp) json["grownUp"] = true;
            var allowance = new JsonObject();
            if (seat.Level is { } level) allowance["level"] = level;
            foreach (var (knob, value) in seat.Allowance) allowance[knob] = value.ToJson();
            if (allowance.Count > 0) json["allowance"] = allowance;
            return json;
        }
    }
}
