using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>Advice: what is open, what comes next, with its evidence; and shorter ways to play the same.</summary>
public class AdviceTests(WholeBook whole)
{
    private static readonly DateOnly Day = new(2026, 3, 20);
    private static readonly Seat Child = Seat.Child("Otis", 5.3);

    private static Observation On(int daysAgo, Ask ask, Outcome outcome) => new(new DateTimeOffset(Day.AddDays(-daysAgo).ToDateTime(new TimeOnly(16, 0)), TimeSpan.Zero), ask, Seen.How(outcome));

    /// <summary>Everything of a band, on several days, with one outcome.</summary>
    private static List<Observation> Band(string skill, int band, Outcome outcome, params int[] daysAgo) =>
        [.. daysAgo.OrderDescending().SelectMany(d => BandAsks.Of(Feeding.BandIndex(skill, band)).Select(a => On(d, a, outcome)))];

    private static FrameData Partnering => Catalogue.All.First(f => f is Partners).Data;

    private static (Setup, int) Playing(int target) => (Setup.Default(Partnering, Child).With("target", new WholeValue(target)).With("deck", new DeckValue(Partners.PackFor(target))), 0);

    private static List<Observation> Partner(int target, Outcome outcome, params int[] daysAgo) =>
        [.. daysAgo.OrderDescending().SelectMany(d => Enumerable.Range(1, target - 1).Select(n => On(d, new Ask(AskKind.Part, target, n, Form.Numeral), outcome)))];

    [Fact]
    public void Taking_away_waits_until_joining_is_steady_unless_the_household_mixes()
    {
        var model = ChildModel.Of(6, Band("join", 5, Outcome.SawIt, 2));
        var apart = Readiness.Of(model, Approach.Default, Day).Single(s => s.Skill.Id == "take");
        Assert.Equal("join two sets, to 5", apart.WaitsFor);
        Assert.False(apart.IsOpen);
        Assert.True(Readiness.Of(model, Approach.Default.With("taking", "mixed"), Day).Single(s => s.Skill.Id == "take").IsOpen);
        var steady = ChildModel.Of(6, Band("join", 5, Outcome.SawIt, 9, 6, 4, 2));
        Assert.True(Readiness.Of(steady, Approach.Default, Day).Single(s => s.Skill.Id == "take").IsOpen);
    }

    [Fact]
    public void A_skill_waits_for_what_it_rests_on()
    {
        var little = Readiness.Of(new ChildModel(3), Approach.Default, Day);
        Assert.NotNull(little.Single(s => s.Skill.Id == "cross").WaitsFor);
        Assert.Null(little.Single(s => s.Skill.Id == "words").WaitsFor);
        var big = Readiness.Of(new ChildModel(9), Approach.Default, Day);
        Assert.Null(big.Single(s => s.Skill.Id == "cross").WaitsFor);
        Assert.Equal(Skills.All.Count, big.Count);
        Assert.All(big, s => Assert.Equal(s.Skill.Bands.Count, s.Bands.Count));
    }

    [Fact]
    public void Shorter_ways_keep_what_is_asked()
    {
        var setup = Playing(10).Item1;
        var shorter = Shortening.Of(setup).ToList();
        Assert.Equal(setup, shorter[0]);
        Assert.InRange(shorter.Count, 3, 10);
        Assert.All(shorter, s => Assert.Empty(s.Problems()));
        Assert.All(shorter, s => Assert.Equal(setup.Get("target"), s.Get("target")));
        Assert.All(shorter, s => Assert.Equal(setup.Get("deck"), s.Get("deck")));
        Assert.False(shorter[^1].Get<FlagValue>("refill").On);
        Assert.Equal(shorter.Count, shorter.Select(s => s.ToLink()).Distinct().Count());
    }

