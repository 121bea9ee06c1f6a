using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Sittings;
using Allowance.Store;

namespace Allowance.Web.Tests;

public sealed partial class GlimpseTests : IAsyncLifetime
{
    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private async Task<(long Id, string Page)> Begin(string way, params (string, string)[] more)
    {
        var (_, page, at) = await house.Post("/bench?handler=Play", [("game", "glimpse"), ("bench.way", way), .. more]);
        Assert.StartsWith("/table/", at.AbsolutePath, StringComparison.Ordinal);
        return (long.Parse(at.AbsolutePath[7..]), page);
    }

    private Sitting Sitting(long id) => house.Get<Tables>().Find(id)!.Sitting;

    [GeneratedRegex("data-ms=\"(\\d+)\"")]
    private static partial Regex Milliseconds();

    private static int Shows(string page) => int.Parse(Milliseconds().Match(page).Groups[1].Value);

    private Task<(System.Net.HttpStatusCode Status, string Body, Uri At)> Note(long id, string post, int outcome, int shown, bool again = false, string how = "")
    {
        var (seat, ask) = Sitting(id).Waiting!.Value.Asks[0];
        return house.Post($"/table/{id}?handler=Note", ("post", post), ("seat", $"{seat}"), ("ask", ask.ToString()), ("turn", $"{Sitting(id).Turns}"), ("outcome", $"{outcome}"), ("shown", $"{shown}"), ("again", again ? "true" : "false"), ("how", how));
    }

