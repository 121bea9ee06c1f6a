using System.Collections.Immutable;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>One place at the table and its allowance.</summary>
/// <param name="Key">Who sits here, as a link may tell it: a player's number in this household, or empty. Never a name.</param>
/// <param name="Age">In years; null where unknown.</param>
public sealed record Seat(string Name, string Key, double? Age, bool GrownUp, string? Level, ImmutableSortedDictionary<string, KnobValue> Allowance)
{
    public static Seat Child(string name, double? age = null, string key = "") =>
        new(name, key, age, false, null, ImmutableSortedDictionary<string, KnobValue>.Empty);

    private const float SmallHands = 1.5f;

    /// <summary>In years: under this age hands are small.</summary>
    private const int Small = 5;

    /// <summary>How many times as long handling takes her: hands of under-fives are half as fast again slower.</summary>
    public float Hands => !GrownUp && Age < Small ? SmallHands : 1;

    public Seat With(Knob knob, KnobValue? value) =>
        this with { Allowance = value is null ? Allowance.Remove(knob.Id) : Allowance.SetItem(knob.Id, value) };
}

/// <summary>Who begins a game of a series.</summary>
public enum FirstSeat { Seat, Alternate, Youngest, Draw }

/// <summary>A frame with its table knobs and an allowance for each player. Immutable; equal content has the same <see cref="ToLink"/>.</summary>
public sealed record Setup(FrameData Frame, string LevelId, ImmutableSortedDictionary<string, KnobValue> Table, ImmutableArray<Seat> Seats, string Note = "")
{
    public static Setup Default(FrameData frame, params Seat[] seats) =>
        new(frame, frame.DefaultLevel, ImmutableSortedDictionary<string, KnobValue>.Empty, [.. seats]);

    public Level Level => Frame.Level(LevelId)!;

    /// <summary>A table knob's value: given, else the level's, else the default.</summary>
    public KnobValue? Get(Knob knob) => Table.GetValueOrDefault(knob.Id) ?? Level[knob] ?? knob.Default;

    public T Get<T>(Knob<T> knob) where T : KnobValue => (T)Get((Knob)knob)!;

    public T? Get<T>(OpenKnob<T> knob) where T : KnobValue => (T?)Get((Knob)knob);

    /// <summary>The value of the knob with a role; null where the frame has none, or it is open.</summary>
    public T? Get<T>(KnobRole role) where T : KnobValue => Frame.Knob(role) is { } knob ? Get(knob) as T : null;

    /// <summary>Who sits at a place: her name; a grown-up, or the place, where nobody has told it.</summary>
    public string Who(int seat) => Seats[seat].Name.Length > 0 ? Seats[seat].Name : Seats[seat].GrownUp ? "the grown-up" : $"place {seat + 1}";

    public string LevelAt(int seat) => Seats[seat].Level ?? LevelId;

    /// <summary>A knob's value at a seat: the seat's own, else that of the seat's own level, else the table's.</summary>
    public KnobValue? At(int seat, Knob knob)
    {
        if (knob.Scope == Scope.Table) return Get(knob);
        return Seats[seat].Allowance.GetValueOrDefault(knob.Id)
            ?? (Seats[seat].Level is { } own ? Frame.Level(own)![knob] : null)
            ?? (knob.Scope == Scope.Both ? Get(knob) : knob.Default);
    }

    public T At<T>(int seat, Knob<T> knob) where T : KnobValue => (T)At(seat, (Knob)knob)!;

    public T? At<T>(int seat, OpenKnob<T> knob) where T : KnobValue => (T?)At(seat, (Knob)knob);

    public T? At<T>(int seat, KnobRole role) where T : KnobValue => Frame.Knob(role) is { } knob ? At(seat, knob) as T : null;

    public Setup With(Knob knob, KnobValue? value) =>
        this with { Table = value is null ? Table.Remove(knob.Id) : Table.SetItem(knob.Id, value) };

    /// <summary>The place of the youngest, who begins where that is the rule; a child of unknown age counts as five.</summary>
    public int Youngest => Enumerable.Range(0, Seats.Length).MinBy(i => Seats[i].GrownUp ? 100 : Seats[i].Age ?? 5);

    /// <summary>Who begins.</summary>
    public FirstSeat First => Get<ChoiceValue>(KnobRole.WhoBegins) is { } first ? Enum.Parse<FirstSeat>(first.Id, true) : FirstSeat.Seat;

    /// <summary>The places at which a game may begin.</summary>
    public ImmutableArray<int> Beginners => First switch
    {
        FirstSeat.Alternate or FirstSeat.Draw => [.. Enumerable.Range(0, Seats.Length)],
        FirstSeat.Youngest => [Youngest],
        _ => [0],
    };

    /// <summary>Where the game of a number begins, the first being 0.</summary>
    public int Begins(long game, ref Rng rng) => First switch
    {
        FirstSeat.Draw => rng.Below(Seats.Length),
        FirstSeat.Alternate => (int)((ulong)game % (ulong)Seats.Length),
        FirstSeat.Youngest => Youngest,
        _ => 0,
    };

    /// <summary>Where a knob's value at a seat stands in a file: in her allowance, or at the table.</summary>
    public string Path(int seat, Knob knob) => Seats[seat].Allowance.ContainsKey(knob.Id) ? $"players[{seat}].allowance.{knob.Id}" : $"table.{knob.Id}";

    /// <summary>Refuses what stands at a seat: her own value, her own level by the nearest, which is the table's, or the table's value.</summary>
    /// <param name="nearest">The value that works, in a file.</param>
    public Problem Unfit(int seat, Knob knob, string message, JsonNode? nearest) =>
        !Seats[seat].Allowance.ContainsKey(knob.Id) && Seats[seat].Level is { } own && Frame.Level(own)![knob] is not null && own != LevelId
            ? new($"players[{seat}].allowance.level", message, LevelId) : new(Path(seat, knob), message, nearest);

    /// <summary>What a place's own level fixes otherwise than this table has it: she cannot play that level here.</summary>
    public IEnumerable<(Knob Knob, KnobValue Value)> Against(int seat) => Seats[seat].Level is not { } own ? []
        : Frame.Level(own)!.Fixes.Select(f => (Knob: Frame.Knob(f.Key)!, f.Value)).Where(f => !Equals(At(seat, f.Knob), f.Value));

    /// <summary>How the game is won; see <see cref="Winnings"/>.</summary>
    public string Winning => Get<ChoiceValue>(KnobRole.Winning)?.Id ?? Winnings.Compete;

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
