using System.Text.Json.Nodes;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>Chain Call: always one cycle through all cards, or a reason with the nearest that goes.</summary>
public class ChainCallTests
{
    private static CheckedReading Read(string table, int players = 1) =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"chaincall","table":{{table}},"players":[{{string.Join(',', Enumerable.Repeat("{\"age\":6}", players))}}]}""");

    private static List<(int Has, int Seeks)> Cards(Setup setup) =>
        [.. ((JsonArray)setup.Ready().ExactFacts().Find("cards")!.ToJson()).Select(c => ((int)(long)c!["has"]!, (int)(long)c["seeks"]!))];

    private static int? Answer(RelationValue relation, int called) => relation.Relation switch
    {
        Relation.Plus => called + relation.By,
        Relation.Minus => called - relation.By,
        Relation.Partner => relation.By - called,
        Relation.Double => 2 * called,
        _ => called,
    };

    [Fact]
    public void Every_chain_is_one_cycle_through_all_its_cards()
    {
        int chains = 0;
        Setups.Random(Catalogue.Data.First(f => f.Id == "chaincall")).Sample(setup =>
        {
            if (setup.Problems().Count > 0) return;
            chains++;
            var cards = Cards(setup);
            var values = setup.Get<NumbersValue>("values").Numbers;
            Assert.Equal(cards.Count, cards.Select(c => c.Has).Distinct().Count());
            Assert.All(cards, c => Assert.True(values.Contains(c.Has) && values.Contains(c.Seeks)));
            int at = 0;
            var visited = new HashSet<int>();
            while (visited.Add(at)) at = cards.FindIndex(c => c.Has == Answer(setup.Get<RelationValue>("relation"), cards[at].Seeks));
            Assert.Equal((0, cards.Count), (at, visited.Count));
            if (setup.Get("cards") is WholeValue wanted) Assert.Equal(wanted.Number, cards.Count);
        }, iter: 600, threads: 1);
        Assert.True(chains > 60, $"only {chains} chains");
    }

    /// <summary>Of 1 to 10: ten are the same as some; nine are one more; nine have a partner to 10 (5 its own); five are doubles.</summary>
    [Theory]
    [InlineData("same", 10)]
    [InlineData("plus:1", 9)]
    [InlineData("minus:3", 7)]
    [InlineData("partner:10", 9)]
    [InlineData("double", 5)]
    public void As_many_cards_as_there_are_numbers_that_can_be_called(string relation, int most)
    {
        Assert.Equal(most, Cards(Read($$"""{"relation":"{{relation}}"}""").Setup!).Count);
        if (most == 10) return;
        var problem = Assert.Single(Read($$"""{"relation":"{{relation}}","cards":10}""").Problems);
        Assert.Equal(("table.cards", most), (problem.Path, (int)problem.Nearest!));
    }

    [Theory]
    [InlineData("""{"values":[1,3,5],"relation":"double"}""", "table.relation")]
    [InlineData("""{"values":[11,20],"relation":"partner:10"}""", "table.relation")]
    [InlineData("""{"formSeeks":"numeral"}""", "table.formSeeks")]
    [InlineData("""{"values":[1,20],"formSeeks":"dice"}""", "table.formSeeks")]
    [InlineData("""{"relation":"pluss:2"}""", "table.relation")]
    [InlineData("""{"relation":"plus"}""", "table.relation")]
    public void What_cannot_be_chained_is_refused_with_what_can(string table, string path)
    {
        var problem = Assert.Single(Read(table).Problems);
        Assert.Equal(path, problem.Path);
        var mended = JsonNode.Parse(table)!.AsObject();
        mended[path["table.".Length..]] = problem.Nearest!.DeepClone();
        Assert.Empty(Read(mended.ToJsonString()).Problems);
    }

    [Fact]
    public void Hands_differ_by_one_at_most_and_nobody_answers_herself_where_that_can_be_avoided()
    {
        for (int players = 2; players <= 6; players++)
            for (int cards = 3; cards <= 20; cards++)
            {
                var chain = new Chain(Read($$"""{"values":[1,20],"cards":{{cards}},"formSeeks":"double-ten-frame"}""", players).Setup!);
                var hands = Enumerable.Range(0, players).Select(p => chain.Owner.Count(o => o == p)).ToList();
                Assert.InRange(hands.Max() - hands.Min(), 0, 1);
                int own = chain.Owner.Where((o, i) => o == chain.Owner[(i + 1) % cards]).Count();
                Assert.Equal(players == 2 ? cards % 2 : 0, own);
            }
    }

    [Fact]
    public void The_chain_is_played_to_its_first_card_and_asks_whoever_answers()
    {
        var setup = Read("""{"values":[1,6],"relation":"plus:1"}""", 2).Setup!;
        var chain = new Chain(setup);
        var run = setup.Ready().Compile().Start(0);
        for (int turn = 0; turn < 5; turn++)
        {
            int answering = (turn + 1) % 5;
            Assert.Equal(chain.Owner[answering], run.Next.Seat);
            Assert.Equal($"on {chain.Has[answering] - 1} 1 dice", Assert.Single(run.Asks(run.Moves[0])).Ask.ToString());
            Assert.Contains("Look again", run.Read([(answering + 2) % 5]).Words);
            run.Apply(run.Read([answering]).Move!.Value, true);
        }
        Assert.Equal((StepKind.Over, true, 0), (run.Next.Kind, run.AimReached, run.Left));
        var forecast = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Samples: 500));
        Assert.Equal((5.0, 1.0), (forecast.Turns.Mean, Assert.Single(forecast.Wins)));
    }

    [Fact]
    public void A_level_at_one_place_that_the_chain_does_not_go_by_is_refused()
    {
        CheckedReading With(string level) => Catalogue.Read($$$"""{"format":"allowance-setup/1","game":"chaincall","level":"more","players":[{"age":6},{"age":5,"allowance":{"level":"{{{level}}}"}}]}""");
        Assert.Empty(With("more").Problems);
        var problem = Assert.Single(With("double").Problems);
        Assert.Equal(("players[1].allowance.level", "more"), (problem.Path, (string)problem.Nearest!));
        Assert.Contains("1 more answers", problem.Message);
    }

    [Fact]
    public void Another_shuffle_gives_another_order_of_the_same_cards()
    {
        var (one, other) = (Cards(Read("""{"values":[1,9]}""").Setup!), Cards(Read("""{"values":[1,9],"shuffle":2}""").Setup!));
        Assert.NotEqual(one, other);
        Assert.Equal(one.Select(c => c.Has).Order(), other.Select(c => c.Has).Order());
    }

    [Fact]
    public void Of_cards_that_are_dealt_on_paper_any_may_be_hers()
    {
        var setup = Read("""{"values":[1,9],"relation":"partner:10"}""", 2).Setup!;
        foreach (int seat in new[] { 0, 1 })
            Assert.Equal(Enumerable.Range(1, 9), Catalogue.Of(setup).AsksOfThings(setup, seat).Select(a => a[1]).Order());
    }
}
