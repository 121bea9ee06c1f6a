using System.Net;
using System.Text.RegularExpressions;
using Allowance.Core.Games;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>The week: asked once, planned, changed, printed, and taken along as a calendar file.</summary>
public sealed class WeekTests : IAsyncLifetime
{
    private readonly TestHouse house = new();
    private long otis, mags, ines;

    public ValueTask InitializeAsync()
    {
        var players = house.Get<Players>();
        (otis, mags, ines) = (players.Add("Otis", "2021-05", PlayerKind.Child), players.Add("Mags", "2019-10", PlayerKind.Child), players.Add("Ines", null, PlayerKind.GrownUp));
        Offering.Whole(house.Get<Household>().Cupboard);
        return ValueTask.CompletedTask;
    }

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private DateOnly Today => house.Get<Household>().Today;

    /// <summary>The first day of next week, all of which is planned.</summary>
    private DateOnly Next => house.Get<Planning>().FirstOf(Today).AddDays(7);

    private string NextWeek => $"/week?from={Next:yyyy-MM-dd}";

    private Week Planned => house.Get<Planning>().Of(Next);

    private async Task<(HttpStatusCode Status, string Body, Uri At)> Usually(params (string, string)[] fields) =>
        await house.Post("/week?handler=Usually", [.. fields.Length > 0 ? fields : [.. Enum.GetNames<DayOfWeek>().Select(d => ("days", d)), ("minutes", "10"), ("who", $"{otis}"), ("at", "17:30")]]);

    private Task<(HttpStatusCode Status, string Body, Uri At)> Do(string what, DateOnly sitting, params (string, string)[] fields) => house.Post($"/week?handler={what}&from={Next:yyyy-MM-dd}&sitting={sitting:yyyy-MM-dd}", fields);

