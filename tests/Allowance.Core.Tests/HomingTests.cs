using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

public class HomingTests
{
    private static CheckedReading Read(string table, string players = "[{}]") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"homing","table":{{table}},"players":{{players}}}""");

    private static Facts Facts(string table, Behaviour behaviour)
    {
        var reading = Read(table);
        Assert.Empty(reading.Problems);
        return reading.Playable!.ExactFacts(behaviour);
    }

    // A die that always shows 1: an even number of rounds comes home for sure, an odd one ends beside it.
    // Anyhow, two rounds of one step end at home in half of the games, else two off.
    [Theory]
    [InlineData("""{"rounds":2,"dice":[[1]]}""", Behaviour.Perfect, 0, 1)]
    [InlineData("""{"rounds":3,"dice":[[1]]}""", Behaviour.Perfect, 1, 0)]
    [InlineData("""{"rounds":2,"dice":[[1]]}""", Behaviour.Plain, 1, .5)]
    [InlineData("""{"rounds":1,"dice":["d2"]}""", Behaviour.Perfect, 1.5, 0)]
    [InlineData("""{"rounds":2,"dice":["d2"]}""", Behaviour.Perfect, .5, .5)]
    [InlineData("""{"rounds":1,"dice":[[4]],"start":2,"mark":0,"line":[0,5]}""", Behaviour.Perfect, 2, 0)]
    // Below nothing there is no number, unless that is wished for.
    [InlineData("""{"rounds":1,"dice":[[4]],"start":2,"mark":0}""", Behaviour.Perfect, 6, 0)]
    [InlineData("""{"rounds":1,"dice":[[4]],"start":2,"mark":0,"floor":null}""", Behaviour.Perfect, 2, 0)]
    // A line may go on below nothing: four down from 2 ends on -2, on the line from -3; on the line from -1 there is only up.
    [InlineData("""{"rounds":1,"dice":[[4]],"start":2,"mark":0,"floor":null,"line":[-3,6]}""", Behaviour.Perfect, 2, 0)]
    [InlineData("""{"rounds":1,"dice":[[4]],"start":2,"mark":0,"floor":null,"line":[-1,6]}""", Behaviour.Perfect, 6, 0)]
    public void Known_ends_are_right(string table, Behaviour behaviour, double gap, double exactly)
    {
        var facts = Facts(table, behaviour);
        Assert.Equal(gap, facts.Number("gapMean"), 9);
        Assert.Equal(exactly, facts.Number("pExact"), 9);
    }

    /// <summary>The best choices found by trying all of them, round by round.</summary>
    private static (double Gap, double Exact) ByTrying(int at, int mark, int left, int[] faces, int low, int high)
    {
        if (left == 0) return (Math.Abs(at - mark), at == mark ? 1 : 0);
        double gap = 0, exact = 0;
        foreach (int face in faces)
        {
            var ways = new[] { at + face, at - face }.Where(n => n >= low && n <= high).DefaultIfEmpty(at).Select(n => ByTrying(n, mark, left - 1, faces, low, high)).ToList();
            var best = ways.OrderBy(w => Math.Round(w.Gap, 10)).ThenByDescending(w => w.Exact).First();
            gap += best.Gap / faces.Length;
            exact += best.Exact / faces.Length;
        }
        return (gap, exact);
    }

    [Theory]
    [InlineData(10, 10, 4, new[] { 1, 2, 3, 4, 5, 6 }, 0, 30)]
    [InlineData(3, 7, 3, new[] { 0, 2, 5 }, 0, 10)]
    [InlineData(50, 55, 4, new[] { 1, 3, 3, 7 }, 40, 60)]
    public void Best_play_is_what_trying_all_finds(int start, int mark, int rounds, int[] faces, int low, int high)
    {
        var facts = Facts($$"""{"start":{{start}},"mark":{{mark}},"rounds":{{rounds}},"dice":[[{{string.Join(',', faces)}}]],"line":[{{low}},{{high}}]}""", Behaviour.Perfect);
        var (gap, exact) = ByTrying(start, mark, rounds, faces, low, high);
        Assert.Equal(gap, facts.Number("gapMean"), 9);
        Assert.Equal(exact, facts.Number("pExact"), 9);
    }

    [Theory]
    [InlineData("""{"rounds":6}""", Behaviour.Plain)]
    [InlineData("""{"rounds":5,"line":[5,16]}""", Behaviour.Plain)]
    [InlineData("""{"rounds":5,"mark":14,"dice":["d6","d4"]}""", Behaviour.Perfect)]
    public void Exact_and_played_agree(string table, Behaviour behaviour)
    {
        var setup = Read(table).Setup!;
        var facts = setup.Ready().ExactFacts(behaviour);
        var game = setup.Ready().Compile();
        const int games = 20_000;
        int mark = setup.Get("mark") is WholeValue m ? m.Number : 10, low = 0, high = 0;
        double gap = 0, exact = 0;
        var reach = (MapFact)facts.Find("reach")!;
        double lowBound = reach["lowP95"], highBound = reach["highP95"];
        for (int i = 0; i < games; i++)
        {
            var rng = Rng.ForGame(8, i);
            var run = game.Start(0);
            int lowest = 10, highest = 10;
            while (run.Next.Kind != StepKind.Over)
            {
                if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                else run.Apply(behaviour == Behaviour.Plain ? run.Plain(ref rng) : run.Best(ref rng), true);
                int at = run.Zones.OfType<NumberLine>().Single().Pieces[0].At;
                (lowest, highest) = (Math.Min(lowest, at), Math.Max(highest, at));
            }
            int end = run.Zones.OfType<NumberLine>().Single().Pieces[0].At;
            gap += Math.Abs(end - mark);
            exact += end == mark ? 1 : 0;
            low += lowest >= lowBound ? 1 : 0;
            high += highest <= highBound ? 1 : 0;
        }
        Assert.Equal(facts.Number("gapMean"), gap / games, .15);
        Assert.Equal(facts.Number("pExact"), exact / games, .012);
        Assert.InRange((double)low / games, .94, 1);
        Assert.InRange((double)high / games, .94, 1);
        Assert.InRange(reach["low"], setup.Get("line") is null ? -40 : 5, lowBound);
    }

    [Theory]
    [InlineData("""{"start":30,"line":[0,20]}""", "table.start", "20")]
    [InlineData("""{"mark":25,"line":[0,20]}""", "table.mark", "20")]
    [InlineData("""{"rounds":21}""", "table.rounds", "20")]
    [InlineData("""{"dice":[[0]]}""", "table.dice", "[\"d6\"]")]
    [InlineData("""{"start":990}""", "table.rounds", "1")]
    [InlineData("""{"line":[8,12],"dice":[[9]]}""", "table.line", "[8,26]")]
    [InlineData("""{"start":2,"line":[-5,10]}""", "table.line", "[0,10]")]
    public void Refuses_with_the_nearest_that_works(string table, string path, string nearest)
    {
        var problem = Assert.Single(Read(table).Problems);
        Assert.Equal((path, nearest), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Fact]
    public void A_line_below_nothing_is_drawn_from_where_it_begins_and_comes_back_from_a_link()
    {
        var setup = Read("""{"start":2,"floor":null,"line":[-5,10]}""").Playable!.Setup;
        Assert.Contains("Draw a line from -5 to 10.", new Homing().GetReady(setup));
        var line = (RangeValue)Homing.Knobs.Line.Kind.FromLink(setup.Get(Homing.Knobs.Line)!.ToLink(), "line", [])!;
        Assert.Equal(new NumberRange(-5, 10), line.Range);
        var endless = Read("""{"start":2,"floor":null}""").Playable!.Setup;
        Assert.Contains(new Homing().GetReady(endless), told => told.StartsWith("Draw a line from -"));
    }

    [Fact]
    public void Up_or_down_is_chosen_and_the_last_round_asks_how_far_from_home()
    {
        var setup = Read("""{"rounds":1,"line":[0,12]}""").Setup!;
        var run = setup.Ready().Compile().Start(0);
        run.Deal(4);
        var down = Assert.Single(run.Moves);
        Assert.Null(run.Read([1]).Move);
        Assert.Equal(["back 10 4 line", "gap 10 6 numeral"], run.Asks(down).Select(a => a.Ask.ToString()));
        run.Apply(run.Read([0]).Move!.Value, true);
        Assert.Equal(StepKind.Over, run.Next.Kind);
    }

    [Fact]
    public void Writing_each_move_down_takes_its_time()
    {
        double Minutes(string table) => Forecaster.Make(Read(table).Playable!, new LearnerAnswers(Read(table).Setup!, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 200)).Minutes.Mean;
        Assert.Equal(6 * 10 / 60.0, Minutes("""{"rounds":6,"signs":true}""") - Minutes("""{"rounds":6}"""), 3);
    }

    [Fact]
    public void The_largest_line_is_worked_out()
    {
        var facts = Facts("""{"rounds":20,"dice":["d12","d12"],"start":480,"mark":470}""", Behaviour.Perfect);
        Assert.InRange(facts.Number("gapMean"), 0, 12);
    }

    [Fact]
    public void Who_goes_without_the_line_has_her_number_on_paper()
    {
        var setup = Read("""{"rounds":1}""", """[{"allowance":{"sees":false}},{}]""").Setup!;
        var run = setup.Ready().Compile().Start(0);
        Assert.Equal([(0, 10), (1, 10)], run.Zones.OfType<NumbersOnPaper>().Single().Places);
        Assert.Empty(run.Zones.OfType<NumberLine>());
        run.Deal(4);
        Assert.Equal("on 10 4 numeral", run.Asks(run.Moves[0])[0].Ask.ToString());
        run.Apply(run.Moves[0], true);
        run.Deal(3);
        Assert.Equal("on 10 3 line", run.Asks(run.Moves[0])[0].Ask.ToString());
        Assert.Single(run.Zones.OfType<NumberLine>());
        var needs = Catalogue.Of(setup).Needs(setup);
        Assert.Equal(["lines 1", "pieces 1", "sheets of paper 1", "dice 1"], needs.Select(n => $"{n.Thing} {n.Count}"));
    }

    [Theory]
    [InlineData("[{}]", "How far from home?")]
    [InlineData("[{},{}]", "Who is nearest?")]
    public void Who_plays_alone_is_asked_how_far_it_is_in_the_end(string players, string says)
    {
        var run = Read("""{"rounds":1}""", players).Setup!.Ready().Compile().Start(0);
        while (run.Next.Kind != StepKind.Over)
        {
            if (run.Next.Kind == StepKind.Chance) run.Deal(3);
            else run.Apply(run.Moves[0], true);
        }
        Assert.Equal(says, run.Says);
    }
}
