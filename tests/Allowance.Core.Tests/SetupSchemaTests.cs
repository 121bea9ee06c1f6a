using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

/// <summary>
/// The JSON Schema of setup files is made from the frames' own data, so that a new knob is in it at once.
/// ALLOWANCE_WRITE_DOCS=1 writes it anew.
/// </summary>
public class SetupSchemaTests
{
    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    [Fact]
    public void The_published_schema_is_that_of_the_code()
    {
        string file = Path.Combine(PublishedTablesTests.Root(), "docs", "formats", "setup.schema.json"), written = Schema().ToJsonString(Indented) + "\n";
        if (Environment.GetEnvironmentVariable("ALLOWANCE_WRITE_DOCS") == "1") File.WriteAllText(file, written);
        Assert.Equal(written, File.ReadAllText(file));
    }

    private static JsonObject Schema() => new()
    {
        ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
        ["title"] = "Allowance setup",
        ["type"] = "object",
        ["required"] = new JsonArray("format", "game"),
        ["additionalProperties"] = false,
        ["properties"] = new JsonObject
        {
            ["format"] = new JsonObject { ["const"] = SetupFile.Format },
            ["game"] = Enum(Catalogue.Data.Select(f => f.Id)),
            ["level"] = Typed("string"),
            ["note"] = Typed("string"),
            ["table"] = Typed("object"),
            ["players"] = new JsonObject { ["type"] = "array", ["minItems"] = 1, ["maxItems"] = Engine.MostInGroup },
            ["forecast"] = Closed(new()
            {
                ["behaviour"] = Enum(["child", "plain", "perfect"]),
                ["seed"] = Typed("integer"),
                ["samples"] = Whole(100, 1_000_000),
            }),
        },
        ["allOf"] = new JsonArray([.. Catalogue.Data.Select(f => (JsonNode)Game(f))]),
        ["$defs"] = new JsonObject
        {
            ["deck"] = new JsonObject
            {
                ["oneOf"] = new JsonArray(
                    Closed(new()
                    {
                        ["packs"] = Whole(1, Deck.MostPacks), ["suits"] = Whole(1, 4),
                        ["ranks"] = Closed(new(Deck.RankNames.Select(r => KeyValuePair.Create(r, (JsonNode?)new JsonObject { ["oneOf"] = new JsonArray(Whole(0, Deck.LargestNumber), new JsonObject { ["const"] = "wild" }) })))),
                        ["missing"] = Closed(new(Deck.RankNames.Select(r => KeyValuePair.Create(r, (JsonNode?)Whole(0, 8 * Deck.MostPacks))))),
                    }, "ranks"),
                    Closed(new() { ["counts"] = Counts(Deck.LargestNumber, Deck.MostCards), ["wild"] = Whole(0, Deck.MostCards), ["bonus"] = Whole(0, Deck.MostCards) }, "counts")),
            },
            ["die"] = new JsonObject
            {
                ["oneOf"] = new JsonArray(
                    new JsonObject { ["type"] = "string", ["pattern"] = "^(d[1-9][0-9]*|[0-9]+-[0-9]+)$" },
                    new JsonObject { ["type"] = "array", ["items"] = Whole(0, Die.LargestFace), ["minItems"] = 1, ["maxItems"] = Die.MostFaces }),
            },
        },
    };

