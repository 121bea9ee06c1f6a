using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sheets;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>Games beside the main one, two minutes with hands, and the sheet that tells how to play.</summary>
public class OtherGamesTests(WholeBook whole)
{
    private static readonly DateOnly Day = new(2026, 3, 1);

    private static LearnerAnswers Answers(Setup setup) => new(setup, Day);

    [Fact]
    public void What_to_show_for_a_moment_grows_with_what_she_sees_without_counting()
    {
        NumberOf(3.2, out int young);
        NumberOf(7.5, out int old);
        Assert.True(young <= 5 && old >= 10, $"{young} {old}");

        void NumberOf(double age, out int high)
        {
            var (setup, sees) = GlimpseFitting.For(Seat.Child("a", age), new ChildModel(age), Day);
            Assert.InRange(sees, 0, 1);
            Assert.Empty(setup.Problems());
            high = setup.Get<RangeValue>("range").Range.High;
        }
    }

    [Fact]
    public void Numbers_that_are_hers_alone_are_told_at_her_place()
    {
        int told = 0;
        foreach (var frame in Catalogue.All.Where(f => f.Data.MostPlayers > 1))
        {
            var setup = Setup.Default(frame.Data, Seat.Child("Juno", 4), Seat.Child("Mags", 7));
            foreach (var step in frame.RangeSteps(setup, 1).Select(s => s.Setup).Where(s => s.Seats[1].Allowance.Count > 0 && frame.Check(s) is not null))
            {
                told++;
                Assert.True(frame.Summary(step, 1).Length > 0, step.ToLink());
                Assert.Contains($"for Mags {frame.Summary(step, 1)}", frame.Summary(step, seat => step.Seats[seat].Name), StringComparison.Ordinal);
            }
        }
        Assert.True(told > 20, $"{told}");
    }

    [Fact]
    public void Two_minutes_with_hands_are_mostly_at_her_edge_and_nothing_runs_on()
    {
        foreach (double age in new[] { 3.5, 5, 6.5 })
        {
            var model = new ChildModel(age);
            var list = Pocket.For(a => model.Right(a, Day));
            Assert.Equal(Pocket.Length, list.Count);
            Assert.Equal(list.Count, list.Distinct().Count());
            Assert.All(list, a => Assert.Contains(a, Pocket.Candidates));
            Assert.All(list, a => Assert.NotEmpty(Pocket.Says(a)));
            for (int i = 1; i < list.Count; i++)
                Assert.False(list[i].Kind == list[i - 1].Kind && Math.Abs(list[i][0] - list[i - 1][0]) == 1, string.Join("; ", list));
            Assert.True(model.Right(list[0], Day) >= Math.Min(.88, list.Skip(1).Take(6).Average(a => model.Right(a, Day))), string.Join("; ", list));
            Assert.NotEqual(list, Pocket.For(a => model.Right(a, Day), 6));
        }
    }

    [Fact]
    public void The_rule_sheet_of_every_level_has_a_turn_with_its_own_numbers()
    {
        foreach (var frame in Catalogue.All)
            foreach (var level in frame.Data.Levels)
            {
                var setup = Setup.Default(frame.Data, Seat.Child("a", 5)) with { LevelId = level.Id };
                var sheet = RuleSheet.Of(setup.Ready(), Approach.Default, Answers);
                Assert.NotEmpty(sheet.GetReady);
                Assert.Equal(level.Says, sheet.Play[0].Says);
                Assert.NotNull(sheet.Turn);
                Assert.NotEmpty(sheet.Turn.Asks);
                Assert.NotEmpty(sheet.Turn.Steps[^1].Does);
                Assert.All(sheet.Turn.Asks, a => Assert.Equal(3, a.Hints.Count));
                Assert.True(sheet.Easier.Count + sheet.Harder.Count > 0, $"{frame.Data.Id} {level.Id}");
                Assert.StartsWith("It ends", sheet.Ends, StringComparison.Ordinal);
            }
    }

