using System.Numerics;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

public class PanesTests
{
    private static CheckedReading Read(string table, string players = "[{}]", string level = "same") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"panes","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static PanesTable Table(string table, string players = "[{}]", string level = "same")
    {
        var reading = Read(table, players, level);
        Assert.Empty(reading.Problems);
        return new(reading.Setup!);
    }

    private static string Players(int n) => $"[{string.Join(',', Enumerable.Repeat("{}", n))}]";

    /// <summary>The mean calls until a line, counting every set of covered panes: another way than inclusion and exclusion.</summary>
    private static double MeanBySets(PanesTable table)
    {
        int cells = table.Side * table.Side, calls = table.Calls.Length;
        var open = new double[cells + 1];
        for (uint set = 0; set < 1u << cells; set++)
        {
            if (table.Middle >= 0 && (set >> table.Middle & 1) == 0) continue;
            if (!table.Lines.Any(l => (set & l) == l)) open[BitOperations.PopCount(set) - (table.Middle >= 0 ? 1 : 0)]++;
        }
        // P(no line after k calls) = Σ over m covered panes of open[m] C(calls − filled, k − m) / C(calls, k).
        double mean = 0;
        for (int k = 0; k <= calls; k++)
            for (int m = 0; m <= Math.Min(k, table.Filled); m++)
                mean += open[m] * Math.Exp(LogChoose(calls - table.Filled, k - m) - LogChoose(calls, k));
        return mean;
    }

    private static double LogChoose(int n, int k) => k < 0 || k > n ? double.NegativeInfinity : Enumerable.Range(1, k).Sum(i => Math.Log((n - k + i) / (double)i));

    [Theory]
    [InlineData("""{"values":[1,9]}""")]
    [InlineData("""{"values":[1,12]}""")]
    [InlineData("""{"values":[1,30],"free":true}""")]
    [InlineData("""{"side":4,"values":[1,20]}""")]
    public void Calls_until_the_first_line_are_right(string table)
    {
        var setup = Read(table).Setup!;
        double exact = setup.Ready().ExactFacts().Number("callsMean");
        Assert.Equal(MeanBySets(new PanesTable(setup)), exact, 9);
        var forecast = Forecaster.Make(setup.Ready(), new LearnerAnswers(setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 3, 20_000));
        Assert.Equal("exact", forecast.Method);
        double simulated = new Simulated(setup).Mean;
        Assert.InRange(simulated, exact - .06, exact + .06);
    }

    private sealed class Simulated
    {
        public Simulated(Setup setup)
        {
            var game = setup.Ready().Compile();
            double turns = 0;
            for (int i = 0; i < 20_000; i++)
            {
                var rng = Rng.ForGame(9, i);
                var run = game.Start(0);
                while (run.Next is { Kind: not StepKind.Over } next)
                {
                    if (next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                    else run.Apply(run.Plain(ref rng), true);
                }
                turns += run.Turns;
                if (run.AimReached) Lines++;
                if (Enumerable.Range(0, setup.Seats.Length).Sum(run.Points) > 1) Ties++;
            }
            (Mean, Lines, Ties) = (turns / 20_000, Lines / 20_000, Ties / 20_000);
        }

        public double Mean { get; }
        public double Lines { get; }
        public double Ties { get; }
    }

    [Theory, InlineData(2), InlineData(3), InlineData(5)]
    public void Calls_and_ties_of_several_are_simulated_within_their_error(int players)
    {
        var setup = Read("""{"values":[1,20]}""", Players(players)).Setup!;
        var facts = setup.Ready().ExactFacts();
        var calls = (NumberFact)facts.Find("callsMean")!;
        var tie = (NumberFact)facts.Find("tie")!;
        var again = new Simulated(setup);
        Assert.True(calls.Simulated && tie.Simulated);
        Assert.InRange(again.Mean, calls.Value - 6 * calls.Error, calls.Value + 6 * calls.Error);
        Assert.InRange(again.Ties, tie.Value - 6 * tie.Error - .001, tie.Value + 6 * tie.Error + .001);
        Assert.Equal(1, again.Lines);
    }

