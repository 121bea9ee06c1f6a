using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Rules;

/// <summary>A named figure of a setup: a number, a flag, a list or a map.</summary>
public abstract record Fact
{
    public abstract JsonNode ToJson();

    /// <summary>True where the figure comes from simulation and so has an error.</summary>
    public virtual bool Simulated => false;
}

/// <param name="Error">Standard error; 0 where the number is exact.</param>
public sealed record NumberFact(double Value, double Error = 0, bool FromSimulation = false) : Fact
{
    public override bool Simulated => FromSimulation;

    public override JsonNode ToJson() => FromSimulation
        ? new JsonObject { ["value"] = Value, ["error"] = Error }
        : Value == Math.Floor(Value) && Math.Abs(Value) < 1e9 ? JsonValue.Create((long)Value) : JsonValue.Create(Value);
}

public sealed record FlagFact(bool Value) : Fact
{
    public override JsonNode ToJson() => JsonValue.Create(Value);
}

public sealed record ListFact(IReadOnlyList<Fact> Items) : Fact
{
    public override bool Simulated => Items.Any(i => i.Simulated);

    public override JsonNode ToJson() => new JsonArray([.. Items.Select(i => i.ToJson())]);
}

public sealed record MapFact(IReadOnlyList<(string Key, NumberFact Value)> Items) : Fact
{
    public static MapFact Of(IEnumerable<(int Key, double Value)> items) => new([.. items.Select(i => (i.Key.ToString(), new NumberFact(i.Value)))]);

    public double this[int key] => this[key.ToString()];

    public double this[string key] => Items.First(i => i.Key == key).Value.Value;

    public override bool Simulated => Items.Any(i => i.Value.Simulated);

    public override JsonNode ToJson() => new JsonObject(Items.Select(i => KeyValuePair.Create(i.Key, (JsonNode?)i.Value.ToJson())));
}

/// <summary>The facts of a setup by name, in the order in which they were found.</summary>
public sealed class Facts
{
    private readonly List<(string Name, Fact Fact)> items = [];

    public IReadOnlyList<(string Name, Fact Fact)> All => items;

    /// <summary>There was no time to work them out: they come from games that were played.</summary>
    public bool WerePlayed { get; set; }

    /// <summary>The exact distribution of turns of a game without lost turns, where the frame knows it.</summary>
    public Pmf? Turns { get; set; }

    /// <summary>The exact chance that the aim of a solitary or common game is reached, where the frame knows it.</summary>
    public double? AimReached { get; set; }

    public Fact this[string name]
    {
        set => items.Add((name, value));
    }

    public Fact? Find(string name) => items.FirstOrDefault(i => i.Name == name).Fact;

    public double Number(string name) => Find(name) is NumberFact n ? n.Value : double.NaN;

    public JsonObject ToJson() => new(items.Select(i => KeyValuePair.Create(i.Name, (JsonNode?)i.Fact.ToJson())));
}

/// <summary>Words, as they are said: a sum, the name of a card.</summary>
public sealed record WordsFact(string Says) : Fact
{
    public override JsonNode ToJson() => JsonValue.Create(Says);
}
