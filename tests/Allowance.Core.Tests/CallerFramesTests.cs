using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>What each game with a caller calls, and its known figures.</summary>
public class CallerFramesTests
{
    private static CheckedReading Read(string game, string table, string? level = null, string players = "[{}]") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}",{{(level is null ? "" : $"\"level\":\"{level}\",")}}"table":{{table}},"players":{{players}}}""");

    private static Setup Good(string game, string table, string? level = null, string players = "[{}]")
    {
        var reading = Read(game, table, level, players);
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    private static string Asked(Setup setup, int call = 0) => string.Join("; ", ((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0)[call].Asks);

    private static Facts Facts(Setup setup) => setup.Ready().ExactFacts();

    [Theory]
    [InlineData("count", """{"dice":["d6"]}""", 6, "say 1 dice")]
    [InlineData("write", """{"dice":["d6"]}""", 6, "say 1 dice; trace 1 numeral")]
    [InlineData("match", """{"dice":["d6"]}""", 6, "match 1 dice numeral")]
    [InlineData("more", """{"dice":["d6","d6"]}""", 21, "more 1 1 dice")]
    [InlineData("sign", """{"dice":["d6","d4"]}""", 18, "more 1 1 dice")]
    [InlineData("join", """{"dice":[[2,9],[3]]}""", 2, "join 3 2 dice")]
    public void Roll_and_tell_calls_every_roll_once(string level, string table, int calls, string asks)
    {
        var setup = Good("rolltell", table, level);
        Assert.Equal(calls, ((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0).Count);
        Assert.Equal(asks, Asked(setup));
    }

    [Fact]
    public void Roll_and_tell_knows_its_dice()
    {
        var facts = Facts(Good("rolltell", """{"dice":["d6","d6"]}"""));
        Assert.Equal(6.0 / 36, ((MapFact)facts.Find("sumPmf")!)[7], 12);
        Assert.Equal(1.0 / 6, facts.Number("pSame"), 12);
        // 1, 1, 2 against 1, 2, 3, 4: two of twelve are 1 and 1, one is 2 and 2.
        Assert.Equal(3.0 / 12, Facts(Good("rolltell", """{"dice":[[1,1,2],"d4"]}""")).Number("pSame"), 12);
        Assert.Null(Facts(Good("rolltell", """{"dice":["d6"]}""")).Find("pSame"));
    }

    [Fact]
    public void Dice_that_fall_are_as_likely_as_dice_are()
    {
        var setup = Good("rolltell", """{"dice":["d6","d6"],"rolls":"dice","rounds":20}""", "join");
        var forecast = Forecaster.Make(setup.Ready(), new Learner.LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 4_000));
        Assert.Equal(20 / 36.0, forecast.Players[0].Asks.Single(a => a.Ask.ToString() == "join 3 3 dice").PerGame, 1);
        Assert.Equal(20 / 18.0, forecast.Players[0].Asks.Single(a => a.Ask.ToString() == "join 5 3 dice").PerGame, 1);
        // Too many rolls to be kept apart fall as they will, and are refused to a caller.
        Assert.Equal("dice", Assert.Single(Read("rolltell", """{"dice":["d40","d40"],"rolls":"called"}""", "join").Problems).Nearest!.GetValue<string>());
        Good("rolltell", """{"dice":["d40","d40"]}""", "join");
        Assert.Equal("""["d8","d8"]""", Assert.Single(Read("rolltell", """{"dice":["d8"]}""", "more").Problems).Nearest!.ToJsonString());
    }

    [Theory]
    // Every row of 1 to n with every number up to k that can go: 1 + 2 + 3 + 3 + 3 for five things and three at most.
    [InlineData("see", """{"start":5,"takeMax":3,"from":"any"}""", 12)]
    [InlineData("cover", """{"start":4,"takeMax":4,"from":"any"}""", 10)]
    [InlineData("chunk", """{"start":10,"takeMax":10}""", 7)]
    // Always back to the whole row: one turn for each number that goes.
    [InlineData("see", """{"start":5,"takeMax":3}""", 3)]
    [InlineData("chunk", """{"start":15,"from":"fixed"}""", 2)]
    public void Some_gone_covers_every_row_with_every_number_that_goes(string level, string table, int calls)
    {
        var setup = Good("somegone", table, level);
        var all = ((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0);
        Assert.Equal(calls, all.Count);
        Assert.Equal(calls, all.Select(c => c.Asks[0]).Distinct().Count());
        Assert.All(all, c => Assert.True(c.Asks[0] is { Kind: AskKind.Gone } ask && ask[0] >= ask[1] && ask[1] >= 1));
    }

    [Theory]
    [InlineData("see", "gone 8 1 objects")]
    [InlineData("say", "gone 8 1 objects; join 7 1 objects")]
    public void Some_gone_says_the_sentence_backwards_where_it_is_said(string level, string asks) => Assert.Equal(asks, Asked(Good("somegone", "{}", level)));

    [Theory]
    // Pairs a < b ≤ max with an even difference: for 10, 1+1+2+2+3+3+4+4 = 20; the moves are half the difference.
    [InlineData(10, 20, 2.0)]
    [InlineData(4, 2, 1.0)]
    [InlineData(5, 4, 1.25)]
    public void Even_plates_counts_the_pairs_that_can_be_made_even(int max, int pairs, double moves)
    {
        var facts = Facts(Good("evenplates", $$"""{"max":{{max}}}"""));
        Assert.Equal(pairs, facts.Number("pairs"));
        Assert.Equal(moves, facts.Number("movesMean"), 12);
    }

    [Theory]
    [InlineData("""{"max":12,"ways":3}""", "[3,6,9,12]")]
    [InlineData("""{"max":6,"ways":4,"leftovers":"allowed"}""", "[4,5,6]")]
    public void A_heap_is_shared_where_it_can_be(string table, string totals)
    {
        var setup = Good("evenplates", table, "share");
        Assert.Equal(totals, Facts(setup).Find("totals")!.ToJson().ToJsonString());
        Assert.Equal(AskKind.Share, ((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0)[0].Asks[^1].Kind);
    }

    [Fact]
    public void Plates_are_guessed_counted_compared_and_made_even() =>
        Assert.Equal("guess 3 objects; guess 1 objects; say 3 objects; say 1 objects; more 3 1 objects; even 3 1 objects", Asked(Good("evenplates", "{}")));

    [Theory]
    [InlineData("things", """{"n":5,"max":8}""", 2, "take 3 objects; more 5 3 objects")]
    [InlineData("cards", """{"n":5,"max":8}""", 6, "more 7 5 scatter")]
    [InlineData("cards", """{"n":5,"max":30}""", 6, "more 7 5 numeral")]
    [InlineData("numerals", """{"n":5,"max":8}""", 4, "more 5 5 numeral")]
    [InlineData("make", """{"n":5,"max":8}""", 0, "more * objects to 5")]
    [InlineData("make", """{"n":5,"max":8}""", 1, "take 5 objects")]
    [InlineData("howMany", """{"n":5,"max":8,"form":"dice"}""", 7, "more 8 5 dice; gap 8 5 dice")]
    public void Around_a_number_asks_fewer_the_same_or_more(string level, string table, int call, string asks) => Assert.Equal(asks, Asked(Good("around", table, level), call));

    [Theory]
    // 1 + 2 + 3 + 4 + 5 things on the rings; five cards are one sheet, seven are two.
    [InlineData("""{"from":1,"to":5}""", 15, 1)]
    [InlineData("""{"from":0,"to":6}""", 21, 2)]
    [InlineData("""{"from":3,"to":5,"copies":4}""", 48, 2)]
    public void Spots_needs_a_thing_for_every_ring(string table, int pieces, int sheets)
    {
        var facts = Facts(Good("spots", table));
        Assert.Equal((pieces, sheets), (facts.Number("piecesNeeded"), facts.Number("cardSheets")));
    }

    [Theory]
    [InlineData("rings", "say 1 numeral; take 1 spots; trace 1 numeral")]
    [InlineData("numeral-only", "say 1 numeral; take 1 numeral; trace 1 numeral")]
    [InlineData("order", "order 1 2 3 numeral; say 1 numeral; take 1 spots; trace 1 numeral")]
    [InlineData("sentence", "join 2 1 numeral")]
    public void Spots_asks_by_level(string level, string asks) => Assert.Equal(asks, Asked(Good("spots", "{}", level)));

    [Fact]
    public void A_sentence_is_laid_only_from_cards_that_are_there()
    {
        // With one card of each from 1 to 5: 2 + 1, 3 + 1, 3 + 2, 4 + 1, and what they undo; with two of each also 1 + 1, 2 + 2, 2 − 1 and 4 − 2.
        string Laid(string table) => string.Join("; ", ((CalledFrame)Catalogue.Of(Good("spots", table, "sentence"))).Calls(Good("spots", table, "sentence"), 0).Select(c => c.Label));
        Assert.Equal("2 + 1; 3 + 1; 3 − 1; 3 + 2; 3 − 2; 4 + 1; 4 − 1; 4 − 3; 5 − 1; 5 − 2; 5 − 3; 5 − 4", Laid("{}"));
        Assert.Contains("1 + 1; 2 + 1; 2 − 1; 2 + 2", Laid("""{"copies":2}"""), StringComparison.Ordinal);
        Assert.Contains("3 sign cards", Good("spots", "{}", "sentence").Ready().Frame.Needs(Good("spots", "{}", "sentence")).Select(n => n.Says));
    }

    [Theory]
    [InlineData("point", 3, "place 3 line")]
    [InlineData("covered", 12, "place 1 line; place 2 line")]
    [InlineData("bounce", 0, "words 0 1; words 1 0")]
    [InlineData("jump", 0, "on 0 1 line")]
    [InlineData("steps", 1, "step 2 2 line")]
    [InlineData("doubles", 4, "double 4 line")]
    [InlineData("write", 7, "trace 7 numeral")]
    public void A_walk_along_the_line_asks_by_level(string level, int call, string asks) => Assert.Equal(asks, Asked(Good("linewalk", "{}", level), call));

    [Theory, InlineData("point"), InlineData("covered"), InlineData("jump"), InlineData("doubles")]
    public void On_the_line_no_place_comes_again_within_three_calls_nor_three_neighbours_in_order(string level)
    {
        var setup = Good("linewalk", """{"to":20,"rounds":20}""", level);
        for (int seed = 0; seed < 120; seed++)
        {
            var run = setup.Ready().Compile().Start(0);
            var rng = Rng.ForGame(seed, 0);
            var places = new List<int>();
            while (run.Next.Kind != StepKind.Over)
            {
                run.Deal(run.Draw(ref rng));
                places.Add(run.Asks(run.Moves[0])[0].Ask[0]);
                run.Apply(run.Moves[0], true);
            }
            for (int i = 1; i < places.Count; i++)
            {
                Assert.DoesNotContain(places[i], places.Skip(Math.Max(0, i - 3)).Take(Math.Min(3, i)));
                if (i > 1) Assert.False(places[i] - places[i - 1] == places[i - 1] - places[i - 2] && Math.Abs(places[i] - places[i - 1]) == 1, string.Join(' ', places));
            }
        }
    }

    [Fact]
    public void Numbers_are_taken_away_from_the_line_one_after_another()
    {
        var run = Good("linewalk", """{"labels":"away","rounds":5}""").Ready().Compile().Start(0);
        var rng = new Rng(2);
        var said = new HashSet<int>();
        while (run.Next.Kind != StepKind.Over)
        {
            run.Deal(run.Draw(ref rng));
            said.Add(run.Asks(run.Moves[0])[0].Ask[0]);
            var line = run.Zones.OfType<NumberLine>().Single();
            Assert.Equal(said.Order(), line.Away.Order());
            Assert.Equal([said.Last()], line.Pointed);
            var drawn = Drawing.Of([line], new Room(700, 420)).Parts[0].Shapes.OfType<WordsShape>().Select(w => w.Words);
            Assert.Equal(Enumerable.Range(0, 11).Except(said).Select(n => n.ToString()), drawn);
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal(5, said.Count);
    }

    [Fact]
    public void One_thumb_at_a_time_goes_on_from_where_she_stands_at_most_three_one_way()
    {
        var setup = Good("linewalk", """{"from":2,"to":9,"rounds":20}""", "upstopdown");
        for (int seed = 0; seed < 60; seed++)
        {
            var run = setup.Ready().Compile().Start(0);
            var rng = Rng.ForGame(seed, 0);
            var ways = new List<int>();
            int at = -1;
            while (run.Next.Kind != StepKind.Over)
            {
                run.Deal(run.Draw(ref rng));
                int way = run.Zones.OfType<Thumb>().Single().Way, from = run.Zones.OfType<NumberLine>().Single().Pointed.Single();
                if (at >= 0) Assert.Equal(at, from);
                at = from + way;
                Assert.InRange(at, 2, 9);
                // Up is one more, down one fewer, and a pause asks nothing.
                var asks = run.Asks(run.Moves[0]);
                Assert.Equal(way == 0 ? [] : [new SeatAsk(0, new Ask(way > 0 ? AskKind.On : AskKind.Back, from, 1, Form.Line))], asks);
                ways.Add(way);
                run.Apply(run.Moves[0], true);
            }
            Assert.Equal(20, ways.Count);
            Assert.DoesNotContain(Enumerable.Range(3, 17), i => ways[i] != 0 && ways.Skip(i - 3).Take(4).Distinct().Count() == 1);
            Assert.DoesNotContain(Enumerable.Range(1, 19), i => ways[i] == 0 && ways[i - 1] == 0);
        }
    }

    [Fact]
    public void Steps_run_along_the_marked_numbers_and_doubles_are_marked_off_by_all_players_until_none_is_left()
    {
        Assert.Equal("step 4 2 line; step 6 2 line; step 8 2 line", Asked(Good("linewalk", """{"say":"run"}""", "steps"), 2));
        // Doubles of 0 to 5 lie on a line to 10: two players mark three each.
        var run = Good("linewalk", """{"markOff":true}""", "doubles", """[{},{}]""").Ready().Compile().Start(0);
        var rng = new Rng(3);
        var marked = new List<int>();
        while (run.Next.Kind != StepKind.Over)
        {
            run.Deal(run.Draw(ref rng));
            marked.Add(run.Asks(run.Moves[0])[0].Ask.Answer);
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal([0, 2, 4, 6, 8, 10], marked.Order());
    }

    [Fact]
    public void Cards_come_one_after_another_along_a_line_of_places()
    {
        var run = Good("spots", """{"from":2,"to":5,"order":"rising","rounds":4}""").Ready().Compile().Start(0);
        var rng = new Rng(1);
        for (int n = 2; n <= 5; n++)
        {
            run.Deal(run.Draw(ref rng));
            Assert.Equal(n, run.Asks(run.Moves[0])[0].Ask[0]);
            Assert.Equal(n - 2, run.Zones.OfType<CardGrid>().Single().Cards.Count(c => c.State == ItemState.Up));
            run.Apply(run.Moves[0], true);
        }
    }

    [Theory]
    [InlineData("count", "numeral", """["d6"]""", "say 1 numeral")]
    [InlineData("count", "word", """["d6","d6"]""", "join 1 1 word")]
    [InlineData("count", "dots", """["d6","d6"]""", "say 2 dice")]
    [InlineData("match", "numeral", """["d6"]""", "match 1 numeral word")]
    [InlineData("more", "word", """["d6","d6"]""", "more 1 1 word")]
    public void Faces_are_read_where_they_are_no_dots(string level, string faces, string dice, string asks) =>
        Assert.Equal(asks, Asked(Good("rolltell", $$"""{"dice":{{dice}},"faces":"{{faces}}"}""", level)));

    [Theory]
    [InlineData("none", "Guess how many each gets, then share.")]
    [InlineData("sum", "Guess how many each gets, then share. Say the sum.")]
    [InlineData("times", "Guess how many each gets, then share. Say it with times.")]
    [InlineData("divided", "Guess how many each gets, then share. Say who gets what.")]
    public void Shares_are_told_in_their_sentence(string sentence, string says)
    {
        var setup = Good("evenplates", $$"""{"ways":3,"sentence":"{{sentence}}"}""", "share");
        var calls = ((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0);
        Assert.All(calls, c => Assert.Equal(says, c.Says));
        // It is her share that is guessed, not the heap.
        Assert.All(calls, c => Assert.Equal((c.Number / 3, c.Number / 3), (c.Asks[0][0], c.Asks[^1].Answer)));
    }

    [Fact]
    public void The_ring_that_a_set_is_wanted_in_is_marked()
    {
        var setup = Good("around", """{"n":4}""", "make");
        Assert.Equal(["fewer than 4", "just 4", "more than 4"], ((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0).Select(c => Assert.Single(Assert.Single(c.Lies.OfType<Rings>()).All, r => r.IsAsked).Says));
        setup = Good("around", """{"n":4}""", "cards");
        Assert.DoesNotContain(((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0).SelectMany(c => c.LiesAfter!([])).OfType<Rings>().SelectMany(r => r.All), r => r.IsAsked);
    }

    [Fact]
    public void Of_cards_in_order_the_one_to_fill_lies_beside_them()
    {
        var setup = Good("spots", "{}", "order");
        Assert.All(((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0), c => Assert.Equal([Form.Numeral, Form.Numeral, Form.Numeral, Form.Spots], c.Lies.SelectMany(z => z.Items).Select(i => i.Form)));
        Assert.All(((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0), c => Assert.Equal(c.Number, c.Lies.SelectMany(z => z.Items).Last().Value));
    }

    [Theory]
    [InlineData("more", "Which shows more, or are they the same?")]
    [InlineData("fewer", "Which shows fewer, or are they the same?")]
    public void Of_two_dice_more_or_fewer_is_asked(string asks, string says)
    {
        var setup = Good("rolltell", $$"""{"asks":"{{asks}}"}""", "more");
        Assert.All(((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0), c => Assert.Equal(says, c.Says));
    }

    [Theory]
    [InlineData("somegone", """{"start":30,"takeMax":30,"from":"any"}""", null, "table.takeMax", "10")]
    [InlineData("somegone", """{"start":4}""", "chunk", "table.start", "10")]
    [InlineData("evenplates", """{"max":2}""", null, "table.max", "3")]
    [InlineData("evenplates", """{"max":3,"ways":5}""", "share", "table.max", "5")]
    [InlineData("around", """{"n":10}""", null, "table.n", "9")]
    [InlineData("around", """{"max":50}""", null, "table.max", "30")]
    [InlineData("around", """{"max":30,"form":"dice"}""", "cards", "table.form", "\"numeral\"")]
    [InlineData("spots", """{"from":7}""", null, "table.from", "5")]
    [InlineData("spots", """{"from":4,"to":5}""", "order", "table.to", "6")]
    [InlineData("spots", """{"from":7,"to":9}""", "sentence", "table.from", "1")]
    [InlineData("linewalk", """{"from":10}""", null, "table.to", "20")]
    [InlineData("linewalk", """{"on":"rack","to":30}""", null, "table.to", "20")]
    [InlineData("linewalk", """{"from":30,"to":40}""", "doubles", "table.to", "50")]
    public void What_cannot_be_called_is_refused_with_what_can(string game, string table, string? level, string path, string nearest)
    {
        var problem = Assert.Single(Read(game, table, level).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Fact]
    public void The_longest_lists_of_every_caller_fit()
    {
        foreach (var (game, table) in new[] { ("somegone", """{"start":30,"takeMax":9}"""), ("evenplates", """{"max":32}"""), ("linewalk", """{"to":100,"jump":10}"""), ("spots", """{"from":0,"to":20}""") })
            foreach (var level in Catalogue.Data.First(f => f.Id == game).Levels)
            {
                var setup = Read(game, table, level.Id).Setup!;
                Assert.InRange(((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0).Count, 1, CalledFrame.MostCalls);
            }
    }

    [Fact]
    public void Players_with_other_numbers_have_figures_of_their_own()
    {
        var facts = Facts(Good("evenplates", """{"max":10}""", null, """[{},{"allowance":{"max":4}}]"""));
        Assert.Equal("[20,2]", facts.Find("pairs")!.ToJson().ToJsonString());
    }

    /// <summary>Until they are rolled the dice lie there blank: of a match only the one that is rolled. Calls that are laid lie in a pile.</summary>
    [Theory]
    [InlineData("count", 1)]
    [InlineData("match", 1)]
    [InlineData("more", 2)]
    public void Dice_to_roll_lie_there_as_dice(string level, int dice)
    {
        var waiting = Assert.Single(Good("rolltell", "{}", level).Ready().Compile().Start(0).Zones.OfType<DiceRolled>());
        Assert.Equal(dice, waiting.Dice.Count);
        Assert.All(waiting.Dice, d => Assert.False(d.CanTap));
        Assert.Single(Good("rolltell", """{"rolls":"called"}""", level).Ready().Compile().Start(0).Zones.OfType<Pile>());
    }

    /// <summary>Before the first call what the game is about lies there already; only what comes from a pile is one.</summary>
    [Theory]
    [InlineData("somegone", "cover", "{}", "The row")]
    [InlineData("somegone", "see", """{"from":"any"}""", "Things in reach")]
    [InlineData("evenplates", "even", "{}", "Two plates")]
    [InlineData("evenplates", "share", """{"ways":3}""", "Plates to share on")]
    [InlineData("around", "cards", "{}", "Three rings")]
    [InlineData("around", "make", "{}", "Things in reach, Three rings")]
    [InlineData("linewalk", "jump", "{}", "The line")]
    [InlineData("linewalk", "point", """{"on":"rack"}""", "Calls to come")]
    [InlineData("door", "split", "{}", "Two doors")]
    [InlineData("door", "hidden", "{}", "Two doors")]
    [InlineData("door", "ways", "{}", "Two doors, Ways found")]
    [InlineData("door", "forehead", "{}", "Calls to come")]
    [InlineData("spots", "rings", "{}", "Calls to come")]
    public void What_lies_there_until_the_first_call(string game, string level, string table, string lies) =>
        Assert.Equal(lies, string.Join(", ", Good(game, table, level).Ready().Compile().Start(0).Zones.Select(z => z.Label)));

    [Fact]
    public void What_was_sorted_stays_in_its_ring_until_the_next_call()
    {
        var setup = Good("around", """{"n":5,"max":8}""", "cards");
        var run = setup.Ready().Compile().Start(0);
        Assert.Equal([0, 0, 0], Held());
        // A key bears the number alone; what came of it is told with the other.
        var call = ((CalledFrame)Catalogue.Of(setup)).Calls(setup, 0)[2];
        Assert.Equal(("3", "3 beside 5"), (call.Label, call.Tells));
        foreach (int number in (int[])[3, 8, 1])
        {
            run.Deal(number - 1);
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal(StepKind.Chance, run.Next.Kind);
        Assert.Equal([2, 0, 1], Held());

        IEnumerable<int> Held() => Assert.IsType<Rings>(Assert.Single(run.Zones)).All.Select(r => r.Holds.Count);
    }
}