    [Theory]
    [InlineData("""{"values":[1,9]}""", 3)]
    [InlineData("""{"values":[1,18]}""", 2)]
    [InlineData("""{"values":[1,20]}""", 4)]
    [InlineData("""{"side":4,"values":[1,40]}""", 8)]
    [InlineData("""{"side":5,"free":true,"values":[0,60],"formCall":"numeral","formBoard":"word"}""", 6)]
    public void Boards_differ_as_much_as_the_numbers_allow(string json, int players)
    {
        for (int shuffle = 1; shuffle <= 5; shuffle++)
        {
            var table = Table(json.Replace("{\"", $"{{\"shuffle\":{shuffle},\"", StringComparison.Ordinal), Players(players));
            var boards = table.Boards.Select(b => b.Where(n => n >= 0).ToList()).ToList();
            Assert.All(boards, b => Assert.Equal(table.Filled, b.Distinct().Count()));
            // The numbers two boards share, summed over all pairs, cannot be fewer when all are used alike.
            var used = table.Possible.Select(v => boards.Count(b => b.Contains(v))).ToList();
            Assert.InRange(used.Max() - used.Min(), 0, 1);
            // No line of one board is a line of another.
            var lines = table.Boards.SelectMany((b, i) => table.Lines.Select(l => (i, string.Join(',', Enumerable.Range(0, b.Length).Where(p => (l >> p & 1) != 0).Select(p => b[p]).Order())))).ToList();
            Assert.DoesNotContain(lines.GroupBy(l => l.Item2), g => g.Select(l => l.i).Distinct().Count() > 1);
        }
    }

    [Theory]
    [InlineData("same", """{"values":[1,12]}""", 12)]
    [InlineData("more", """{"values":[1,12]}""", 11)]
    [InlineData("partner", """{"values":[0,10]}""", 11)]
    [InlineData("double", """{"values":[0,20]}""", 11)]
    public void Every_pane_answers_a_call_of_the_numbers(string level, string json, int calls)
    {
        var table = Table(json, Players(2), level);
        Assert.Equal(calls, table.Calls.Length);
        Assert.All(table.Boards.SelectMany(b => b), n => Assert.Contains(n, table.Possible));
        for (int c = 0; c < calls; c++) Assert.Equal(table.Calls[c], table.Relation.CalledBy(table.Possible[c]));
    }

    [Theory]
    [InlineData("""{"values":[1,8]}""", "same", "table.values", "[1,9]")]
    [InlineData("""{"values":[1,9]}""", "more", "table.values", "[1,10]")]
    [InlineData("""{"side":4,"free":true,"values":[1,20]}""", "same", "table.free", "false")]
    [InlineData("""{"relation":"plus:50"}""", "same", "table.relation", "\"same\"")]
    [InlineData("""{"values":[1,20],"formCall":"dice"}""", "same", "table.formCall", "\"scatter\"")]
    public void Refuses_with_the_nearest_that_works(string table, string level, string path, string nearest)
    {
        var problem = Assert.Single(Read(table, level: level).Problems);
        Assert.Equal(path, problem.Path);
        Assert.Equal(nearest, problem.Nearest!.ToJsonString());
    }

    [Fact]
    public void Who_misses_her_pane_leaves_it_open()
    {
        var setup = Read("""{"values":[1,9]}""", Players(2)).Setup!;
        var run = setup.Ready().Compile().Start(0);
        run.Deal(4);
        Assert.Equal(4, run.Moves.Count);
        var both = run.Moves.MaxBy(m => m.Items);
        Assert.Equal([0, 1], run.Asks(both).Select(a => a.Seat));
        int pane = run.Zones.OfType<Board>().First(b => b.Seat == 1).Panes.First(i => i.Value == 4).Id;
        var read = run.Read([pane]);
        Assert.True(read.More && read.Move == new Move(2));
        Assert.Null(run.Read([pane == 32 ? 33 : 32]).Move);
        run.Apply(new Move(2), true);
        Assert.Equal(ItemState.Up, run.Zones.OfType<Board>().First(b => b.Seat == 0).Panes.First(i => i.Value == 4).State);
        Assert.Equal(ItemState.Taken, run.Zones.OfType<Board>().First(b => b.Seat == 1).Panes.First(i => i.Value == 4).State);
        Assert.DoesNotContain(run.Possibilities, p => p.Outcome == 4);
    }