    private static JsonObject Game(FrameData frame)
    {
        var own = new JsonObject(frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Seat)).Select(Property)) { ["level"] = Enum(frame.Levels.Select(l => l.Id)) };
        if (frame.Knob("headStart") is null) own["headStart"] = new JsonObject { ["const"] = 0 };
        return new()
        {
            ["if"] = new JsonObject { ["properties"] = new JsonObject { ["game"] = new JsonObject { ["const"] = frame.Id } } },
            ["then"] = new JsonObject
            {
                ["properties"] = new JsonObject
                {
                    ["level"] = Enum(frame.Levels.Select(l => l.Id)),
                    ["table"] = Closed(new(frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Table)).Select(Property))),
                    ["players"] = new JsonObject
                    {
                        ["minItems"] = frame.LeastPlayers,
                        ["maxItems"] = frame.MostPlayers,
                        ["items"] = Closed(new()
                        {
                            ["name"] = Typed("string"),
                            ["age"] = new JsonObject { ["type"] = "number", ["minimum"] = 0, ["maximum"] = 120 },
                            ["grownUp"] = Typed("boolean"),
                            ["allowance"] = Closed(own),
                        }),
                    },
                },
            },
        };
    }

    private static KeyValuePair<string, JsonNode?> Property(Knob knob)
    {
        var of = Of(knob.Kind);
        of["description"] = knob.Says;
        return new(knob.Id, of);
    }

    /// <summary>What a knob of this kind can be in a file.</summary>
    private static JsonObject Of(KnobKind kind) => kind switch
    {
        WholeKind whole => Whole(whole.Least, whole.Most),
        FlagKind => Typed("boolean"),
        ChoiceKind choice => new() { ["enum"] = new JsonArray([.. choice.Options.Select(o => (JsonNode)o.Id), .. choice.Options.Where(o => int.TryParse(o.Id, out _)).Select(o => (JsonNode)int.Parse(o.Id))]) },
        SizeKind => Pair(1, 100),
        RangeKind range => Pair(range.Least, range.Most),
        NumbersKind numbers => new() { ["type"] = "array", ["items"] = Whole(numbers.Least, numbers.Most), ["minItems"] = 1 },
        DiceKind dice => new() { ["oneOf"] = new JsonArray(new JsonObject { ["$ref"] = "#/$defs/die" }, new JsonObject { ["type"] = "array", ["items"] = new JsonObject { ["$ref"] = "#/$defs/die" }, ["minItems"] = 1, ["maxItems"] = dice.Most }) },
        CountsKind counts => Counts(counts.Most, counts.MostCopies),
        ColoursKind colours => new() { ["type"] = "object", ["additionalProperties"] = Whole(0, colours.MostOfEach), ["maxProperties"] = colours.MostColours },
        ColourDieKind die => new() { ["type"] = "array", ["items"] = new JsonObject { ["type"] = "array", ["items"] = Typed("string"), ["minItems"] = 1, ["maxItems"] = 2 }, ["minItems"] = 1, ["maxItems"] = die.MostFaces },
        SignDieKind die => new() { ["type"] = "array", ["items"] = Enum(["+", "-"]), ["minItems"] = 1, ["maxItems"] = die.MostFaces },
        FormsKind forms => new() { ["type"] = "array", ["items"] = Enum(forms.Offered.Select(f => Allowance.Core.Forms.FormTable.All[(int)f].Id)), ["minItems"] = 1 },
        MemoryKind => new() { ["oneOf"] = new JsonArray(Enum(["none", "perfect"]), Whole(1, MemoryKind.MostSpan)) },
        DeckKind => new() { ["$ref"] = "#/$defs/deck" },
        _ => Typed("string"),
    };

    private static JsonObject Typed(string type) => new() { ["type"] = type };

    private static JsonObject Whole(int least, int most) => new() { ["type"] = "integer", ["minimum"] = least, ["maximum"] = most };

    private static JsonObject Enum(IEnumerable<string> values) => new() { ["enum"] = new JsonArray([.. values.Select(v => (JsonNode)v)]) };

    private static JsonObject Pair(int least, int most) => new() { ["type"] = "array", ["prefixItems"] = new JsonArray(Whole(least, most), Whole(least, most)), ["minItems"] = 2, ["maxItems"] = 2 };

    private static JsonObject Counts(int mostNumber, int mostCopies) => new() { ["type"] = "object", ["description"] = $"number: how many; numbers 0 to {mostNumber}", ["patternProperties"] = new JsonObject { ["^[0-9]+$"] = Whole(0, mostCopies) }, ["additionalProperties"] = false };

    private static JsonObject Closed(JsonObject properties, params string[] required)
    {
        var closed = new JsonObject { ["type"] = "object", ["additionalProperties"] = false, ["properties"] = properties };
        if (required.Length > 0) closed["required"] = new JsonArray([.. required.Select(r => (JsonNode)r)]);
        return closed;
    }
}
