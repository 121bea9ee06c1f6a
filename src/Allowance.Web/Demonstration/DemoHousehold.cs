using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Plans;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Store;

namespace Allowance.Web.Demonstration;

/// <summary>
/// Twelve weeks of play at Fenwick Halt: simulated children answer, the engine itself plays, and what to play each time is what Today
/// would have proposed. Each child begins with a first look; once a week a game that was played away from the app is typed in. The
/// same day gives the same weeks.
/// </summary>
public static class DemoHousehold
{
    /// <summary>So many offers are enough to choose from while it is made; Today looks through all.</summary>
    private const int Offered = 2_500;

    /// <summary>
    /// Fills an empty household; one that has people in it is left as it is. It is made in a file of its own and taken over whole:
    /// whatever happens meanwhile, there is never half of it.
    /// </summary>
    /// <param name="progress">Is told how many of how many weeks are made; may break it off by throwing.</param>
    public static void Fill(Database database, TimeProvider clock, Action<int, int>? progress = null)
    {
        if (new Players(database).All().Count > 0) return;
        DropUnfinished(database.Directory);
        var made = Database.Open(Aside(database.Directory), isDurable: false);
        try
        {
            Make(made, clock, progress ?? ((_, _) => { }));
            database.TakeOver(made.File);
        }
        finally
        {
            made.Close();
            DropUnfinished(database.Directory);
        }
    }

    private static string Aside(string directory) => Path.Combine(directory, "making");

    /// <summary>What was left of a demonstration whose making was broken off.</summary>
    public static void DropUnfinished(string directory)
    {
        if (Directory.Exists(Aside(directory))) Directory.Delete(Aside(directory), true);
    }

    private static void Make(Database database, TimeProvider clock, Action<int, int> progress)
    {
        var (players, settings, things) = (new Players(database), new Settings(database), new Things(database));
        var (log, entries, plans, wishes) = (new SittingLog(database), new Entries(database), new PlanLog(database), new AimWishes(database));
        var now = clock.GetLocalNow();
        var today = DateOnly.FromDateTime(now.DateTime);
        var start = today.AddDays(-7 * FenwickHalt.Weeks);
        settings.Set("name", "Fenwick Halt");
        foreach (var usual in things.All().Materials) things.Remove(usual.Id);
        foreach (var thing in FenwickHalt.Drawer) things.Put(thing);
        DemoChild[] children = [Child("Juno", 3, 10, 1322, pace: Slowly), Child("Otis", 5, 4, 1463, (10, 3)), Child("Mags", 7, 1, 332)];
        var grownUps = new[] { "Ines", "Grandad Pell" }.ToDictionary(name => name, name => Seat.Child(name, null, $"{players.Add(name, null, PlayerKind.GrownUp)}") with { GrownUp = true });
        var book = OfferBook.Of(things.All(), Offered);
        foreach (var child in children) Look(entries, child, At(start, 10));
        Plan(settings, plans, children, grownUps, today, start, now);
        for (int day = 0; day < 7 * FenwickHalt.Weeks; day++)
        {
            var date = start.AddDays(day);
            if (day % 7 == 0)
            {
                progress(day / 7, FenwickHalt.Weeks);
                if (day > 0 && !IsAway(day))
                    foreach (var child in children) TypeIn(entries, child, day / 7, At(date, 11));
            }
            foreach (var (_, who, words) in FenwickHalt.Remarks.Where(r => r.Day == day))
                entries.Add(EntryKind.Words, At(date, 19), "", null, words, [children.First(c => c.Seat.Name == who).Id], []);
            foreach (var (_, who, skill, band) in FenwickHalt.PutFirst.Where(p => p.Day == day))
            {
                var child = children.First(c => c.Seat.Name == who);
                child.Wishes.Add(new(Feeding.BandIndex(skill, band), Wish.First, date));
                wishes.Put(child.Id, Feeding.BandIndex(skill, band), Wish.First, date);
            }
            // The first day is that of the first looks.
            if (day > 0 && !IsAway(day))
                foreach (var evening in FenwickHalt.Evenings.Where(e => e.Day == day % 7)) Play(evening, date);
        }
        var family = Together.For([.. children.Select(c => c.Here)], [grownUps["Ines"]], new(today, 15, Approach.Default), book);
        if (family is not null) new SavedSetups(database).Save("Rainy afternoon", family.Playable.Setup.ToJson().ToJsonString(), now);

        static bool IsAway(int day) => day is >= FenwickHalt.AwayFrom and < FenwickHalt.AwayTo;

        DateTimeOffset At(DateOnly day, int hour, int minute = 0) => new(day.ToDateTime(new TimeOnly(hour, minute)), now.Offset);

        DemoChild Child(string name, int years, int months, long seed, (int, int)? bond = null, double pace = 1)
        {
            long id = players.Add(name, $"{today.AddMonths(-12 * years - months):yyyy-MM}", PlayerKind.Child);
            double age = years + months / 12.0;
            return new(id, Seat.Child(name, Math.Round(age, 2), $"{id}"), age - 7 * FenwickHalt.Weeks / 365.25, seed, new(pace), bond);
        }

        void Play(DemoEvening evening, DateOnly date)
        {
            var here = children.Where(c => evening.Children.Contains(c.Seat.Name)).ToList();
            var grownUp = evening.GrownUp is { } name ? grownUps[name] : null;
            if (Choose(here, grownUp, new(date, evening.IsTired ? Evening.TiredMinutes : evening.Minutes, Approach.Default), book) is not { } game) return;
            // Where nothing is good for all, the first plays with who else is seated.
            here.RemoveAll(c => game.Setup.Seats.All(s => s.Key != c.Seat.Key));
            var places = here.ToDictionary(c => game.Setup.Seats.IndexOf(game.Setup.Seats.First(s => s.Key == c.Seat.Key)));
            var forecast = Core.Forecasts.Forecaster.Make(game, new LearnerAnswers(game.Setup, date, s => here.FirstOrDefault(c => c.Seat.Key == s.Key)?.Model), new(Behaviour.Child, 1, 24), new());
            long seed = (date.DayNumber - start.DayNumber) * 31L + 7L * here.Count;
            double secondsATurn = 60 * forecast.Minutes.P50 / Math.Max(1, forecast.Turns.Mean);
            var at = At(date, evening.Hour, evening.Minute);
            var end = at.AddMinutes(evening.Minutes);
            // A short game is played once more.
            var until = new DemoSitting(game, evening.Way, places, seed, at, end, secondsATurn).Play(log).AddMinutes(1);
            if (until - at < (end - at) / 2) new DemoSitting(game, evening.Way, places, seed + 1, until, end, secondsATurn).Play(log);
        }
    }

