using System.Collections.Immutable;
using System.Text.Json.Nodes;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>The value of a knob. Values compare by content; <see cref="ToLink"/> is their text in a link or a form.</summary>
public abstract record KnobValue
{
    public abstract string ToLink();

    public abstract JsonNode ToJson();

    /// <summary>The value in words for screens.</summary>
    public virtual string Says() => ToLink();

    public sealed override string ToString() => Says();
}

public sealed record WholeValue(int Number) : KnobValue
{
    public override string ToLink() => Number.ToString();

    public override JsonNode ToJson() => JsonValue.Create(Number);
}

public sealed record FlagValue(bool On) : KnobValue
{
    public override string ToLink() => On ? "yes" : "no";

    public override JsonNode ToJson() => JsonValue.Create(On);
}

public sealed record ChoiceValue(string Id, string Label) : KnobValue
{
    public override string ToLink() => Id;

    public override JsonNode ToJson() => JsonValue.Create(Id);

    public override string Says() => Label;
}

/// <summary>Rows and columns.</summary>
public sealed record SizeValue(int Rows, int Columns) : KnobValue
{
    public int Places => Rows * Columns;

    public override string ToLink() => $"{Rows}x{Columns}";

    public override JsonNode ToJson() => new JsonArray(Rows, Columns);

    public override string Says() => $"{Rows} × {Columns}";
}

public sealed record RangeValue(NumberRange Range) : KnobValue
{
    public override string ToLink() => $"{Range.Low}-{Range.High}";

    public override JsonNode ToJson() => new JsonArray(Range.Low, Range.High);

    public override string Says() => Range.ToString();
}

public sealed record DeckValue(Deck Deck) : KnobValue
{
    public override string ToLink() => Deck.ToString();

    public override JsonNode ToJson()
    {
        var json = new JsonObject();
        if (Deck.HomeMade)
        {
            json["counts"] = new JsonObject(Deck.HomeCounts.Select(c => KeyValuePair.Create(c.Key.ToString(), (JsonNode?)c.Value)));
            if (Deck.HomeWild > 0) json["wild"] = Deck.HomeWild;
            return json;
        }
        json["packs"] = Deck.Packs;
        json["suits"] = Deck.Suits;
        json["ranks"] = new JsonObject(Deck.Ranks.Select(r => KeyValuePair.Create(r.Rank, (JsonNode?)(r.Value.IsWild ? JsonValue.Create("wild") : JsonValue.Create(r.Value.Number)))));
        if (Deck.Missing.Count > 0) json["missing"] = new JsonObject(Deck.Missing.Select(m => KeyValuePair.Create(m.Key, (JsonNode?)m.Value)));
        return json;
    }

    public override string Says() => Words.Count(Deck.Cards, "card");
}

/// <summary>Different numbers, rising.</summary>
public sealed record NumbersValue : KnobValue
{
    public NumbersValue(IEnumerable<int> numbers) => Numbers = [.. numbers.Distinct().Order()];

    public static NumbersValue Range(int low, int high) => new(Enumerable.Range(low, high - low + 1));

    public ImmutableList<int> Numbers { get; }

    private bool IsRange => Numbers[^1] - Numbers[0] == Numbers.Count - 1;

    public override string ToLink() => IsRange ? $"{Numbers[0]}-{Numbers[^1]}" : string.Join('.', Numbers);

    public override JsonNode ToJson() => new JsonArray([.. (IsRange && Numbers.Count > 1 ? [Numbers[0], Numbers[^1]] : Numbers).Select(n => (JsonNode)n)]);

    public override string Says() => Numbers.Count == 1 ? Numbers[0].ToString() : IsRange ? $"{Numbers[0]} to {Numbers[^1]}" : Words.List(Numbers.Select(n => n.ToString()));

    public bool Equals(NumbersValue? other) => other is not null && Numbers.SequenceEqual(other.Numbers);

    public override int GetHashCode() => Numbers.Aggregate(Numbers.Count, HashCode.Combine);
}

/// <summary>How many there are of each number, by number.</summary>
public sealed record CountsValue : KnobValue
{
    public CountsValue(IEnumerable<KeyValuePair<int, int>> counts) => Counts = counts.Where(c => c.Value > 0).ToImmutableSortedDictionary();

