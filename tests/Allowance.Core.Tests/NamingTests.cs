using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;

namespace Allowance.Core.Tests;

/// <summary>With real things, what was asked is named by tapping its numbers.</summary>
public class NamingTests
{
    private static List<Ask> Sums(int most) => [.. Enumerable.Range(1, most).SelectMany(a => Enumerable.Range(1, a).Select(b => new Ask(AskKind.Join, a, b, Form.Numeral)))];

    [Theory]
    [InlineData(Form.Fingers, new[] { 6, 7, 8 })]
    [InlineData(Form.Numeral, new[] { 1, 2, 3 })]
    public void Five_and_some_are_seen_as_the_whole_in_a_form_of_fives(Form form, int[] keys)
    {
        List<Ask> all = [.. Enumerable.Range(1, 3).Select(n => new Ask(AskKind.Join, 5, n, form))];
        Assert.Equal(keys.Zip(all.Select(a => (Ask?)a)), Naming.Of(all, all[1]).Keys.Select(k => (k.Number, k.Ask)));
    }

    [Fact]
    public void A_sum_is_named_by_its_two_numbers_in_any_order()
    {
        var all = Sums(10);
        foreach (var ask in all)
            foreach (var (first, second) in new[] { (ask[0], ask[1]), (ask[1], ask[0]) })
            {
                var start = Naming.Of(all, all[0]);
                Assert.Null(start.Keys.Single(k => k.Number == first).Ask);
                Assert.Equal(ask, Naming.Of(all, all[0], first).Keys.Single(k => k.Number == second).Ask);
            }
    }

    [Fact]
    public void A_roll_is_named_by_one_number_and_partners_by_the_one_that_was_seen()
    {
        List<Ask> rolls = [.. Enumerable.Range(1, 6).Select(n => new Ask(AskKind.Say, n, Form.Dice))];
        Assert.Equal(rolls.Select(r => (Ask?)r), Naming.Of(rolls, rolls[3]).Keys.Select(k => k.Ask));
        List<Ask> partners = [.. Enumerable.Range(0, 11).Select(n => new Ask(AskKind.Part, 10, n, Form.Numeral))];
        Assert.Equal(Enumerable.Range(0, 11), Naming.Of(partners, partners[6]).Keys.Select(k => k.Number));
        Assert.All(Naming.Of(partners, partners[6]).Keys, k => Assert.Equal(new Ask(AskKind.Part, 10, k.Number, Form.Numeral), k.Ask));
    }

    [Fact]
    public void Of_a_hundred_numbers_the_tens_are_tapped_first()
    {
        List<Ask> line = [.. Enumerable.Range(0, 101).Select(n => new Ask(AskKind.Place, n, Form.Line))];
        var start = Naming.Of(line, line[37]);
        Assert.Equal("0–9 10–19 20–29 30–39 40–49 50–59 60–69 70–79 80–89 90–99 100–109", string.Join(' ', start.Keys.Select(k => k.Says)));
        Assert.Equal(Enumerable.Range(70, 10), Naming.Of(line, line[37], 70).Keys.Select(k => k.Ask!.Value[0]));
        Assert.Equal(100, Naming.Of(line, line[37], 100).Keys.Single().Number);
    }

    [Fact]
    public void How_many_more_and_making_even_are_named_by_two_numbers_in_any_order()
    {
        foreach (var kind in new[] { AskKind.Gap, AskKind.Even })
        {
            List<Ask> all = [.. Enumerable.Range(1, 9).SelectMany(b => Enumerable.Range(b + 1, 10 - b).Select(a => new Ask(kind, a, b, Form.Numeral)))];
            Assert.Equal(Enumerable.Range(1, 10), Naming.Of(all, all[0]).Keys.Select(k => k.Number));
            Assert.Equal(new Ask(kind, 7, 3, Form.Numeral), Naming.Of(all, all[0], 3).Keys.Single(k => k.Number == 7).Ask);
            Assert.False(Naming.Of(all, all[0]).IsOfOne);
        }
    }