    [Fact]
    public async Task One_tap_notes_a_glimpse_with_the_time_it_really_showed_and_goes_on()
    {
        var (id, page) = await Begin("screen", ("s1", "3"), ("range", "4-4"), ("forms", "rack"), ("showMs", "1000"));
        Assert.Contains("data-layer=\"picture\" hidden", page, StringComparison.Ordinal);
        Assert.Equal(1068, Shows(page));
        int before = house.Get<Observations>().Of(3).Count;
        // Three in a row shorten it by a step of a quarter; the shown time is a frame off what was meant.
        for (int i = 0; i < 3; i++) page = (await Note(id, $"n{i}", 5, 1076)).Body;
        Assert.Equal(854, Shows(page));
        Assert.Equal(3, Sitting(id).Turns);
        var seen = house.Get<Observations>().Of(3);
        Assert.Equal(before + 3, seen.Count);
        Assert.Equal((1.076, Source.Glimpse, "say 4 rack"), (seen[^1].Observation.Seconds, seen[^1].Observation.Source, seen[^1].Observation.Ask.ToString()));
        // Not yet lengthens it; undo takes the note and the turn back together.
        page = (await Note(id, "w", 0, 854)).Body;
        Assert.Equal(1068, Shows(page));
        await house.Post($"/table/{id}?handler=Undo", ("post", "u"));
        Assert.Equal(3, Sitting(id).Turns);
        Assert.Equal(before + 3, house.Get<Observations>().Of(3).Count);
        Assert.Contains("4 as rack about ", await house.Page("/growth/3"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_second_look_counts_as_help_and_the_groups_she_saw_are_kept()
    {
        var (id, _) = await Begin("screen", ("s1", "2"), ("level", "howSeen"), ("range", "5-5"));
        await Note(id, "a", 5, 900, again: true, how: "3+2");
        var noted = Sitting(id).Events.OfType<Noted>().Single();
        Assert.Equal(((int)Outcome.WithHelp, "3+2", 900), (noted.Outcome, noted.How, noted.Shown));
        await Note(id, "b", 4, 900, how: "<script>");
        Assert.Equal("", Sitting(id).Events.OfType<Noted>().Last().How);
    }

    [Fact]
    public async Task A_group_is_noted_by_tapping_those_who_had_it_or_those_who_had_not()
    {
        (string, string)[] seats = [.. Enumerable.Range(1, 12).Select(i => ($"s{i}", i <= 3 ? $"{i}" : "child"))];
        var (id, page) = await Begin("screen", [("answers", "atOnce"), ("looks", "8"), .. seats]);
        Assert.Contains("child 12", page, StringComparison.Ordinal);
        var counts = Enumerable.Range(1, 3).Select(child => house.Get<Observations>().Of(child).Count).ToList();
        await house.Post($"/table/{id}?handler=Had", ("post", "a"), ("hadNot", "false"), ("shown", "800"), ("tapped", "0"), ("tapped", "7"));
        Assert.Equal(12, Sitting(id).Notes.Count);
        Assert.Equal([0, 7], Sitting(id).Notes.Where(n => n.Seen.Right).Select(n => n.Seat));
        Assert.Equal(counts.Select(c => c + 1), Enumerable.Range(1, 3).Select(child => house.Get<Observations>().Of(child).Count));
        var (_, body, _) = await house.Post($"/table/{id}?handler=Had", ("post", "b"), ("hadNot", "true"), ("shown", "800"), ("tapped", "1"));
        Assert.Contains("11 of 12 had it.", body, StringComparison.Ordinal);
        Assert.Equal([1], Sitting(id).Notes.Where(n => n.Turn == 1 && !n.Seen.Right).Select(n => n.Seat));
    }

    [Fact]
    public async Task A_group_without_a_screen_is_noted_by_taps_too()
    {
        (string, string)[] seats = [.. Enumerable.Range(1, 9).Select(i => ($"s{i}", "child"))];
        var (id, page) = await Begin("notes", [("answers", "atOnce"), ("looks", "8"), .. seats]);
        Assert.Contains("tap who had it", page, StringComparison.Ordinal);
        Assert.DoesNotContain("saw it", page, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Had", ("post", "a"), ("hadNot", "false"), ("shown", ""), ("tapped", "4"));
        Assert.Equal((9, 1), (Sitting(id).Notes.Count, Sitting(id).Turns));
    }

    [Fact]
    public async Task Without_a_screen_the_app_says_what_to_hold_up()
    {
        var (id, page) = await Begin("notes", ("s1", "1"), ("range", "3-3"), ("forms", "fingers"));
        Assert.DoesNotContain("data-zone", page, StringComparison.Ordinal);
        Assert.Contains("Call for me", page, StringComparison.Ordinal);
        page = (await house.Post($"/table/{id}?handler=Calls&byApp=true")).Body;
        Assert.Contains("data-zone=\"stage\"", page, StringComparison.Ordinal);
        await Note(id, "a", 5, 0);
        Assert.Equal(1, Sitting(id).Turns);
        Assert.Equal(Source.Table, house.Get<Observations>().Of(1)[^1].Observation.Source);
    }

    [Fact]
    public async Task The_last_picture_ends_the_run_and_undo_brings_it_back()
    {
        var (id, _) = await Begin("screen", ("s1", "2"), ("looks", "8"));
        string page = "";
        for (int i = 0; i < 8; i++) page = (await Note(id, $"n{i}", 5, 700)).Body;
        Assert.Contains("The end", page, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Undo", ("post", "u"));
        Assert.Equal(7, Sitting(id).Turns);
        Assert.NotNull(Sitting(id).Waiting);
    }

    [Fact]
    public async Task Two_minutes_with_hands_are_a_list_and_what_was_seen_is_kept()
    {
        string page = await house.Page("/glimpse/pocket/2");
        Assert.Equal(8, Regex.Count(page, "name=\"outcomes\""));
        Assert.NotEqual(page, await house.Page("/glimpse/pocket/2?list=1"));
        Assert.Contains("Choose for at least one", (await house.Post("/glimpse/pocket/2", ("asks", "say 4 fingers"), ("outcomes", ""))).Body, StringComparison.Ordinal);
        int before = house.Get<Observations>().Of(2).Count;
        var (_, _, at) = await house.Post("/glimpse/pocket/2", ("asks", "say 4 fingers"), ("outcomes", "5"), ("asks", "part 10 6 fingers"), ("outcomes", ""), ("asks", "say 99 dice"), ("outcomes", "5"), ("asks", "on 7 1 spoken"), ("outcomes", "6"));
        Assert.StartsWith("/logbook/entry/", at.AbsolutePath, StringComparison.Ordinal);
        Assert.Equal(["say 4 fingers", "on 7 1 spoken"], house.Get<Observations>().Of(2).Skip(before).Select(o => o.Observation.Ask.ToString()));
    }

    [Fact]
    public async Task What_each_child_sees_is_proposed_and_its_times_are_shown()
    {
        string page = await house.Page("/glimpse");
        Assert.Contains("without counting", page, StringComparison.Ordinal);
        Assert.Contains("Glimpses: ", page, StringComparison.Ordinal);
        Assert.Contains("answers=atOnce", page, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("bench.group=24&s1=1", "s24=child")]
    [InlineData("bench.group=2&s1=1&s2=2&s3=3&s3.range=1-4", "s2=2")]
    public async Task A_group_of_so_many_takes_and_leaves_places(string query, string part)
    {
        string page = await house.Page($"/bench?game=glimpse&answers=atOnce&{query}");
        Assert.Contains(part, page, StringComparison.Ordinal);
        Assert.DoesNotContain("s3.range", page, StringComparison.Ordinal);
    }
}