    [Fact]
    public void When_all_is_called_and_panes_were_missed_it_ends_without_a_line()
    {
        var run = Read("""{"values":[1,9]}""").Playable!.Compile().Start(0);
        for (int n = 1; n <= 9; n++)
        {
            run.Deal(n);
            run.Apply(Move.Pass, false);
        }
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.False(run.AimReached);
        Assert.Equal(9, run.Turns);
    }

    [Fact]
    public void A_beginner_finds_the_very_sign_that_is_called()
    {
        var game = Read("""{"formBoard":"numeral","formCall":"numeral"}""").Playable!.Compile().Start(0);
        game.Deal(4);
        Assert.All(game.Moves.SelectMany(game.Asks), a => Assert.Equal("match 4 numeral numeral", a.Ask.ToString()));
    }

    /// <summary>Of nine numbers nine lie on every board: where all boards are laid, two lay the same lines now and then, and one alone waits as long as ever.</summary>
    [Fact]
    public void Boards_may_be_laid_by_those_who_play()
    {
        var alone = Read("""{"boards":"laid","values":[1,12]}""").Setup!;
        Assert.Equal(Read("""{"values":[1,12]}""").Setup!.Ready().ExactFacts().Number("callsMean"), alone.Ready().ExactFacts().Number("callsMean"), 9);
        Assert.InRange(new Simulated(alone).Mean, alone.Ready().ExactFacts().Number("callsMean") - .06, alone.Ready().ExactFacts().Number("callsMean") + .06);

        var setup = Read("""{"boards":"laid","values":[1,10],"free":true,"formCall":"numeral"}""", Players(2)).Setup!;
        Assert.Equal(["cards 40", "pieces 18"], Catalogue.Of(setup).Needs(setup).Select(n => $"{n.Thing} {n.Count}").Order());
        Assert.Contains("a joker in the middle", string.Join(' ', Catalogue.Of(setup).GetReady(setup)));
        var run = setup.Ready().Compile().Start(0);
        int[] hers = [3, 1, 4, 5, 9, 2, 6, 8];
        foreach (int number in hers)
        {
            var card = run.Zones.OfType<CardGrid>().Single().Cards.Single(c => c.Value == number);
            run.Apply(run.Read([card.Id]).Move!.Value, true);
        }
        Assert.Equal((1, 0), (run.Next.Seat, run.Turns));
        var rest = run.Zones.OfType<ChoiceKeys>().Single().Choices.Single();
        run.Apply(run.Read([rest.Id]).Move!.Value, true);
        Assert.Equal((StepKind.Chance, 0), (run.Next.Kind, run.Next.Seat));
        Assert.Equal([3, 1, 4, 5, -1, 9, 2, 6, 8], run.Zones.OfType<Board>().First().Panes.Select(p => p.Value));
        Assert.Equal(8, run.Zones.OfType<Board>().Last().Panes.Select(p => p.Value).Where(v => v > 0).Distinct().Count());
        // 5, 9: across the free middle, 5 free 9.
        foreach (int call in (int[])[5, 9])
        {
            run.Deal(call);
            var hold = run.Zones.OfType<Board>().First().Panes.Single(p => p.Value == call);
            run.Apply(run.Moves.First(m => (m.Items & 1) == 1), true);
            Assert.Equal(ItemState.Taken, run.Zones.OfType<Board>().First().Panes.Single(p => p.Id == hold.Id).State);
        }
        Assert.Equal((StepKind.Over, 1), (run.Next.Kind, run.Points(0)));
    }

    [Fact]
    public void Who_joins_lays_a_board_before_it_goes_on()
    {
        var two = Read("""{"boards":"laid"}""", Players(2)).Setup!;
        var run = two.Ready().Compile().Start(1);
        var rng = new Rng(3);
        while (run.Next.Kind == StepKind.Choice) run.Apply(run.Plain(ref rng), true);
        Assert.Equal(1, run.Next.Seat);
        run = (two with { Seats = two.Seats.Add(two.Seats[0]) }).Ready().Compile().Continue(run, 7);
        Assert.Equal((StepKind.Choice, 2), (run.Next.Kind, run.Next.Seat));
        Assert.Equal(10, run.Moves.Count - 3);
        while (run.Next.Kind == StepKind.Choice) run.Apply(run.Plain(ref rng), true);
        Assert.Equal((StepKind.Chance, 1), (run.Next.Kind, run.Next.Seat));
    }
}
