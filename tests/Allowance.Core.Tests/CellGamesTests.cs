using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Nudge and Hedge: boards that are made, what fits, and who wins, by hand and by trying everything.</summary>
public class CellGamesTests
{
    private static CheckedReading Read(string game, string table, string players = "[{},{}]", string more = "") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","table":{{table}},"players":{{players}}{{more}}}""");

    private static Playable Good(string game, string table, string players = "[{},{}]")
    {
        var reading = Read(game, table, players);
        Assert.Empty(reading.Problems);
        return reading.Playable!;
    }

    [Theory]
    [InlineData("nudge", """{"cells":[2,3,7,13,1],"dice":["d6","d6"],"until":"markers:2"}""", "[1,13]", "[4,5,6,8,9,10,11,12]", 27 / 36.0)]
    [InlineData("nudge", """{"cells":[4,5,6,7,8,9],"dice":["d6"],"map":"partner:10","until":"allLocked"}""", "[]", "[]", 0)]
    // 8 and 12 are two off, and 2 is eight off: 5 + 1 + 1 of 36 rolls fit.
    [InlineData("nudge", """{"cells":[9,8,2],"dice":["d6","d6"],"map":"toGo:10","until":"markers:1"}""", "[9]", "[3,4,5,6,7,9,10,11]", 29 / 36.0)]
    [InlineData("hedge", """{"rows":2,"columns":2,"inRow":2,"cells":[2,4,6,7],"dice":["d6"],"map":"double"}""", "[7]", "[4,5,6]", .5)]
    public void What_no_roll_reaches_and_which_rolls_fit_nothing(string game, string table, string cells, string rolls, double dead)
    {
        var facts = Good(game, table).ExactFacts();
        Assert.Equal(cells, facts.Find("deadCells")!.ToJson().ToJsonString());
        Assert.Equal(rolls, facts.Find("deadRolls")!.ToJson().ToJsonString());
        Assert.Equal(dead, facts.Number("pDead"), 12);
    }

    [Theory]
    [InlineData("""{"cells":[2,3,13],"dice":["d6","d6"],"until":"markers:2"}""", "No roll reaches 13; such cells count as filled.", "Rolls of 4, 5, 6, 7, 8, 9, 10, 11 and 12 fit no cell, and pass.")]
    [InlineData("""{"cells":[1,2,3,4,5],"dice":["d6"],"until":"markers:2"}""", "A roll of 6 fits no cell, and passes.", null)]
    public void What_fits_nothing_is_remarked(string table, string first, string? second) =>
        Assert.Equal(new[] { first, second }.OfType<string>(), new Nudge().Audit(Good("nudge", table).Setup).Select(r => r.Says));

    [Theory]
    [InlineData("nudge", "same", "How many? Put your marker on it.")]
    [InlineData("nudge", "more", "What is one more? Put your marker on it.")]
    [InlineData("nudge", "double", "What is the double? Put your marker on it.")]
    [InlineData("nudge", "partner", "What makes 10 with it? Put your marker on it.")]
    [InlineData("nudge", "toGo", "How far is it from 10? Put your marker on it.")]
    [InlineData("hedge", "more", "What is 2 more? Choose such a cell.")]
    public void It_is_said_what_is_looked_for(string game, string level, string says)
    {
        var run = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","level":"{{level}}","table":{},"players":[{},{}]}""").Playable!.Compile().Start(0);
        while (run.Next.Kind == StepKind.Chance) run.Deal(4);
        Assert.Equal(says, run.Says);
    }

    [Fact]
    public void In_many_forms_the_number_is_found_in_the_form_of_the_cell_that_is_chosen()
    {
        var run = Good("hedge", """{"rows":2,"columns":2,"inRow":2,"cells":[3,3,5,6],"dice":["d6"],"forms":["dice","tally"]}""").Compile().Start(0);
        run.Deal(3);
        Assert.Equal(["match 3 spoken dice", "match 3 spoken tally"], run.Moves.Select(m => $"{run.Asks(m)[^1].Ask}").Order());
        run.Apply(run.Moves[0], true);
        run.Deal(4);
        Assert.Equal("say 4 dice", $"{Assert.Single(run.Asks(Assert.Single(run.Moves))).Ask}");
    }

    [Theory]
    [InlineData(12)]
    [InlineData(16)]
    [InlineData(36)]
    public void A_board_is_made_in_proportion_to_the_chances_and_equal_cells_lie_apart(int count)
    {
        var laid = new HashSet<string>();
        for (int board = 1; board <= 10; board++)
        {
            var zone = Assert.IsType<CellBoard>(Assert.Single(Good("nudge", $$"""{"cells":{{count}},"board":{{board}}}""").Compile().Start(0).Zones));
            int[] numbers = [.. zone.Cells.Select(c => c.Number.Value)];
            Assert.Equal(count, numbers.Length);
            Assert.Equal(Enumerable.Range(2, 11), numbers.Distinct().Order());
            Assert.True(numbers.Count(n => n == 7) >= numbers.Count(n => n == 2));
            for (int i = 0; i < count; i++)
            {
                if (i % zone.Columns > 0) Assert.NotEqual(numbers[i - 1], numbers[i]);
                if (i >= zone.Columns) Assert.NotEqual(numbers[i - zone.Columns], numbers[i]);
            }
            laid.Add(string.Join(' ', numbers));
        }
        Assert.Equal(10, laid.Count);
    }

    [Fact]
    public void A_single_marker_is_pushed_off_and_the_second_locks()
    {
        var run = Good("nudge", """{"cells":[1,2,2],"dice":[[1,2]],"until":"allLocked"}""").Compile().Start(0);
        Put(run, 2, 1);
        Put(run, 2, 1);
        Assert.Equal([null, 1, null], Owners(run));
        Put(run, 2, 1);
        Put(run, 2, 2);
        Put(run, 2, 1);
        Assert.Equal([(null, false), (0, true), (1, false)], ((CellBoard)run.Zones[^1]).Cells.Select(c => (c.Owner, c.Locked)));
        // The locked one fits nobody.
        run.Deal(2);
        Assert.Equal([2], run.Moves.Select(m => m.Pick));
        run.Apply(run.Moves[0], true);
        Put(run, 1, 0);
        Assert.Equal([1, 1], [run.Points(0), run.Points(1)]);
        run.Deal(2);
        Assert.Equal("No cell fits this roll.", run.Says);
        run.Apply(Move.Pass, true);
        Put(run, 1, 0);
        Assert.Equal((StepKind.Over, 2, 1), (run.Next.Kind, run.Points(0), run.Points(1)));
    }

    private static List<int?> Owners(Run run) => [.. ((CellBoard)run.Zones[^1]).Cells.Select(c => c.Owner)];

    private static void Put(Run run, int roll, int cell)
    {
        run.Deal(roll);
        run.Apply(new(0, cell), true);
    }

    [Fact]
    public void A_board_on_which_nobody_can_move_any_more_ends_the_game()
    {
        // Three lock two cells each: nobody has the five markers, and no cell is open.
        var run = Good("nudge", """{"cells":[1,2,3,4,5,6],"dice":["d6"],"until":"markers:5"}""", "[{},{},{}]").Compile().Start(0);
        foreach (int cell in new[] { 1, 2, 3, 1, 2, 3, 4, 5, 6, 4, 5, 6 }) Put(run, cell, cell - 1);
        Assert.Equal((StepKind.Over, "All cells are locked."), (run.Next.Kind, run.Says));
        // A cell that only somebody who has left could fill holds nobody up.
        run = Good("nudge", """{"cells":[1,9],"dice":[[1]],"until":"allLocked"}""", """[{},{"allowance":{"dice":[[9]]}}]""").Compile().Start(0);
        Put(run, 1, 0);
        run.Leave(1);
        Put(run, 1, 0);
        Assert.Equal(StepKind.Over, run.Next.Kind);
    }

    [Fact]
    public void A_tap_on_what_does_not_fit_is_told()
    {
        var run = Good("nudge", """{"cells":[1,2,2],"dice":[[1,2]],"until":"markers:3"}""").Compile().Start(0);
        run.Deal(2);
        Assert.StartsWith("1 does not fit", run.Read([0]).Words);
        Assert.Equal(new Move(0, 2), run.Read([2]).Move);
        Assert.Equal(["the 2 in row 1, place 2", "the 2 in row 2, place 1"], run.Helps);
        run = Good("nudge", """{"cells":[1,2],"dice":[[1,3]],"until":"markers:1"}""").Compile().Start(0);
        run.Deal(3);
        Assert.Equal("No cell fits this roll. Go on.", run.Read([0]).Words);
    }

    /// <summary>The chance of the first of two to have two markers on a board of cells 1 and 2, a coin of 1 and 2: by trying everything.</summary>
    [Fact]
    public void Who_has_enough_markers_first_by_trying_everything()
    {
        var known = new Dictionary<(int, int, int), double>();
        // Single markers in two cells: 0 free, 1 mine (to move), 2 the other's; the chance of the one to move.
        double Wins(int a, int b, int depth)
        {
            if (depth == 0) return .5;
            if (known.TryGetValue((a, b, depth), out double met)) return met;
            double sum = 0;
            foreach (bool first in new[] { true, false })
            {
                int here = first ? a : b, other = first ? b : a;
                // A second marker on mine, or one beside another of mine: two markers.
                if (here == 1 || other == 1) sum += .5;
                else sum += .5 * (1 - (first ? Wins(2, Turned(b), depth - 1) : Wins(Turned(a), 2, depth - 1)));
            }
            return known[(a, b, depth)] = sum;
        }
        static int Turned(int owner) => owner == 0 ? 0 : 3 - owner;

        var playable = Good("nudge", """{"cells":[1,2],"dice":[[1,2]],"until":"markers:2"}""");
        var forecast = Forecaster.Make(playable, new LearnerAnswers(playable.Setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 20_000), new Facts());
        Assert.Equal(Wins(0, 0, 60), forecast.Wins[0], .015);
        var facts = playable.ExactFacts();
        var told = (NumberFact)((ListFact)facts.Find("winChance")!).Items[0];
        Assert.True(told.Simulated);
        Assert.Equal(Wins(0, 0, 60), told.Value, 5 * told.Error);
        Assert.True(facts.Number("pushes") > 0);
    }

    /// <summary>Two in a row on two by two cells of 1, 2, 3, 4 with a die of four: any two cells are in a line.</summary>
    [Fact]
    public void A_line_on_the_smallest_board_by_hand()
    {
        var playable = Good("hedge", """{"rows":2,"columns":2,"inRow":2,"cells":[1,2,3,4],"dice":["d4"]}""");
        var forecast = Forecaster.Make(playable, new LearnerAnswers(playable.Setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 20_000), new Facts());
        // She who first meets a second free cell wins. After the first marker the other has 3 of 4 to get hers; then each any free one.
        // Both(n): to move with one marker each and n cells free wins with n/4, else the other is to move.
        double Both(int free) => free / 4.0 / (1 - (1 - free / 4.0) * (1 - free / 4.0));
        // The other has none yet: she gets hers with 3/4, else the first wins with 3/4, and so on.
        double others = 3 / 4.0 * Both(2), mine = 1 / 4.0 * (3 / 4.0), again = 1 / 4.0 * (1 / 4.0);
        double first = (others + mine) / (1 - again);
        Assert.Equal(first, forecast.Wins[0], .015);
        Assert.Equal(0, playable.ExactFacts().Number("draw"));
    }

    [Fact]
    public void Blocking_takes_a_line_first_and_then_stops_one()
    {
        var playable = Good("hedge", """{"rows":3,"columns":3,"inRow":3,"cells":[1,2,3,2,1,2,3,2,3],"dice":["d3"]}""");
        var run = playable.Compile().Start(0);
        Put(run, 1, 0);
        Put(run, 2, 3);
        Put(run, 1, 4);
        // 0 and 4 want 8: of the threes only that one stops it.
        run.Deal(3);
        var rng = new Core.Numbers.Rng(1);
        Assert.Equal(8, run.Best(ref rng).Pick);
        run.Apply(new(0, 6), true);
        run.Deal(3);
        Assert.Equal(8, run.Best(ref rng).Pick);
        run.Apply(new(0, 8), true);
        Assert.Equal((StepKind.Over, 1, 0), (run.Next.Kind, run.Points(0), run.Points(1)));
        Assert.True(run.AimReached);
        Assert.Equal([0, 4, 8], Assert.Single(run.Zones.OfType<CellBoard>()).Cells.Where(c => c.InLine).Select(c => c.Number.Id));
    }

    [Fact]
    public void Where_both_block_more_boards_fill_up_without_a_line()
    {
        const string Table = """{"rows":5,"columns":5,"inRow":4}""";
        Assert.Empty(Read("hedge", Table, more: ""","forecast":{"behaviour":"blocking"}""").Problems);
        Assert.Equal("forecast.behaviour", Assert.Single(Read("nudge", "{}", more: ""","forecast":{"behaviour":"blocking"}""").Problems).Path);
        var playable = Good("hedge", Table);
        double anyhow = playable.ExactFacts().Number("draw"), blocked = playable.ExactFacts(Behaviour.Blocking).Number("draw");
        Assert.True(blocked > anyhow, $"{blocked:0.00} after {anyhow:0.00}");
    }

    [Theory]
    [InlineData("nudge", """{"cells":[20,30]}""", "table.cells")]
    [InlineData("nudge", """{"map":"partner:1"}""", "table.map")]
    [InlineData("nudge", """{"cells":[2,3],"until":"markers:9"}""", "table.until")]
    [InlineData("nudge", """{"cells":[2,200],"formBoard":"dice","until":"markers:1"}""", "table.formBoard")]
    [InlineData("nudge", """{"cells":0}""", "table.cells")]
    [InlineData("hedge", """{"rows":2,"columns":3,"inRow":4}""", "table.inRow")]
    [InlineData("hedge", """{"rows":2,"columns":3,"inRow":2,"cells":[2,3,4]}""", "table.cells")]
    [InlineData("hedge", """{"map":"toGo"}""", "table.map")]
    public void What_does_not_go_is_refused_with_what_does(string game, string table, string path)
    {
        var problem = Assert.Single(Read(game, table).Problems);
        Assert.Equal(path, problem.Path);
        Assert.NotNull(problem.Nearest);
    }

    [Theory]
    [InlineData("nudge", """ "cells":[1,2,3,4,5,6,7,8,9],"until":"markers:3" """)]
    [InlineData("hedge", """ "rows":3,"columns":3,"cells":[1,2,3,4,5,6,7,8,9],"inRow":3 """)]
    public void At_one_board_each_looks_for_what_is_hers(string game, string board)
    {
        var playable = Good(game, $$"""{{{board}},"dice":["d6"]}""", """[{},{"allowance":{"level":"partner"}},{"allowance":{"map":"plus:3"}}]""");
        Assert.Equal(["", "the partner, a die from 1 to 10", "3 more"], Enumerable.Range(0, 3).Select(s => Catalogue.Of(playable.Setup).Summary(playable.Setup, s)));
        var run = playable.Compile().Start(0);
        foreach (var (roll, cell, says, ask) in (ReadOnlySpan<(int, int, string, string)>)[(2, 1, "How many?", "say 2 dice"), (7, 2, "What makes 10 with it?", "part 10 7 dice"), (4, 6, "What is 3 more?", "on 4 3 dice")])
        {
            run.Deal(roll);
            Assert.StartsWith(says, run.Says, StringComparison.Ordinal);
            Assert.Equal([new Move(0, cell)], run.Moves);
            Assert.Equal(ask, $"{run.Asks(run.Moves[0])[^1].Ask}");
            run.Apply(run.Moves[0], true);
        }
    }

    [Fact]
    public void A_board_that_fits_no_roll_of_one_of_them_is_refused_at_her_place()
    {
        const string Board = """{"cells":[1,2,3,4,5,6,1,2,3],"dice":["d6"],"until":"markers:3"}""";
        var own = Assert.Single(Read("nudge", Board, """[{},{"allowance":{"map":"partner:20"}}]""").Problems);
        Assert.Equal(("players[1].allowance.map", "\"same\""), (own.Path, own.Nearest!.ToJsonString()));
        var level = Assert.Single(Read("nudge", """{"cells":[11,12,11],"dice":["d6","d6"],"until":"markers:2"}""", """[{},{"allowance":{"level":"partner"}}]""").Problems);
        Assert.Equal(("players[1].allowance.level", "\"same\""), (level.Path, level.Nearest!.ToJsonString()));
    }
}
