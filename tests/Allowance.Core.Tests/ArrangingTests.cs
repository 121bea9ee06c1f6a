using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Core.Tables;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>
/// In the middle of every game somebody joins, somebody leaves, and an allowance is changed: nothing is dealt again, nothing
/// is lost, who comes stands where a beginner stands, and the game still ends.
/// </summary>
public class ArrangingTests
{
    private const int MostSteps = 60_000, MostTurns = 400;

    public static TheoryData<string> Frames => EngineTests.Frames;

    private static Frame Frame(string id) => Catalogue.All.First(f => f.Data.Id == id);

    private enum What { Joins, Leaves, Allowance }

    /// <summary>A table at which something is done after so many steps; answers are right three times in four.</summary>
    private sealed class Table
    {
        private Rng rng;

        public Table(Setup setup, long seed)
        {
            rng = Rng.ForGame(seed, 0);
            Sitting = new(setup.Ready(), Way.Screen, seed);
        }

        public Sitting Sitting { get; }

        public Run Run => Sitting.Game!;

        public bool IsOver => Sitting.Next.Kind == StepKind.Over || Run.Turns >= MostTurns;

        public void Step()
        {
            if (IsOver) return;
            if (Sitting.Next.Kind == StepKind.Chance)
            {
                var drawn = Sitting.Draw();
                Assert.Contains(Run.Possibilities, p => p.Outcome == drawn.Outcome && p.Ways > 0);
                Sitting.Take(drawn);
            }
            else
            {
                Assert.True(Sitting.IsHere(Sitting.Next.Seat), "somebody who has left is to move");
                var move = rng.Below(2) == 0 ? Run.Plain(ref rng) : Run.Best(ref rng);
                Assert.True(Run.IsLegal(move), $"{move} is not legal");
                Assert.All(Run.Moves, m => Assert.True(Run.IsLegal(m)));
                Assert.All(Run.Asks(move), a => Assert.True(Sitting.IsHere(a.Seat), "somebody who has left is asked"));
                Sitting.Take(Moved.By(move, rng.Below(4) > 0 || !Run.Seeking(move)));
            }
            Assert.NotEmpty(Run.Zones);
            Assert.NotEmpty(Run.Says);
        }

        public void ToTheBoundary()
        {
            for (int step = 0; Sitting.HoldsFromTheNextTurn && !IsOver && step < MostSteps; step++) Step();
        }
    }

    [Theory, MemberData(nameof(Frames))]
    public void Whoever_comes_or_goes_and_whatever_is_allowed_the_game_goes_on_to_its_end(string id)
    {
        var frame = Frame(id);
        var done = new Dictionary<What, int>();
        foreach (var level in frame.Data.Levels)
            for (int steps = 0; steps < 24; steps++)
                Go(Setup.Default(frame.Data, Seat.Child("a", 5), Seat.Child("b", 7), Seat.Child("c", 4)) with { LevelId = level.Id }, Setup.Default(frame.Data, Seat.Child("")) with { LevelId = frame.Data.Levels[steps % frame.Data.Levels.Count].Id }, steps, steps % 3, steps);
        Gen.Select(Setups.Random(frame.Data), Setups.Random(frame.Data), Gen.Int[0, 60], Gen.Int[0, 2], Gen.Int[0, 999]).Sample(Go, iter: 200, threads: 1);
        Assert.True(Enum.GetValues<What>().All(w => done.GetValueOrDefault(w) > 3), $"Hardly anything was done: {string.Join(", ", done)}");

        void Go(Setup setup, Setup other, int steps, int what, int seed)
        {
            if (setup.Problems().Count > 0 || setup.Seats.Length > Engine.MostSeats) return;
            var table = new Table(setup, seed);
            for (int step = 0; step < steps; step++) table.Step();
            // Two things after each other, also in the middle of a turn.
            for (int n = 0; n < 2 && !table.IsOver; n++)
            {
                var did = (What)((what + n) % 3);
                if (!Do(table, did, other)) continue;
                done[did] = done.GetValueOrDefault(did) + 1;
            }
            for (int step = 0; step < MostSteps && !table.IsOver; step++) table.Step();
            Assert.True(table.IsOver, $"{setup.ToLink()} did not end");
            // The log gives the same game again, and undone it was never there.
            var again = new Sitting(setup.Ready(), Way.Screen, seed, table.Sitting.Events.Select(e => SittingEvent.FromJson(e.ToJson())));
            Assert.True(table.Run.SameAs(again.Game!), $"{setup.ToLink()} replays to another game");
        }
    }