    [Fact]
    public void What_all_are_compared_with_need_not_be_tapped()
    {
        List<Ask> all = [.. Enumerable.Range(1, 9).Select(n => new Ask(AskKind.More, Math.Max(n, 5), Math.Min(n, 5), Form.Objects))];
        var naming = Naming.Of(all, all[0]);
        Assert.True(naming.IsOfOne);
        Assert.Equal(Enumerable.Range(1, 9), naming.Keys.Select(k => k.Number));
        Assert.Equal(all, naming.Keys.Select(k => k.Ask!.Value));
    }

    [Fact]
    public void Two_of_very_many_numbers_are_not_tapped_and_one_of_many_is()
    {
        List<Ask> two = [.. Enumerable.Range(10, 90).SelectMany(a => Enumerable.Range(10, a - 9).Select(b => new Ask(AskKind.More, a, b, Form.Numeral)))];
        Assert.Empty(Naming.Of(two, two[0]).Keys);
        List<Ask> one = [.. Enumerable.Range(10, 90).Select(n => new Ask(AskKind.Digits, n, Form.Numeral))];
        Assert.True(Naming.Of(one, one[0]).IsOfOne);
        Assert.Equal(9, Naming.Of(one, one[0]).Keys.Count);
    }

    [Fact]
    public void Other_kinds_that_can_be_asked_are_offered_once_each()
    {
        List<Ask> all = [.. Sums(3), new(AskKind.Say, 3, Form.Dice), new(AskKind.Say, 4, Form.Dice), new(AskKind.Say, 4, Form.Numeral)];
        Assert.Equal([new Ask(AskKind.Say, 3, Form.Dice).WithoutNumbers(4), new(AskKind.Say, 4, Form.Numeral), all[2]], Naming.Of(all, all[2]).Kinds);
        // What was tapped of another kind is no number here.
        Assert.Null(Naming.Of(all, new Ask(AskKind.Say, 3, Form.Dice), 90).Tapped);
    }

    [Fact]
    public void Sums_of_four_are_not_named_by_two_numbers_though_one_is_likely()
    {
        List<Ask> all = [new(AskKind.Join, [4, 3, 2, 1], Form.Numeral), new(AskKind.Join, [4, 3, 2], Form.Numeral), new(AskKind.Join, [5, 2, 1], Form.Numeral), new(AskKind.Join, [6, 4, 3], Form.Numeral)];
        Assert.Empty(Naming.Of(all, all[0]).Keys);
        Assert.Equal(["5", "6", "7"], Naming.Of([.. all, new(AskKind.Join, 5, 2, Form.Numeral), new(AskKind.Join, 6, 2, Form.Numeral), new(AskKind.Join, 7, 2, Form.Numeral)], all[0]).Keys.Select(k => k.Says));
    }

