using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

public class TopperTests
{
    private static CheckedReading Read(string table, string players = "[{},{}]", string level = "single") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"topper","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static Setup Good(string table, string players = "[{},{}]", string level = "single")
    {
        var reading = Read(table, players, level);
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    // The ace alone, or two numbers, make every turn alike; three are a game, and so are two where the pack has no more.
    [Theory]
    [InlineData("{}", 1, true)]
    [InlineData("{}", 2, true)]
    [InlineData("{}", 3, false)]
    [InlineData("""{"deck":{"counts":{"4":6,"7":6}}}""", 7, false)]
    [InlineData("""{"deck":{"counts":{"4":12,"7":6}}}""", 4, true)]
    public void Cards_that_hardly_differ_are_remarked_and_not_offered(string table, int to, bool remarked)
    {
        var setup = Good(table, """[{"allowance":{"rangeTo":TO}},{}]""".Replace("TO", $"{to}"));
        Assert.Equal(remarked, new Topper().Audit(setup).Count > 0);
    }

    private static Facts Facts(string table, string players = "[{},{}]", string level = "single") => Good(table, players, level).Ready().ExactFacts();

    [Fact]
    public void A_common_sum_is_asked_of_everybody_and_goes_to_whoever_says_it_first()
    {
        var setup = Good("""{"make":"common","claim":"firstSaid"}""", players: "[{},{},{}]");
        var run = setup.Ready().Compile().Start(0);
        foreach (int card in (int[])[3, 9, 5]) run.Deal(card);
        Assert.All(Enumerable.Range(0, 3), seat => Assert.Contains(new SeatAsk(seat, new Ask(AskKind.Join, [9, 5, 3], Form.Numeral)), run.Asks(run.Moves[0])));
        Assert.Equal(3, run.Asks(run.Moves[0]).Count);
        Assert.Equal("How many are all together?", run.Says);
        run.Apply(new Move(0, 1), true);
        Assert.Equal([0, 3, 0], Enumerable.Range(0, 3).Select(run.Points));
        // Forty cards, three a round; nobody has more than another.
        var facts = setup.Ready().ExactFacts();
        Assert.Equal(13, facts.Number("rounds"));
        Assert.Null(facts.Find("tieChance"));
    }

    [Theory]
    [InlineData(Behaviour.Plain)]
    [InlineData(Behaviour.Child)]
    public void Of_two_who_are_equally_quick_each_is_first_as_often(Behaviour behaviour)
    {
        var setup = Good("""{"make":"common","claim":"firstSaid"}""", players: """[{"age":6},{"age":6}]""");
        var forecast = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new(2026, 1, 1)), new ForecastOptions(behaviour, 1, 20_000));
        Assert.InRange(forecast.Wins[0] - forecast.Wins[1], -.03, .03);
    }

    [Theory]
    [InlineData("""{"make":"common"}""", "[{},{}]", "table.claim", "firstSaid")]
    [InlineData("""{"make":"common","claim":"firstSaid"}""", "[{}]", "table.make", "sum")]
    [InlineData("""{"claim":"firstSaid"}""", """[{"allowance":{"make":"common"}},{}]""", "players[0].allowance.make", "single")]
    public void A_common_sum_is_for_all_of_a_few(string table, string players, string path, string nearest)
    {
        var problem = Assert.Single(Catalogue.Read($$"""{"format":"allowance-setup/1","game":"topper","table":{{table}},"players":{{players}}}""").Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.GetValue<string>()));
    }

    [Theory]
    [InlineData("""{}""", "single", "Which is more?", "Which is more?")]
    [InlineData("""{"asks":"fewer"}""", "single", "Which is fewer?", "Which is fewer?")]
    [InlineData("""{"asks":"both"}""", "gap", "Which is more? How many more?", "Which is fewer? How many fewer?")]
    public void More_or_fewer_is_asked_and_how_many(string table, string level, string first, string then)
    {
        var run = Good(table, level: level).Ready().Compile().Start(0);
        run.Deal(3);
        run.Deal(7);
        Assert.Equal(first, run.Says);
        run.Apply(run.Moves[0], true);
        run.Deal(2);
        run.Deal(4);
        Assert.Equal(then, run.Says);
    }

    [Theory]
    [InlineData("sum", "How many together? Which is more?")]
    [InlineData("difference", "How far apart? Which is more?")]
    [InlineData("product", "How many altogether? Which is more?")]
    [InlineData("digits", "Which number is it? Which is more?")]
    public void What_each_makes_of_her_cards_is_asked_first(string level, string says)
    {
        var run = Good("{}", level: level).Ready().Compile().Start(0);
        foreach (int card in new[] { 3, 7, 2, 4 }) run.Deal(card);
        Assert.Equal(says, run.Says);
    }

    [Fact]
    public void Known_figures_of_single_cards_are_right()
    {
        // After any card of four tens … aces, 3 of the 39 others are its like.
        var facts = Facts("{}");
        Assert.Equal(3.0 / 39, facts.Number("tieChance"), 12);
        Assert.Equal(20, facts.Number("rounds"));
        // Each of the two turns up twenty times.
        Assert.Equal(40, facts.Turns!.Mean, 12);
        // Two different numbers of 1 to 10 are 11/3 apart on average, and 36 of 39 pairs are different.
        Assert.Equal(11.0 / 3 * 36 / 39, facts.Number("gapMean"), 12);
        Assert.False(double.IsNaN(facts.Number("closeShare")));
        // 1, 2, 2: the twos meet in one of three draws of two.
        Assert.Equal(1.0 / 3, Facts("""{"deck":{"counts":{"1":1,"2":2}}}""").Number("tieChance"), 12);
        Assert.Equal(0, Facts("""{"deck":{"counts":{"1":1,"2":2}}}""", "[{}]").Number("tieChance"), 12);
    }

    private const string Few = """{"1":2,"2":1,"3":2,"4":1,"8":1}""", Digits = """{"0":1,"1":2,"2":2,"9":1}""";

    // All orders in which a small pack can be drawn, gone through one by one.
    [Theory]
    [InlineData(Few, "single", 1, 2, "more")]
    [InlineData(Few, "single", 1, 3, "fewer")]
    [InlineData(Few, "sum", 2, 2, "more")]
    [InlineData(Few, "sum", 2, 3, "more")]
    [InlineData(Few, "sum", 2, 3, "fewer")]
    [InlineData(Few, "sum", 3, 2, "more")]
    [InlineData(Few, "difference", 2, 2, "more")]
    [InlineData(Few, "difference", 2, 3, "fewer")]
    [InlineData(Few, "product", 2, 2, "fewer")]
    [InlineData(Few, "product", 2, 3, "more")]
    [InlineData(Few, "product", 2, 3, "fewer")]
    [InlineData(Few, "product", 3, 2, "more")]
    [InlineData(Digits, "digits", 2, 2, "more")]
    [InlineData(Digits, "digits", 2, 3, "fewer")]
    [InlineData(Digits, "digits", 3, 2, "more")]
    [InlineData(Digits, "bestDigits", 2, 3, "more")]
    [InlineData(Digits, "bestDigits", 3, 2, "fewer")]
    public void First_rounds_are_as_all_orders_of_the_pack_give_them(string counts, string make, int cards, int players, string aim)
    {
        string setup = $$"""{"deck":{"counts":{{counts}}},"make":"{{make}}","cardsEach":{{cards}},"aim":"{{aim}}"}""";
        int[] pack = [.. Good(setup).Get<DeckValue>("deck").Deck.Counts.SelectMany(c => Enumerable.Repeat(c.Key, c.Value))];
        double ties = 0, gaps = 0, close = 0, all = 0;
        var drawn = new List<int>();
        var used = new bool[pack.Length];
        Draw();
        var facts = Facts(setup, "[" + string.Join(",", Enumerable.Repeat("{}", players)) + "]");
        Assert.Equal(ties / all, facts.Number("tieChance"), 10);
        Assert.False(facts.Find("tieChance")!.Simulated);
        if (players != 2) return;
        Assert.Equal(gaps / all, facts.Number("gapMean"), 9);
        Assert.Equal(close / all, facts.Number("closeShare"), 10);

        void Draw()
        {
            if (drawn.Count == players * cards)
            {
                long[] values = [.. Enumerable.Range(0, players).Select(p => Made(make, [.. drawn.Skip(p * cards).Take(cards)]))];
                long best = aim == "more" ? values.Max() : values.Min();
                all++;
                if (values.Count(v => v == best) > 1) ties++;
                gaps += values.Max() - values.Min();
                if (values.Min() != values.Max() && values.Min() >= .75 * values.Max()) close++;
                return;
            }
            for (int i = 0; i < used.Length; i++)
            {
                if (used[i]) continue;
                used[i] = true;
                drawn.Add(pack[i]);
                Draw();
                drawn.RemoveAt(drawn.Count - 1);
                used[i] = false;
            }
        }
    }

    private static long Made(string make, int[] cards) => make switch
    {
        "sum" => cards.Sum(),
        "difference" => Math.Abs(cards[0] - cards[1]),
        "product" => cards.Aggregate(1, (a, b) => a * b),
        "digits" => int.Parse(string.Concat(cards)),
        "bestDigits" => int.Parse(string.Concat(cards.OrderDescending())),
        _ => cards[0],
    };

    [Theory]
    [InlineData("""{"make":"sum","cardsEach":4}""", "[{},{}]")]
    [InlineData("""{"make":"difference"}""", "[{},{},{}]")]
    [InlineData("""{"make":"sum"}""", "[{},{},{},{}]")]
    public void Exact_and_dealt_agree(string table, string players)
    {
        var setup = Good(table, players);
        var exact = setup.Ready().ExactFacts();
        // A piece of the pack that holds all of it makes the same hands, and is only sampled.
        var sampled = setup.WithSeat(0, setup.Seats[0].With("rangeTo", new WholeValue(60))).Ready().ExactFacts();
        foreach (string name in new[] { "tieChance", "gapMean", "closeShare" }.Where(n => exact.Find(n) is not null))
        {
            Assert.False(exact.Find(name)!.Simulated);
            var other = (NumberFact)sampled.Find(name)!;
            Assert.True(other.Simulated);
            Assert.InRange(exact.Number(name), other.Value - 4.5 * other.Error, other.Value + 4.5 * other.Error);
        }
    }

    [Fact]
    public void The_best_takes_the_cards_and_a_tie_goes_as_the_table_says()
    {
        foreach (var (tie, after, left) in new[] { ("pile", new[] { 4, 0 }, 0), ("split", [3, 1], 0), ("again", [4, 0], 0) })
        {
            var setup = Good($$"""{"tie":"{{tie}}","deck":{"counts":{"1":1,"5":2,"7":1} } }""");
            var run = setup.Ready().Compile().Start(0);
            foreach (int card in new[] { 5, 5, 7, 1 })
            {
                run.Deal(card);
                if (run.Next.Kind == StepKind.Choice) run.Apply(run.Moves.Single(), true);
            }
            Assert.Equal(after, new[] { run.Points(0), run.Points(1) });
            Assert.Equal(left, run.Left);
            Assert.Equal(StepKind.Over, run.Next.Kind);
        }
    }

    [Fact]
    public void Everyone_says_her_own_and_then_compares()
    {
        Assert.Equal("0 say 7 numeral; 0 more 7 4 numeral; 1 say 4 numeral; 1 more 7 4 numeral", Asked(Good("{}"), 7, 4));
        Assert.Equal("0 say 7 numeral; 0 more 7 4 numeral; 0 gap 7 4 numeral; 1 say 4 numeral; 1 more 7 4 numeral; 1 gap 7 4 numeral", Asked(Good("{}", level: "gap"), 7, 4));
        Assert.Equal("0 join 6 2 numeral; 0 more 9 8 numeral; 1 say 9 numeral; 1 more 9 8 numeral", Asked(Good("{}", """[{"allowance":{"level":"sum"}},{}]"""), 2, 6, 9));
        Assert.Equal("0 digits 38 numeral; 0 more 91 38 numeral; 1 digits 91 numeral; 1 more 91 38 numeral", Asked(Good("{}", level: "digits"), 3, 8, 9, 1));
        Assert.Equal("0 times 8 3 numeral; 0 more 24 9 numeral; 1 times 9 1 numeral; 1 more 24 9 numeral", Asked(Good("{}", level: "product"), 3, 8, 9, 1));
    }

    [Fact]
    public void A_common_difference_is_asked_of_two()
    {
        var setup = Good("""{"make":"commonDifference","claim":"firstSaid"}""");
        Assert.Equal("0 gap 9 3 numeral; 1 gap 9 3 numeral", AskedOfAll(setup, 3, 9));
        var problem = Assert.Single(Read("""{"make":"commonDifference","claim":"firstSaid"}""", "[{},{},{}]").Problems);
        Assert.Equal(("table.make", "common"), (problem.Path, problem.Nearest!.GetValue<string>()));
    }

    private static string AskedOfAll(Setup setup, params int[] cards)
    {
        var run = setup.Ready().Compile().Start(0);
        foreach (int card in cards) run.Deal(card);
        return string.Join("; ", run.Asks(run.Moves[0]).Select(a => $"{a.Seat} {a.Ask}"));
    }

    /// <summary>Two suits each: twenty cards, so twenty rounds; two draw the same with the chance of one in ten.</summary>
    [Fact]
    public void Each_may_draw_from_a_pile_of_her_own()
    {
        var setup = Good("""{"piles":"own"}""");
        var forecast = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 4_000));
        Assert.Equal(20, forecast.Facts.Number("rounds"));
        Assert.Equal(40, forecast.Turns.Mean);
        var tie = (NumberFact)forecast.Facts.Find("tieChance")!;
        Assert.InRange(tie.Value, .1 - 4 * tie.Error, .1 + 4 * tie.Error);
        Assert.Contains("2 suits, 20 cards", string.Join(' ', Catalogue.Of(setup).GetReady(setup)));
        // What one turns up is gone from her pile only.
        var run = setup.Ready().Compile().Start(0);
        foreach (int round in (int[])[0, 1])
        {
            Assert.Equal(2 - round, run.Possibilities.Single(p => p.Outcome == 7).Ways);
            run.Deal(7);
            Assert.Equal(2, run.Possibilities.Single(p => p.Outcome == 7).Ways);
            run.Deal(8);
            run.Apply(run.Moves.Single(), true);
        }
        Assert.DoesNotContain(run.Possibilities, p => p.Outcome == 7);
        Assert.Equal([18, 18], run.Zones.OfType<Pile>().Select(p => p.Count));
    }

    [Fact]
    public void Who_joins_piles_of_their_own_gets_half_of_the_largest()
    {
        var two = Good("""{"piles":"own","deck":{"counts":{"1":4,"2":4,"3":4,"4":4}}}""");
        var run = two.Ready().Compile().Start(0);
        var three = two with { Seats = two.Seats.Add(two.Seats[0]) };
        run = three.Ready().Compile().Continue(run, 7);
        Assert.Equal([4, 8, 4], run.Zones.OfType<Pile>().Select(p => p.Count));
        Assert.Equal(16, run.Things);
    }

    [Theory]
    [InlineData("""{"piles":"own","deck":{"ranks":{"A":1,"2":2,"3":3}}}""", "[{},{},{},{},{}]")]
    [InlineData("""{"piles":"own","deck":{"packs":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7}}}""", "[{},{}]")]
    public void A_pile_for_each_has_enough_and_is_a_pack_at_most(string table, string players)
    {
        var problem = Assert.Single(Read(table, players).Problems);
        Assert.Equal(("table.piles", "shared"), (problem.Path, problem.Nearest!.GetValue<string>()));
    }

    private static string Asked(Setup setup, params int[] cards)
    {
        var run = setup.Ready().Compile().Start(0);
        foreach (int card in cards) run.Deal(card);
        return string.Join("; ", run.Asks(run.Moves.Single()).Select(a => $"{a.Seat} {a.Ask}"));
    }

    [Theory]
    [InlineData("""{"signs":true}""", "Which is more? Lay the sign.", 3)]
    [InlineData("""{"aim":"fewer"}""", "Which is fewer?", 0)]
    [InlineData("""{"claim":"firstSaid","signs":true}""", "Which is more? Who says it first?", 3)]
    public void Sign_cards_are_got_out_and_laid(string table, string says, int cards)
    {
        var setup = Good(table);
        var run = setup.Ready().Compile().Start(0);
        run.Deal(7);
        run.Deal(4);
        Assert.Equal(says, run.Says);
        Assert.Equal(cards, Catalogue.Of(setup).Needs(setup).Where(n => n.Thing == "sign cards").Sum(n => n.Count));
    }

    [Fact]
    public void A_small_child_draws_from_small_cards_and_has_what_she_was_given()
    {
        var setup = Good("{}", """[{"allowance":{"headStart":3}},{"allowance":{"rangeTo":5}}]""");
        var run = setup.Ready().Compile().Start(0);
        Assert.Equal(3, run.Points(0));
        Assert.Equal(1, run.Next.Seat);
        Assert.Equal(5, run.Possibilities.Max(p => p.Outcome));
        run.Deal(5);
        Assert.Equal(0, run.Next.Seat);
        Assert.Equal(10, run.Possibilities.Max(p => p.Outcome));
        Assert.True(setup.Ready().ExactFacts().Find("rounds")!.Simulated);
    }

    [Fact]
    public void Saying_it_first_takes_the_cards()
    {
        var setup = Good("""{"claim":"firstSaid"}""");
        var run = setup.Ready().Compile().Start(0);
        run.Deal(9);
        run.Deal(2);
        Assert.Equal(2, run.Moves.Count);
        run.Apply(run.Read([1]).Move!.Value, true);
        Assert.Equal(2, run.Points(1));
        // Two children of different ages race: the older one says it first far more often.
        var race = Good("""{"claim":"firstSaid"}""", """[{"age":4},{"age":8}]""");
        var forecast = Forecaster.Make(race.Ready(), new LearnerAnswers(race, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Child, 1, 2_000));
        Assert.True(forecast.Wins[1] > .9);
    }

    [Theory]
    [InlineData("""{"make":"difference","cardsEach":3}""", "[{}]", "table.cardsEach", "2")]
    [InlineData("""{"make":"single","cardsEach":2}""", "[{}]", "table.cardsEach", "1")]
    [InlineData("""{"make":"digits"}""", "[{}]", "table.deck", null)]
    [InlineData("""{"deck":{"counts":{"1":2}}}""", "[{},{},{}]", "table.deck", null)]
    [InlineData("""{"deck":{"counts":{"1":2},"wild":1}}""", "[{}]", "table.deck", null)]
    [InlineData("{}", """[{"allowance":{"rangeTo":0}}]""", "players[0].allowance.rangeTo", "10")]
    [InlineData("""{"make":"product","cardsEach":4,"deck":{"counts":{"50":20}}}""", "[{}]", "table.cardsEach", "2")]
    public void What_cannot_be_played_is_refused_with_the_nearest(string table, string players, string path, string? nearest)
    {
        var problem = Assert.Single(Read(table, players).Problems);
        Assert.Equal(path, problem.Path);
        if (nearest is not null) Assert.Equal(nearest, problem.Nearest!.ToJsonString());
        Assert.NotNull(problem.Nearest);
    }

    [Fact]
    public void Large_numbers_are_compared_in_minutes_and_not_counted_through()
    {
        var setup = Good("""{"make":"digits","cardsEach":4,"deck":{"ranks":{"A":1,"2":2,"3":3}}}""");
        var forecast = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new DateOnly(2026, 1, 1)), new ForecastOptions(Behaviour.Child, 1, 500));
        Assert.InRange(forecast.Minutes.P90, .1, 4);
    }

    [Fact]
    public void Unequal_players_are_evened_out_by_cards_range_or_head_start()
    {
        var setup = Good("{}", """[{"name":"Mags","age":7},{"name":"Juno","age":4,"allowance":{"rangeTo":6}}]""");
        var even = EvenOut.For(setup.Ready(), s => new LearnerAnswers(s, new DateOnly(2026, 1, 1)), 800)!;
        Assert.NotEmpty(even.Steps);
        Assert.True(even.Shares.Max(s => Math.Abs(s - .5)) < .2);
        Assert.All(even.Steps, s => Assert.Matches("Mags|Juno", s));
    }
}
