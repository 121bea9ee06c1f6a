using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Lookalikes: exact flips worked by hand, by every order of few cards, and by play.</summary>
public class LookalikesTests
{
    private static CheckedReading Read(string level, string table, string players = "[{\"age\":5}]") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"lookalikes","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static Setup Played(string level, string table, string players = "[{\"age\":5}]")
    {
        var reading = Read(level, table, players);
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static Forecast Of(Setup setup, Behaviour behaviour = Behaviour.Plain, int samples = 20_000) =>
        Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(behaviour, 3, samples));

    /// <summary>One pair is one flip; two pairs with all remembered: a third of the time two flips, else three.</summary>
    [Theory]
    [InlineData(1, false, 1, 1)]
    [InlineData(2, false, 4, 8 / 3.0)]
    [InlineData(3, false, 9, 4.0 + 1 / 3.0)]
    [InlineData(1, true, 1, 1)]
    [InlineData(2, true, 3, 2.5)]
    public void Flips_of_few_pairs_are_as_worked_by_hand(int pairs, bool twoBacks, double none, double all)
    {
        Assert.Equal(none, MemoryFacts.WithNone(pairs, twoBacks), 12);
        Assert.Equal(all, MemoryFacts.WithAll(pairs, twoBacks), 12);
    }

    [Fact]
    public void Flips_with_all_remembered_are_the_mean_over_every_order()
    {
        foreach (int pairs in new[] { 2, 3, 4 })
        {
            Assert.Equal(Orders(2 * pairs).Average(o => (double)Flips(o, o, false)), MemoryFacts.WithAll(pairs, false), 9);
            var halves = Orders(pairs).ToList();
            Assert.Equal(halves.SelectMany(a => halves, (a, b) => (double)Flips([.. a.Select(c => 2 * c)], [.. b.Select(c => 2 * c + 1)], true)).Average(), MemoryFacts.WithAll(pairs, true), 9);
        }
    }

    [Fact]
    public void Many_pairs_need_about_as_many_flips_as_is_known()
    {
        foreach (int pairs in new[] { 20, 30 }) Assert.Equal(1.614 * pairs - .511, MemoryFacts.WithAll(pairs, false), .02);
    }

    private static IEnumerable<int[]> Orders(int n) => n == 0 ? [[]] : Orders(n - 1).SelectMany(o => Enumerable.Range(0, n).Select(at => (int[])[.. o[..at], n - 1, .. o[at..]]));

    /// <summary>Plays cards that come in a given order, remembering everything, written again on its own.</summary>
    private static int Flips(int[] first, int[] second, bool twoBacks)
    {
        var seen = new HashSet<int>();
        var (a, b) = (new Queue<int>(first), twoBacks ? new Queue<int>(second) : null);
        int flips = 0, left = twoBacks ? first.Length : first.Length / 2;
        while (left > 0)
        {
            flips++;
            if (seen.FirstOrDefault(c => seen.Contains(c ^ 1), -1) is >= 0 and var known)
            {
                seen.Remove(known);
                seen.Remove(known ^ 1);
                left--;
                continue;
            }
            var from = b is not null && a.Count == 0 ? b : a;
            int one = from.Dequeue();
            seen.Add(one);
            if (!seen.Contains(one ^ 1)) seen.Add((b is null ? a : from == a ? b : a).Dequeue());
            if (!seen.Contains(one ^ 1)) continue;
            seen.Remove(one);
            seen.Remove(one ^ 1);
            left--;
        }
        return flips;
    }

    [Theory]
    [InlineData("perfect", false, true)]
    [InlineData("perfect", true, false)]
    [InlineData("none", false, false)]
    [InlineData("none", true, true)]
    public void Exact_flips_and_turns_agree_with_play(string memory, bool twoBacks, bool again)
    {
        var setup = Played("facedown", $$"""{"values":[1,5],"memory":"{{memory}}","twoBacks":{{(twoBacks ? "true" : "false")}},"again":{{(again ? "true" : "false")}}}""");
        // Whoever plays best remembers no more than others; there is nothing else to choose.
        foreach (var behaviour in new[] { Behaviour.Plain, Behaviour.Perfect })
        {
            var forecast = Of(setup, behaviour);
            double turns = ((NumberFact)forecast.Facts.Find("turnsMean")!).Value, flips = ((NumberFact)forecast.Facts.Find("flipsMean")!).Value;
            Assert.False(forecast.Facts.Find("flipsMean")!.Simulated);
            Assert.InRange(forecast.Turns.Mean, turns - 4 * forecast.Turns.Sd / Math.Sqrt(20_000), turns + 4 * forecast.Turns.Sd / Math.Sqrt(20_000));
            Assert.Equal(again ? turns + 4 : turns, flips, 9);
        }
    }

    [Theory]
    [InlineData(Behaviour.Plain)]
    [InlineData(Behaviour.Perfect)]
    public void Whoever_remembers_more_needs_fewer_flips(Behaviour behaviour)
    {
        double[] flips = [.. new[] { "\"none\"", "2", "4", "8", "\"perfect\"" }.Select(m => ((NumberFact)Of(Played("facedown", $$"""{"values":[1,6],"memory":{{m}}}"""), behaviour, 5_000).Facts.Find("flipsMean")!).Value)];
        Assert.Equal(flips.OrderDescending(), flips);
        Assert.Equal(MemoryFacts.WithAll(6, false), flips[^1], 9);
        Assert.True(((NumberFact)Of(Played("facedown", """{"values":[1,6],"memory":4}"""), behaviour).Facts.Find("flipsMean")!).Error > 0);
    }

    /// <summary>The span written again on its own: the last m different cards turned, those taken included.</summary>
    [Theory]
    [InlineData(5, 2, 20_000)]
    [InlineData(5, 4, 20_000)]
    [InlineData(5, 7, 20_000)]
    [InlineData(20, 6, 1_000)]
    public void A_span_is_the_cards_seen_last(int pairs, int span, int games)
    {
        var rng = new Rng(9);
        double sum = 0;
        for (int game = 0; game < games; game++)
        {
            var left = Enumerable.Range(0, 2 * pairs).ToList();
            var seen = new List<int>();
            while (left.Count > 0)
            {
                sum++;
                List<int> remembered = [.. seen.Take(span).Where(left.Contains)];
                int first = remembered.Find(c => remembered.Contains(c ^ 1)) is var known && remembered.Contains(known) && remembered.Contains(known ^ 1) ? known : OneOf([.. left.Except(remembered)], left);
                See(seen, first);
                remembered = [.. seen.Take(span).Where(left.Contains)];
                int second = remembered.Contains(first ^ 1) ? first ^ 1 : OneOf([.. left.Except(remembered).Where(c => c != first)], [.. left.Where(c => c != first)]);
                See(seen, second);
                if (second == (first ^ 1)) left.RemoveAll(c => c / 2 == first / 2);
            }
        }
        var fact = (NumberFact)Of(Played("facedown", $$"""{"values":[1,{{pairs}}],"memory":{{span}},"again":false}"""), samples: games).Facts.Find("flipsMean")!;
        Assert.InRange(fact.Value, sum / games - 6 * fact.Error, sum / games + 6 * fact.Error);

        static void See(List<int> seen, int card)
        {
            seen.Remove(card);
            seen.Insert(0, card);
        }

        int OneOf(List<int> cards, List<int> otherwise) => cards.Count > 0 ? cards[rng.Below(cards.Count)] : otherwise[rng.Below(otherwise.Count)];
    }

    [Fact]
    public void Two_who_remember_alike_win_about_alike()
    {
        var wins = Of(Played("facedown", """{"values":[1,7],"memory":"none","first":"draw"}""", """[{"age":5},{"age":5}]""")).Wins;
        Assert.Equal(wins[0], wins[1], .02);
        var uneven = Of(Played("facedown", """{"values":[1,7]}""", """[{"age":5,"allowance":{"memory":"none"}},{"age":7,"allowance":{"memory":"perfect"}}]""")).Wins;
        Assert.True(uneven[1] > uneven[0] + .3);
        var spans = Of(Played("facedown", """{"values":[1,20]}""", """[{"age":5,"allowance":{"memory":2}},{"age":7,"allowance":{"memory":16}}]"""), samples: 2_000).Wins;
        Assert.True(spans[1] > spans[0] + .3, $"{spans[0]:0.00} and {spans[1]:0.00}");
    }

    [Theory]
    [InlineData("faceup", "{}", "match 3 numeral dice", "match 3 dice numeral")]
    [InlineData("partner", """{"mode":"faceup"}""", "part 10 3 numeral", "part 10 7 dice")]
    [InlineData("plus", """{"mode":"faceup","plus":2}""", "on 3 2 numeral")]
    public void A_pair_asks_by_the_card_that_was_seen_first(string level, string table, params string[] asks)
    {
        table = table.Insert(1, level == "partner" ? "\"values\":[4,9]," : "").Replace(",}", "}");
        if (level == "partner") asks = [.. asks.Select(a => a.Replace("10 3 numeral", "10 4 numeral").Replace("10 7 dice", "10 6 dice"))];
        var met = Of(Played(level, table), samples: 2_000).Players[0].Asks.Select(a => a.Ask.ToString()).ToList();
        Assert.All(asks, ask => Assert.Contains(ask, met));
    }

    [Theory]
    [InlineData("line", """{"values":[1,4]}""", 4)]
    [InlineData("line", """{"values":[2,5],"copies":3,"forms":["dice","fingers"]}""", 24)]
    [InlineData("lineUp", """{"values":[1,4],"copies":2}""", 12)]
    public void In_a_row_every_card_goes_under_its_own_and_another_place_is_told(string level, string table, int turns)
    {
        var run = Played(level, table).Ready().Compile().Start(0);
        var rng = new Rng(4);
        while (run.Next.Kind != StepKind.Over)
        {
            if (run.Next.Kind == StepKind.Chance)
            {
                run.Deal(run.Draw(ref rng));
                continue;
            }
            var card = run.Zones.OfType<Stage>().Single().Shown[0];
            var row = run.Zones.OfType<CardRow>().Single();
            int place = card.Value - (table.Contains("[2,5]") ? 2 : 1);
            Assert.Contains("Look again", run.Read([(place + 1) % 4]).Words);
            Assert.True(row.Items.Single(i => i.Id == place).CanTap);
            Assert.Single(run.Moves);
            run.Apply(run.Read([place]).Move!.Value, true);
        }
        Assert.Equal((turns, 0), (run.Turns, run.Left));
        var end = run.Zones.OfType<CardRow>().Single();
        Assert.All(end.Below, (below, i) => Assert.All(below, c => Assert.Equal(end.Above[i].Value, c.Value)));
    }

    [Fact]
    public void A_row_put_in_order_first_asks_where_each_number_goes()
    {
        var run = Played("lineUp", """{"values":[1,4]}""").Ready().Compile().Start(0);
        var asked = new List<string>();
        // 3, then 1, then 2 between them, then 4.
        foreach (int column in new[] { 2, 0, 1, 3 })
        {
            run.Deal(column);
            asked.AddRange(run.Asks(run.Moves[0]).Select(a => a.Ask.ToString()));
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal(["order 1 3 numeral", "order 1 2 3 numeral", "order 3 4 numeral"], asked);
        run.Deal(4);
        Assert.Equal("match 1 dice numeral", run.Asks(run.Moves[0]).Single().Ask.ToString());
    }

    [Fact]
    public void With_two_backs_both_cards_may_show_the_same()
    {
        var setup = Played("facedown", """{"values":[1,6],"formB":"numeral","twoBacks":true}""");
        Assert.Equal("match 3 numeral numeral", Of(setup, samples: 200).Players[0].Asks.Select(a => a.Ask.ToString()).Single(a => a.Contains(" 3 ")));
        var cards = setup.Ready().Compile().Start(0).Zones.OfType<CardGrid>().Single();
        Assert.True(cards.TwoBacks);
        Assert.Contains("two packs", string.Join(' ', Catalogue.Of(setup).GetReady(setup)));
    }

    [Theory]
    [InlineData("facedown", """{"formB":"numeral"}""", "table.formB")]
    [InlineData("faceup", """{"values":[1,20],"formB":"dice"}""", "table.formB")]
    [InlineData("faceup", """{"pairs":9}""", "table.pairs")]
    [InlineData("line", """{"forms":["numeral","dice"]}""", "table.forms")]
    [InlineData("line", """{"values":[1,20],"forms":["dice"]}""", "table.forms")]
    [InlineData("line", """{"values":[1,30],"formB":"tally","copies":5}""", "table.copies")]
    [InlineData("partner", """{"values":[11,15]}""", "table.values")]
    [InlineData("faceup", """{"values":"many"}""", "table.values")]
    [InlineData("facedown", """{"memory":99}""", "table.memory")]
    public void What_does_not_go_is_refused_with_what_does(string level, string table, string path)
    {
        var problem = Assert.Single(Read(level, table).Problems);
        Assert.Equal(path, problem.Path);
        string knob = path["table.".Length..];
        Assert.Empty(Read(level, $$"""{"{{knob}}":{{problem.Nearest!.ToJsonString()}}}""").Problems);
    }

    [Fact]
    public void Fewer_pairs_than_numbers_are_spread_over_them()
    {
        var asks = Of(Played("faceup", """{"values":[1,9],"pairs":3,"formB":"ten-frame"}"""), samples: 200).Players[0].Asks;
        Assert.Equal([1, 5, 9], asks.Select(a => a.Ask[0]).Distinct().Order());
        Assert.Equal(3, asks.Sum(a => a.PerGame), 1);
    }
}
