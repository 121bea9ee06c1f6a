using System.Text.Json;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>Knob values, packs, and single changes.</summary>
public class KnobTests
{
    private static (KnobValue? Value, List<Problem> Problems) Json(KnobKind kind, string json)
    {
        var problems = new List<Problem>();
        using var document = JsonDocument.Parse(json);
        return (kind.FromJson(document.RootElement, "x", problems), problems);
    }

    private static (KnobValue? Value, List<Problem> Problems) Link(KnobKind kind, string text)
    {
        var problems = new List<Problem>();
        return (kind.FromLink(text, "x", problems), problems);
    }

    [Theory]
    [InlineData("5", 5, null)]
    [InlineData("3", 3, null)]
    [InlineData("2", null, "3")]
    [InlineData("1e3", null, "9")]
    [InlineData("4.5", null, "3")]
    [InlineData("\"5\"", null, "3")]
    [InlineData("null", null, "3")]
    public void A_whole_number_keeps_its_limits(string json, int? value, string? nearest)
    {
        var (read, problems) = Json(new WholeKind(3, 9), json);
        Assert.Equal(value, (read as WholeValue)?.Number);
        Assert.Equal(nearest, problems.FirstOrDefault()?.Nearest?.ToJsonString());
    }

    [Theory]
    [InlineData("2x3", 6)]
    [InlineData("1x60", 60)]
    [InlineData("1x1", null)]
    [InlineData("7x9", null)]
    [InlineData("-2x-3", null)]
    [InlineData("99999x99999", null)]
    [InlineData("three", null)]
    public void A_layout_has_two_to_sixty_places(string text, int? places)
    {
        var (read, problems) = Link(new SizeKind(60), text);
        Assert.Equal(places, (read as SizeValue)?.Places);
        Assert.Equal(places is null, problems.Count == 1 && problems[0].Nearest is not null);
    }

    [Fact]
    public void Choices_flags_and_ranges_are_read_and_have_neighbours()
    {
        var choice = ChoiceKind.Of(("a", "first"), ("b", "second"), ("c", "third"));
        Assert.Equal(["a", "c"], choice.Neighbours(choice["b"]).Select(v => v.ToLink()));
        Assert.Equal(["b"], choice.Neighbours(choice["a"]).Select(v => v.ToLink()));
        Assert.Equal("b", Assert.Single(Link(choice, "bb").Problems).Nearest!.ToString());
        Assert.Equal("no", Assert.Single(new FlagKind().Neighbours(new FlagValue(true))).ToLink());
        Assert.Single(Json(new FlagKind(), "\"yes\"").Problems);
        Assert.Equal("2-9", Json(new RangeKind(0, 20), "[2,9]").Value!.ToLink());
        Assert.Equal("[2,9]", Assert.Single(Json(new RangeKind(0, 20), "[9,2]").Problems).Nearest!.ToJsonString());
        Assert.Equal(["4-5", "6-7"], new[] { "4-5", "6-7" }.Select(t => Link(new RangeKind(0, 20), t).Value!.ToLink()));
        Assert.Equal([4, 6], new WholeKind(3, 9).Neighbours(new WholeValue(5)).Cast<WholeValue>().Select(w => w.Number));
        Assert.Equal([15, 18], new SizeKind(60).Neighbours(new SizeValue(4, 4)).Cast<SizeValue>().Select(s => s.Places));
    }

    [Fact]
    public void A_pack_counts_what_is_in_play()
    {
        var deck = Deck.FromRanks([("A", new(1)), ("6", new(6)), ("Q", new(0)), ("joker", new(0, true))], packs: 2, suits: 3, missing: new Dictionary<string, int> { ["6"] = 1 });
        Assert.Equal(6, deck.Counts[1]);
        Assert.Equal(5, deck.Counts[6]);
        Assert.Equal(4, deck.Wilds);
        Assert.Equal(6 + 5 + 6 + 4, deck.Cards);
        Assert.Equal("queens", deck.NameOf(0));
        Assert.Equal(deck, ((DeckValue)Link(new DeckKind(), deck.ToString()).Value!).Deck);
        Assert.Equal(deck, ((DeckValue)Json(new DeckKind(), new DeckValue(deck).ToJson().ToJsonString()).Value!).Deck);
        Assert.DoesNotContain(deck.WithRank("6", null).Ranks, r => r.Rank == "6");
        Assert.Empty(deck.WithRank("6", null).Missing);
    }

