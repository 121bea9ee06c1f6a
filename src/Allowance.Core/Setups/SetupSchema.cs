using System.Text.Json.Nodes;

namespace Allowance.Core.Setups;

/// <summary>The JSON Schema (2020-12) of setup files, made from the frames' own data, so that a new knob is in it at once.</summary>
public static class SetupSchema
{
    public static JsonObject Of(IReadOnlyList<FrameData> frames) => new()
    {
        ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
        ["title"] = "Allowance setup",
        ["type"] = "object",
        ["required"] = new JsonArray("format", "game"),
        ["additionalProperties"] = false,
        ["properties"] = new JsonObject
        {
            ["format"] = new JsonObject { ["const"] = SetupFile.Format },
            ["game"] = Schemas.OneOf(frames.Select(f => f.Id)),
            ["level"] = Schemas.Typed("string"),
            ["note"] = Schemas.Typed("string"),
            ["table"] = Schemas.Typed("object"),
            ["players"] = new JsonObject { ["type"] = "array", ["minItems"] = 1, ["maxItems"] = frames.Max(f => f.MostPlayers) },
            ["forecast"] = Schemas.Closed(new()
            {
                ["behaviour"] = Schemas.OneOf(["child", "plain", "perfect", "blocking"]),
                ["memory"] = new MemoryKind().Schema,
                ["aim"] = Schemas.Typed("string"),
                ["position"] = Schemas.Typed("object"),
                ["seed"] = Schemas.Typed("integer"),
                ["samples"] = Schemas.Whole(100, 1_000_000),
            }),
        },
        ["allOf"] = new JsonArray([.. frames.Select(f => (JsonNode)Game(f))]),
    };

    private static JsonObject Game(FrameData frame)
    {
        var own = new JsonObject(frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Seat)).Select(Property)) { ["level"] = Schemas.OneOf(frame.Levels.Select(l => l.Id)) };
        if (frame.Knob(KnobRole.HeadStart) is null) own[SetupFile.HeadStart] = new JsonObject { ["const"] = 0 };
        return new()
        {
            ["if"] = new JsonObject { ["properties"] = new JsonObject { ["game"] = new JsonObject { ["const"] = frame.Id } } },
            ["then"] = new JsonObject
            {
                ["properties"] = new JsonObject
                {
                    ["level"] = Schemas.OneOf(frame.Levels.Select(l => l.Id)),
                    ["table"] = Schemas.Closed(new(frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Table)).Select(Property))),
                    ["players"] = new JsonObject
                    {
                        ["minItems"] = frame.LeastPlayers,
                        ["maxItems"] = frame.MostPlayers,
                        ["items"] = Schemas.Closed(new()
                        {
                            ["name"] = Schemas.Typed("string"),
                            ["age"] = new JsonObject { ["type"] = "number", ["minimum"] = 0, ["maximum"] = 120 },
                            ["grownUp"] = Schemas.Typed("boolean"),
                            ["allowance"] = Schemas.Closed(own),
                        }),
                    },
                },
            },
        };
    }

    private static KeyValuePair<string, JsonNode?> Property(Knob knob)
    {
        var of = knob.Default is null ? Schemas.Any(knob.Kind.Schema, Schemas.Typed("null")) : knob.Kind.Schema;
        of["description"] = knob.Says;
        return new(knob.Id, of);
    }
}
