using Allowance.Core.Asks;
using Allowance.Core.Forms;

namespace Allowance.Core.Tests;

/// <summary>With real things, what was asked is named by tapping its numbers.</summary>
public class NamingTests
{
    private static List<Ask> Sums(int most) => [.. Enumerable.Range(1, most).SelectMany(a => Enumerable.Range(1, a).Select(b => new Ask(AskKind.Join, a, b, Form.Numeral)))];

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
    public void Other_kinds_that_can_be_asked_are_offered_once_each()
    {
        List<Ask> all = [.. Sums(3), new(AskKind.Say, 3, Form.Dice), new(AskKind.Say, 4, Form.Dice), new(AskKind.Say, 4, Form.Numeral)];
        Assert.Equal([new(AskKind.Say, 3, Form.Dice), new(AskKind.Say, 4, Form.Numeral), all[2]], Naming.Of(all, all[2]).Kinds);
        // What was tapped of another kind is no number here.
        Assert.Null(Naming.Of(all, new Ask(AskKind.Say, 3, Form.Dice), 90).Tapped);
    }
}
