using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>What is called easier and what harder, over every frame, level and knob.</summary>
public class EasingTests
{
    private static LearnerAnswers Answers(Setup setup) => new(setup, new DateOnly(2026, 1, 1));

    private static Setup At(Frame frame, string level, int seats) =>
        Setup.Default(frame.Data, Seat.Child("", 5)) with { LevelId = level, Seats = [.. Enumerable.Repeat(Seat.Child("", 5), seats)] };

    public static TheoryData<string, string> Levels { get; } = [.. Catalogue.All.SelectMany(f => f.Data.Levels.Select(l => (f.Data.Id, l.Id)))];

    [Theory, MemberData(nameof(Levels))]
    public void The_ladder_binds_length_is_no_difficulty_and_a_support_never_harder_whatever_is_simulated(string game, string level)
    {
        var frame = Catalogue.All.Single(f => f.Data.Id == game);
        foreach (int seats in (int[])[1, 2])
        {
            var setup = At(frame, level, seats);
            if (frame.Check(setup) is not { } playable) continue;
            int rung = setup.Frame.Rung(level), steps = 0;
            foreach (var step in Steps.Around(setup, 0))
                foreach (double gain in (double[])[-.3, -.001, .001, .3])
                {
                    steps++;
                    var ease = Easing.Of(setup, step, 0, gain, Easing.Noticed);
                    int there = setup.Frame.Rung(step.Setup.LevelAt(0));
                    if (there != rung) Assert.Equal(there < rung ? Ease.Easier : Ease.Harder, ease);
                    else if (step.Belongs == Belongs.Length || Math.Abs(gain) < .01) Assert.Equal(Ease.Neither, ease);
                    else if (step.Setup.At<ChoiceValue>(0, KnobRole.Support)?.Id is not (null or "none")) Assert.NotEqual(Ease.Harder, ease);
                    else if (step.Setup.At<FlagValue>(0, KnobRole.Aid) is { On: true } && setup.At<FlagValue>(0, KnobRole.Aid) is { On: false }) Assert.NotEqual(Ease.Harder, ease);
                    else if (step.Setup.At<FlagValue>(0, KnobRole.Aid) is { On: false } && setup.At<FlagValue>(0, KnobRole.Aid) is { On: true }) Assert.NotEqual(Ease.Easier, ease);
                    // What the numbers or a help card forbid is tested below.
                    else if (step.Belongs == Belongs.Range || step.Belongs == Belongs.Form && seats > 1) Assert.NotEqual(gain > 0 ? Ease.Harder : Ease.Easier, ease);
                    else Assert.Equal(gain > 0 ? Ease.Easier : Ease.Harder, ease);
                }
            Assert.True(steps > 0);
        }
    }

    /// <summary>A child of five reads numerals and hardly a word; one of nine reads both.</summary>
    [Fact]
    public void Words_are_no_step_for_who_does_not_read_them()
    {
        int steps = 0;
        foreach (var (game, level) in Levels.Select(l => l.Data))
        {
            var frame = Catalogue.All.Single(f => f.Data.Id == game);
            foreach (int age in (int[])[5, 9])
            {
                var setup = At(frame, level, 1) with { Seats = [Seat.Child("", age)] };
                var words = Steps.Around(setup, 0).Where(s => s.Says.Split(" instead of ")[0].Contains("words", StringComparison.Ordinal) && s.Belongs == Belongs.Form).ToList();
                var offered = Easing.Among(setup.Ready(), words, 0, Answers, 40, Spending.Unlimited);
                Assert.Equal(age > 5 ? words.Count : 0, offered.Count);
                steps += words.Count;
            }
        }
        Assert.True(steps > 20);
    }

    /// <summary>With six-sided dice, blank cubes and sixty tags nothing is offered that takes other dice or more things.</summary>
    [Theory, MemberData(nameof(Levels))]
    public void What_is_offered_lies_in_the_drawer_or_is_soon_made(string game, string level)
    {
        var frame = Catalogue.All.Single(f => f.Data.Id == game);
        var setup = At(frame, level, 1);
        var drawer = new Cupboard([
            new(1, "dice", Use.Dice, 4, default, Die.Of(6)), new(2, "cubes", Use.Blanks, 3, default), new(3, "tags", Use.Pieces, 60, default), new(4, "card", Use.Card, 20, default), new(5, "cards", Use.Packs, 2, default),
        ]);
        var offered = Easing.Around(setup.Ready(), 0, Answers, 40, Spending.Unlimited, drawer);
        Assert.All(offered, o => Assert.DoesNotContain(drawer.Fetch(o.Step.Playable.Frame.Needs(o.Step.Setup).Where(n => n.Thing is Need.OfDice or Need.Pieces)), f => f.Standing is Standing.Missing or Standing.StandsIn));
    }