    /// <returns>False where the table refuses it.</returns>
    private static bool Do(Table table, What what, Setup other)
    {
        var sitting = table.Sitting;
        var setup = sitting.Setup;
        int seats = setup.Seats.Length, things = table.Run.Things, turns = table.Run.Turns;
        var points = Enumerable.Range(0, seats).Select(table.Run.Points).ToList();
        switch (what)
        {
            case What.Joins:
                var joined = new Joined("", false);
                if (seats >= Math.Min(setup.Frame.MostPlayers, Engine.MostSeats) || sitting.With(joined).Problems().Count > 0) return false;
                sitting.Take(joined);
                break;
            case What.Leaves:
                int leaver = Enumerable.Range(0, seats).LastOrDefault(sitting.IsHere, -1);
                if (Enumerable.Range(0, seats).Count(sitting.IsHere) < 2) return false;
                sitting.Take(new Left(leaver));
                break;
            default:
                // Some knob of her own, or another level.
                var own = other.Seats[0];
                var changed = own.Allowance.Select(a => new AllowanceChanged(0, a.Key, a.Value.ToLink())).Append(new AllowanceChanged(0, "level", own.Level ?? other.LevelId)).FirstOrDefault(c => sitting.With(c).Problems().Count == 0);
                if (changed is null) return false;
                sitting.Take(changed);
                break;
        }
        if (sitting.HoldsFromTheNextTurn)
        {
            // Until the turn is over it is played as it was begun.
            Assert.True(turns == table.Run.Turns, $"{setup.ToLink()} {what}: turn {turns}, then {table.Run.Turns}");
            table.ToTheBoundary();
            if (table.IsOver) return true;
            Assert.True(table.Run.Turns > turns || table.Run.IsBetweenTurns);
        }
        else
        {
            // Between two turns: nothing was dealt anew, and everyone keeps what is hers.
            var frame = sitting.Playable.Frame;
            if (frame.ShowsPoints(setup)) Assert.True(points.SequenceEqual(Enumerable.Range(0, seats).Select(table.Run.Points)), $"{setup.ToLink()} {what}: somebody has other points");
            // Of a caller's game the calls to come are counted, and those of who has left come no more.
            Assert.True(table.Run.Things >= things || frame.IsCalled, $"{setup.ToLink()} {what}: {things} things, then {table.Run.Things}");
        }
        return true;
    }

    /// <summary>At the boundary itself: what lies stays as it lies, and who is new has what everybody began with.</summary>
    [Theory, MemberData(nameof(Frames))]
    public void Nothing_is_dealt_again_and_who_joins_stands_where_a_beginner_stands(string id)
    {
        var frame = Frame(id);
        int joined = 0;
        foreach (var level in frame.Data.Levels)
            for (int turns = 1; turns < 12; turns++) Go(Setup.Default(frame.Data, Seat.Child("a", 5), Seat.Child("b", 7)) with { LevelId = level.Id }, turns, turns);
        Gen.Select(Setups.Random(frame.Data), Gen.Int[1, 25], Gen.Int[0, 999]).Sample(Go, iter: 200, threads: 1);
        Assert.True(joined > 5, $"Only {joined} joined.");

        void Go(Setup setup, int turns, int seed)
        {
            if (setup.Problems().Count > 0 || setup.Seats.Length >= Math.Min(frame.Data.MostPlayers, Engine.MostSeats)) return;
            var with = setup with { Seats = setup.Seats.Add(Seat.Child("")) };
            if (with.Problems().Count > 0) return;
            int seats = setup.Seats.Length;
            var rng = Rng.ForGame(seed, 0);
            var run = setup.Ready().Compile().Start(0);
            while (run.Turns < turns && run.Next.Kind != StepKind.Over) Play(ref run, ref rng);
            if (run.Next.Kind == StepKind.Over) return;
            var before = Lies(run);
            var now = with.Ready().Compile().Continue(run, (1u << (seats + 1)) - 1);
            var beginner = with.Ready().Compile().Start(0);
            joined++;
            Assert.True(before.IsSubsetOf(Lies(now)), $"{setup.ToLink()}: was {string.Join(", ", before.Except(Lies(now)))}");
            if (!frame.ShowsPoints(setup)) return;
            Assert.Equal(Enumerable.Range(0, seats).Select(run.Points), Enumerable.Range(0, seats).Select(now.Points));
            Assert.Equal(beginner.Points(seats), now.Points(seats));
        }
    }

