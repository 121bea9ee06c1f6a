using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;
using CsCheck;

namespace Allowance.Core.Tests;

/// <summary>Every table of every frame is drawn whole: nothing outside, nothing on top of another, everything there, words in their room.</summary>
public class DrawingTests
{
    private const double Hair = .05;

    private static readonly Room[] Rooms = [new(960, 690), new(800, 640), new(390, 420), new(700, 420), Room.Sheet, Room.Thumbnail, new(1200, 260)];

    private static readonly DrawnBy By = DrawnBy.Default with { Name = seat => new[] { "Ada", "Bo", "Clementine", "Dana", "Eli", "Fay", "Gus", "Hal" }[seat % 8], Picture = (item, _) => item.Id };

    public static TheoryData<string> Frames => EngineTests.Frames;

    private static Frame Frame(string id) => Catalogue.All.First(f => f.Data.Id == id);

    [Theory, MemberData(nameof(Frames))]
    public void Most_knobs_are_turned_at_a_thing_that_lies_there(string id)
    {
        var frame = Frame(id);
        var drawn = frame.Data.Levels.Select(l => Catalogue.Check(Setup.Default(frame.Data, Seat.Child("a", 5)) with { LevelId = l.Id })).OfType<Playable>()
            .SelectMany(p => p.Pictured()).Select(z => z.Sits).ToHashSet();
        Assert.All(frame.Data.Knobs.Select(k => k.Sits).Where(s => s is not (Sits.Game or Sits.Place or Sits.Deck)), s => Assert.Contains(s, drawn));
    }

    [Theory, MemberData(nameof(Frames))]
    public void Every_table_is_drawn_whole(string id)
    {
        var frame = Frame(id);
        foreach (var level in frame.Data.Levels)
            foreach (int players in new[] { 1, 2, 3, 4, 8 })
            {
                var setup = Setup.Default(frame.Data, [.. Enumerable.Range(0, players).Select(i => Seat.Child("abcdefgh"[i..(i + 1)], 5))]) with { LevelId = level.Id };
                if (Catalogue.Check(setup) is { } playable) Play(playable, players, turns: 40);
            }
        Gen.Select(Setups.Random(frame.Data), Gen.Int[0, 99]).Sample((setup, seed) =>
        {
            if (setup.Seats.Length <= Engine.MostSeats && Catalogue.Check(setup) is { } playable) Play(playable, seed, turns: 12);
        }, iter: 40, threads: 1);
    }