    [Fact]
    public async Task It_asks_once_when_there_is_playing_and_then_plans()
    {
        string empty = await house.Page("/week");
        Assert.Contains("Plan the week", empty, StringComparison.Ordinal);
        Assert.DoesNotContain("week-sitting", empty, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await Usually()).Status);
        string page = await house.Page(NextWeek);
        Assert.DoesNotContain("Plan the week", page, StringComparison.Ordinal);
        Assert.Equal(7, Regex.Count(page, "<div class=\"week-sitting"));
        Assert.Equal(7, Planned.Plan.Sittings.Length);
        Assert.Contains("10 minutes at 17:30, Otis", page, StringComparison.Ordinal);
        Assert.Matches("<li><strong>Otis</strong>: [A-Z]", page);
        // It survives a power cut.
        await house.Restart();
        Assert.Equal(7, Planned.Plan.Sittings.Length);
    }

    [Fact]
    public async Task A_sitting_is_moved_kept_swapped_left_out_and_taken_in_again()
    {
        await Usually();
        var (tuesday, friday) = (Next.AddDays(1), Next.AddDays(4));
        Assert.Contains("Moved. The rest is planned around it.", (await Do("Move", tuesday, ("to", $"{friday:yyyy-MM-dd}"))).Body, StringComparison.Ordinal);
        Assert.Equal([tuesday, friday], Planned.Days[4].Planned.Select(s => s.Slot.Id));
        Assert.Empty(Planned.Days[1].Planned);
        // Two on one day: no more than one of them brings something new.
        Assert.Contains("Left out", (await Do("Out", friday, ("take", "false"))).Body, StringComparison.Ordinal);
        Assert.True(house.Get<Planning>().Find(friday)!.Slot.IsOut);
        Assert.Contains("Taken in again.", (await Do("Out", friday, ("take", "true"))).Body, StringComparison.Ordinal);
        string game = house.Get<Planning>().Find(Next)!.Games[0].Setup.Frame.Id;
        Assert.Contains("Another game is planned.", (await Do("Swap", Next)).Body, StringComparison.Ordinal);
        var swapped = house.Get<Planning>().Find(Next)!;
        Assert.NotEqual(game, swapped.Games[0].Setup.Frame.Id);
        Assert.Contains("It stays as it is.", (await Do("Keep", Next, ("keep", "true"))).Body, StringComparison.Ordinal);
        // What is learnt meanwhile changes the others, not this one.
        await house.Post("/house?handler=Approach", ("answers", "counting"), ("mixing", "mixed"));
        Assert.Equal(swapped.Games[0].Setup.ToLink(), house.Get<Planning>().Find(Next)!.Games[0].Setup.ToLink());
        Assert.Contains("planned with the others again", (await Do("Keep", Next, ("keep", "false"))).Body, StringComparison.Ordinal);
        Assert.Contains("Changed for this once.", (await Do("Once", Next, ("minutes", "20"), ("who", $"{otis}"), ("who", $"{mags}"), ("tired", "true"))).Body, StringComparison.Ordinal);
        var once = house.Get<Planning>().Find(Next)!;
        Assert.Equal((5, true), (once.Slot.Evening.Planned, once.Slot.Evening.IsTired));
        Assert.Equal([otis, mags], once.Games.SelectMany(g => g.Children).Select(c => long.Parse(c.Seat.Key)).Order());
    }

    [Fact]
    public async Task What_does_not_go_is_said_and_nothing_is_changed()
    {
        await Usually();
        int said = house.Get<PlanLog>().Book.Count;
        foreach (var (answer, words) in new[]
        {
            (await Usually(("minutes", "10"), ("who", $"{otis}")), "at least one day"),
            (await Usually(("days", "Monday"), ("minutes", "1000"), ("who", $"{otis}")), "from 3 to 120 minutes"),
            (await Usually(("days", "Monday"), ("minutes", "many"), ("who", $"{otis}")), "from 3 to 120 minutes"),
            (await Usually(("days", "Monday"), ("minutes", "10"), ("who", $"{ines}"), ("who", "999"), ("who", "x")), "at least one child"),
            (await Usually(("days", "Monday"), ("minutes", "10"), ("who", $"{otis}"), ("at", "tea time")), "17:30"),
            (await Do("Move", Next, ("to", $"{Today.AddDays(-1):yyyy-MM-dd}")), "from today on"),
            (await Do("Move", Next, ("to", $"{Next.AddDays(9):yyyy-MM-dd}")), "by less than a week"),
            (await Do("Swap", Today.AddDays(-3)), "not planned any more"),
            (await Do("Out", Today.AddDays(400)), "not planned any more"),
            (await Do("Once", Today.AddDays(-1), ("minutes", "10"), ("who", $"{otis}")), "from today to"),
        })
        {
            Assert.True(answer.Status == HttpStatusCode.OK, words);
            Assert.Contains(words, answer.Body, StringComparison.Ordinal);
            Assert.Contains("Nothing was changed.", answer.Body, StringComparison.Ordinal);
        }
        Assert.Equal(said, house.Get<PlanLog>().Book.Count);
        foreach (string nonsense in (string[])["/week?from=0001-01-01", "/week?from=9999-12-31", "/week?from=x&open=y", $"{NextWeek}&open=2020-01-01", "/week?did=%3Cb%3E"]) await house.Page(nonsense);
    }

    [Fact]
    public async Task A_post_that_comes_twice_changes_nothing_more()
    {
        await Usually();
        int said = house.Get<PlanLog>().Book.Count;
        for (int i = 0; i < 2; i++) await Do("Swap", Next, ("post", "swap-once"));
        Assert.Equal(said + 1, house.Get<PlanLog>().Book.Count);
    }

    [Fact]
    public async Task What_was_really_played_replaces_what_was_planned()
    {
        await Usually();
        var planning = house.Get<Planning>();
        Assert.Contains(planning.Of(planning.FirstOf(Today)).Plan.Sittings, s => s.Slot.Day == Today);
        var setup = Setup.Default(Catalogue.Data.First(f => f.Id == "gather"), Seat.Child("Otis", 5, $"{otis}"));
        var at = DateTimeOffset.Now;
        house.Get<SittingLog>().Start("gather", setup.ToLink(), Way.Notes, 1, at, [otis], [new(new Stopped(true), at.AddMinutes(8))]);
        var week = planning.Of(planning.FirstOf(Today));
        Assert.DoesNotContain(week.Plan.Sittings, s => s.Slot.Day == Today);
        Assert.Single(week.Days.First(d => d.Day == Today).Played);
        Assert.Contains("Otis played 8 minutes.", await house.Page("/week"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_calendar_file_keeps_the_names_of_its_events()
    {
        await Usually();
        string before = await house.Page($"{NextWeek}&handler=Calendar");
        Assert.Equal(7, Regex.Count(before, "BEGIN:VEVENT"));
        string[] Uids(string file) => [.. Regex.Matches(file, "^UID:(.+)$", RegexOptions.Multiline).Select(m => m.Groups[1].Value.Trim()).Order()];
        Assert.Equal(7, Uids(before).Distinct().Count());
        await Do("Move", Next.AddDays(1), ("to", $"{Next.AddDays(2):yyyy-MM-dd}"));
        await Do("Out", Next.AddDays(3), ("take", "false"));
        // One was moved out of the week: the file tells where it went.
        await Do("Move", Next.AddDays(6), ("to", $"{Next.AddDays(8):yyyy-MM-dd}"));
        string after = await house.Page($"{NextWeek}&handler=Calendar");
        Assert.Equal(Uids(before), Uids(after));
        Assert.Single(Regex.Matches(after, "STATUS:CANCELLED"));
        Assert.Equal(2, Regex.Count(after, $"DTSTART:{Next.AddDays(2):yyyyMMdd}T173000"));
        Assert.Equal(1, Regex.Count(after, $"DTSTART:{Next.AddDays(8):yyyyMMdd}T173000"));
        int Sequence(string file) => int.Parse(Regex.Match(file, "SEQUENCE:(\\d+)").Groups[1].Value);
        Assert.True(Sequence(after) > Sequence(before));
        // A day on which nobody plays any more is taken out of a calendar by its name.
        await house.Post("/week?handler=Usually", ("days", $"{Next.AddDays(4).DayOfWeek}"), ("none", "true"));
        string given = await house.Page($"{NextWeek}&handler=Calendar");
        Assert.Equal(Uids(before), Uids(given));
        Assert.Equal(2, Regex.Count(given, "STATUS:CANCELLED"));
    }

    [Fact]
    public async Task A_child_who_was_removed_is_in_no_plan()
    {
        await Usually();
        await house.Post($"/house?handler=Remove&id={otis}");
        Assert.DoesNotContain("Otis", await house.Page(NextWeek), StringComparison.Ordinal);
        Assert.All(Planned.Plan.Sittings, s => Assert.Empty(s.Games));
    }
}
