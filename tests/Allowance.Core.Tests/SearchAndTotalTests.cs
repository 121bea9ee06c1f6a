using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Sum Search and Running Total: by trying everything, by hand, and as they are played.</summary>
public class SearchAndTotalTests
{
    private static CheckedReading Read(string game, string table, string players = "[{}]", string level = "", string more = "") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}"{{(level.Length > 0 ? $",\"level\":\"{level}\"" : "")}},"table":{{table}},"players":{{players}}{{more}}}""");

    private static Playable Good(string game, string table, string players = "[{}]", string level = "")
    {
        var reading = Read(game, table, players, level);
        Assert.Empty(reading.Problems);
        return reading.Playable!;
    }

    [Theory]
    // 3 + 7 in two ways, 9 + 1 in one.
    [InlineData("""{"layout":[3,3,7,9,1],"count":2,"op":"sum"}""", """{"4":2,"6":1,"8":1,"10":3,"12":2,"16":1}""")]
    [InlineData("""{"layout":[3,3,7,9,1],"op":"difference"}""", """{"0":1,"2":3,"4":2,"6":3,"8":1}""")]
    [InlineData("""{"layout":[0,2,3],"op":"product"}""", """{"0":2,"6":1}""")]
    [InlineData("""{"layout":[1,2,3,4],"count":3,"op":"sum"}""", """{"6":1,"7":1,"8":1,"9":1}""")]
    [InlineData("""{"layout":[5],"op":"sum"}""", "{}")]
    public void Ways_on_a_layout_by_hand(string position, string ways)
    {
        var reading = Read("spotsum", "{}", more: $$""","forecast":{"position":{{position}}}""");
        Assert.Empty(reading.Problems);
        Assert.Equal(ways, reading.Position!.Find("ways")!.ToJson().ToJsonString());
    }

    [Theory]
    [InlineData("""{"layout":[1,2],"op":"power"}""", "forecast.position.op")]
    [InlineData("""{"layout":[1,2],"op":"difference","count":3}""", "forecast.position.count")]
    [InlineData("""{"count":2}""", "forecast.position.layout")]
    public void Positions_that_cannot_be_are_refused(string position, string path) =>
        Assert.Equal(path, Assert.Single(Read("spotsum", "{}", more: $$""","forecast":{"position":{{position}}}""").Problems).Path);

    /// <summary>What goes is what trying all cards finds, with zeros and with sums beyond 63 too.</summary>
    [Theory]
    [InlineData("sum", 2, "0,1,2,3,4,5,7")]
    [InlineData("sum", 2, "20,25,30,35,40,60")]
    [InlineData("sum", 3, "0,1,2,3,4,8,30")]
    [InlineData("difference", 2, "0,1,3,4,7,60")]
    [InlineData("product", 2, "0,1,2,3,4,6")]
    [InlineData("product", 3, "0,1,2,3,4")]
    public void All_cards_that_come_to_what_was_called_are_found(string ops, int count, string numbers)
    {
        string deck = string.Join(',', numbers.Split(',').Select(n => $"\"{n}\":3"));
        var game = Good("spotsum", $$"""{"deck":{"counts":{ {{deck}} } },"layout":[3,4],"ops":"{{ops}}","count":{{count}} }""").Compile();
        for (int g = 0; g < 20; g++)
        {
            var rng = Rng.ForGame(3, g);
            for (var run = game.Start(0); run.Next.Kind != StepKind.Over;)
            {
                if (run.Next.Kind == StepKind.Chance)
                {
                    run.Deal(run.Draw(ref rng));
                    continue;
                }
                // Of no distance it is said that they are the same.
                int called = Regex.Match(run.Says, @"\d+") is { Success: true } number ? int.Parse(number.Value) : 0;
                int[] lie = [.. run.Zones.OfType<CardGrid>().Single().Items.Where(i => i.Value >= 0).Select(i => i.Value).Order()];
                var goes = new HashSet<string>();
                for (int a = 0; a < lie.Length; a++)
                    for (int b = a + 1; b < lie.Length; b++)
                        for (int c = count == 3 ? b + 1 : lie.Length - 1; c < lie.Length; c++)
                        {
                            int third = count == 3 ? lie[c] : ops == "product" ? 1 : 0;
                            if (called == (ops == "sum" ? lie[a] + lie[b] + third : ops == "product" ? lie[a] * lie[b] * third : lie[b] - lie[a])) goes.Add($"{lie[a]} {lie[b]} {(count == 3 ? third : "")}");
                        }
                Assert.NotEmpty(goes);
                Assert.Equal(goes.Count, run.Moves.Distinct().Count());
                run.Apply(run.Plain(ref rng), true);
            }
        }
    }

    [Fact]
    public void What_is_called_can_be_found_and_is_called_no_higher_than_she_may()
    {
        var playable = Good("spotsum", """{"layout":[3,3],"callTo":9,"ops":"mixed"}""", """[{"age":6},{"age":7,"allowance":{"callTo":14}}]""");
        var game = playable.Compile(new LearnerAnswers(playable.Setup, new(2026, 1, 1)));
        for (int g = 0; g < 50; g++)
        {
            var rng = Rng.ForGame(4, g);
            var run = game.Start(0);
            while (run.Next.Kind != StepKind.Over && run.Turns < 60)
            {
                if (run.Next.Kind == StepKind.Chance)
                {
                    var possible = run.Possibilities;
                    int outcome = run.Draw(ref rng);
                    Assert.Contains(possible, p => p.Outcome == outcome);
                    run.Deal(outcome);
                    continue;
                }
                var ask = Assert.Single(run.Asks(run.Plain(ref rng))).Ask;
                int called = ask.Kind == AskKind.Part ? ask[0] : ask.Answer;
                Assert.InRange(called, 0, run.Next.Seat == 0 ? 9 : 14);
                run.Apply(run.Best(ref rng), true);
            }
            Assert.Equal(StepKind.Over, run.Next.Kind);
        }
    }

    [Fact]
    public void Calls_fit_the_one_who_looks()
    {
        double Mean(string players)
        {
            var playable = Good("spotsum", """{"layout":[4,5]}""", players);
            var game = playable.Compile(new LearnerAnswers(playable.Setup, new(2026, 1, 1)));
            var called = new List<int>();
            for (int g = 0; g < 200; g++)
            {
                var rng = Rng.ForGame(4, g);
                var run = game.Start(0);
                while (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                called.Add(run.Asks(run.Plain(ref rng))[0].Ask[0]);
            }
            return called.Average();
        }

        Assert.True(Mean("""[{"age":4}]""") < Mean("""[{"age":8}]""") - 1);
    }

    [Fact]
    public void Cards_are_found_by_tapping_and_what_they_come_to_is_told()
    {
        var run = Good("spotsum", """{"deck":{"counts":{"2":1,"3":1,"5":2}},"layout":[1,4],"refill":false}""").Compile().Start(0);
        foreach (int card in new[] { 2, 3, 5, 5 }) run.Deal(card);
        Assert.Equal(["5, found in 1 way", "7, found in 2 ways", "8, found in 2 ways", "10, found in 1 way"], run.Helps.OrderBy(h => int.Parse(h.Split(',')[0])));
        run.Deal(7);
        Assert.Equal("Which two make 7?", run.Says);
        Assert.Equal("3 and 5 make 8, not 7. Look again together.", run.Read([1, 2]).Words);
        var found = run.Read([3, 0]).Move!.Value;
        Assert.Equal("part 7 5 numeral", $"{run.Asks(found)[0].Ask}");
        run.Apply(found, true);
        run.Deal(8);
        Assert.Equal("8 was not found this time: 3 and 5", run.Tells(Move.Pass, false));
        run.Apply(Move.Pass, false);
        Assert.Equal((StepKind.Over, 2, true), (run.Next.Kind, run.Points(0), run.AimReached));
    }

    [Theory]
    [InlineData("""{"deck":{"counts":{"1":2,"4":1,"6":2}}}""", 3)]
    [InlineData("""{"deck":{"counts":{"0":1,"2":2,"3":1,"9":1}}}""", 2)]
    public void Totals_are_those_of_all_sets_of_cards(string table, int cards)
    {
        var playable = Good("runningtotal", table.Replace("}}}", "}},\"stopAt\":9}", StringComparison.Ordinal), """[{"allowance":{"range":[4,10]}}]""");
        int[] pack = [.. playable.Setup.Get<DeckValue>("deck").Deck.Counts.SelectMany(c => Enumerable.Repeat(c.Key, c.Value))];
        var facts = playable.ExactFacts();
        for (int c = 1; c <= pack.Length; c++)
        {
            var totals = Subsets(pack, c).Select(s => s.Sum()).Order().ToList();
            Assert.Equal(totals.Average(), ((MapFact)facts.Find("totalMean")!)[c], 9);
            Assert.Equal(totals[(int)Math.Ceiling(.9 * totals.Count - 1e-9) - 1], ((MapFact)facts.Find("totalP90")!)[c]);
        }
        int inRange = Enumerable.Range(1, pack.Length).LastOrDefault(c => Subsets(pack, c).Average(s => s.Sum() is >= 4 and <= 10 ? 1.0 : 0) >= .9);
        Assert.Equal((inRange, true), ((int)facts.Number("cardsInRange"), cards > 0));
    }

    private static IEnumerable<int[]> Subsets(int[] cards, int size, int from = 0) =>
        size == 0 ? [[]] : Enumerable.Range(from, cards.Length - from).SelectMany(i => Subsets(cards, size - 1, i + 1).Select(rest => (int[])[cards[i], .. rest]));

    private static string Turn(Run run, int card)
    {
        run.Deal(card);
        string ask = string.Join(';', run.Asks(run.Moves[0]).Select(a => a.Ask));
        run.Apply(run.Moves[0], true);
        return ask;
    }

    [Fact]
    public void A_round_goes_on_to_its_number_and_then_the_next_one_begins()
    {
        var run = Good("runningtotal", """{"stopAt":10,"rounds":1}""", "[{},{}]", "head").Compile().Start(0);
        Assert.Equal(["say 4 numeral", "join 5 4 numeral"], new[] { Turn(run, 4), Turn(run, 5) });
        Assert.Equal(0, run.Next.Seat);
        Assert.Equal("join 9 3 numeral", Turn(run, 3));
        Assert.Equal((1, 12), (run.Next.Seat, run.Points(0)));
        foreach (int card in new[] { 6, 6 }) Turn(run, card);
        Assert.Equal((StepKind.Over, 12, true), (run.Next.Kind, run.Points(1), run.AimReached));
        // What it came to stays in view.
        Assert.Equal((12, ItemState.Up), run.Zones.OfType<TurnedPile>().Single().Together is { } slip ? (slip.Value, slip.State) : default);
    }

    [Fact]
    public void Taken_away_what_is_too_much_ends_it()
    {
        var run = Good("runningtotal", """{"stopAt":8,"rounds":1}""", level: "down").Compile().Start(0);
        Assert.Equal(["gone 8 5 numeral", ""], new[] { Turn(run, 5), Turn(run, 6) });
        Assert.Equal((StepKind.Over, 5), (run.Next.Kind, run.Points(0)));
        run = Good("runningtotal", """{"stopAt":8,"rounds":1}""", level: "down").Compile().Start(0);
        Assert.Equal(["gone 8 5 numeral", "gone 3 3 numeral"], new[] { Turn(run, 5), Turn(run, 3) });
        Assert.Equal((StepKind.Over, 8), (run.Next.Kind, run.Points(0)));
    }

    [Fact]
    public void From_more_than_all_cards_are_worth_it_is_taken_away_to_the_last_card()
    {
        var playable = Good("runningtotal", """{"deck":{"counts":{"5":2,"6":1}},"stopAt":100,"rounds":1}""", level: "down");
        var forecast = Forecaster.Make(playable, new LearnerAnswers(playable.Setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 50), new Facts());
        Assert.Equal((3, 3), (forecast.Turns.P10, forecast.Turns.P90));
        Assert.Contains(forecast.Players[0].Asks, a => $"{a.Ask}" == "gone 100 5 numeral");
    }

    [Fact]
    public void The_sand_ends_a_round_whenever_it_has_run_out()
    {
        var run = Good("runningtotal", """{"stopAt":null,"rounds":1,"seconds":30}""", level: "head").Compile().Start(0);
        foreach (int card in new[] { 4, 5 }) Turn(run, card);
        run.Deal(6);
        var runOut = run.Read([0]).Move!.Value;
        Assert.True(run.IsLegal(runOut));
        Assert.Empty(run.Asks(runOut));
        run.Apply(runOut, true);
        Assert.Equal((StepKind.Over, 9), (run.Next.Kind, run.Points(0)));
        Assert.False(Good("runningtotal", "{}").Compile().Start(0) is var without && without.IsLegal(runOut));
    }

    [Fact]
    public void A_key_to_break_off_says_all_it_says_where_there_is_little_room()
    {
        var keys = new ChoiceKeys("The sand", [new(0, 0, Form.None, ItemState.Up, true) { Words = "sand is out" }]) { BreaksOff = true };
        foreach (double wide in new[] { 60.0, 90, 400 })
        {
            var part = Drawing.Of([keys], new(wide, 200), DrawnBy.Default).Parts.Single();
            var words = Assert.Single(part.Shapes.OfType<WordsShape>());
            Assert.Equal("sand is out", words.Words);
            Assert.True(words.Extent.Left >= part.Box.Left && words.Extent.Right <= part.Box.Right);
        }
    }

    [Fact]
    public void The_line_reaches_as_far_as_the_next_card_can_lead_and_things_lie_in_view()
    {
        var line = Good("runningtotal", """{"stopAt":null}""", level: "line").Compile().Start(0);
        var things = Good("runningtotal", """{"stopAt":null}""", level: "things").Compile().Start(0);
        foreach (int card in new[] { 6, 6, 6, 6 })
        {
            Turn(line, card);
            Turn(things, card);
        }
        var drawn = Assert.Single(line.Zones.OfType<NumberLine>());
        Assert.Equal((0, 30, 24), (drawn.Low, drawn.High, Assert.Single(drawn.Pointed)));
        Assert.Equal(24, Assert.Single(things.Zones.OfType<Heap>()).Lots.Sum(l => l.Count));
        Assert.All(line.Zones.Concat(things.Zones).OfType<TurnedPile>(), z => Assert.Null(z.Together));
        var along = Good("runningtotal", "{}", level: "line");
        Assert.Contains(new Need("lines", 1), along.Frame.Needs(along.Setup));
    }

    [Theory]
    [InlineData("spotsum", """{"layout":[6,8]}""", "table.layout", "[6,6]")]
    [InlineData("spotsum", """{"ops":"difference","count":3}""", "table.count", "2")]
    [InlineData("spotsum", """{"deck":{"counts":{"7":4,"9":4}},"layout":[2,3],"callTo":10}""", "table.callTo", "14")]
    [InlineData("runningtotal", """{"deck":{"counts":{"1":4}},"stopAt":5}""", "table.stopAt", "4")]
    [InlineData("runningtotal", """{"seconds":5}""", "table.seconds", "10")]
    public void What_does_not_go_is_refused_with_what_does(string game, string table, string path, string nearest)
    {
        var problem = Assert.Single(Read(game, table).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }
}
