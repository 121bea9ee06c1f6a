using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Core.Tuning;
using Allowance.Store;

namespace Allowance.Web.Commands;

/// <summary>
/// The made-up household of Fenwick Halt with twelve weeks of play: simulated children answer, the engine itself plays,
/// and what to play each time is what Today would have proposed. Each child begins with a first look; once a week a game
/// that was played away from the app is typed in. The same seed gives the same weeks.
/// </summary>
public static class DemoHousehold
{
    private const int Weeks = 12, MostTurns = 24;

    /// <summary>Games around the halt, typed in later.</summary>
    private static readonly string[] Away = ["Tags on the hooks", "Reels along the platform", "Shop with wagons", "Skittles", "Which train is longer"];

    private static readonly (int Week, string Child, string Words)[] Remarks =
    [
        (1, "Juno", "Counted the steps down to the platform by herself, up to six."), (3, "Otis", "Said “five and one more” when he saw six fingers."),
        (5, "Mags", "Wants to be quicker than Grandad Pell. No clock for now."), (8, "Otis", "Explained to Juno why three and two is the same as two and three."),
        (10, "Juno", "Lined up the reels in two rows and saw that they were the same."),
    ];

    private sealed class DemoChild(long id, Seat seat, double age, long seed)
    {
        public AskingPolicy Away { get; } = new(seed, age);
        public double Age { get; } = age;
        public long Id { get; } = id;
        public Seat Seat { get; } = seat;
        public SimulatedChild Mind { get; } = new(seed, age);
        public ChildModel Model { get; } = new(age);
        public List<Observation> Seen { get; } = [];
        public (Setup, int)? Last { get; set; }
    }

    /// <summary>What lies in the drawer at the halt: two packs, one of them short of a six, dice, and things from the railway.</summary>
    private static void FillCupboard(Things things)
    {
        foreach (var usual in things.All().Materials) things.Remove(usual.Id);
        Material[] drawer =
        [
            new(0, "the blue pack", Use.Packs, 1, new(Shape.Flat, 88, 63, 16)),
            new(0, "the green pack", Use.Packs, 1, new(Shape.Flat, 88, 63, 16), null, System.Collections.Immutable.ImmutableSortedDictionary<string, int>.Empty.Add("6", 1)),
            new(0, "six-sided dice", Use.Dice, 5, new(Shape.Flat, 16, 16, 16), Die.Of(6)),
            new(0, "the ten-sided die", Use.Dice, 1, new(Shape.Ball, 20), Die.Of(10)),
            new(0, "blank wooden cubes", Use.Blanks, 6, new(Shape.Flat, 20, 20, 20)),
            new(0, "luggage tags", Use.Pieces, 60, new(Shape.Flat, 82, 41, 1)),
            new(0, "cotton reels", Use.Pieces, 40, new(Shape.Round, 30, 34), ByColour: Colours(("red", 14), ("yellow", 12), ("blue", 14))),
            new(0, "skittles", Use.Pieces, 12, new(Shape.Round, 45, 160)),
            new(0, "string", Use.String, 4, default),
            new(0, "card", Use.Card, 30, new(Shape.Flat, 297, 210, 0.3)),
            new(0, "paper", Use.Paper, 100, new(Shape.Flat, 297, 210, 0.1)),
            new(0, "the egg timer", Use.Other, 1, new(Shape.Round, 60, 90)),
        ];
        foreach (var thing in drawer) things.Put(thing);

        static System.Collections.Immutable.ImmutableSortedDictionary<string, int> Colours(params (string Colour, int Count)[] colours) =>
            System.Collections.Immutable.ImmutableSortedDictionary.CreateRange(colours.Select(c => KeyValuePair.Create(c.Colour, c.Count)));
    }

    /// <summary>
    /// Fills an empty household; one that has people in it is left as it is. It is made in a file of its own and taken over whole:
    /// whatever happens meanwhile, there is never half of it.
    /// </summary>
    public static void Fill(Database database, TimeProvider clock)
    {
        if (new Players(database).All().Count > 0) return;
        DropUnfinished(database.Directory);
        var made = Database.Open(Aside(database.Directory), isDurable: false);
        Make(made, clock);
        database.TakeOver(made.File);
        made.Close();
        DropUnfinished(database.Directory);
    }

