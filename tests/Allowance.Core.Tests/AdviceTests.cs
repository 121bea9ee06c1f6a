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
public class AdviceTests
{
    private static readonly DateOnly Day = new(2026, 3, 20);
    private static readonly Seat Child = Seat.Child("Otis", 5.3);

    private static Observation On(int daysAgo, Ask ask, Outcome outcome) => new(new DateTimeOffset(Day.AddDays(-daysAgo).ToDateTime(new TimeOnly(16, 0)), TimeSpan.Zero), ask, Seen.How(outcome));

    /// <summary>Everything of a band, on several days, with one outcome.</summary>
    private static List<Observation> Band(string skill, int band, Outcome outcome, params int[] daysAgo) =>
        [.. daysAgo.OrderDescending().SelectMany(d => BandAsks.Of(Feeding.BandIndex(skill, band)).Select(a => On(d, a, outcome)))];

    private static (Setup, int) Playing(int target) => (Setup.Default(Catalogue.All.First(f => f is Partners).Data, Child).With("target", new WholeValue(target)).With("deck", new DeckValue(Partners.PackFor(target))), 0);

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
    public void Counting_everything_is_no_step_yet_where_structure_comes_first()
    {
        var seen = Partner(5, Outcome.CountedAll, 12, 9, 6, 3, 1);
        seen.AddRange(Partner(5, Outcome.CountedAll, 0));
        var model = ChildModel.Of(10, seen);
        var structure = Proposals.For(Child, model, seen, Playing(5), Approach.Default, Day);
        Assert.Equal(AdviceKind.Stay, structure.Kind);
        Assert.Contains("counted one by one", structure.Why, StringComparison.Ordinal);
        var counting = Proposals.For(Child, model, seen, Playing(5), Approach.Default.With("answers", "counting"), Day);
        Assert.DoesNotContain("counted one by one", counting.Why, StringComparison.Ordinal);
    }

    [Fact]
    public void What_was_steady_and_fades_is_proposed_for_a_visit()
    {
        var seen = Band("partners", 5, Outcome.Structure, 210, 207, 203, 200);
        var model = ChildModel.Of(5, seen);
        Assert.Equal(SkillWord.Fluent, model.Standing(Feeding.BandIndex("partners", 5), Day.AddDays(-199)).Word);
        // Long after, with much gone wrong on other days, it rests.
        for (int d = 40; d > 0; d -= 5) seen.AddRange(Band("partners", 9, Outcome.NotYet, d));
        model = ChildModel.Of(5, seen);
        var standing = model.Standing(Feeding.BandIndex("partners", 5), Day);
        Assert.Equal(SkillWord.Resting, standing.Word);
        var all = Proposals.All(Child, model, seen, Playing(9), Approach.Default, Day);
        var visit = Assert.Single(all, p => p.Kind == AdviceKind.Visit);
        Assert.Contains("days ago: time for a visit", visit.Why, StringComparison.Ordinal);
        Assert.Equal(5, visit.Setup.Get<WholeValue>("target").Number);
    }

    [Fact]
    public void Two_or_three_different_things_each_with_a_reason_and_a_setup_that_goes()
    {
        foreach (var (model, seen, last) in new (ChildModel, List<Observation>, (Setup, int)?)[]
        {
            (new ChildModel(4), [], null), (new ChildModel(8), [], null),
            (ChildModel.Of(5.3, Partner(6, Outcome.SawIt, 5, 3, 1)), Partner(6, Outcome.SawIt, 5, 3, 1), Playing(6)),
            (ChildModel.Of(5.3, Partner(9, Outcome.NotYet, 5, 3, 1)), Partner(9, Outcome.NotYet, 5, 3, 1), Playing(9)),
        })
        {
            var all = Proposals.All(Child, model, seen, last, Approach.Default, Day);
            Assert.InRange(all.Count, 2, 3);
            Assert.Equal(all.Count, all.Select(p => p.Says).Distinct().Count());
            Assert.All(all, p => Assert.EndsWith(".", p.Why, StringComparison.Ordinal));
            Assert.All(all, p => Assert.Empty(p.Setup.Problems()));
            if (last is var (_, _) && all[0].Kind != AdviceKind.Begin)
                Assert.All(all.Where(p => p.Kind == AdviceKind.Another), p => Assert.True(p.Asks.Max(a => a[0]) <= 9));
        }
    }