    private static void Play(ref Run run, ref Rng rng)
    {
        if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
        else
        {
            var move = run.Plain(ref rng);
            run.Apply(move, rng.Below(4) > 0 || !run.Seeking(move));
        }
    }

    /// <summary>Each card, pane, heap and piece as it lies.</summary>
    private static HashSet<string> Lies(Run run) => [.. run.Zones.SelectMany(z => z switch
    {
        CardGrid or CardRow or Board or CardChain => z.Items.Where(i => i.State is not ItemState.Down).Select(i => $"{z.Label} {i.Id} {i.Value} {i.State}"),
        Heap heap => heap.Lots.Select(l => $"{z.Label} {heap.Seat} {l}"),
        Track track => track.Pieces.Select(p => $"{p}"),
        NumberLine line => line.Pieces.Select(p => $"{p}"),
        House house => [$"{house.Cab} {house.Count}"],
        Pile pile => [pile.Label],
        _ => Array.Empty<string>(),
    })];

    private static Sitting Begin(string game, string table, string players, string level = "", Way way = Way.Refereed, long seed = 5)
    {
        var reading = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}",{{(level.Length > 0 ? $"\"level\":\"{level}\"," : "")}}"table":{{table}},"players":{{players}}}""");
        Assert.Empty(reading.Problems);
        return new(reading.Playable!, way, seed);
    }

    private static void Deal(Sitting sitting, params int[] outcomes)
    {
        foreach (int outcome in outcomes) sitting.Take(new Dealt(outcome, true));
    }

    private static void Move(Sitting sitting) => sitting.Take(Moved.By(sitting.Game!.Moves[0], true));

    [Fact]
    public void A_joiner_in_Homing_begins_at_the_start_and_has_all_her_rolls()
    {
        var sitting = Begin("homing", """{"start":30,"rounds":2}""", "[{}]");
        Deal(sitting, 4);
        Move(sitting);
        sitting.Take(new Joined("", false));
        Assert.False(sitting.HoldsFromTheNextTurn);
        Assert.Contains(new Piece(1, 30), sitting.Game!.Zones.OfType<NumberLine>().Single().Pieces);
        int turns = 0;
        for (; sitting.Next.Kind != StepKind.Over; turns++)
        {
            Deal(sitting, 1);
            Move(sitting);
        }
        Assert.Equal(1 + 2, turns);
    }

    [Fact]
    public void In_Nine_Panes_all_keep_their_boards_and_a_joiner_has_her_free_middle()
    {
        var sitting = Begin("panes", """{"free":true,"values":[1,12]}""", "[{},{}]");
        var laid = Boards(sitting);
        sitting.Take(sitting.Draw());
        Move(sitting);
        sitting.Take(new Joined("", false));
        var now = Boards(sitting);
        Assert.Equal(laid, now.Take(2).Select(b => b[..]));
        var hers = sitting.Game!.Zones.OfType<Board>().Last();
        Assert.Equal(ItemState.Taken, hers.Items[4].State);
        Assert.Equal(8, hers.Items.Where(i => i.Value >= 0).Select(i => i.Value).Distinct().Count());

        static List<string> Boards(Sitting s) => [.. s.Game!.Zones.OfType<Board>().Select(z => string.Join(' ', z.Items.Select(i => i.Value)))];
    }

    [Fact]
    public void In_Chain_Call_all_keep_their_cards_but_for_a_fair_share_of_those_to_come()
    {
        var sitting = Begin("chaincall", """{"values":[1,12],"formSeeks":"dice"}""", "[{},{}]");
        Move(sitting);
        Move(sitting);
        sitting.Take(new Joined("", false));
        var answered = new int[3];
        while (sitting.Next.Kind != StepKind.Over)
        {
            answered[sitting.Next.Seat]++;
            Move(sitting);
        }
        // Ten were to come: three are hers, and they came from both.
        Assert.Equal(3, answered[2]);
        Assert.Equal(10, answered.Sum());
        Assert.InRange(answered[0], 3, 4);
    }

    [Fact]
    public void In_Partners_face_down_another_target_brings_other_hopes()
    {
        // Twos and threes: fours can be made, sixes can, tens cannot.
        var sitting = Begin("partners", """{"deck":{"counts":{"2":2,"3":2}},"layout":[1,4],"target":4,"refill":false}""", "[{},{}]", "memory");
        Turn(sitting, 0, 2);
        Turn(sitting, 1, 2);
        Move(sitting);
        // The twos are taken: nothing goes for anybody with a target of four, and the game is over …
        Assert.Equal(StepKind.Over, sitting.Next.Kind);
        // … unless one was allowed another target before.
        var other = Begin("partners", """{"deck":{"counts":{"2":2,"3":2}},"layout":[1,4],"target":4,"refill":false}""", "[{},{}]", "memory");
        Turn(other, 0, 2);
        other.Take(new AllowanceChanged(1, "target", "6"));
        Assert.True(other.HoldsFromTheNextTurn);
        Turn(other, 1, 2);
        Move(other);
        Assert.Equal((StepKind.Choice, 1), (other.Next.Kind, other.Next.Seat));

        static void Turn(Sitting s, int place, int number)
        {
            s.Take(Moved.By(new(0, place), true));
            Deal(s, number);
        }
    }

    [Fact]
    public void In_Topper_another_range_in_the_middle_of_a_round_waits_for_its_end()
    {
        var sitting = Begin("topper", """{"deck":{"counts":{"1":4,"2":4,"5":4,"9":4}}}""", "[{},{},{}]", "single");
        Deal(sitting, 1, 1);
        int next = sitting.Next.Seat;
        sitting.Take(new AllowanceChanged(2, "rangeTo", "2"));
        Assert.True(sitting.HoldsFromTheNextTurn);
        Assert.Equal(next, sitting.Next.Seat);
        while (sitting.Next.Kind == StepKind.Chance) Deal(sitting, 9);
        Assert.Equal(0, sitting.Game!.Points(0));
        Move(sitting);
        // Her own small pile is turned up first from the next round on.
        Assert.Equal(2, sitting.Next.Seat);
        Assert.All(sitting.Game!.Possibilities, p => Assert.InRange(p.Outcome, 1, 2));
    }

    [Fact]
    public void An_allowance_changed_in_the_middle_of_a_turn_holds_from_the_next_one()
    {
        var sitting = Begin("lift", "{}", "[{}]", "say");
        Deal(sitting, 3);
        sitting.Take(new AllowanceChanged(0, "level", "count"));
        Assert.Equal(2, sitting.Game!.Asks(sitting.Game.Moves[0]).Count);
        Move(sitting);
        Deal(sitting, 2);
        Assert.Single(sitting.Game!.Asks(sitting.Game.Moves[0]));
    }

    [Fact]
    public void Who_leaves_in_the_middle_of_her_turn_takes_nothing_with_her()
    {
        var sitting = Begin("gather", "{}", "[{},{}]");
        Deal(sitting, 3);
        Assert.Equal((StepKind.Choice, 0), (sitting.Next.Kind, sitting.Next.Seat));
        sitting.Take(new Left(0));
        Assert.Equal((StepKind.Chance, 1), (sitting.Next.Kind, sitting.Next.Seat));
        Assert.Equal(0, sitting.Game!.Points(0));
    }

    [Fact]
    public void A_place_that_the_rules_refuse_is_not_taken()
    {
        var sitting = Begin("panes", "{}", "[{},{},{},{},{},{},{},{}]");
        sitting.Take(new AllowanceChanged(0, "level", "double"));
        Assert.Null(sitting.Setup.Seats[0].Level);
    }
}
