using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Games;
using Allowance.Core.Setups;
using CsCheck;
using Json.Schema;

namespace Allowance.Core.Tests;

/// <summary>The published schema of setup files: what is written is valid by it, what it refuses is refused by the reader, and every knob of every frame is in it.</summary>
public class SetupSchemaTests
{
    private static readonly JsonSchema Schema = JsonSchema.FromText(SetupSchema.Of(Catalogue.Data).ToJsonString());

    private static bool IsValid(JsonNode file)
    {
        using var document = JsonDocument.Parse(file.ToJsonString());
        return Schema.Evaluate(document.RootElement).IsValid;
    }

    [Theory, MemberData(nameof(EngineTests.Frames), MemberType = typeof(EngineTests))]
    public void Whatever_is_written_is_valid(string id) =>
        Setups.Random(Catalogue.Data.First(f => f.Id == id)).Sample(setup => Assert.True(IsValid(setup.ToJson()), setup.ToJson().ToJsonString()), iter: 100, threads: 1);

    [Theory, MemberData(nameof(EngineTests.Frames), MemberType = typeof(EngineTests))]
    public void Every_knob_is_in_it_and_nothing_else(string id)
    {
        var frame = Catalogue.Data.First(f => f.Id == id);
        foreach (var knob in frame.Knobs)
        {
            bool atTable = knob.Scope.HasFlag(Scope.Table);
            Assert.False(IsValid(With(knob.Id, new JsonObject { ["no"] = "such value" }, atTable)), $"{id} {knob.Id} takes anything");
            if (knob.Default is { } value) Assert.True(IsValid(With(knob.Id, value.ToJson(), atTable)), $"{id} {knob.Id} does not take {value}");
            if (knob.Scope == Scope.Table && knob.Default is { } otherwise) Assert.False(IsValid(With(knob.Id, otherwise.ToJson(), false)), $"{id} {knob.Id} is taken at a place");
        }
        Assert.False(IsValid(With("nosuchknob", 1, true)));
        Assert.False(IsValid(With("nosuchknob", 1, false)));

        JsonObject With(string knob, JsonNode? value, bool atTable) => new()
        {
            ["format"] = SetupFile.Format, ["game"] = id,
            ["table"] = atTable ? new JsonObject { [knob] = value } : new JsonObject(),
            ["players"] = new JsonArray(new JsonObject { ["allowance"] = atTable ? new JsonObject() : new JsonObject { [knob] = value } }),
        };
    }

    [Theory]
    [InlineData("""{"format":"allowance-setup/1","game":"lift","table":{"up":6.5}}""")]
    [InlineData("""{"format":"allowance-setup/2","game":"lift"}""")]
    [InlineData("""{"game":"lift"}""")]
    [InlineData("""{"format":"allowance-setup/1","game":"lift","players":[]}""")]
    [InlineData("""{"format":"allowance-setup/1","game":"lift","players":[{"age":300}]}""")]
    [InlineData("""{"format":"allowance-setup/1","game":"partners","table":{"deck":{"ranks":{"Z":1}}}}""")]
    public void What_it_refuses_is_refused_by_the_reader(string file)
    {
        Assert.False(IsValid(JsonNode.Parse(file)!));
        Assert.NotEmpty(Catalogue.Read(file).Problems);
    }

    /// <summary>Fields of a page begin with its name and a dot, and the parts of a knob with the knob's: none can be mistaken for another.</summary>
    [Fact]
    public void Ids_of_knobs_are_letters_and_no_places()
    {
        foreach (var knob in Catalogue.Data.SelectMany(f => f.Knobs))
        {
            Assert.Matches("^[a-zA-Z]+$", knob.Id);
            Assert.DoesNotMatch("^(game|level|s[0-9]+)$", knob.Id);
        }
        Assert.All(Catalogue.Data, f => Assert.Equal(f.Knobs.Count, f.Knobs.DistinctBy(k => k.Id).Count()));
        Assert.All(Catalogue.Data, f => Assert.All(f.Knobs.Where(k => k.Role != KnobRole.Own).GroupBy(k => k.Role), g => Assert.Single(g)));
    }
}
