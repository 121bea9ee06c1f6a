using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Empty Seats and Many Makes: what lies open and what bars make, by trying everything, and as they are played.</summary>
public class SeatAndBarTests
{
    private static CheckedReading Read(string game, string table, string players = "[{}]", string more = "") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","table":{{table}},"players":{{players}}{{more}}}""");

    private static Playable Good(string game, string table, string players = "[{}]")
    {
        var reading = Read(game, table, players);
        Assert.Empty(reading.Problems);
        return reading.Playable!;
    }

    private static string At(string game, string table, string position, string fact)
    {
        var reading = Read(game, table, more: $$""","forecast":{"position":{{position}}}""");
        Assert.Empty(reading.Problems);
        return reading.Position!.Find(fact)?.ToJson().ToJsonString() ?? "";
    }

    /// <summary>What lies open in the end, by dealing everything and taking away what goes together.</summary>
    private static string Open(IEnumerable<int> cards, int target, bool court)
    {
        var left = cards.ToList();
        left.RemoveAll(c => c == target);
        for (bool again = true; again;)
        {
            again = false;
            foreach (int c in left.Where(c => c is > 0 and < 61).ToList())
                if (left.Contains(target - c) && (2 * c != target || left.Count(o => o == c) > 1))
                {
                    left.Remove(c);
                    left.Remove(target - c);
                    again = true;
                    break;
                }
            if (!court || !left.Contains(61) || !left.Contains(62) || !left.Contains(63)) continue;
            foreach (int rank in new[] { 61, 62, 63 }) left.Remove(rank);
            again = true;
        }
        return string.Join(' ', left.Order());
    }

    private static IEnumerable<int[]> Subsets(int[] cards, int size, int from = 0) =>
        size == 0 ? [[]] : Enumerable.Range(from, cards.Length - from).SelectMany(i => Subsets(cards, size - 1, i + 1).Select(rest => (int[])[cards[i], .. rest]));

    [Theory]
    [InlineData("""{"deck":{"counts":{"1":2,"9":2,"5":2,"10":1,"0":1}},"removed":1}""", "1 1 9 9 5 5 10 0", 10, 1)]
    [InlineData("""{"deck":{"counts":{"1":2,"9":2,"5":2,"10":1,"0":1}},"removed":2}""", "1 1 9 9 5 5 10 0", 10, 2)]
    [InlineData("""{"deck":{"counts":{"1":3,"6":1,"2":2,"5":2,"4":1}},"target":7,"removed":3}""", "1 1 1 6 2 2 5 5 4", 7, 3)]
    [InlineData("""{"deck":{"counts":{"3":3,"4":2}},"target":6,"removed":2}""", "3 3 3 4 4", 6, 2)]
    [InlineData("""{"deck":{"packs":1,"suits":2,"ranks":{"A":1,"9":9,"10":10,"J":11,"Q":12,"K":13}},"court":true,"removed":2}""", "1 1 9 9 10 10 61 61 62 62 63 63", 10, 2)]
    [InlineData("""{"deck":{"packs":1,"suits":2,"ranks":{"5":5,"J":11,"Q":12,"K":13}},"court":true,"removed":4}""", "5 5 61 61 62 62 63 63", 10, 4)]
    public void How_often_the_missing_can_be_told_is_that_of_all_ways_to_take_them(string table, string pack, int target, int removed)
    {
        int[] cards = [.. pack.Split(' ').Select(int.Parse)];
        var taken = Subsets(cards, removed).Select(t => (Taken: string.Join(' ', t.Order()), Open: Open(Without(cards, t), target, cards.Contains(61)))).ToList();
        double readable = taken.Count(t => taken.Where(o => o.Open == t.Open).Select(o => o.Taken).Distinct().Count() == 1) / (double)taken.Count;
        var playable = Good("emptyseat", table);
        Assert.Equal(readable, playable.ExactFacts().Number("pReadable"), 12);
        var forecast = Forecaster.Make(playable, new LearnerAnswers(playable.Setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 4_000), new Facts());
        Assert.Equal(readable, forecast.Wins[0], .04);
    }

    private static List<int> Without(int[] cards, int[] taken)
    {
        var left = cards.ToList();
        foreach (int t in taken) left.Remove(t);
        return left;
    }

    [Theory]
    [InlineData("""{"removed":1}""", """{"open":[9]}""", "[[1]]")]
    [InlineData("""{"removed":2}""", """{"open":[9,9]}""", "[[1,1]]")]
    [InlineData("""{"removed":2}""", """{"open":[5,8]}""", "[[2,5]]")]
    [InlineData("""{"removed":2}""", """{"open":[]}""", "[[1,9],[2,8],[3,7],[4,6],[5,5]]")]
    [InlineData("""{"removed":3}""", """{"open":[9,5,7]}""", "[[1,3,5]]")]
    [InlineData("""{"deck":{"packs":1,"suits":4,"ranks":{"A":1,"9":9,"10":10,"J":11,"Q":12,"K":13}},"court":true,"removed":3}""", """{"open":["Q","Q","K","K"]}""", "[[10,\"J\",\"J\"]]")]
    [InlineData("""{"deck":{"packs":1,"suits":4,"ranks":{"5":5,"J":11,"Q":12,"K":13}},"court":true,"removed":1}""", """{"open":["J"]}""", "[]")]
    public void The_missing_are_read_from_what_lies_open(string table, string position, string readings) => Assert.Equal(readings, At("emptyseat", table, position, "readings"));

    [Theory]
    [InlineData("""{"open":[9,1]}""")]
    [InlineData("""{"open":[10,10]}""")]
    [InlineData("""{"open":"nine"}""")]
    [InlineData("""{"open":["J"]}""")]
    public void What_cannot_lie_open_is_refused(string position) =>
        Assert.StartsWith("forecast.position", Assert.Single(Read("emptyseat", "{}", more: $$""","forecast":{"position":{{position}}}""").Problems).Path, StringComparison.Ordinal);

    [Fact]
    public void Pairs_are_covered_as_they_come_and_the_last_one_is_named()
    {
        var run = Good("emptyseat", """{"deck":{"counts":{"1":2,"9":2,"5":1}},"removed":1}""").Compile().Start(0);
        foreach (int card in new[] { 9, 5 }) run.Deal(card);
        run.Deal(1);
        Assert.Equal((StepKind.Choice, "Which make 10? Cover them."), (run.Next.Kind, run.Says));
        Assert.False(run.IsLegal(run.Read([0, 1]).Move ?? default));
        var cover = run.Read([2, 0]).Move!.Value;
        Assert.Equal("part 10 1 numeral", $"{run.Asks(cover)[0].Ask}");
        run.Apply(cover, true);
        run.Deal(9);
        Assert.Equal((StepKind.Choice, "What is missing? What lies open tells it."), (run.Next.Kind, run.Says));
        Assert.Equal(["missing: 1", "a 9 lies open, so a 1 is missing"], run.Helps);
        Assert.Equal("part 10 9 numeral", $"{run.Asks(run.Moves[0])[^1].Ask}");
        run.Apply(run.Moves[0], true);
        Assert.Equal((StepKind.Over, true), (run.Next.Kind, run.AimReached));
        Assert.Equal(1, Assert.Single(Assert.Single(run.Zones.OfType<CardGrid>(), z => z.Caption == "taken out").Cards).Value);
    }

    [Fact]
    public void No_way_to_make_a_number_is_told_twice()
    {
        var run = Good("manymakes", """{"stock":{"1":2,"2":1,"3":1},"numbers":[3,3],"calls":1}""").Compile().Start(0);
        run.Deal(run.Possibilities.Single().Outcome);
        Assert.Equal(["there are 2 ways", "the most bars: 2 and 1", "the fewest: 3"], run.Helps);
    }

    /// <summary>Every way to lay bars of a stock end to end.</summary>
    private static List<int[]> Makes(int number, (int Length, int Copies)[] stock) => stock.Length == 0 ? number == 0 ? [[]] : []
        : [.. Enumerable.Range(0, stock[0].Copies + 1).Where(n => n * stock[0].Length <= number).SelectMany(n => Makes(number - n * stock[0].Length, stock[1..]).Select(rest => (int[])[.. Enumerable.Repeat(stock[0].Length, n), .. rest]))];

    private static (int Length, int Copies)[] Stock(string link) => [.. link.Split(',').Select(p => p.Split('x')).Select(p => (int.Parse(p[0]), int.Parse(p[1])))];

    private static string Json((int Length, int Copies)[] stock) => $"{{{string.Join(',', stock.Select(s => $"\"{s.Length}\":{s.Copies}"))}}}";

    [Theory]
    [InlineData("1x5,2x3,3x2")]
    [InlineData("2x4,5x3")]
    [InlineData("1x2,4x2,7x1,9x1")]
    [InlineData("3x9")]
    public void What_bars_make_is_found_by_trying_everything(string link)
    {
        var stock = Stock(link);
        string table = $$"""{"stock":{{Json(stock)}},"numbers":[1,20]}""";
        int all = stock.Sum(s => s.Length * s.Copies);
        Assert.Equal($"[{string.Join(',', Enumerable.Range(1, all).Where(n => Makes(n, stock).Count > 0))}]", Good("manymakes", table).ExactFacts().Find("makeable")!.ToJson().ToJsonString());
        for (int number = 1; number <= 16; number++)
        {
            var makes = Makes(number, stock);
            string position = $$"""{"target":{{number}}}""";
            Assert.Equal($"{makes.Count}", At("manymakes", table, position, "ways"));
            Assert.Equal(makes.Count == 0 ? "" : $"{makes.Max(m => m.Length)}", At("manymakes", table, position, "most"));
            Assert.Equal(makes.Count == 0 ? "" : $"{makes.Min(m => m.Length)}", At("manymakes", table, position, "fewest"));
        }
    }

    [Theory]
    [InlineData("any", "Which bars make 7?", 1)]
    [InlineData("most", "Make 7 with as many as you can.", 3)]
    [InlineData("fewest", "Make 7 with as few as can be.", 1)]
    public void Only_what_the_bars_still_make_is_called_and_the_stock_runs_down(string score, string says, int points)
    {
        var run = Good("manymakes", $$"""{"stock":{"2":2,"3":1},"numbers":[2,7],"calls":3,"score":"{{score}}"}""").Compile().Start(0);
        Assert.Equal([2, 3, 4, 5, 7], run.Possibilities.Select(p => p.Outcome));
        run.Deal(7);
        Assert.Equal(says, run.Says);
        var make = Assert.Single(run.Moves);
        Assert.Equal("split 7 3 bar", $"{run.Asks(make)[0].Ask}");
        run.Apply(make, true);
        Assert.Equal((StepKind.Over, points, true, false), (run.Next.Kind, run.Points(0), run.Stuck, run.AimReached));
    }

    /// <summary>Short numbers have their ways listed, 30 is made in too many of them, and of ones there are more than any number takes.</summary>
    [Theory]
    [InlineData("1x6,2x4,3x3,4x2,5x2", 3, 12)]
    [InlineData("2x5,3x4,7x3", 2, 15)]
    [InlineData("1x9,2x8,3x5,4x2,5x3", 28, 30)]
    [InlineData("1x70,10x3,20x1", 18, 22)]
    public void What_is_left_is_made_as_if_it_were_counted_anew(string link, int low, int high)
    {
        foreach (string score in new[] { "most", "fewest", "different" })
        {
            var left = Stock(link);
            var game = Good("manymakes", $$"""{"stock":{{Json(left)}},"numbers":[{{low}},{{high}}],"calls":20,"score":"{{score}}"}""", "[{},{}]").Compile();
            var rng = new Rng(7);
            for (var run = game.Start(0); run.Next.Kind != StepKind.Over;)
            {
                Assert.Equal(Enumerable.Range(low, high - low + 1).Where(n => Makes(n, left).Count > 0), run.Possibilities.Select(p => p.Outcome));
                int number = run.Possibilities[rng.Below(run.Possibilities.Count)].Outcome;
                run.Deal(number);
                for (var used = new HashSet<Move>(); run.Next.Kind == StepKind.Choice;)
                {
                    var makes = Makes(number, left);
                    var moves = run.Moves;
                    Assert.Equal(Math.Min(500, makes.Count - used.Count(m => left.Index().All(l => Of(m, l.Index) <= l.Item.Copies))), moves.Count);
                    if (score != "different") Assert.Equal(score == "most" ? makes.Max(m => m.Length) : makes.Min(m => m.Length), run.Asks(run.Best(ref rng))[0].Ask[1]);
                    var move = run.Plain(ref rng);
                    Assert.True(moves.Count == 500 || moves.Contains(move));
                    run.Apply(move, true);
                    used.Add(move);
                    for (int i = 0; i < left.Length; i++) left[i].Copies -= Of(move, i);
                }
            }
        }
    }

    /// <summary>How many bars of the i-th length a move takes: six bits for each.</summary>
    private static int Of(Move move, int i) => (int)(move.Items >> 6 * i & 63);

    [Fact]
    public void A_number_is_made_in_different_ways_until_there_is_none()
    {
        var run = Good("manymakes", """{"stock":{"1":10,"2":4,"3":2},"numbers":[3,3],"score":"different","calls":4}""", "[{},{}]").Compile().Start(0);
        run.Deal(3);
        var seen = new List<string>();
        for (int i = 0; i < 3; i++)
        {
            Assert.Equal(3 - i, run.Moves.Count);
            seen.Add(run.Tells(run.Moves[0], true));
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal(3, seen.Distinct().Count());
        Assert.Equal((StepKind.Chance, 2, 1), (run.Next.Kind, run.Points(0), run.Points(1)));
    }

    [Fact]
    public void As_few_as_can_be_is_a_point_and_more_are_none()
    {
        var run = Good("manymakes", """{"stock":{"1":9,"3":2},"numbers":[4,4],"score":"fewest","calls":2}""", """[{"allowance":{"headStart":3}}]""").Compile().Start(0);
        run.Deal(4);
        run.Apply(run.Moves.Single(m => run.Tells(m, true) == "4: 3 and 1"), true);
        Assert.Equal(4, run.Points(0));
        run.Deal(4);
        run.Apply(run.Moves.Single(m => run.Tells(m, true) == "4: four 1s"), true);
        Assert.Equal((4, StepKind.Over), (run.Points(0), run.Next.Kind));
    }

    [Fact]
    public void Ways_come_evenly_and_the_best_has_the_most_bars()
    {
        var game = Good("manymakes", """{"stock":{"1":4,"2":2,"5":1},"numbers":[6,6],"score":"most"}""").Compile();
        var counts = new Dictionary<string, int>();
        for (int g = 0; g < 6_000; g++)
        {
            var rng = Rng.ForGame(1, g);
            var run = game.Start(0);
            run.Deal(6);
            string way = run.Tells(run.Plain(ref rng), true);
            counts[way] = counts.GetValueOrDefault(way) + 1;
            if (g == 0) Assert.Equal("6: 2 and four 1s", run.Tells(run.Best(ref rng), true));
        }
        // 5 + 1; 2 + 2 + 1 + 1; 2 + 1 + 1 + 1 + 1.
        Assert.Equal(3, counts.Count);
        Assert.All(counts.Values, n => Assert.Equal(2_000, n, 200d));
    }

    [Theory]
    [InlineData("emptyseat", """{"deck":{"counts":{"1":4,"2":4}}}""", "table.target", "4")]
    [InlineData("emptyseat", """{"deck":{"counts":{"4":2,"6":2}},"removed":4}""", "table.removed", "3")]
    [InlineData("emptyseat", """{"deck":{"packs":8,"suits":4,"ranks":{"A":1,"9":9,"2":2,"8":8}}}""", "table.deck", """{"packs":1,"suits":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9}}""")]
    [InlineData("manymakes", """{"stock":{"2":3},"numbers":[7,9]}""", "table.numbers", "[6,6]")]
    [InlineData("manymakes", """{"stock":{"0":3,"2":3}}""", "table.stock", """{"2":3}""")]
    public void What_does_not_go_is_refused_with_what_does(string game, string table, string path, string nearest)
    {
        var problem = Assert.Single(Read(game, table).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Fact]
    public void Bars_that_are_picked_lie_on_the_strip_until_it_is_full()
    {
        var strip = new BarStrip("The number that was called", 9).With([new(0, 5, Form.Bar, ItemState.Up, true), new(1, 3, Form.Bar, ItemState.Up, true)]);
        Assert.Equal([5, 3], Assert.IsType<BarStrip>(strip).Bars);
        // Eight of its nine squares are covered, in one line or where it breaks after five.
        foreach (var room in new Room[] { new(400, 300), new(90, 300) })
        {
            var covered = Drawing.Of([strip], room, DrawnBy.Default).Parts.Single().Shapes.OfType<RectShape>().Where(r => r.Role == Role.Picked).ToList();
            double square = covered.Min(r => r.Box.Bottom - r.Box.Top);
            Assert.Equal(8, covered.Sum(r => (r.Box.Right - r.Box.Left) / square), 1e-6);
        }
        var before = new Pile("Cards to come", 3);
        Assert.Same(before, before.With([]));
    }
}
