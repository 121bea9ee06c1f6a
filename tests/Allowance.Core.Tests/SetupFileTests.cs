using System.Text.Json.Nodes;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>Setup files and links: what is read, what is refused and with which nearest.</summary>
public class SetupFileTests
{
    private static Problem Refusal(string json) => Assert.Single(Catalogue.Read(json).Problems);

    private static string File(string table = "{}", string players = "[{}]", string more = "") =>
        $$"""{"format":"allowance-setup/1","game":"partners","table":{{table}},"players":{{players}}{{more}}}""";

    [Theory]
    [InlineData("not json", "", "{")]
    [InlineData("[]", "format", "allowance-setup/1")]
    [InlineData("{\"format\":\"allowance-setup/2\",\"game\":\"partners\"}", "format", "allowance-setup/1")]
    [InlineData("{\"format\":\"allowance-setup/1\",\"game\":\"partnes\"}", "game", "partners")]
    [InlineData("{\"format\":\"allowance-setup/1\",\"game\":\"partners\",\"lvel\":\"spot\"}", "lvel", "level")]
    [InlineData("{\"format\":\"allowance-setup/1\",\"game\":\"partners\",\"level\":\"spt\"}", "level", "spot")]
    [InlineData("{\"format\":\"allowance-setup/1\",\"game\":\"partners\",\"note\":\"a\",\"note\":\"b\"}", "note", null)]
    public void A_broken_file_names_its_place_and_the_nearest(string json, string path, string? nearest)
    {
        var problem = Catalogue.Read(json).Problems[0] is { Path: "" } first && path.Length > 0 ? Catalogue.Read(json).Problems[1] : Catalogue.Read(json).Problems[0];
        Assert.Equal(path, problem.Path);
        if (nearest is null) Assert.Null(problem.Nearest);
        else Assert.Contains(nearest, problem.Nearest!.ToJsonString(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("{\"targt\":9}", "table.targt", "\"target\"")]
    [InlineData("{\"target\":31}", "table.target", "30")]
    [InlineData("{\"target\":9.5}", "table.target", "3")]
    [InlineData("{\"target\":9,\"target\":8}", "table.target", "null")]
    [InlineData("{\"layout\":0}", "table.layout", "[4,5]")]
    [InlineData("{\"layout\":[0,5]}", "table.layout", "[1,4]")]
    [InlineData("{\"layout\":[9,9]}", "table.layout", "[6,6]")]
    [InlineData("{\"layout\":[6,6],\"deck\":{\"counts\":{\"4\":4,\"6\":4}}}", "table.layout", "[2,4]")]
    [InlineData("{\"target\":25}", "table.target", "18")]
    [InlineData("{\"mode\":\"spto\"}", "table.mode", "\"spot\"")]
    [InlineData("{\"deck\":{}}", "table.deck", "{")]
    [InlineData("{\"deck\":{\"ranks\":{\"A\":1,\"11\":2}}}", "table.deck.ranks.11", "\"")]
    [InlineData("{\"deck\":{\"ranks\":{\"A\":1,\"9\":9,\"J\":\"wild\"}}, \"layout\":[2,3]}", "table.deck", "{")]
    [InlineData("{\"deck\":{\"packs\":9,\"ranks\":{\"A\":1}}}", "table.deck.packs", "8")]
    [InlineData("{\"deck\":{\"counts\":{\"5\":0}}}", "table.deck", "{")]
    public void A_table_that_does_not_go_is_refused_with_the_nearest(string table, string path, string nearest)
    {
        var problem = Refusal(File(table));
        Assert.Equal(path, problem.Path);
        Assert.Contains(nearest, problem.Nearest?.ToJsonString() ?? "null", StringComparison.Ordinal);
        Assert.NotEmpty(problem.Message);
    }

    [Theory]
    [InlineData("[{\"nam\":\"x\"}]", "players[0].nam")]
    [InlineData("[{},{\"age\":-1}]", "players[1].age")]
    [InlineData("[]", "players")]
    [InlineData("[{},{},{},{},{},{},{},{},{}]", "players")]
    [InlineData("[{\"allowance\":{\"dice\":[\"d6\"]}}]", "players[0].allowance.dice")]
    [InlineData("[{\"allowance\":{\"headStart\":2}}]", "players[0].allowance.headStart")]
    [InlineData("[{\"allowance\":{\"level\":\"memory\"}}]", "players[0].allowance.level")]
    [InlineData("[{},{\"allowance\":{\"target\":25}}]", "players[1].allowance.target")]
    [InlineData("[{\"allowance\":{\"range\":[9,1]}}]", "players[0].allowance.range")]
    public void An_allowance_that_does_not_go_is_refused(string players, string path) => Assert.Equal(path, Refusal(File(players: players)).Path);

    /// <summary>What is named as the nearest, put where it is named, is played.</summary>
    [Theory]
    [InlineData("linewalk", """{"from":100,"to":40}""", "[{}]")]
    [InlineData("around", """{"n":7,"max":1}""", "[{}]")]
    [InlineData("homing", """{"start":1000,"mark":2}""", "[{}]")]
    [InlineData("downline", """{"sections":1,"begin":"on"}""", "[{}]")]
    [InlineData("evenplates", """{"mode":"share"}""", """[{"allowance":{"level":"even"}}]""")]
    [InlineData("gates", """{"play":"lastIn"}""", """[{"allowance":{"gates":4}},{}]""")]
    [InlineData("gates", """{"play":"lastIn","gates":5}""", """[{},{"allowance":{"level":"on"}}]""")]
    [InlineData("topper", """{"claim":"firstSaid"}""", """[{},{"allowance":{"make":"common"}}]""")]
    // A card of three goes by itself, so that nothing goes with the zero.
    [InlineData("emptyseat", """{"target":3,"deck":{"counts":{"0":4,"3":4,"2":4}}}""", "[{}]")]
    [InlineData("glimpse", """{"answers":"atOnce"}""", """[{"allowance":{"adaptive":true}},{"allowance":{"showMs":900}}]""")]
    public void What_is_named_as_the_nearest_can_be_played(string game, string table, string players)
    {
        var file = JsonNode.Parse($$"""{"format":"allowance-setup/1","game":"{{game}}","table":{{table}},"players":{{players}}}""")!.AsObject();
        var problem = Assert.Single(Catalogue.Read(file.ToJsonString()).Problems);
        string[] path = problem.Path.Split('.', '[', ']').Where(p => p.Length > 0).ToArray();
        JsonNode at = file;
        foreach (string part in path[..^1]) at = int.TryParse(part, out int seat) ? at[seat]! : at[part]!;
        at[path[^1]] = problem.Nearest!.DeepClone();
        Assert.Empty(Catalogue.Read(file.ToJsonString()).Problems);
    }

    [Fact]
    public void The_nearest_target_can_be_played()
    {
        var problem = Refusal(File("""{"target":25}"""));
        Assert.Empty(Catalogue.Read(File($$"""{"target":{{problem.Nearest!.ToJsonString()}}}""")).Problems);
    }

    [Fact]
    public void No_head_start_may_be_said_where_there_is_none() => Assert.Empty(Catalogue.Read(File(players: """[{"allowance":{"headStart":0}}]""")).Problems);

    [Fact]
    public void Forecast_options_are_read_and_checked()
    {
        var read = Catalogue.Read(File(more: ",\"forecast\":{\"behaviour\":\"perfect\",\"seed\":7,\"samples\":500}"));
        Assert.Equal(new ForecastOptions(Behaviour.Perfect, 7, 500), read.Options);
        Assert.Equal("forecast.samples", Refusal(File(more: ",\"forecast\":{\"samples\":5}")).Path);
        Assert.Equal("forecast.behaviour", Refusal(File(more: ",\"forecast\":{\"behaviour\":\"best\"}")).Path);
    }

    [Fact]
    public void Files_and_links_give_back_what_was_written() => Assert.All(Catalogue.Data, frame => Setups.Random(frame).Sample(setup =>
    {
        if (setup.Problems().Count > 0) return;
        var file = Catalogue.Read(setup.ToJson().ToJsonString());
        Assert.Empty(file.Problems);
        Assert.Equal(setup.ToLink(), file.Setup!.ToLink());
        var pairs = setup.ToLink().Split('&').Select(p => p.Split('=')).Select(p => KeyValuePair.Create(p[0], Uri.UnescapeDataString(p[1])));
        Assert.Equal(setup.ToLink(), Catalogue.ReadLink(pairs, _ => null).Setup!.ToLink());
    }, iter: 200));

    [Fact]
    public void Links_hold_seats_and_never_names()
    {
        var setup = Setup.Default(Catalogue.Data.First(f => f.Id == "partners"), Seat.Child("Juno", 3.8, "7"));
        Assert.Contains("s1=7", setup.ToLink(), StringComparison.Ordinal);
        Assert.DoesNotContain("Juno", setup.ToLink(), StringComparison.Ordinal);
    }

    [Fact]
    public void Anything_is_read_or_refused_and_never_thrown() => Gen.String[0, 200].Sample(text =>
    {
        Assert.NotEmpty(Catalogue.Read(text).Problems);
        var link = Catalogue.ReadLink([KeyValuePair.Create("deck", text), KeyValuePair.Create("target", text), KeyValuePair.Create("layout", text), KeyValuePair.Create("s1", text)], _ => null);
        Assert.All(link.Problems, p => Assert.NotEmpty(p.Message));
    }, iter: 500);

    [Fact]
    public void Preparing_a_pack_is_said_in_words()
    {
        var deck = Deck.FromRanks([("A", new(1)), ("2", new(2)), ("3", new(3)), ("4", new(4)), ("5", new(5)), ("6", new(6)), ("7", new(7)), ("8", new(8)), ("9", new(9)), ("10", new(10)), ("Q", new(0))]);
        var preparation = DeckPreparation.Of(deck);
        Assert.Equal(44, preparation.CardsLeft);
        Assert.Equal(["Take out the jacks, kings and jokers (10 cards).", "Queens count as 0, aces as 1."], preparation.Sentences);
        Assert.Contains("1 card of the sixes is missing.", DeckPreparation.Of(deck.WithMissing("6", 1)).Sentences);
        Assert.Equal(43, deck.WithMissing("6", 1).Cards);
    }

    [Fact]
    public void What_is_remembered_may_stand_with_the_forecast()
    {
        static Setup Read(string more) => Catalogue.Read("""{"format":"allowance-setup/1","game":"lookalikes","level":"facedown",""" + more + "}").Playable!.Setup;
        Assert.Equal("perfect", Read(""" "forecast":{"memory":"perfect"} """).At(0, "memory")!.ToLink());
        Assert.Equal("2", Read(""" "players":[{"allowance":{"memory":2}},{}],"forecast":{"memory":7} """).At(0, "memory")!.ToLink());
        Assert.Equal("7", Read(""" "players":[{"allowance":{"memory":2}},{}],"forecast":{"memory":7} """).At(1, "memory")!.ToLink());
        Assert.Equal("forecast.memory", Assert.Single(Catalogue.Read("""{"format":"allowance-setup/1","game":"lift","forecast":{"memory":4}}""").Problems).Path);
    }

    [Fact]
    public void A_knob_that_may_be_left_open_may_say_so()
    {
        Assert.Null(Catalogue.Read("""{"format":"allowance-setup/1","game":"homing","table":{"line":null}}""").Playable!.Setup.Get("line"));
        Assert.Equal("table.rounds", Assert.Single(Catalogue.Read("""{"format":"allowance-setup/1","game":"homing","table":{"rounds":null}}""").Problems).Path);
    }
}