    private static string Aside(string directory) => Path.Combine(directory, "making");

    /// <summary>What was left of a demonstration whose making was broken off.</summary>
    public static void DropUnfinished(string directory)
    {
        if (Directory.Exists(Aside(directory))) Directory.Delete(Aside(directory), true);
    }

    private static void Make(Database database, TimeProvider clock)
    {
        var players = new Players(database);
        var settings = new Settings(database);
        var saved = new SavedSetups(database);
        var log = new SittingLog(database);
        settings.Set("name", "Fenwick Halt");
        FillCupboard(new Things(database));
        var now = clock.GetLocalNow();
        var today = DateOnly.FromDateTime(now.DateTime);
        var start = today.AddDays(-7 * Weeks);
        var juno = Child("Juno", 3, 10, 7);
        var otis = Child("Otis", 5, 4, 138);
        var mags = Child("Mags", 7, 1, 28);
        long ines = players.Add("Ines", null, PlayerKind.GrownUp), pell = players.Add("Grandad Pell", null, PlayerKind.GrownUp);

        // Who sits down on which day of the week; the first child's proposal is played.
        (int Day, DemoChild[] Children, long? GrownUp)[] week =
        [
            (1, [otis], pell), (2, [juno], ines), (3, [mags, otis], null), (4, [juno], null), (5, [otis], null), (6, [mags, otis], pell), (6, [juno], ines),
        ];
        DemoChild[] all = [juno, otis, mags];
        var entries = new Entries(database);
        foreach (var child in all) Look(entries, child, At(start, 10));
        for (int w = 0; w < Weeks; w++)
        {
            var weekend = start.AddDays(7 * w);
            if (w > 0)
                foreach (var child in all) TypeIn(entries, child, w, At(weekend, 11));
            foreach (var (_, who, words) in Remarks.Where(r => r.Week == w))
                entries.Add(EntryKind.Words, At(weekend, 18), "", null, words, [all.First(c => c.Seat.Name == who).Id], []);
            foreach (var (day, children, grownUp) in week)
            {
                var date = start.AddDays(7 * w + day);
                if (date >= today || Rng.ForGame(w, day).Below(8) == 0) continue;
                Play(log, children, grownUp, new DateTimeOffset(date.ToDateTime(new TimeOnly(16, 10 + day * 5)), now.Offset));
            }
        }
        var family = Proposals.For(otis.Seat, otis.Model, otis.Seen, otis.Last, Approach.Default, today).Setup;
        saved.Save("Rainy afternoon", family.ToJson().ToJsonString(), now);

        DateTimeOffset At(DateOnly day, int hour) => new(day.ToDateTime(new TimeOnly(hour, 0)), now.Offset);

        DemoChild Child(string name, int years, int months, long seed)
        {
            var born = today.AddMonths(-12 * years - months);
            long id = players.Add(name, $"{born:yyyy-MM}", PlayerKind.Child);
            double age = years + months / 12.0;
            return new(id, Seat.Child(name, Math.Round(age, 2), id.ToString()), age - 7 * Weeks / 365.25, seed);
        }
    }

    /// <summary>A first look, as the page would lead it.</summary>
    private static void Look(Entries entries, DemoChild child, DateTimeOffset at)
    {
        var seen = new List<LookedAt>();
        var fresh = child.Model.Copy();
        var notes = new List<Observation>();
        while (FirstLook.Next(fresh, seen, FirstLook.Length(child.Age), at) is { } ask)
        {
            var how = Seen.How(child.Mind.Answer(ask, DateOnly.FromDateTime(at.DateTime)));
            seen.Add(new(ask, how));
            notes.Add(new(at, ask, how, null, Source.FirstLook));
        }
        Keep(entries, child, EntryKind.FirstLook, "", null, at, notes);
    }