    /// <summary>The youngest grows half as fast as others, so that after twelve weeks she still counts to six and sees one to three.</summary>
    private const double Slowly = .5;

    /// <summary>What Today would propose: one game for all, or what the first of them could play with the grown-up.</summary>
    private static Playable? Choose(IReadOnlyList<DemoChild> here, Seat? grownUp, Occasion occasion, OfferBook book)
    {
        if (here.Count > 1 && Together.For([.. here.Select(c => c.Here)], grownUp is null ? [] : [grownUp], occasion, book) is { } table) return table.Playable;
        var best = new Search(here[0].Here, occasion).Best(book).FirstOrDefault()?.Playable;
        if (best is null || grownUp is null) return best;
        // The grown-up sits where somebody else is wanted, else beside.
        var seats = best.Setup.Seats;
        return seats.Length > 1 ? Catalogue.Check(best.Setup with { Seats = seats.SetItem(1, grownUp) }) : Catalogue.Check(best.Setup with { Seats = seats.Add(grownUp) }) ?? best;
    }

    /// <summary>When they usually play, and what was said of this week.</summary>
    private static void Plan(Settings settings, PlanLog plans, IReadOnlyList<DemoChild> children, IReadOnlyDictionary<string, Seat> grownUps, DateOnly today, DateOnly start, DateTimeOffset now)
    {
        // Two days of the week that is shown have been played already.
        if (today.DayOfWeek is DayOfWeek.Monday or DayOfWeek.Tuesday) settings.Set("week", $"{DayOfWeek.Saturday}");
        var usual = FenwickHalt.Evenings.Select(e => new Usually(start.AddDays(e.Day).DayOfWeek,
            new(e.Minutes, [.. children.Where(c => e.Children.Contains(c.Seat.Name)).Select(c => c.Seat.Key), .. e.GrownUp is { } name ? [grownUps[name].Key] : Array.Empty<string>()], e.IsTired, new(e.Hour, e.Minute)), start));
        plans.Add(now, [.. usual]);
    }

    /// <summary>A first look, as the page would lead it.</summary>
    private static void Look(Entries entries, DemoChild child, DateTimeOffset at)
    {
        var seen = new List<LookedAt>();
        var fresh = child.Model.Copy();
        var notes = new List<Observation>();
        while (FirstLook.Next(fresh, seen, FirstLook.Length(child.Age), at) is { } ask)
        {
            var how = Seen.How(child.Answer(ask, DateOnly.FromDateTime(at.DateTime)));
            seen.Add(new(ask, how));
            notes.Add(new(at, ask, how, null, Source.FirstLook));
        }
        Keep(entries, child, EntryKind.FirstLook, "", null, at, notes);
    }

    /// <summary>What was played that week, and now and then a few glimpses.</summary>
    private static void TypeIn(Entries entries, DemoChild child, int week, DateTimeOffset at)
    {
        var day = DateOnly.FromDateTime(at.DateTime);
        var notes = new List<Observation>();
        child.Away.Play(5, Ask);
        child.Away.Play(4, Ask);
        Keep(entries, child, EntryKind.Typed, FenwickHalt.Away[(week + (int)child.Age) % FenwickHalt.Away.Length], 10 + week % 3 * 5, at, notes);
        if (week % 3 != 0 || child.Age > 6) return;
        notes = [];
        for (int n = 1; n <= (child.Age < 5 ? 4 : 7); n++)
            foreach (double seconds in (double[])[2, 1, .5])
            {
                var ask = new Ask(AskKind.Say, n, n <= 3 || week % 2 == 0 ? Form.Scatter : Form.Dice);
                // A short glimpse leaves no time to count.
                bool right = child.Answer(ask, day) is Outcome.SawIt or Outcome.Structure && seconds >= .25 * (n - 2);
                notes.Add(new(at, ask, Seen.How(right ? Outcome.SawIt : Outcome.NotYet), seconds, Source.Glimpse));
                if (!right) break;
            }
        Keep(entries, child, EntryKind.Typed, "Dots for a moment", 5, at, notes);

        bool Ask(Ask ask)
        {
            var outcome = child.Answer(ask, day);
            notes.Add(new(at, ask, Seen.How(outcome), null, Source.Typed));
            return outcome >= Outcome.CountedAll;
        }
    }

    private static void Keep(Entries entries, DemoChild child, EntryKind kind, string game, double? minutes, DateTimeOffset at, List<Observation> notes)
    {
        entries.Add(kind, at, game, minutes, "", [child.Id], [.. notes.Select(n => (child.Id, n))]);
        foreach (var note in notes) child.Note(note);
    }
}