    public ImmutableSortedDictionary<int, int> Counts { get; }

    /// <summary>Every one, rising.</summary>
    public IReadOnlyList<int> All => [.. Counts.SelectMany(c => Enumerable.Repeat(c.Key, c.Value))];

    public override string ToLink() => string.Join(',', Counts.Select(c => $"{c.Key}x{c.Value}"));

    public override JsonNode ToJson() => new JsonObject(Counts.Select(c => KeyValuePair.Create(c.Key.ToString(), (JsonNode?)c.Value)));

    public override string Says() => string.Join(", ", Counts.Select(c => $"{c.Key}×{c.Value}"));

    public bool Equals(CountsValue? other) => other is not null && ToLink() == other.ToLink();

    public override int GetHashCode() => ToLink().GetHashCode(StringComparison.Ordinal);
}

/// <summary>How many things there are of each colour, in the order in which they were named.</summary>
public sealed record ColoursValue : KnobValue
{
    public ColoursValue(IEnumerable<(string Colour, int Count)> colours) => Colours = [.. colours.Where(c => c.Count > 0)];

    public ImmutableList<(string Colour, int Count)> Colours { get; }

    public int All => Colours.Sum(c => c.Count);

    public override string ToLink() => string.Join(',', Colours.Select(c => $"{c.Colour}.{c.Count}"));

    public override JsonNode ToJson() => new JsonObject(Colours.Select(c => KeyValuePair.Create(c.Colour, (JsonNode?)c.Count)));

    public override string Says() => Words.List(Colours.Select(c => $"{c.Count} {c.Colour}"));

    public bool Equals(ColoursValue? other) => other is not null && ToLink() == other.ToLink();

    public override int GetHashCode() => ToLink().GetHashCode(StringComparison.Ordinal);
}

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

/// <summary>The faces of a sign die, a plus or a minus each.</summary>
public sealed record SignDieValue(string Faces) : KnobValue
{
    public override string ToLink() => Faces;

    public override JsonNode ToJson() => new JsonArray([.. Faces.Select(f => (JsonNode)f.ToString())]);

    public override string Says() => string.Join(' ', Faces.Select(f => f == '+' ? '+' : '−'));
}

/// <summary>Dice that are rolled together.</summary>
public sealed record DiceValue(Dice Dice) : KnobValue
{
    public override string ToLink() => Dice.ToString();

    public override JsonNode ToJson() => new JsonArray([.. Dice.All.Select(d => d.ToString().Contains('.') || d.Faces.Length == 1 ? (JsonNode)new JsonArray([.. d.Faces.Select(f => (JsonNode)f)]) : JsonValue.Create(d.ToString()))]);

    public override string Says() => Dice.All.Length == 1 ? Dice.All[0].Says : Dice.All.Distinct().Count() == 1
        ? $"{NumberWords.Of(Dice.All.Length)} dice{Dice.All[0].Says["a die".Length..]}" : Words.List(Dice.All.Select(d => d.Says));
}

/// <summary>Several forms, in the order of the table of forms.</summary>
public sealed record FormsValue : KnobValue
{
    public FormsValue(IEnumerable<Form> forms) => Forms = [.. forms.Distinct().Order()];

    public ImmutableList<Form> Forms { get; }

    public override string ToLink() => string.Join('.', Forms.Select(f => f.Id()));

    public override JsonNode ToJson() => new JsonArray([.. Forms.Select(f => (JsonNode)f.Id())]);

    public override string Says() => Words.List(Forms.Select(f => f.Facts().Label));

    public bool Equals(FormsValue? other) => other is not null && Forms.SequenceEqual(other.Forms);

    public override int GetHashCode() => Forms.Aggregate(Forms.Count, HashCode.Combine);
}

/// <summary>How many of the cards seen last are remembered.</summary>
public sealed record MemoryValue(int Span) : KnobValue
{
    public const int Nothing = 0, Everything = 1000;

    public override string ToLink() => Span switch { Nothing => "none", Everything => "perfect", _ => Span.ToString() };

    public override JsonNode ToJson() => Span is Nothing or Everything ? JsonValue.Create(ToLink()) : JsonValue.Create(Span);

    public override string Says() => Span switch { Nothing => "nothing", Everything => "everything", 1 => "the card seen last", _ => $"the {Span} cards seen last" };
}
