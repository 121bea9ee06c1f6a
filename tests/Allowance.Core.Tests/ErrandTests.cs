using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

public class ErrandTests
{
    private static CheckedReading Read(string table, string level = "closed", string players = "[{}]") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"errand","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    private static Setup Good(string table, string level = "closed", string players = "[{}]")
    {
        var reading = Read(table, level, players);
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    // By hand: of 1, 2, 3 the larger of two drawn is 2, 3, 3, so 8/3; kept, they are 3, 4, 5, so 4 on average and 5 at most.
    [Theory]
    [InlineData("""{"slips":{"1":1,"2":1,"3":1},"trips":2}""", "closed", 3, 8.0 / 3)]
    [InlineData("""{"slips":{"1":1,"2":1,"3":1},"trips":2,"keep":true}""", "closed", 5, 4)]
    [InlineData("""{"slips":{"1":1,"2":1,"3":1},"trips":1}""", "sum", 5, 4)]
    [InlineData("""{"slips":{"1":1,"2":1,"3":1,"4":1},"trips":2,"keep":true}""", "sum", 10, 10)]
    // Pairs of 1, 2, 3, 4: 3+7, 4+6, 5+5, the larger 7, 6, 5.
    [InlineData("""{"slips":{"1":1,"2":1,"3":1,"4":1},"trips":2}""", "sum", 7, 6)]
    public void Pieces_are_counted_as_by_hand(string table, string level, double needed, double mean)
    {
        var facts = Good(table, level).Ready().ExactFacts();
        Assert.Equal(needed, facts.Number("piecesNeeded"));
        Assert.Equal(mean, facts.Number("piecesMean"), 10);
    }

    [Theory]
    [InlineData("""{"slips":{"0":1,"2":3,"5":2,"9":1},"trips":3}""", "[{}]")]
    [InlineData("""{"slips":{"0":1,"2":3,"5":2,"9":1},"trips":3}""", """[{"allowance":{"level":"sum"}},{}]""")]
    [InlineData("""{"slips":{"1":4,"3":4,"4":2,"7":3},"trips":5}""", """[{},{"allowance":{"level":"sum"}},{"allowance":{"level":"sum"}}]""")]
    [InlineData("""{"slips":{"1":4,"3":4,"4":2,"7":3},"trips":5,"keep":true}""", """[{"allowance":{"level":"sum"}},{}]""")]
    public void The_mean_is_what_trips_bring_when_they_are_made(string table, string players)
    {
        var setup = Good(table, players: players);
        bool keep = setup.Get<FlagValue>("keep").On;
        var game = setup.Ready().Compile();
        double sum = 0, squares = 0;
        const int Games = 20_000;
        for (int g = 0; g < Games; g++)
        {
            var rng = Rng.ForGame(3, g);
            var run = game.Start(0);
            int most = 0, all = 0;
            while (run.Next.Kind != StepKind.Over)
                if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
                else
                {
                    var move = run.Moves.Single();
                    (most, all) = (Math.Max(most, move.Pick), all + move.Pick);
                    run.Apply(move, true);
                }
            double brought = keep ? all : most;
            sum += brought;
            squares += brought * brought;
        }
        double mean = sum / Games, error = Math.Sqrt((squares / Games - mean * mean) / Games);
        Assert.InRange(setup.Ready().ExactFacts().Number("piecesMean"), mean - 4.5 * error, mean + 4.5 * error);
    }

    [Theory]
    [InlineData("open", "say 3 numeral; take 3 numeral")]
    [InlineData("closed", "say 3 numeral; take 3 spoken")]
    [InlineData("sum", "join 3 2 numeral; take 5 spoken")]
    public void A_trip_asks_by_level(string level, string asks)
    {
        var setup = Good("{}", level);
        var run = setup.Ready().Compile().Start(0);
        if (level == "sum") run.Deal(2);
        run.Deal(3);
        CloseSlip(run, level == "closed");
        Assert.Equal(asks, string.Join("; ", run.Asks(run.Moves.Single()).Select(a => a.Ask)));
    }

    /// <summary>Where the slip stays behind it is read, and closed by a tap before she goes; nothing is asked by that.</summary>
    private static void CloseSlip(Run run, bool closes)
    {
        Assert.Equal(closes, run.Zones.SelectMany(z => z.Items).Any(i => i.CanTap));
        if (!closes) return;
        Assert.Empty(run.Asks(run.Moves.Single()));
        Assert.Equal(run.Moves.Single(), run.Read([0]).Move);
        run.Apply(run.Moves.Single(), true);
        Assert.All(run.Zones.SelectMany(z => z.Items), i => Assert.Equal(ItemState.Down, i.State));
    }

    [Fact]
    public void In_secret_the_others_count_and_a_colour_is_drawn_with_the_number()
    {
        var setup = Good("""{"colour":true}""", "secret", "[{},{}]");
        var run = setup.Ready().Compile().Start(0);
        run.Deal(3);
        Assert.Equal(["red", "yellow", "blue"], run.Possibilities.Select(p => p.Label));
        run.Deal(1);
        CloseSlip(run, true);
        Assert.Equal("0 say 3 numeral; 0 take 3 spoken; 1 say 3 objects", string.Join("; ", run.Asks(run.Moves.Single()).Select(a => $"{a.Seat} {a.Ask}")));
        Assert.Equal("brought 3, yellow", run.Tells(run.Moves.Single(), true));
        run.Apply(run.Moves.Single(), true);
        Assert.Equal(new Lot("yellow", 3), Assert.Single(Assert.Single(run.Zones.OfType<Trip>()).Rug, l => l.Count > 0));
    }

    [Fact]
    public void What_was_brought_lies_there_until_she_goes_again_and_the_trips_are_counted()
    {
        var run = Good("""{"trips":2}""").Ready().Compile().Start(0);
        int OnRug() => run.Zones.OfType<Trip>().Single().Rug.Sum(l => l.Count);
        Assert.Equal(2, run.Left);
        run.Deal(3);
        run.Apply(run.Moves.Single(), true);
        run.Apply(run.Moves.Single(), true);
        Assert.Equal((3, 1), (OnRug(), run.Left));
        run.Deal(2);
        Assert.Equal(3, OnRug());
        run.Apply(run.Moves.Single(), true);
        Assert.Equal(0, OnRug());
        run.Apply(run.Moves.Single(), true);
        Assert.Equal((2, 0, StepKind.Over), (OnRug(), run.Left, run.Next.Kind));
    }

    [Fact]
    public void A_caller_begins_with_what_she_is_just_learning()
    {
        var setup = Good("""{"slips":{"1":3,"3":2,"5":3},"trips":8,"draw":"called"}""");
        // She knows 1, 3 is just right, and 5 a stretch.
        var game = setup.Ready().Compile(new Believed(n => n switch { 1 => .99, 3 => .7, _ => .2 }));
        var rng = new Rng(5);
        var run = game.Start(0);
        var drawn = new List<int>();
        while (run.Next.Kind != StepKind.Over)
            if (run.Next.Kind == StepKind.Chance)
            {
                int slip = run.Draw(ref rng);
                drawn.Add(slip);
                run.Deal(slip);
            }
            else run.Apply(run.Moves.Single(), true);
        Assert.Equal([3, 3, 1, 1, 1, 5, 5, 5], drawn);
    }

    private sealed class Believed(Func<int, double> right) : IAnswers
    {
        public Answering For(int seat, Asks.Ask ask) => right(ask[0]) is var p ? new([1 - p, 0, 0, 0, 0, p], [2, 2, 2, 2, 2, 2]) : default;
    }

    [Theory]
    [InlineData("""{"trips":11}""", "closed", "table.trips", "10")]
    [InlineData("""{"trips":6}""", "sum", "table.trips", "5")]
    [InlineData("""{"slips":{"0":4}}""", "closed", "table.slips", null)]
    [InlineData("""{"slips":{}}""", "closed", "table.slips", null)]
    [InlineData("""{"slips":{"x":1}}""", "closed", "table.slips.x", null)]
    [InlineData("""{"slips":[1,2]}""", "closed", "table.slips", null)]
    public void What_the_box_cannot_give_is_refused(string table, string level, string path, string? nearest)
    {
        var problem = Assert.Single(Read(table, level).Problems);
        Assert.Equal(path, problem.Path);
        if (nearest is not null) Assert.Equal(nearest, problem.Nearest!.ToJsonString());
    }
}