    private static void Play(Playable playable, int seed, int turns)
    {
        Whole(playable.Pictured(), Rooms[seed % Rooms.Length], playable.Setup);
        var run = playable.Compile().Start(0);
        var rng = Rng.ForGame(seed, 0);
        for (int step = 0; run.Next.Kind != StepKind.Over && run.Turns < turns; step++)
        {
            // Fewer and fewer states are looked at, in one room after another.
            if (step < 8 || step % 7 == 0) Whole(run.Zones, Rooms[(seed + step) % Rooms.Length], playable.Setup);
            if (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
            else run.Apply(run.Plain(ref rng), true);
        }
        Whole(run.Zones, Rooms[0], playable.Setup);
    }

    private static void Whole(IReadOnlyList<Zone> zones, Room room, Setup setup)
    {
        var drawing = Drawing.Of(zones, room, By);
        string where = $"{setup.ToLink()} in {room.Width}×{room.Height}";
        Assert.Equal(room.Width / room.Height, drawing.Width / drawing.Height, 1e-6);
        Assert.Equal(zones, drawing.Parts.Select(p => p.Zone));
        var page = new Extent(0, 0, drawing.Width, drawing.Height);
        foreach (var part in drawing.Parts)
        {
            Assert.True(Within(part.Box, page), $"{part.Zone.Kind} leaves the table: {where}");
            foreach (var shape in part.Shapes) Assert.True(Within(shape.Extent, part.Box), $"{shape} leaves its {part.Zone.Kind} {part.Box}: {where}");
            Apart(part.Taps.Select(t => (t.Box, t.Says)), where);
            foreach (var tap in part.Taps) Assert.True(Within(tap.Box, part.Box), $"{tap.Says} leaves its {part.Zone.Kind}: {where}");
            // Words stand beside each other.
            Apart(part.Shapes.OfType<WordsShape>().Where(w => w.Role is Role.Label or Role.Number or Role.Strong or Role.Word).Select(w => (w.Extent, w.Words)), where);
            Everything(part, where);
        }
        Apart(drawing.Parts.Select(p => (p.Box, p.Zone.Kind)), where);
    }

    /// <summary>What can be told apart is there once; what is counted is there as often as it is.</summary>
    private static void Everything(Part part, string where)
    {
        Assert.Equal(part.Zone.Items.Where(i => i.State != ItemState.Gone).Select(i => i.Id).Order(), part.Taps.Select(t => t.Item.Id).Order());
        int things = part.Shapes.Count(s => s is ThingShape or DiscShape { Role: Role.Counter });
        int? expected = part.Zone switch
        {
            Heap heap => heap.Lots.Sum(l => l.Count) is var all and <= 240 ? all : null,
            Plates plates => plates.Counts.Sum(),
            ThingRow row => row.Covered ? row.Gone : row.Things,
            Trip trip => trip.Rug.Sum(l => l.Count) + trip.Drawn.Count(d => d.Words is not null && d.State == ItemState.Up),
            _ => null,
        };
        if (expected is { } count) Assert.True(count == things, $"{things} things of {count} in the {part.Zone.Kind}: {where}");
        // Every number that lies open can be seen.
        var shown = part.Shapes.OfType<PictureShape>().Count();
        int open = part.Zone switch
        {
            Rings rings => rings.All.Sum(r => r.Holds.Count),
            _ => part.Zone.Items.Count(i => i.State is ItemState.Up or ItemState.Taken && i.Value >= 0 && i.Words is null && part.Zone is not ChoiceKeys),
        };
        Assert.True(shown == open, $"{shown} numbers of {open} in the {part.Zone.Kind}: {where}");
        int pieces = part.Shapes.OfType<DiscShape>().Count(d => d.Role == Role.Piece);
        // After an equals sign there is a place for what comes out.
        if (part.Zone is Stage stage) Assert.Equal(stage.Between.LastOrDefault() == "=" ? 1 : 0, part.Shapes.OfType<RectShape>().Count(r => r.Role == Role.Place));
        if (part.Zone is Track track) Assert.True(pieces == track.Pieces.Count || track.Length > 300, where);
        if (part.Zone is NumberLine line) Assert.Equal(line.Pieces.Count, pieces);
        // The lift is drawn before its floors, whichever way it moves.
        if (part.Zone is House) Assert.True(part.Shapes.ToList().FindIndex(s => s.Role == Role.Cab) > part.Shapes.ToList().FindLastIndex(s => s.Role == Role.Floor), where);
        if (part.Zone is House house) Assert.True(part.Shapes.Count(s => s.Role == Role.Door) == 2 && part.Shapes.Count(s => s.Role == Role.Cab) == 1 && part.Shapes.Count(s => s.Role == Role.Floor) == house.Top - 1, where);
    }

    private static bool Within(Extent inner, Extent outer) => inner.Left >= outer.Left - Hair && inner.Top >= outer.Top - Hair && inner.Right <= outer.Right + Hair && inner.Bottom <= outer.Bottom + Hair;

    private static void Apart(IEnumerable<(Extent Box, string Says)> boxes, string where)
    {
        var all = boxes.ToList();
        for (int i = 0; i < all.Count; i++)
            for (int k = 0; k < i; k++)
            {
                var (a, b) = (all[i].Box, all[k].Box);
                Assert.False(a.Left < b.Right - Hair && b.Left < a.Right - Hair && a.Top < b.Bottom - Hair && b.Top < a.Bottom - Hair, $"{all[i].Says} lies on {all[k].Says}: {where}");
            }
    }

    /// <summary>By hand: on a card of 60 by 84 mm in a room as wide as high, with a margin of 8 mm.</summary>
    [Fact]
    public void A_card_has_the_size_of_a_card()
    {
        var drawing = Drawing.Of([new CardGrid("cards", 2, [new(0, 3, Form.Numeral, ItemState.Up, true), new(1, 4, Form.Numeral, ItemState.Up, true)])], new(500, 500), By);
        var card = drawing.Parts[0].Taps[0].Box;
        Assert.Equal((60, 84), (card.Right - card.Left, card.Bottom - card.Top));
        Assert.Equal((150, 150), (drawing.Width, drawing.Height));
    }

    [Fact]
    public void Words_can_be_read_on_every_screen()
    {
        foreach (var room in new[] { new Room(960, 690), new Room(800, 640), new Room(390, 420) })
        {
            var run = Frame("gather").Check(Setup.Default(Frame("gather").Data, [.. Enumerable.Range(0, 8).Select(i => Seat.Child($"{i}"))]))!.Compile().Start(0);
            var drawing = Drawing.Of(run.Zones, room, By);
            var labels = drawing.Parts.SelectMany(p => p.Shapes.OfType<WordsShape>()).Where(w => w.Role == Role.Label).ToList();
            Assert.Equal(8, labels.Count);
            Assert.All(labels, l => Assert.True(l.Size * room.Width / drawing.Width >= Room.LeastLetters - .01, $"{l.Words} is {l.Size * room.Width / drawing.Width:0.0} high in {room.Width}×{room.Height}"));
        }
    }

    [Fact]
    public void A_long_track_winds_in_a_narrow_room_and_runs_on_in_a_wide_one()
    {
        Zone track = new Track("track", 30, 1, 1, LineLabels.Fives, [new(0, 4)]);
        int Rows(Room room) => Drawing.Of([track], room, By).Parts[0].Shapes.OfType<RectShape>().Select(r => Math.Round(r.Box.Top)).Distinct().Count();
        Assert.True(Rows(new(390, 500)) >= 5);
        Assert.True(Rows(new(1200, 150)) <= 2);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(4)]
    public void Pieces_on_one_number_stand_one_above_the_other_each_as_large_as_alone(int together)
    {
        Zone line = new NumberLine("line", 0, 20, LineLabels.All) { Pieces = [.. Enumerable.Range(0, together).Select(seat => new Piece(seat, 10)), new(4, 3)], Home = 10 };
        var discs = Drawing.Of([line], new(390, 500), By).Parts[0].Shapes.OfType<DiscShape>().Where(d => d.Role == Role.Piece).ToList();
        Assert.Equal(together + 1, discs.Count);
        Assert.Single(discs.Select(d => Math.Round(d.Radius, 6)).Distinct());
        Assert.All(discs.SelectMany(one => discs.Where(other => other != one), (one, other) => Math.Sqrt(Math.Pow(one.X - other.X, 2) + Math.Pow(one.Y - other.Y, 2)) - 2 * one.Radius), apart => Assert.True(apart >= 0));
    }

    /// <summary>Two or three marks are no row of their own. Where one row could not be read, an upright room has space for more.</summary>
    [Theory]
    [InlineData(500, 300, 22, 1)]
    [InlineData(500, 300, 23, 1)]
    [InlineData(500, 300, 34, 2)]
    [InlineData(300, 500, 10, 1)]
    [InlineData(300, 500, 13, 1)]
    [InlineData(300, 500, 20, 2)]
    [InlineData(300, 500, 22, 2)]
    [InlineData(300, 500, 30, 3)]
    [InlineData(300, 500, 100, 6)]
    [InlineData(800, 900, 20, 1)]
    public void A_line_is_broken_where_much_is_left_for_the_next_row(int wide, int high, int to, int rows)
    {
        Zone line = new NumberLine("line", 0, to, LineLabels.Fives);
        Assert.Equal(rows, Drawing.Of([line], new(wide, high), By).Parts[0].Shapes.OfType<WordsShape>().Select(w => Math.Round(w.Y)).Distinct().Count());
    }
}