    private static RuleSheet SheetOf(string game, string level, int players = 2, string table = "{}") =>
        RuleSheet.Of(Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","level":"{{level}}","table":{{table}},"players":[{{string.Join(',', Enumerable.Repeat("{}", players))}}]}""").Playable!, Approach.Default, Answers);

    /// <summary>Two gates where two may be shut, a number that is not the first where numbers are joined on; hints for what the game is about.</summary>
    [Theory]
    [InlineData("gates", "two", "9 and what make 10?")]
    [InlineData("downline", "numbers", "4 on from 5?")]
    [InlineData("tallyup", "line", "2 on from 2?")]
    [InlineData("topper", "sum", "How many are 8 and 2 together?")]
    public void The_turn_told_as_an_example_teaches_most(string game, string level, string question)
    {
        var turn = SheetOf(game, level).Turn!;
        Assert.Equal(question, turn.Matters!.Question);
        Assert.Contains(turn.Asks, a => a.Question == question);
        Assert.NotNull(turn.Next);
    }

    [Fact]
    public void Whoever_calls_in_a_chain_says_both_parts_and_another_is_asked()
    {
        var step = Assert.Single(SheetOf("chaincall", "more").Turn!.Steps);
        Assert.Equal("I have 8. Who has one more than this?", step.Says);
        Assert.Equal((0, 1), (step.Seat, Assert.Single(step.Asks).Seat));
        Assert.Equal("I have 8. Who has one more than 9?", SheetOf("chaincall", "more", table: """{"formSeeks":"numeral"}""").Turn!.Steps[0].Says);
    }

    [Fact]
    public void For_whoever_has_left_the_one_after_calls()
    {
        var run = Setup.Default(Catalogue.Data.First(f => f.Id == "chaincall"), Seat.Child("a", 6), Seat.Child("b", 6)).Ready().Compile().Start(0);
        int caller = run.Speaker;
        run.Leave(caller);
        Assert.Equal(1 - caller, run.Speaker);
        while (run.Next.Kind != StepKind.Over) run.Apply(run.Moves[0], true);
        Assert.Equal(run.Next.Seat, run.Speaker);
    }

    [Theory]
    [InlineData("one", "{}", "It ends when the heap is gone.")]
    [InlineData("one", """{"rounds":3}""", "It ends when the heap is gone, or when everyone has rolled 3 times.")]
    [InlineData("sign", "{}", "It ends when everyone has rolled 8 times.")]
    public void When_a_heap_ends_hangs_on_the_setup(string level, string table, string says) => Assert.Equal(says, SheetOf("gather", level, table: table).Ends);

    [Fact]
    public void A_ten_goes_by_itself_only_where_there_are_tens()
    {
        Assert.DoesNotContain(SheetOf("emptyseat", "one").GetReady, l => l.Contains("by itself", StringComparison.Ordinal));
        Assert.Contains(SheetOf("emptyseat", "court").GetReady, l => l.Contains("a 10 by itself with the next one", StringComparison.Ordinal));
    }

    /// <summary>Where the level lies on the table for all, it changes for all; where each can have her own, for one.</summary>
    [Fact]
    public void The_next_level_is_hers_or_else_everyones()
    {
        Assert.Contains("“Face up” for everyone instead of “Face down”.", SheetOf("lookalikes", "facedown").Easier);
        Assert.Contains("“Face up” instead of “Face down”.", SheetOf("lookalikes", "facedown", 1).Easier);
        Assert.Contains("“Count the dots” instead of “Count on”.", SheetOf("gates", "on").Easier);
        var own = Setup.Default(Catalogue.Data.First(f => f.Id == "countbox"), Seat.Child("a", 6), Seat.Child("b", 7) with { Level = "cross" });
        Assert.All(Steps.Around(own, 0), s => Assert.Equal("tell", s.Setup.LevelId));
    }

    [Fact]
    public void A_place_with_a_level_of_its_own_stands_on_the_sheet()
    {
        var frame = Catalogue.Data.First(f => f.Id == "countbox");
        var setup = Setup.Default(frame, Seat.Child("a", 6), Seat.Child("b", 7) with { Level = "cross" });
        var sheet = RuleSheet.Of(setup.Ready(), Approach.Default, Answers);
        Assert.Equal([(null, frame.Level("tell")!.Says), (1, frame.Level("cross")!.Says)], sheet.Play);
    }

    [Fact]
    public void A_led_game_is_made_shorter_by_fewer_calls()
    {
        var setup = Setup.Default(Catalogue.Data.First(f => f.Id == "countbox"), Seat.Child("a", 6));
        var rounds = Shortening.Of(setup).Select(s => s.Get<WholeValue>("rounds").Number).ToList();
        Assert.Equal([6, 5, 4, 3, 2, 1], rounds);
    }

    /// <summary>A new child is not offered the same game three times over.</summary>
    [Theory, InlineData(3.2), InlineData(4.5), InlineData(6), InlineData(8)]
    public void Games_to_begin_with_are_of_three_families_and_fit(double age)
    {
        var games = Advice.ToBegin(new(Seat.Child("a", age), new ChildModel(age), [], []), new(Day, 10, Approach.Default), whole.Book);
        Assert.Equal(3, games.Count);
        Assert.Equal(3, games.Select(g => g.Setup.Frame.Family).Distinct().Count());
        Assert.All(games, g =>
        {
            Assert.Empty(g.Setup.Problems());
            Assert.InRange(g.Game.Right, .60, .95);
            Assert.Equal(AdviceKind.Begin, g.Kind);
            Assert.Equal("A new game: new rules with old numbers.", g.New);
        });
    }
}
