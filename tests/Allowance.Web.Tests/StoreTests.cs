using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Sittings;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>The store over a real file: what is written stands, what is put right stays to be seen, what is erased is gone.</summary>
public sealed class StoreTests : IDisposable
{
    private readonly string directory = Directory.CreateTempSubdirectory("allowance-store-").FullName;
    private readonly Database database;
    private static readonly DateTimeOffset Noon = new(2026, 3, 1, 12, 0, 0, TimeSpan.FromHours(1));
    private static readonly Ask SixAndWhat = new(AskKind.Part, 10, 6, Form.Numeral);

    public StoreTests() => database = Database.Open(directory);

    public void Dispose()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(directory, true);
    }

    private Players Players => new(database);

    private Observations Notes => new(database);

    private SittingLog Log => new(database);

    private long Child(string name = "Otis") => Players.Add(name, "2021-01", PlayerKind.Child);

    private long Sit(params long?[] seats) => Log.Start("partners", "game=partners", Way.Screen, 7, Noon, seats);

    private static NewEvent Note(int seat, int? outcome, long player, int turn = 0, int? replaces = null) =>
        new(new Noted(seat, SixAndWhat.ToString(), outcome, outcome is null or >= 2, turn, replaces), Noon, player);

    [Fact]
    public void Opening_twice_keeps_what_was_written()
    {
        long id = Child();
        var again = new Players(Database.Open(directory));
        Assert.Equal(new Player(id, "Otis", "2021-01", PlayerKind.Child), again.Find(id));
    }

    [Fact]
    public void Ages_are_counted_from_the_birth_month()
    {
        var player = new Player(1, "Otis", "2021-01", PlayerKind.Child);
        Assert.Equal(5, player.AgeOn(new DateOnly(2026, 1, 15))!.Value, 2);
        Assert.Null((player with { BirthMonth = null }).AgeOn(new DateOnly(2026, 1, 15)));
        Assert.Equal(0, (player with { BirthMonth = "2027-01" }).AgeOn(new DateOnly(2026, 1, 15)));
        Assert.False((player with { Kind = PlayerKind.Other }).Plays);
    }

    [Fact]
    public void Settings_are_kept_and_replaced()
    {
        var settings = new Settings(database);
        settings.Set("a", "1");
        settings.Set("a", "2");
        settings.Set("'; drop table player; --", "still here");
        Assert.Equal("2", settings.All()["a"]);
        Assert.Empty(Players.All());
    }

    [Fact]
    public void Saving_under_a_name_again_replaces()
    {
        var saved = new SavedSetups(database);
        saved.Save("Rainy", "{}", Noon);
        long id = saved.Save("Rainy", "{\"a\":1}", Noon.AddDays(1));
        Assert.Equal("{\"a\":1}", Assert.Single(saved.All()).Json);
        Assert.Equal(Noon.AddDays(1), saved.Find(id)!.SavedAt);
        saved.Remove(id);
        Assert.Empty(saved.All());
    }

    [Fact]
    public void Events_come_back_in_order_and_as_they_were()
    {
        long otis = Child();
        long id = Sit(otis, null);
        SittingEvent[] events = [new Dealt(6, true), new Moved(ulong.MaxValue >> 4, -1, 3, true), new Hinted(2), new AllowanceChanged(0, "target", "8"), new Joined("4", true), new Left(1), new Closed(0, Closing.NotToday), new Stopped(true)];
        Assert.True(Log.Append(id, 0, "p", [.. events.Select(e => new NewEvent(e, Noon))], Log.Find(id)!.Seats));
        Assert.Equal(events, Log.Events(id));
        Assert.Equal([otis, null, null], Log.Find(id)!.Seats);
        Assert.Equal(Noon, Log.Find(id)!.EndedAt);
    }

    [Fact]
    public void A_post_is_taken_once_and_a_table_that_moved_on_is_not_written_over()
    {
        long id = Sit(Child());
        var seats = Log.Find(id)!.Seats;
        Assert.True(Log.Append(id, 0, "p", [new(new Hinted(1), Noon)], seats));
        Assert.False(Log.Append(id, 1, "p", [new(new Hinted(2), Noon)], seats));
        Assert.False(Log.Append(id, 0, "q", [new(new Hinted(2), Noon)], seats));
        Assert.True(Log.Append(id, 1, "q", [new(new Hinted(2), Noon)], seats));
        Assert.Equal(2, Log.Events(id).Count);
    }

    [Fact]
    public void A_note_is_put_right_by_a_key_and_comes_back_when_that_is_undone()
    {
        long otis = Child();
        long id = Sit(otis);
        var seats = Log.Find(id)!.Seats;
        Log.Append(id, 0, null, [Note(0, null, otis)], seats);
        Log.Append(id, 1, null, [Note(0, 5, otis, replaces: 0)], seats);
        Assert.Equal(Outcome.SawIt, Assert.Single(Notes.Of(otis)).Observation.Seen.Outcome);
        Log.Append(id, 2, null, [new(new Undone(1), Noon)], seats);
        Assert.Null(Assert.Single(Notes.Of(otis)).Observation.Seen.Outcome);
        Log.Append(id, 3, null, [new(new Undone(0), Noon)], seats);
        Assert.Empty(Notes.Of(otis));
        Assert.Equal(2, Notes.OfSitting(id).Count);
    }

    [Fact]
    public void What_was_put_right_in_the_logbook_goes_when_its_turn_is_undone()
    {
        long otis = Child();
        long id = Sit(otis);
        var seats = Log.Find(id)!.Seats;
        Log.Append(id, 0, null, [Note(0, 0, otis)], seats);
        Notes.Correct(Notes.Of(otis)[0].Id, Seen.How(Outcome.CountedOn));
        Notes.Correct(Notes.Of(otis)[0].Id, Seen.How(Outcome.SawIt));
        Assert.Equal(Outcome.SawIt, Assert.Single(Notes.Of(otis)).Observation.Seen.Outcome);
        Log.Append(id, 1, null, [new(new Undone(0), Noon)], seats);
        Assert.Empty(Notes.Of(otis));
    }

    [Fact]
    public void What_was_put_right_in_the_logbook_is_put_right_again_at_the_table()
    {
        long otis = Child();
        long id = Sit(otis);
        var seats = Log.Find(id)!.Seats;
        Log.Append(id, 0, null, [Note(0, 0, otis)], seats);
        Notes.Correct(Notes.Of(otis)[0].Id, Seen.How(Outcome.CountedOn));
        Log.Append(id, 1, null, [Note(0, 5, otis, replaces: 0)], seats);
        Assert.Equal(Outcome.SawIt, Assert.Single(Notes.Of(otis)).Observation.Seen.Outcome);
        // Undone, what the logbook says holds again.
        Log.Append(id, 2, null, [new(new Undone(1), Noon)], seats);
        Assert.Equal(Outcome.CountedOn, Assert.Single(Notes.Of(otis)).Observation.Seen.Outcome);
    }

    [Fact]
    public void The_version_of_a_child_changes_with_everything_that_counts()
    {
        long otis = Child();
        long id = Sit(otis);
        var seats = Log.Find(id)!.Seats;
        var versions = new HashSet<object> { Notes.State(otis) };
        Log.Append(id, 0, null, [Note(0, 5, otis)], seats);
        Assert.True(versions.Add(Notes.State(otis)));
        Notes.Correct(Notes.Of(otis)[0].Id, Seen.How(Outcome.WithHelp));
        Assert.True(versions.Add(Notes.State(otis)));
        Notes.Withdraw(Notes.Of(otis)[0].Id);
        Assert.True(versions.Add(Notes.State(otis)));
        Assert.Empty(Notes.Of(otis));
    }

    [Fact]
    public void Correcting_twice_leaves_one_that_counts()
    {
        long otis = Child();
        long id = Sit(otis);
        Log.Append(id, 0, null, [Note(0, 5, otis)], Log.Find(id)!.Seats);
        long first = Notes.Of(otis)[0].Id;
        Notes.Correct(first, Seen.How(Outcome.CountedAll));
        Notes.Correct(Notes.Of(otis)[0].Id, Seen.NotWatched(true));
        Assert.Equal(Seen.NotWatched(true), Assert.Single(Notes.Of(otis)).Observation.Seen);
        Assert.Equal(3, Notes.OfSitting(id).Count);
        Assert.NotNull(Notes.Find(first)!.ReplacedBy);
    }

    [Fact]
    public void Erasing_takes_her_notes_and_lone_sittings_and_leaves_the_others()
    {
        long otis = Child(), mags = Child("Mags");
        long alone = Sit(otis), both = Sit(otis, mags);
        Log.Append(alone, 0, null, [Note(0, 5, otis)], Log.Find(alone)!.Seats);
        Log.Append(both, 0, null, [Note(0, 5, otis), Note(1, 4, mags), new(new Closed(0, Closing.Fine), Noon, otis)], Log.Find(both)!.Seats);
        Players.Erase(otis);
        Assert.Null(Log.Find(alone));
        Assert.Equal([null, mags], Log.Find(both)!.Seats);
        Assert.Single(Notes.OfSitting(both));
        Assert.DoesNotContain(Log.Events(both), e => e is Noted { Seat: 0 } or Closed);
        Assert.Single(Notes.Of(mags));
    }

    [Fact]
    public void Sittings_are_found_by_player_and_page()
    {
        long otis = Child(), mags = Child("Mags");
        for (int i = 0; i < 5; i++) Sit(otis);
        long last = Sit(mags);
        Assert.Equal(last, Log.Latest(1)[0].Id);
        Assert.Equal(5, Log.Latest(10, 0, otis).Count);
        Assert.Equal(2, Log.Latest(10, 3, otis).Count);
        Assert.Equal(5, Log.Open().Count);
    }

    [Fact]
    public void An_observation_keeps_its_moment_its_day_and_its_ask()
    {
        long otis = Child();
        long id = Sit(otis);
        Log.Append(id, 0, null, [new(new Noted(0, "join 4 2 4 numeral +frame", 2, true, 3), Noon, otis)], Log.Find(id)!.Seats);
        var seen = Assert.Single(Notes.Of(otis));
        Assert.Equal((Noon, new DateOnly(2026, 3, 1)), (seen.Observation.At, seen.Observation.Day));
        Assert.Equal("join 4 2 4 numeral +frame", seen.Observation.Ask.ToString());
        Assert.Equal((id, 3, Source.Table), (seen.SittingId, seen.Turn, seen.Observation.Source));
    }
}