    [Fact]
    public void Kinds_are_told_apart_by_the_form_in_which_they_differ()
    {
        List<Ask> all = [new(AskKind.Match, [5], Form.Spoken, Form.Dice), new(AskKind.Match, [5], Form.Spoken, Form.Tally), new(AskKind.Say, 5, Form.Dice), new(AskKind.Say, 5, Form.Numeral), new(AskKind.Join, 5, 3, Form.Dice)];
        var naming = Naming.Of(all, all[0]);
        Assert.Equal(5, naming.Kinds.Select(naming.Says).Distinct().Count());
        Assert.Equal(["dice", "tally"], naming.Kinds.Where(k => k.Kind == AskKind.Match).Select(k => naming.Says(k).Split(", ")[^1]).Order());
        Assert.DoesNotContain(",", naming.Says(all[4]), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("join * numeral to 20"), InlineData("join * numeral"), InlineData("match * dice numeral to 6"), InlineData("part * numeral to 10 +line"), InlineData("words * to 30"), InlineData("say * dice to 6")]
    public void An_ask_without_its_numbers_is_read_and_written(string text)
    {
        var ask = Ask.Parse(text, out string problem);
        Assert.Equal("", problem);
        Assert.Equal(text, ask.ToString());
        Assert.True(ask!.Value.IsWithoutNumbers);
        Assert.Equal((0, -1, ""), (ask.Value.Count, ask.Value.Answer, ask.Value.AnswerWords()));
        Assert.DoesNotContain('0', ask.Value.Question());
        Assert.Equal(0, ChildModel.FactKey(ask.Value));
    }

    [Theory]
    [InlineData("join * 3 numeral"), InlineData("join * to 20"), InlineData("join * numeral to"), InlineData("join * numeral to 0"), InlineData("join 5 3 numeral to 20"), InlineData("join * numeral to 5 to 6"), InlineData("*")]
    public void What_only_looks_like_it_is_refused(string text)
    {
        Assert.Null(Ask.Parse(text, out string problem));
        Assert.NotEqual("", problem);
    }

    [Fact]
    public void Every_kind_can_be_noted_without_its_numbers()
    {
        Span<int> bands = stackalloc int[4];
        foreach (var facts in AskKinds.All)
            foreach (int to in new[] { 0, 4, 10, 20, 100 })
            {
                var ask = Ask.Parse(facts.Example, out _)!.Value.WithoutNumbers(to);
                Assert.Equal(1, Feeding.Of(ask, bands));
                Assert.True(double.IsFinite(Difficulty.Of(ask)));
                Assert.False(string.IsNullOrEmpty(ask.Question()));
                Assert.Equal(ask, Ask.Parse(ask.ToString(), out _));
            }
    }

    [Fact]
    public void A_note_without_numbers_speaks_of_the_skill_in_its_range_and_of_no_fact()
    {
        var at = new DateTimeOffset(2026, 3, 2, 9, 0, 0, TimeSpan.Zero);
        var day = new DateOnly(2026, 3, 2);
        Ask unnamed = Ask.Parse("part * numeral to 10", out _)!.Value, fact = new(AskKind.Part, 10, 3, Form.Numeral), other = new(AskKind.Part, 10, 4, Form.Numeral);
        var before = new ChildModel(5.5);
        var without = ChildModel.Of(5.5, Enumerable.Repeat(new Observation(at, unnamed, Seen.How(Outcome.SawIt)), 5));
        var with = ChildModel.Of(5.5, Enumerable.Repeat(new Observation(at, fact, Seen.How(Outcome.SawIt)), 5));
        Assert.True(without.Right(fact, day) > before.Right(fact, day) + .1);
        // Both facts have risen by as much: of neither anything was said.
        Assert.Equal(without.Ability(fact, day).Mean - before.Ability(fact, day).Mean, without.Ability(other, day).Mean - before.Ability(other, day).Mean, 9);
        Assert.True(with.Ability(fact, day).Mean - with.Ability(other, day).Mean > before.Ability(fact, day).Mean - before.Ability(other, day).Mean + .05);
        int band = Feeding.BandIndex("partners", 10);
        Assert.Equal((5, 5), (without.Standing(band, day).Seen, without.Standing(band, day).RightSeen));
    }

    [Fact]
    public void What_can_only_be_one_thing_is_that()
    {
        Ask[] all = [new(AskKind.Say, 3, Form.Dice), new(AskKind.Say, 5, Form.Dice), new(AskKind.Take, 5, Form.Objects)];
        Assert.Equal("say * dice to 5", Naming.Unnamed(all, all[0]).ToString());
        Assert.Equal(all[2], Naming.Unnamed(all, all[2]));
        var naming = Naming.Of(all, Naming.Unnamed(all, all[0]));
        Assert.Equal(["say * dice to 5", "take 5 objects"], naming.Kinds.Select(k => k.ToString()).Order());
        Assert.Equal(["say 3 dice", "say 5 dice"], naming.Keys.Select(k => k.Ask.ToString()));
    }
}