    [Fact]
    public void Where_packs_are_missing_the_same_numbers_are_written_on_paper()
    {
        var (setup, _) = Playing(5);
        var deck = setup.Get<DeckValue>("deck").Deck;
        Assert.Equal(2, deck.Packs);
        Assert.Same(setup, Drawer.Fit(setup, Packs(2)));
        var paper = Drawer.Fit(setup, Packs(1)).Get<DeckValue>("deck").Deck;
        Assert.True(paper.HomeMade);
        Assert.Equal(deck.Counts, paper.Counts);
        Assert.Equal(Drawer.Fit(setup, Packs(0)).ToLink(), Drawer.Fit(Drawer.Fit(setup, Packs(0)), Packs(0)).ToLink());
    }

    private static Cupboard Packs(int packs) => new([new(1, "packs", Use.Packs, packs, default)]);

    /// <summary>Made-up children who played some weeks: what is proposed to them, in its words.</summary>
    private IEnumerable<Advised> Proposed(int seed)
    {
        double age = 3.5 + seed * .5;
        var child = new SimulatedChild(seed, age);
        var seen = AskingPolicy.Log(child, seed, age, Day.AddDays(-40), 5, 12, 3);
        var played = Catalogue.Data.Where((_, i) => (i + seed) % 3 == 0).Select((f, i) => new PlayedBefore(Setup.Default(f, Child, Child), 0, Day.AddDays(-20 + i))).Where(p => Catalogue.Check(p.Setup) is not null);
        return Advice.For(new(Seat.Child("Otis", age), ChildModel.Of(age, seen), [.. played], []), new(Day, 10, Approach.Default), whole.Book, 5);
    }

    [Fact]
    public void No_sentence_speaks_of_failing_or_compares()
    {
        string[] never = ["fail", "wrong", "weak", "behind", "slow", "score", "better than", "average"];
        for (int seed = 1; seed <= 8; seed++)
            foreach (var p in Proposed(seed))
            {
                // A door may have something behind it.
                string says = $"{p.Why} {p.New} {p.Says}".Replace(p.Setup.Frame.Name, "").Replace(p.Setup.Frame.Says, "");
                foreach (string word in never) Assert.DoesNotContain(word, says, StringComparison.OrdinalIgnoreCase);
                Assert.EndsWith(".", p.Why, StringComparison.Ordinal);
                Assert.EndsWith(".", p.New, StringComparison.Ordinal);
            }
    }

    /// <summary>Pairs of equals to ten are known, and so are partners of five: it goes on with something that is not.</summary>
    [Fact]
    public void Pairs_of_equals_to_ten_are_no_dead_end()
    {
        var seen = new List<Observation>();
        for (int day = 12; day > 0; day -= 2)
        {
            seen.AddRange(Enumerable.Range(1, 10).Select(n => On(day, new Ask(AskKind.Match, n, Form.Numeral, Form.Numeral), Outcome.SawIt)));
            seen.AddRange(Partner(5, Outcome.SawIt, day));
        }
        var setup = Setup.Default(Partnering, Child) with { LevelId = "same" };
        var last = new PlayedBefore(setup.With("deck", new DeckValue(Deck.Plain(1, 10))), 0, Day.AddDays(-1));
        var after = Advice.After(new(Child, ChildModel.Of(5.3, seen), [last], []), new(Day, 10, Approach.Default), whole.Book, Partnering)!;
        Assert.Contains(after.Kind, (AdviceKind[])[AdviceKind.StepUp, AdviceKind.Rest]);
        Assert.NotEqual(last.Setup.ToLink(), after.Setup.ToLink());
        Assert.True(after.Game.Right < .93);
    }

    [Fact]
    public void Who_was_right_on_many_days_goes_on_and_the_sentence_says_on_how_many()
    {
        var seen = new List<Observation>();
        for (int day = 24; day > 0; day--) seen.AddRange(Partner(5, Outcome.SawIt, day));
        var playing = new PlayedBefore(Playing(5).Item1, 0, Day.AddDays(-1));
        var child = new ChildHere(Child, ChildModel.Of(5.3, seen), [playing], []);
        var after = Advice.After(child, new(Day, 10, Approach.Default), whole.Book, Partnering)!;
        Assert.Contains(after.Kind, (AdviceKind[])[AdviceKind.StepUp, AdviceKind.Rest]);
        Assert.Contains("on 24 days", Aims.Of(child.Beliefs, Approach.Default, Day).Single(a => a.Standing.Band == Feeding.BandIndex("partners", 5)).Why, StringComparison.Ordinal);
    }

