using System.Numerics;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Gates: what a roll shuts, and what is told of it, against brute force and against play.</summary>
public class GatesTests
{
    private static CheckedReading Read(string table, string players = "[{}]", string more = "") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"gates","table":{{table}},"players":{{players}}{{more}}}""");

    private static Playable Good(string table, string players = "[{}]")
    {
        var reading = Read(table, players);
        Assert.Empty(reading.Problems);
        return reading.Playable!;
    }

    private static double Number(Facts facts, string name, int seat = 0) => facts.Find(name) switch { ListFact list => ((NumberFact)list.Items[seat]).Value, NumberFact n => n.Value, _ => double.NaN };

    /// <summary>By trying everything: the chance to shut all and the mean sum left.</summary>
    private static (double All, double Left) Solo(IReadOnlyList<int[]> dice, Func<int[], IEnumerable<int>> sets, int? small, int open, bool best, bool all, Dictionary<int, (double, double)> known)
    {
        if (open == 0) return (1, 0);
        if (known.TryGetValue(open, out var met)) return met;
        var rolls = Rolls([.. dice.Take(GateRow.SumOf(open) <= small ? 1 : dice.Count)]).ToList();
        double toAll = 0, toLeft = 0;
        foreach (int[] roll in rolls)
        {
            var ends = sets(roll).Where(set => (set & ~open) == 0).Select(set => Solo(dice, sets, small, open & ~set, best, all, known)).ToList();
            var end = ends.Count == 0 ? (0, GateRow.SumOf(open)) : !best ? (ends.Average(e => e.All), ends.Average(e => e.Left))
                : all ? ends.OrderByDescending(e => Math.Round(e.All, 11)).ThenBy(e => e.Left).First() : ends.OrderBy(e => Math.Round(e.Left, 11)).ThenByDescending(e => e.All).First();
            (toAll, toLeft) = (toAll + end.Item1 / rolls.Count, toLeft + end.Item2 / rolls.Count);
        }
        return known[open] = (toAll, toLeft);
    }

    private static IEnumerable<int[]> Rolls(IReadOnlyList<int[]> dice) =>
        dice.Aggregate((IEnumerable<int[]>)[[]], (rolls, die) => rolls.SelectMany(r => die.Select(face => (int[])[.. r, face])));

    private static IEnumerable<int> Adding(int[] roll, int gates, int most) =>
        Enumerable.Range(1, (1 << gates) - 1).Where(set => GateRow.SumOf(set) == roll.Sum() && (most == 0 || BitOperations.PopCount((uint)set) <= most));

    private static IEnumerable<int> Operated(int[] roll, int gates, IReadOnlyList<Operation> operations)
    {
        int a = roll.Max(), b = roll.Min();
        return (roll.Length == 1 ? [a] : operations.Select(o => o.Of(a, b)).OfType<int>()).Distinct().Where(g => g >= 1 && g <= gates).Select(g => 1 << g - 1);
    }

    private static readonly int[] D6 = [1, 2, 3, 4, 5, 6];

    public static TheoryData<string, int, int, string?> Boards => new()
    {
        { """["d6","d6"]""", 9, 0, null }, { """["d6","d6"]""", 9, 2, "6" }, { """["d6"]""", 6, 1, null }, { """["d6","d6"]""", 7, 0, "5" },
        { """[[1,1,2,2,3,3],"d4"]""", 8, 0, null }, { """["0-5","0-5","d4"]""", 8, 3, "3" }, { """["d10","d10"]""", 10, 2, "40" },
    };

    [Theory, MemberData(nameof(Boards))]
    public void Alone_it_is_known_how_it_ends(string dice, int gates, int most, string? small)
    {
        string table = $$"""{"gates":{{gates}},"dice":{{dice}},"maxGates":{{most}},"smallDie":{{small ?? "null"}}}""";
        var playable = Good(table);
        int[][] faces = [.. playable.Setup.Get(Gates.Knobs.Dice).Dice.All.Select(d => d.Faces.ToArray())];
        int? last = small is null ? null : int.Parse(small);
        foreach (bool best in new[] { false, true })
            foreach (bool all in new[] { true, false })
            {
                var expected = Solo(faces, roll => Adding(roll, gates, most), last, (1 << gates) - 1, best, all, []);
                var facts = Good(table.Replace("{\"gates\"", $"{{\"aim\":\"{(all ? "all" : "least")}\",\"gates\"", StringComparison.Ordinal)).ExactFacts(best ? Behaviour.Perfect : Behaviour.Plain);
                Assert.Equal(expected.All, facts.Number("pAll"), 9);
                Assert.Equal(expected.Left, facts.Number("leftMean"), 9);
                var pmf = (MapFact)facts.Find("leftPmf")!;
                Assert.Equal(1, pmf.Items.Sum(i => i.Value.Value), 9);
                Assert.Equal(expected.Left, pmf.Items.Sum(i => int.Parse(i.Key) * i.Value.Value), 9);
                Assert.Equal(1, Enumerable.Range(0, facts.Turns!.Length).Sum(n => facts.Turns[n]), 9);
            }
    }

    [Fact]
    public void Two_gates_and_a_die_by_hand()
    {
        // A die of 1, 2, 3: 1 and 2 leave one gate that a third of the rolls shuts; 3 shuts both at once.
        var facts = Good("""{"gates":2,"dice":[[1,2,3]]}""").ExactFacts();
        Assert.Equal(1 / 3.0 + 2 / 3.0 / 3, facts.Number("pAll"), 12);
        // Left: 2 after a 1 and two rolls of three, 1 after a 2 and two of three.
        Assert.Equal((2 + 1) / 3.0 * 2 / 3, facts.Number("leftMean"), 12);
        Assert.Equal(2 / 9.0, ((MapFact)facts.Find("leftPmf")!)[2], 12);
        Assert.Equal(1 / 3.0 + 2 * 2 / 3.0, facts.Turns!.Mean, 12);
    }

    [Theory]
    [InlineData("""["+","-"]""", 12)]
    [InlineData("""["+","-","×","÷"]""", 9)]
    [InlineData("""["*"]""", 14)]
    public void By_signs_a_gate_is_what_the_dice_come_to(string ops, int gates)
    {
        var playable = Good($$"""{"gates":{{gates}},"make":"ops","ops":{{ops}},"smallDie":6}""");
        var operations = playable.Setup.Get(Gates.Knobs.Ops).Operations;
        foreach (bool best in new[] { false, true })
        {
            var expected = Solo([D6, D6], roll => Operated(roll, gates, operations), 6, (1 << gates) - 1, best, true, []);
            var facts = playable.ExactFacts(best ? Behaviour.Perfect : Behaviour.Plain);
            Assert.Equal(expected.All, facts.Number("pAll"), 9);
            Assert.Equal(expected.Left, facts.Number("leftMean"), 9);
        }
    }

    /// <summary>By trying everything: who is the last one in.</summary>
    private static double[] LastIn(IReadOnlyList<int[][]> dice, int gates, int most, bool again, int open, int mover, int inside, Dictionary<(int, int, int), double[]> known)
    {
        int seats = dice.Count;
        double[] Only(int seat) => [.. Enumerable.Range(0, seats).Select(s => s == seat ? 1.0 : 0)];
        if (BitOperations.PopCount((uint)inside) == 1) return Only(BitOperations.TrailingZeroCount(inside));
        if (known.TryGetValue((open, mover, inside), out double[]? met)) return met;
        var sum = new double[seats];
        var rolls = Rolls(dice[mover]).ToList();
        int next = Enumerable.Range(1, seats).Select(i => (mover + i) % seats).First(s => (inside >> s & 1) != 0);
        foreach (int[] roll in rolls)
        {
            var sets = Adding(roll, gates, most).Where(set => (set & ~open) == 0).ToList();
            if (sets.Count == 0) Add(LastIn(dice, gates, most, again, open, next, inside & ~(1 << mover), known), 1.0 / rolls.Count);
            foreach (int set in sets)
                Add(open == set ? Only(mover) : LastIn(dice, gates, most, again, open & ~set, again && roll.Length > 1 && roll.All(f => f == roll[0]) ? mover : next, inside, known), 1.0 / rolls.Count / sets.Count);
        }
        return known[(open, mover, inside)] = sum;

        void Add(double[] chances, double by)
        {
            for (int s = 0; s < seats; s++) sum[s] += by * chances[s];
        }
    }

    [Theory]
    [InlineData("""["d6","d6"]""", "[{},{}]", 9, 0, false)]
    [InlineData("""["d6","d6"]""", "[{},{},{}]", 8, 2, true)]
    [InlineData("""["d4"]""", """[{"allowance":{"dice":["d6"]}},{},{"allowance":{"dice":[[2,4]]}}]""", 6, 0, false)]
    [InlineData("""["d4","d4"]""", "[{},{},{},{}]", 7, 0, true)]
    public void Of_one_row_it_is_known_who_is_the_last_one_in(string dice, string players, int gates, int most, bool again)
    {
        string table = $$"""{"gates":{{gates}},"dice":{{dice}},"maxGates":{{most}},"again":{{(again ? "true" : "false")}},"play":"lastIn"}""";
        var playable = Good(table, players);
        var setup = playable.Setup;
        int seats = setup.Seats.Length;
        var faces = Enumerable.Range(0, seats).Select(s => setup.At(s, Gates.Knobs.Dice).Dice.All.Select(d => d.Faces.ToArray()).ToArray()).ToList();
        double[] expected = LastIn(faces, gates, most, again, (1 << gates) - 1, 0, (1 << seats) - 1, []);
        var facts = playable.ExactFacts();
        for (int s = 0; s < seats; s++) Assert.Equal(expected[s], Number(facts, "winChance", s), 9);
        // As it is played.
        var forecast = Forecaster.Make(playable, new LearnerAnswers(setup, new(2026, 1, 1)), new ForecastOptions(Behaviour.Plain, 1, 20_000));
        for (int s = 0; s < seats; s++) Assert.Equal(expected[s], forecast.Wins[s], .02);
    }

    [Theory]
    [InlineData("plain")]
    [InlineData("perfect")]
    public void Play_and_reckoning_agree(string behaviour)
    {
        var options = new ForecastOptions(Enum.Parse<Behaviour>(behaviour, true), 1, 20_000);
        foreach (string table in new[] { """{"gates":9,"smallDie":6}""", """{"gates":12,"make":"ops","play":"own","again":true}""" })
        {
            var playable = Good(table, "[{},{}]");
            var facts = playable.ExactFacts(options.Behaviour);
            var played = playable.PlayedFacts(options.Behaviour, Spending.Unlimited);
            var mean = (NumberFact)(played.Find("leftMean") is ListFact list ? list.Items[0] : played.Find("leftMean")!);
            Assert.Equal(facts.Number("leftMean"), mean.Value, 5 * mean.Error);
            var forecast = Forecaster.Make(playable, new LearnerAnswers(playable.Setup, new(2026, 1, 1)), options);
            Assert.Equal(facts.Turns!.Mean, forecast.Turns.Mean, .1);
        }
    }

    [Fact]
    public void Players_with_dice_of_their_own_have_figures_of_their_own()
    {
        var facts = Good("""{"gates":6,"dice":["d6"]}""", """[{},{"allowance":{"dice":["d4"]}}]""").ExactFacts();
        Assert.Equal(Good("""{"gates":6,"dice":["d4"]}""").ExactFacts().Number("pAll"), Number(facts, "pAll", 1), 12);
        Assert.NotEqual(Number(facts, "pAll"), Number(facts, "pAll", 1), 3);
    }

    [Theory]
    [InlineData("""{"gates":9}""", """{"open":[1,2,5,9],"roll":[5,3]}""", "[[1,2,5]]", null)]
    [InlineData("""{"gates":9,"maxGates":2}""", """{"open":[1,2,3,4,5,6,7,8,9],"roll":[4,3]}""", "[[7],[1,6],[2,5],[3,4]]", null)]
    [InlineData("""{"gates":9}""", """{"open":[9,8],"roll":[1,1]}""", "[]", null)]
    [InlineData("""{"gates":12,"make":"ops","ops":["+","-"]}""", """{"open":[2,8,12],"roll":[3,5]}""", "[[2],[8]]", null)]
    [InlineData("""{"gates":9,"smallDie":6}""", """{"open":[1,4],"roll":[4]}""", "[[4]]", null)]
    [InlineData("""{"gates":9,"smallDie":6}""", """{"open":[1,4]}""", null, "[1,4,5]")]
    [InlineData("""{"gates":9}""", """{"open":[2,9]}""", null, "[2,9,11]")]
    [InlineData("""{"gates":12,"make":"ops","ops":["+","-"]}""", """{"open":[5,12]}""", null, "[[3,2],[4,1],[6,1],[6,6]]")]
    public void A_position_is_answered(string table, string position, string? moves, string? rolls)
    {
        var reading = Read(table, more: $$""","forecast":{"position":{{position}}}""");
        Assert.Empty(reading.Problems);
        var told = reading.Position!;
        if (moves is not null)
        {
            Assert.Equal(moves, told.Find("moves")!.ToJson().ToJsonString());
            Assert.Equal(((ListFact)told.Find("moves")!).Items.Count, ((ListFact)told.Find("values")!).Items.Count);
        }
        if (rolls is not null) Assert.Equal(rolls, told.Find("rolls")!.ToJson().ToJsonString());
    }

    [Fact]
    public void A_choice_is_worth_what_it_leads_to()
    {
        // Two gates open, a die: after shutting 5, gate 1 goes in one of six rolls.
        var told = Read("""{"gates":6,"dice":["d6"]}""", more: ""","forecast":{"aim":"all","position":{"open":[1,5],"roll":[5]}}""").Position!;
        Assert.Equal("[[5]]", told.Find("moves")!.ToJson().ToJsonString());
        Assert.Equal(1 / 6.0, ((NumberFact)((ListFact)told.Find("values")!).Items[0]).Value, 12);
        Assert.Equal(5 / 6.0, ((NumberFact)((ListFact)Read("""{"gates":6,"dice":["d6"]}""", more: ""","forecast":{"aim":"least","position":{"open":[1,5],"roll":[5]}}""").Position!.Find("values")!).Items[0]).Value, 12);
        // 1, 5 and 6 shut something.
        Assert.Equal(.5, Read("""{"gates":6,"dice":["d6"]}""", more: ""","forecast":{"position":{"open":[1,5]}}""").Position!.Number("staysIn"), 12);
    }

    [Theory]
    [InlineData("""{"gates":9}""", "[{}]", """,{"position":{"open":[10]}}""", "forecast.position.open")]
    [InlineData("""{"gates":9}""", "[{}]", """,{"position":{"open":[3,3]}}""", "forecast.position.open")]
    [InlineData("""{"gates":9}""", "[{}]", """,{"position":{"open":[3],"roll":[7,1]}}""", "forecast.position.roll")]
    [InlineData("""{"gates":9,"smallDie":9}""", "[{}]", """,{"position":{"open":[3],"roll":[5,1]}}""", "forecast.position.roll")]
    [InlineData("""{"gates":9}""", "[{}]", """,{"position":{"shut":[3]}}""", "forecast.position.shut")]
    [InlineData("""{"gates":9}""", "[{}]", """,{"aim":"most"}""", "forecast.aim")]
    [InlineData("""{"gates":1}""", "[{}]", "", "table.dice")]
    [InlineData("""{"make":"ops","dice":["d6","d6","d6"]}""", "[{}]", "", "table.dice")]
    [InlineData("""{"again":true,"dice":["d6"]}""", "[{}]", "", "table.again")]
    [InlineData("""{"again":true,"dice":["d6","d4"]}""", "[{}]", "", "table.again")]
    [InlineData("""{"play":"lastIn"}""", "[{}]", "", "table.play")]
    [InlineData("""{"gates":15}""", "[{}]", "", "table.gates")]
    [InlineData("""{"ops":["%"]}""", "[{}]", "", "table.ops")]
    public void What_does_not_go_is_refused_with_what_does(string table, string players, string forecast, string path)
    {
        var reading = Read(table, players, forecast.Length > 0 ? ",\"forecast\":" + forecast[1..] : "");
        Assert.Null(reading.Playable);
        Assert.Equal(path, Assert.Single(reading.Problems).Path);
        Assert.NotNull(reading.Problems[0].Nearest);
    }

    [Fact]
    public void Other_games_have_no_positions() =>
        Assert.Equal("forecast.position", Assert.Single(Catalogue.Read("""{"format":"allowance-setup/1","game":"lift","forecast":{"position":{}}}""").Problems).Path);

    [Fact]
    public void Gates_are_tapped_one_after_another_and_a_wrong_one_is_told()
    {
        var run = Good("""{"gates":9}""").Compile().Start(0);
        run.Deal(5);
        run.Deal(3);
        Assert.Equal("Which gates make that many?", run.Says);
        Assert.True(run.Read([4]).More);
        Assert.Equal(new Move(0b10100), run.Read([4, 2]).Move);
        Assert.NotEmpty(run.Read([8]).Words);
        Assert.Equal("join 5 3 dice; part 8 5 numeral", string.Join("; ", run.Asks(new(0b10100)).Select(a => a.Ask)));
        Assert.Equal("join 5 3 dice; join 5 2 1 numeral", string.Join("; ", run.Asks(new(0b10011)).Select(a => a.Ask)));
        run.Apply(new(0b10100), true);
        var gates = Assert.IsType<GateFence>(Assert.Single(run.Zones)).Gates;
        Assert.Equal([3, 5], gates.Where(g => g.State == ItemState.Down).Select(g => g.Value));
        run.Deal(1);
        run.Deal(1);
        Assert.StartsWith("2: then in", Assert.Single(run.Helps));
        run.Apply(run.Moves[0], true);
        run.Deal(1);
        run.Deal(1);
        Assert.Equal("No gate goes with this roll.", run.Says);
        Assert.Equal("No gate goes with this roll. Go on.", run.Read([0]).Words);
        Assert.True(run.Stuck);
        run.Apply(Move.Pass, true);
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.Equal((10, 35), (run.Points(0), run.Left));
        Assert.Equal((0, "35 still open"), Assert.Single(Assert.Single(run.Zones.OfType<Told>()).Places));
    }

    [Fact]
    public void By_signs_each_ask_is_that_of_its_sign()
    {
        var run = Good("""{"gates":12,"make":"ops","ops":["+","-","×","÷"]}""").Compile().Start(0);
        run.Deal(2);
        run.Deal(6);
        Assert.Equal(["gap 6 2 dice", "join 6 2 dice", "times 6 2 dice", "share 6 2 dice"], run.Moves.Select(m => (BitOperations.TrailingZeroCount(m.Items) + 1, run.Asks(m)[0].Ask.ToString())).OrderBy(m => m.Item1 switch { 4 => 0, 8 => 1, 12 => 2, _ => 3 }).Select(m => m.Item2));
    }

    [Fact]
    public void Who_cannot_shut_a_gate_is_out_and_who_shuts_the_last_has_won()
    {
        var run = Good("""{"gates":3,"dice":[[1,2,3,6]],"play":"lastIn"}""", "[{},{},{}]").Compile().Start(0);
        run.Deal(1);
        run.Apply(run.Moves[0], true);
        run.Deal(1);
        run.Apply(Move.Pass, true);
        Assert.Equal(2, run.Next.Seat);
        run.Deal(2);
        run.Apply(run.Moves[0], true);
        Assert.Equal(0, run.Next.Seat);
        run.Deal(3);
        run.Apply(run.Moves[0], true);
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.Equal([1, 0, 0], Enumerable.Range(0, 3).Select(run.Points));
    }

    [Fact]
    public void A_double_rolls_again_after_its_move()
    {
        var run = Good("""{"gates":9,"play":"own","again":true}""", "[{},{}]").Compile().Start(0);
        foreach (int face in new[] { 2, 2 }) run.Deal(face);
        run.Apply(run.Moves[0], true);
        Assert.Equal(0, run.Next.Seat);
        foreach (int face in new[] { 1, 2 }) run.Deal(face);
        run.Apply(run.Moves[0], true);
        Assert.Equal(1, run.Next.Seat);
    }

    [Fact]
    public void Gates_that_the_dice_do_not_reach_are_remarked_apart_from_those_below() => Assert.Equal(
        ["No roll shuts gate 1: not all can be shut.", "No roll shuts gates 13 and 14: not all can be shut."], new Gates().Audit(Good("""{"gates":14,"maxGates":1}""").Setup).Select(r => r.Says));

    [Fact]
    public void A_gate_that_no_roll_shuts_is_remarked() => Assert.Contains("No roll shuts gate 1:", Assert.Single(new Gates().Audit(Good("""{"gates":12,"maxGates":1}""").Setup)).Says, StringComparison.Ordinal);

    [Theory]
    [InlineData(9, 0, null, 2)]
    [InlineData(14, 0, null, 4)]
    [InlineData(14, 3, null, 3)]
    [InlineData(12, 0, "+-×÷", 2)]
    public void Every_set_that_a_roll_shuts_at_some_open_gates_is_found_once(int gates, int most, string? signs, int dice)
    {
        var row = new GateRow(gates, most, signs is null ? null : [Operation.Plus, Operation.Minus, Operation.Times, Operation.By], new Dice(Enumerable.Repeat(Die.Of(6), dice)), null);
        var rng = new Rng(7);
        for (int i = 0; i < 300; i++)
        {
            int open = rng.Below(row.Full + 1);
            foreach (var roll in row.Rolls(open))
            {
                var sets = row.Sets(roll.Key).Where(set => (set & ~open) == 0).ToList();
                Assert.Equal(sets, Enumerable.Range(0, row.Goes(roll.Key, open)).Select(n => row.Going(roll.Key, open, n)));
                Assert.Equal(sets.Count, sets.Select(row.PlaceOf).Distinct().Count());
                Assert.All(sets, set => Assert.InRange(row.PlaceOf(set), 1, row.MostPlaces));
            }
        }
    }

    [Fact]
    public void Each_at_one_table_has_her_own_level_gates_and_signs()
    {
        var playable = Good("""{"gates":9}""", """[{"allowance":{"level":"count"}},{"allowance":{"gates":7,"maxGates":2}},{"allowance":{"level":"ops","gates":10}}]""");
        var facts = playable.ExactFacts(Behaviour.Plain);
        var plus = new[] { Operation.Plus, Operation.Minus };
        (double All, double Left)[] expected =
        [
            Solo([[1, 2, 3, 4, 5, 6]], roll => Adding(roll, 6, 1), null, (1 << 6) - 1, false, true, []),
            Solo([D6, D6], roll => Adding(roll, 7, 2), null, (1 << 7) - 1, false, true, []),
            Solo([D6, D6], roll => Operated(roll, 10, plus), null, (1 << 10) - 1, false, true, []),
        ];
        for (int seat = 0; seat < 3; seat++)
        {
            Assert.Equal(expected[seat].All, Number(facts, "pAll", seat), 9);
            Assert.Equal(expected[seat].Left, Number(facts, "leftMean", seat), 9);
        }
        Assert.Equal("7 gates, up to 2 at once", Catalogue.Of(playable.Setup).Summary(playable.Setup, 1));
        Assert.Equal("count the dots, a die from 1 to 6, 6 gates", Catalogue.Of(playable.Setup).Summary(playable.Setup, 0));
        Assert.Equal(10, Catalogue.Of(playable.Setup).Needs(playable.Setup).Single(n => n.Thing == Materials.Need.Cards).Count);
        Assert.Contains("from 1 to her own last one (6, 7 and 10)", Catalogue.Of(playable.Setup).GetReady(playable.Setup)[0], StringComparison.Ordinal);
    }

    [Fact]
    public void Of_unequal_rows_the_one_with_the_least_left_wins()
    {
        // The short row has 1 left, the long one 6 of which more was shut.
        var run = Good("""{"gates":4,"dice":[[2,4]],"maxGates":1,"play":"own"}""", """[{"allowance":{"gates":2}},{}]""").Compile().Start(0);
        foreach (int roll in (int[])[2, 4, 2, 4])
        {
            run.Deal(roll);
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal(StepKind.Over, run.Next.Kind);
        Assert.Equal((10 - 1, 10 - 6), (run.Points(0), run.Points(1)));
    }

    [Fact]
    public void At_one_row_each_shuts_as_many_as_are_hers_and_all_have_the_same_gates()
    {
        var run = Good("""{"gates":9,"play":"lastIn"}""", """[{"allowance":{"maxGates":1}},{}]""").Compile().Start(0);
        foreach (int face in (int[])[2, 3]) run.Deal(face);
        Assert.Equal([new Move(1UL << 4)], run.Moves);
        run.Apply(run.Moves[0], true);
        foreach (int face in (int[])[2, 3]) run.Deal(face);
        Assert.Equal(2, run.Moves.Count);
        var problem = Assert.Single(Read("""{"gates":9,"play":"lastIn"}""", """[{},{"allowance":{"gates":6}}]""").Problems);
        Assert.Equal(("players[1].allowance.gates", "9"), (problem.Path, problem.Nearest!.ToJsonString()));
    }

    [Fact]
    public void What_is_each_ones_own_is_told_with_her_name()
    {
        var setup = Good("""{"gates":9}""", """[{},{"allowance":{"level":"count"}},{"grownUp":true,"allowance":{"level":"count"}}]""").Setup;
        var frame = Catalogue.Of(setup);
        Assert.Equal($"{frame.Summary(setup)}; for Otis {frame.Summary(setup, 1)}", frame.Summary(setup, seat => new[] { "Juno", "Otis", "Ines" }[seat]));
        Assert.Contains("count the dots", frame.Summary(setup, 1), StringComparison.Ordinal);
    }
}