    /// <summary>what was played that week, and now and then a few glimpses.</summary>
    private static void TypeIn(Entries entries, DemoChild child, int week, DateTimeOffset at)
    {
        var day = DateOnly.FromDateTime(at.DateTime);
        var notes = new List<Observation>();
        child.Away.Play(5, Ask);
        child.Away.Play(4, Ask);
        Keep(entries, child, EntryKind.Typed, Away[(week + (int)child.Age) % Away.Length], 10 + week % 3 * 5, at, notes);
        if (week % 3 != 0 || child.Age > 6) return;
        notes = [];
        for (int n = 1; n <= (child.Age < 5 ? 4 : 7); n++)
            foreach (double seconds in (double[])[2, 1, .5])
            {
                var ask = new Ask(AskKind.Say, n, n <= 3 || week % 2 == 0 ? Form.Scatter : Form.Dice);
                // A short glimpse leaves no time to count.
                bool right = child.Mind.Answer(ask, day) is Outcome.SawIt or Outcome.Structure && seconds >= .25 * (n - 2);
                notes.Add(new(at, ask, Seen.How(right ? Outcome.SawIt : Outcome.NotYet), seconds, Source.Glimpse));
                if (!right) break;
            }
        Keep(entries, child, EntryKind.Typed, "Dots for a moment", 5, at, notes);

        bool Ask(Ask ask)
        {
            var outcome = child.Mind.Answer(ask, day);
            notes.Add(new(at, ask, Seen.How(outcome), null, Source.Typed));
            return outcome >= Outcome.CountedAll;
        }
    }

    private static void Keep(Entries entries, DemoChild child, EntryKind kind, string game, double? minutes, DateTimeOffset at, List<Observation> notes)
    {
        entries.Add(kind, at, game, minutes, "", [child.Id], [.. notes.Select(n => (child.Id, n))]);
        foreach (var note in notes)
        {
            child.Model.Observe(note);
            child.Seen.Add(note);
        }
    }

    private static void Play(SittingLog log, DemoChild[] children, long? grownUp, DateTimeOffset at)
    {
        var day = DateOnly.FromDateTime(at.DateTime);
        var proposals = children.Select(c => Proposals.For(c.Seat, c.Model, c.Seen, c.Last, Approach.Default, day)).ToArray();
        var setup = Gathering.Of(proposals[0].Setup, 0, [.. children.Select((c, i) => (c.Seat, new List<Setup> { proposals[i].Setup }))]);
        if (grownUp is { } id) setup = setup with { Seats = setup.Seats.Add(Seat.Child("", null, id.ToString()) with { GrownUp = true }) };
        long seed = day.DayNumber * 31L + children.Length;
        var sitting = new Sitting(Catalogue.Check(setup)!, Way.Screen, seed);
        var rng = Rng.ForGame(seed, 9);
        var events = new List<NewEvent>();
        while (sitting.Next.Kind != StepKind.Over && sitting.Turns < MostTurns)
        {
            at = at.AddSeconds(6);
            if (sitting.Next.Kind == StepKind.Chance)
            {
                Take(sitting.Draw(), null);
                continue;
            }
            var game = sitting.Game!;
            var move = game.Best(ref rng);
            var asks = game.Asks(move);
            int turn = game.Turns;
            var answers = asks.Select(a => (a.Seat, a.Ask, Outcome: children[a.Seat].Mind.Answer(a.Ask, day), Watched: rng.Unit() < .7)).ToList();
            bool found = answers.TrueForAll(a => a.Outcome >= Outcome.CountedAll) || !game.Seeking(move);
            Take(new Moved(move.Items, move.Pick, move.First, found), null);
            foreach (var (seat, ask, outcome, watched) in answers)
            {
                Take(new Noted(seat, ask.ToString(), watched ? (int)outcome : null, outcome >= Outcome.CountedAll, turn), children[seat].Id);
                var seen = watched ? Seen.How(outcome) : Seen.NotWatched(outcome >= Outcome.CountedAll);
                var observation = new Observation(at, ask, seen);
                children[seat].Model.Observe(observation);
                children[seat].Seen.Add(observation);
            }
        }
        Take(new Stopped(sitting.Next.Kind != StepKind.Over), null);
        for (int i = 0; i < children.Length; i++)
        {
            children[i].Last = (sitting.Setup, i);
            Take(new Closed(i, rng.Below(3) == 0 ? Closing.Again : Closing.Fine), children[i].Id);
        }
        var seats = setup.Seats.Select(s => (long?)long.Parse(s.Key)).ToList();
        log.Start(setup.Frame.Id, setup.ToLink(), Way.Screen, seed, events[0].At, seats, events);

        void Take(SittingEvent e, long? player)
        {
            sitting.Take(e);
            // As the log keeps it, with what was told.
            events.Add(new(sitting.Events[^1], at, player));
        }
    }
}