    [Fact]
    public void Faces_of_one_to_three_twice_are_made_where_a_die_is_too_large()
    {
        var setup = At(Catalogue.All.Single(f => f.Data.Id == "gather"), "two", 1);
        var easier = Easing.Around(setup.Ready(), 0, Answers, 200, Spending.Unlimited).Where(e => e.Ease == Ease.Easier && e.Step.Belongs == Belongs.Range).Select(e => ((DiceValue)e.Step.Setup.Get(Gather.Knobs.Dice)).ToLink()).ToList();
        Assert.Equal("1.1.2.2.3.3+1.1.2.2.3.3", easier[0]);
        // Never another number of dice, which is another thing to do.
        Assert.All(easier, d => Assert.Contains('+', d));
    }

    /// <summary>Whatever is simulated, larger numbers are never easier and smaller ones never harder; where some grow and others shrink, or none do, the simulation tells.</summary>
    [Theory]
    [InlineData("partners", "spot", "target 9 instead of 10", Ease.Easier, Ease.Neither)]
    [InlineData("partners", "spot", "target 11 instead of 10", Ease.Neither, Ease.Harder)]
    [InlineData("door", "hidden", "the whole: 4 instead of 5", Ease.Easier, Ease.Neither)]
    [InlineData("downline", "numbers", "a die with 1, 1, 2, 2, 3, 3 instead of a die from 1 to 6", Ease.Easier, Ease.Neither)]
    [InlineData("spotsum", "sum", "help card: words instead of numerals", Ease.Easier, Ease.Neither)]
    public void Larger_numbers_are_never_easier_smaller_ones_and_a_help_card_never_harder(string game, string level, string says, Ease better, Ease worse)
    {
        var setup = At(Catalogue.All.Single(f => f.Data.Id == game), level, 2);
        var step = Steps.Around(setup, 0).Single(s => s.Says == says);
        Assert.Equal((better, worse), (Easing.Of(setup, step, 0, .2, Easing.Noticed), Easing.Of(setup, step, 0, -.2, Easing.Noticed)));
    }

    /// <summary>Things to count are no help where it is played with things.</summary>
    [Theory]
    [InlineData("somegone", "see", false)]
    [InlineData("around", "things", false)]
    [InlineData("around", "numerals", true)]
    [InlineData("partners", "spot", true)]
    public void Things_to_count_are_offered_where_there_are_none_yet(string game, string level, bool offered) =>
        Assert.Equal(offered, Steps.Around(At(Catalogue.All.Single(f => f.Data.Id == game), level, 1), 0).Any(s => s.Says == "with things to count"));

    /// <summary>By hand: halves that differ by a tenth cannot tell a gain of a tenth from none.</summary>
    [Theory, InlineData(.1, .1, Ease.Neither), InlineData(.11, .1, Ease.Easier), InlineData(-.11, .1, Ease.Harder)]
    public void A_difference_within_its_error_is_none(double gain, double error, Ease ease)
    {
        var setup = At(Catalogue.All.Single(f => f.Data.Id == "gather"), "one", 1);
        var step = Steps.Around(setup, 0).First(s => s.Belongs == Belongs.Range && s.Setup.Get(Gather.Knobs.Dice).Dice.Most > 6 == gain < 0);
        Assert.Equal(ease, Easing.Of(setup, step, 0, gain, error));
    }

    [Fact]
    public void A_rung_at_a_place_takes_what_it_fixes_and_not_what_was_chosen_there_before()
    {
        var hedge = Setup.Default(Catalogue.Data.Single(f => f.Id == "hedge"), Seat.Child("", 5), Seat.Child("", 7));
        var own = hedge.WithSeat(1, hedge.Seats[1].With(Hedge.Knobs.Map, new RelationValue(Relation.Plus, 2)));
        var rungs = Steps.Around(own, 1).Where(s => s.Change.Belongs == Belongs.RuleLevel && s.Change.Setup.Seats[1].Level is not null).ToList();
        Assert.NotEmpty(rungs);
        Assert.All(rungs, s => Assert.Empty(s.Change.Setup.Against(1)));
    }
}