    [Theory]
    [InlineData("1x4:A,2,A~3")]
    [InlineData("h:1.4,2.4,w.2")]
    public void Packs_in_links_are_read(string text) => Assert.Empty(Link(new DeckKind(), text).Problems);

    [Theory]
    [InlineData("9x4:A")]
    [InlineData("1x5:A")]
    [InlineData("1x4:11")]
    [InlineData("1x4:A~99")]
    [InlineData("1x4:joker")]
    [InlineData("1x4:A,-2")]
    [InlineData("h:1")]
    [InlineData("h:99.4")]
    [InlineData("h:1.99999")]
    [InlineData("1x4:")]
    public void Broken_packs_in_links_are_refused_with_one_that_goes(string text) =>
        Assert.Equal(Deck.Plain(1, 9), ((DeckValue)Json(new DeckKind(), DeckJson(Assert.Single(Link(new DeckKind(), text).Problems))).Value!).Deck);

    private static string DeckJson(Problem problem) =>
        problem.Nearest is System.Text.Json.Nodes.JsonObject json ? json.ToJsonString() : new DeckValue(((DeckValue)Link(new DeckKind(), problem.Nearest!.ToString()).Value!).Deck).ToJson().ToJsonString();

    [Fact]
    public void Values_follow_seat_then_level_then_table_then_default()
    {
        var setup = Setups.FromJson("""{"target":9}""", """[{},{"allowance":{"level":"higher"}},{"allowance":{"level":"higher","target":8}}]""", "spot");
        Assert.Equal([9, 12, 8], Enumerable.Range(0, 3).Select(i => setup.At<WholeValue>(i, "target").Number));
        Assert.Equal("numeral", setup.At<ChoiceValue>(0, "form").Id);
        Assert.Equal(20, setup.Get<SizeValue>("layout").Places);
        Assert.Null(setup.At(0, "range"));
    }

    [Fact]
    public void Single_changes_change_one_thing_and_go()
    {
        var setup = Setups.FromJson("{}");
        var changes = Steps.Around(setup, 0);
        Assert.Contains(changes, c => c.Belongs == Belongs.Range);
        Assert.Contains(changes, c => c.Belongs == Belongs.RuleLevel);
        Assert.Contains(changes, c => c.Belongs == Belongs.Form);
        Assert.Contains(changes, c => c.Belongs == Belongs.Length);
        foreach (var change in changes)
        {
            Assert.Empty(change.Setup.Problems());
            var found = Steps.Differences(setup, 0, change.Setup, 0);
            Assert.True(found.Count <= 1 || change.Belongs == Belongs.RuleLevel, $"{change.Says}: {string.Join(", ", found)}");
        }
    }

    [Fact]
    public void At_a_shared_table_changes_are_the_seats_own()
    {
        var setup = Setups.FromJson("{}", "[{},{}]");
        foreach (var change in Steps.Around(setup, 1).Where(c => c.Belongs != Belongs.Length))
        {
            Assert.Equal(setup.Table, change.Setup.Table);
            Assert.Equal(setup.Seats[0], change.Setup.Seats[0]);
        }
    }

    [Fact]
    public void Children_are_brought_to_one_table_each_with_an_allowance()
    {
        Seat[] seats = [Seat.Child("Mags", 7.1, "3"), Seat.Child("Otis", 5.3, "2"), Seat.Child("Juno", 3.8, "1")];
        Setup Own(int target) => Setup.Default(Catalogue.Data.First(f => f.Id == "partners"), Seat.Child("")).With("target", new WholeValue(target)).With("deck", new DeckValue(Partners.PackFor(target)));
        Setup[] own = [Own(10), Own(7), Own(5)];
        var together = Gathering.Of(own[0], 0, [.. seats.Select((s, i) => (s, new List<Setup> { own[i] }))]);
        Assert.Equal(3, together.Seats.Length);
        Assert.Empty(together.Problems());
        Assert.Equal([10, 7, 5], Enumerable.Range(0, 3).Select(i => together.At<WholeValue>(i, "target").Number));
    }
}