    /// <summary>A sentence that says "with other numbers" says which.</summary>
    [Fact]
    public void What_is_new_about_a_game_is_always_said()
    {
        foreach (var frame in Catalogue.All)
            foreach (var level in frame.Data.Levels)
            {
                var setup = Setup.Default(frame.Data, Child, Child) with { LevelId = level.Id };
                foreach (var step in frame.RangeSteps(setup, 0).Where(s => frame.Check(s.Setup) is not null))
                {
                    string says = Advice.WhatIsNew(new(setup, 0, Day), step.Setup, 0);
                    Assert.Matches(@"^(The same game with (other numbers: [^ .].+|several changes)|The same (as last time|numbers.+))\.$", says);
                    Assert.DoesNotContain("  ", says);
                }
            }
    }

    [Theory]
    [InlineData(3, 5, "her cards up to: 5 instead of 3")]
    [InlineData(null, 5, "her cards up to 5")]
    [InlineData(5, null, "no longer her cards up to 5")]
    public void What_is_her_own_alone_is_named_where_it_is_new(int? was, int? now, string says)
    {
        var topper = Catalogue.Data.First(f => f.Id == "topper");
        Setup With(int? to) => Setup.Default(topper, Child, Child) is var setup && to is { } most ? setup.WithSeat(0, setup.Seats[0].With(topper.Knob("rangeTo")!, new WholeValue(most))) : setup;
        Assert.Equal($"The same game with other numbers: {says}.", Advice.WhatIsNew(new(With(was), 0, Day), With(now), 0));
    }

    [Fact]
    public void A_first_meeting_comes_in_the_forms_the_household_begins_with()
    {
        // Children who read a few numerals: what they meet first, in things and pictures or in numerals.
        double Signs(string handle)
        {
            var games = new[] { 4.4, 5, 5.6, 6.2 }.SelectMany(age => new Search(new(Child, new ChildModel(age), [], []), new(Day, 10, Approach.Default.With("handle", handle))).Best(whole.Book, 6));
            return games.Average(g => g.Forecast.Players[0].Asks.Where(a => a.Ask.Form is Form.Numeral or Form.Word).Sum(a => a.PerGame) / g.Forecast.Players[0].Asks.Sum(a => a.PerGame));
        }
        Assert.True(Signs("numerals") > Signs("things"), $"{Signs("numerals")} {Signs("things")}");
    }

    [Fact]
    public void A_race_is_proposed_only_where_they_race_each_other()
    {
        var topper = Catalogue.Data.First(f => f.Id == "topper");
        var race = Setup.Default(topper, Child, Child).With("make", ((ChoiceKind)topper.Knob("make")!.Kind)["common"]).With("claim", ((ChoiceKind)topper.Knob("claim")!.Kind)["firstSaid"]);
        var playable = Catalogue.Check(race)!;
        Assert.True(playable.Frame.IsRace(race));
        Assert.False(HouseWays.Allows(playable, Approach.Default));
        Assert.True(HouseWays.Allows(playable, Approach.Default.With("clock", "race")));
    }

    [Fact]
    public void What_is_played_tells_what_is_hers_alone()
    {
        var topper = Setup.Default(Catalogue.Data.Single(f => f.Id == "topper"), Seat.Child("", 4), Seat.Child("", null) with { GrownUp = true });
        string table = Advised.Said(topper);
        Assert.StartsWith("Topper, ", table, StringComparison.Ordinal);
        var hers = topper.WithSeat(0, topper.Seats[0].With(Topper.Knobs.RangeTo, new WholeValue(3)));
        Assert.Equal($"{table}; for her cards up to 3", Advised.Said(hers));
        // Of several nobody is spoken of.
        Assert.Equal(table, Advised.Said(hers.WithSeat(1, Seat.Child("", 6))));
    }
}