    [Fact]
    public void What_she_has_may_rest()
    {
        // The largest target: no larger number, and another rung asks the same.
        var seen = new List<Observation>();
        foreach (int ago in (int[])[20, 16, 12, 9, 6, 3, 1])
            seen.AddRange(Enumerable.Range(0, 7).Select(n => On(ago, new Ask(AskKind.Part, 30, 9 + n, Form.Numeral), Outcome.SawIt)));
        var proposal = Proposals.For(Child, ChildModel.Of(12, seen), seen, Playing(30), Approach.Default, Day);
        Assert.Equal(AdviceKind.Rest, proposal.Kind);
        Assert.Contains("let it rest", proposal.Why, StringComparison.Ordinal);
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
    public void No_sentence_speaks_of_failing_or_compares()
    {
        string[] never = ["fail", "wrong", "weak", "behind", "slow", "score", "better than", "average"];
        for (int seed = 1; seed <= 12; seed++)
        {
            var child = new SimulatedChild(seed, 3.5 + seed * .35);
            var seen = new List<Observation>();
            for (int d = 30; d > 0; d -= 3)
                for (int n = 1; n < 6; n++)
                {
                    var ask = new Ask(AskKind.Part, 6, n, Form.Numeral);
                    seen.Add(On(d, ask, child.Answer(ask, Day.AddDays(-d))));
                }
            foreach (var p in Proposals.All(Child, ChildModel.Of(5, seen), seen, Playing(6), Approach.Default, Day))
                foreach (string word in never) Assert.DoesNotContain(word, p.Why + p.Says, StringComparison.OrdinalIgnoreCase);
        }
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

    /// <summary>Twenty right answers a day push all earlier days out of the last twenty notes; it was seen on many days all the same.</summary>
    [Fact]
    public void Who_was_right_on_many_days_is_not_asked_to_be_so_on_another_day()
    {
        var seen = new List<Observation>();
        for (int day = 24; day > 0; day--)
            for (int again = 0; again < 6; again++) seen.AddRange(Partner(5, Outcome.SawIt, day));
        var advice = Proposals.For(Child, ChildModel.Of(5.3, seen), seen, Playing(5), Approach.Default, Day);
        Assert.DoesNotContain("on another day", advice.Why, StringComparison.Ordinal);
        Assert.Contains("right 20 of the last 20 times, all at once; met on 24 days", advice.Why, StringComparison.Ordinal);
        Assert.Contains(advice.Kind, (AdviceKind[])[AdviceKind.StepUp, AdviceKind.Rest]);
    }

    /// <summary>Pairs of equals to ten are known, and so are partners of five: it goes on with partners of more.</summary>
    [Fact]
    public void Pairs_of_equals_to_ten_are_no_dead_end()
    {
        var seen = new List<Observation>();
        for (int day = 12; day > 0; day -= 2)
        {
            seen.AddRange(Enumerable.Range(1, 10).Select(n => On(day, new Ask(AskKind.Match, n, Form.Numeral, Form.Numeral), Outcome.SawIt)));
            seen.AddRange(Partner(5, Outcome.SawIt, day));
        }
        var setup = Setup.Default(Catalogue.All.First(f => f is Partners).Data, Child) with { LevelId = "same" };
        var last = (setup.With("deck", new DeckValue(Deck.Plain(1, 10))), 0);
        var advice = Proposals.For(Child, ChildModel.Of(5.3, seen), seen, last, Approach.Default, Day);
        Assert.Equal(AdviceKind.StepUp, advice.Kind);
        Assert.Equal("spot", advice.Setup.LevelId);
        Assert.InRange(advice.Setup.Get<WholeValue>("target").Number, 6, 10);
    }
}
