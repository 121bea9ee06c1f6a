using System.Net;
using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>The logbook with all that is in it, the first look, growth and Today, over a real file.</summary>
public sealed class LogbookTests : IAsyncLifetime
{
    private readonly TestHouse house = new();
    private long otis, mags;

    public ValueTask InitializeAsync()
    {
        otis = house.Get<Players>().Add("Otis", "2021-07", PlayerKind.Child);
        mags = house.Get<Players>().Add("Mags", "2019-10", PlayerKind.Child);
        house.Get<Players>().Add("Ines", null, PlayerKind.GrownUp);
        return ValueTask.CompletedTask;
    }

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private Entries Entries => house.Get<Entries>();

    private static Observation Note(DateTimeOffset at, int whole, int part, Outcome outcome) => new(at, new Ask(AskKind.Part, whole, part, Form.Numeral), Seen.How(outcome), null, Source.Typed);

    private static (string, string)[] Game(long player, params (string, string)[] more) =>
        [("Player", player.ToString()), ("Day", $"{DateTime.Now:yyyy-MM-dd}"), ("Game", "Reels along the platform"), ("Minutes", "12.5"), .. more];

    [Fact]
    public async Task A_game_away_from_the_app_is_typed_in_and_counts()
    {
        var (status, body, at) = await house.Post("/logbook/type", Game(otis, ("Lines[0].Kind", "part"), ("Lines[0].Numbers", "5 2"), ("Lines[0].Form", "numeral"), ("Lines[0].Outcome", "3"), ("Lines[0].Times", "4"),
            ("Lines[1].Kind", "say"), ("Lines[1].Numbers", "7"), ("Lines[1].Form", "dice"), ("Lines[1].Outcome", "6"), ("Lines[1].Times", ""), ("Remark", "By the <b>water tower</b>")));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Matches("^/logbook/entry/\\d+$", at.AbsolutePath);
        Assert.Contains("Reels along the platform", body, StringComparison.Ordinal);
        Assert.Contains("12.5 minutes", body, StringComparison.Ordinal);
        Assert.DoesNotContain("<b>water", body, StringComparison.Ordinal);
        var notes = house.Get<Observations>().Of(otis);
        Assert.Equal(5, notes.Count);
        Assert.Equal(4, notes.Count(n => n.Observation.Seen.Outcome == Outcome.CountedOn));
        Assert.All(notes, n => Assert.Equal(Source.Typed, n.Observation.Source));
        Assert.Contains("Reels along the platform", await house.Page("/logbook"), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("part", "12", "3", "1", "Line 1: ")]
    [InlineData("part", "5 x", "3", "1", "Line 1: ")]
    [InlineData("take", "4", "3", "1", "nothing to count here")]
    [InlineData("part", "5 2", "3", "900", "from 1 to 50")]
    [InlineData("nothing", "5 2", "3", "1", "choose what was asked")]
    [InlineData("part", "", "3", "1", "at least one line")]
    public async Task What_cannot_be_kept_is_said_and_nothing_typed_is_lost(string kind, string numbers, string outcome, string times, string why)
    {
        var (status, body, _) = await house.Post("/logbook/type", Game(mags, ("Lines[0].Kind", kind), ("Lines[0].Numbers", numbers), ("Lines[0].Form", "numeral"), ("Lines[0].Outcome", outcome), ("Lines[0].Times", times)));
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Contains(why, WebUtility.HtmlDecode(body), StringComparison.Ordinal);
        Assert.Contains("value=\"Reels along the platform\"", body, StringComparison.Ordinal);
        Assert.Empty(house.Get<Observations>().Of(mags));
        Assert.Empty(house.Get<Logbook>().Search(new(), 10, 0));
    }

    [Fact]
    public async Task A_day_to_come_or_an_unknown_child_is_refused()
    {
        var (_, later, _) = await house.Post("/logbook/type", ("Player", otis.ToString()), ("Day", "2999-01-01"), ("Game", "x"), ("Remark", "y"));
        Assert.Contains("today or before", later, StringComparison.Ordinal);
        var (_, nobody, _) = await house.Post("/logbook/type", ("Player", "999"), ("Day", "2026-01-01"), ("Game", "x"), ("Remark", "y"));
        Assert.Contains("Choose a child", nobody, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Words_are_kept_found_and_encoded()
    {
        await house.Post("/logbook?handler=Words", ("player", otis.ToString()), ("note", "Saw 100 % of the <wagons> at once"));
        await house.Post("/logbook?handler=Words", ("player", mags.ToString()), ("note", "Counted sleepers"));
        string found = await house.Page("/logbook?words=" + Uri.EscapeDataString("100 % of"));
        Assert.Contains("&lt;wagons&gt;", found, StringComparison.Ordinal);
        Assert.DoesNotContain("sleepers", found, StringComparison.Ordinal);
        Assert.Contains("Nothing in the logbook is like this", await house.Page("/logbook?words=_____"), StringComparison.Ordinal);
        var (_, tooLong, _) = await house.Post("/logbook?handler=Words", ("player", otis.ToString()), ("note", new string('a', 2_001)));
        Assert.Contains("at most 2000 characters", tooLong, StringComparison.Ordinal);
        Assert.Equal(2, house.Get<Logbook>().Search(new(), 10, 0).Count);
    }

    [Fact]
    public void The_logbook_is_found_by_child_skill_game_and_day()
    {
        DateTimeOffset Day(int d) => new(2026, 3, d, 16, 0, 0, TimeSpan.Zero);
        long a = Entries.Add(EntryKind.Typed, Day(1), "Skittles", null, "", [otis], [(otis, Note(Day(1), 5, 2, Outcome.SawIt))]);
        long b = Entries.Add(EntryKind.Typed, Day(2), "Shop", 5, "", [mags], [(mags, new(Day(2), new Ask(AskKind.Say, 4, Form.Dice), Seen.How(Outcome.SawIt)))]);
        long c = Entries.Add(EntryKind.Words, Day(3), "", null, "Long words", [otis, mags], []);
        var logbook = house.Get<Logbook>();
        long[] Found(LogSearch search) => [.. logbook.Search(search, 10, 0).Select(l => l.Id)];
        Assert.Equal([c, b, a], Found(new()));
        Assert.Equal([c, a], Found(new(Player: otis)));
        Assert.Equal([b], Found(new(Game: "Shop")));
        Assert.Equal([b, a], Found(new(To: new(2026, 3, 2))));
        Assert.Equal([c, b], Found(new(From: new(2026, 3, 2))));
        Assert.Equal([a], Found(new(Asks: ["part 5 2 numeral"])));
        Assert.Equal([b], Found(new(Asks: ["say 4 dice"], Player: mags)));
        Assert.Empty(Found(new(Asks: ["say 4 dice"], Player: otis)));
        Assert.Equal([c], Found(new(Words: "LONG")));
        Assert.Equal([b], [.. logbook.Search(new(), 1, 1).Select(l => l.Id)]);
        Assert.Equal(["part 5 2 numeral", "say 4 dice"], logbook.Asked().Order());
        Assert.Equal(1, logbook.Search(new(Game: "Skittles"), 1, 0)[0].Notes);
    }

    [Fact]
    public async Task A_skill_finds_its_entries_on_the_page()
    {
        var at = new DateTimeOffset(2026, 3, 1, 16, 0, 0, TimeSpan.Zero);
        Entries.Add(EntryKind.Typed, at, "Skittles", null, "", [otis], [(otis, Note(at, 5, 2, Outcome.SawIt))]);
        Entries.Add(EntryKind.Typed, at, "Shop", null, "", [otis], [(otis, new(at, new Ask(AskKind.Say, 4, Form.Dice), Seen.How(Outcome.SawIt)))]);
        string partners = Cells(await house.Page("/logbook?skill=partners")), glance = Cells(await house.Page("/logbook?skill=glance"));
        Assert.Contains("Skittles", partners, StringComparison.Ordinal);
        Assert.DoesNotContain("Shop", partners, StringComparison.Ordinal);
        Assert.Contains("Shop", glance, StringComparison.Ordinal);
        Assert.DoesNotContain("Skittles", glance, StringComparison.Ordinal);

        static string Cells(string page) => page[page.IndexOf("<tbody", StringComparison.Ordinal) is var i and >= 0 ? i.. : page.IndexOf("<table", StringComparison.Ordinal)..];
    }

    [Fact]
    public async Task A_file_is_shown_first_then_brought_in_once()
    {
        string file = "player,at,ask,outcome,right,seconds,source\notis,2026-03-01T10:00Z,part 5 2 numeral,5,,,table\nGuest,2026-03-01T10:00Z,part 5 2 numeral,0,,,\nOtis,bad,part 5 2 numeral,0,,,\nOtis,2100-01-01,part 5 2 numeral,0,,,\n";
        string preview = await house.PostFile("/logbook/import?handler=Preview", file);
        Assert.Contains("2 lines can be read", preview, StringComparison.Ordinal);
        Assert.Contains("is no time", WebUtility.HtmlDecode(preview), StringComparison.Ordinal);
        Assert.Contains("has not come yet", preview, StringComparison.Ordinal);
        Assert.Empty(house.Get<Observations>().Of(otis));
        string waiting = Regex.Match(preview, "name=\"waiting\" value=\"([0-9a-f]{32})\"").Groups[1].Value;
        Assert.Contains($"<option value=\"{otis}\" selected", preview, StringComparison.Ordinal);
        var (_, _, at) = await house.Post("/logbook/import?handler=Take", ("waiting", waiting), ("names", "otis"), ("players", otis.ToString()), ("names", "Guest"), ("players", "0"));
        Assert.StartsWith("/logbook/entry/", at.AbsolutePath, StringComparison.Ordinal);
        var note = Assert.Single(house.Get<Observations>().Of(otis));
        Assert.Equal(Outcome.SawIt, note.Observation.Seen.Outcome);

        // The same file once more brings nothing twice; one that is not waiting any more is said so.
        waiting = Regex.Match(await house.PostFile("/logbook/import?handler=Preview", file), "name=\"waiting\" value=\"([0-9a-f]{32})\"").Groups[1].Value;
        await house.Post("/logbook/import?handler=Take", ("waiting", waiting), ("names", "otis"), ("players", otis.ToString()), ("names", "Guest"), ("players", "0"));
        Assert.Single(house.Get<Observations>().Of(otis));
        var (_, gone, _) = await house.Post("/logbook/import?handler=Take", ("waiting", waiting), ("names", "otis"), ("players", otis.ToString()));
        Assert.Contains("not waiting any more", gone, StringComparison.Ordinal);
        var (_, path, _) = await house.Post("/logbook/import?handler=Take", ("waiting", "../../etc/passwd"), ("names", "otis"), ("players", otis.ToString()));
        Assert.Contains("not waiting any more", path, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", "Choose a file first")]
    [InlineData("\0\0\0\0", "no column")]
    [InlineData("player,at,ask\n=cmd|' /C calc'!A0,2026-03-01,say 5 dice\n", "Neither an outcome")]
    public async Task A_file_that_holds_nothing_useful_ends_in_words(string file, string why) =>
        Assert.Contains(why, WebUtility.HtmlDecode(await house.PostFile("/logbook/import?handler=Preview", file)), StringComparison.Ordinal);

    [Fact]
    public async Task The_export_is_a_file_that_comes_in_again()
    {
        var at = new DateTimeOffset(2026, 3, 1, 16, 0, 0, TimeSpan.Zero);
        Entries.Add(EntryKind.Typed, at, "Shop", null, "", [otis], [(otis, Note(at, 5, 2, Outcome.SawIt)), (otis, Note(at, 5, 3, Outcome.NotYet))]);
        string csv = await house.Page("/logbook?handler=File");
        Assert.Equal(3, csv.TrimEnd().Split('\n').Length);
        Assert.Contains("Otis,2026-03-01T16:00:00+00:00,part 5 2 numeral,5,,,typed", csv, StringComparison.Ordinal);
        Assert.Single((await house.Page($"/logbook?handler=File&player={mags}")).TrimEnd().Split('\n'));
    }

    [Fact]
    public async Task An_entry_is_put_right_or_taken_back_and_the_estimate_follows()
    {
        var at = DateTimeOffset.Now.AddDays(-1);
        long id = Entries.Add(EntryKind.Typed, at, "Shop", null, "", [otis], [(otis, Note(at, 5, 2, Outcome.NotYet)), (otis, Note(at, 5, 3, Outcome.NotYet))]);
        var household = house.Get<Household>();
        var child = household.Children.Single(c => c.Id == otis);
        var ask = new Ask(AskKind.Part, 5, 2, Form.Numeral);
        double low = household.Model(child).Right(ask, household.Today);
        await house.Post($"/logbook/entry/{id}?handler=Correct&note={house.Get<Observations>().Of(otis)[0].Id}", ("outcome", "5"));
        double better = household.Model(child).Right(ask, household.Today);
        Assert.True(better > low);
        Assert.Contains("put right below", await house.Page($"/logbook/entry/{id}"), StringComparison.Ordinal);
        await house.Post($"/logbook/entry/{id}?handler=TakeBack");
        Assert.Empty(house.Get<Observations>().Of(otis));
        Assert.Contains("taken back", await house.Page($"/logbook/entry/{id}"), StringComparison.Ordinal);
        Assert.Equal(0, household.Model(child).Observations);
    }

    [Fact]
    public async Task A_first_look_is_led_stopped_taken_up_after_a_restart_and_told()
    {
        var child = new SimulatedChild(5, 5.3);
        Assert.Contains("It is not a test", await house.Page($"/first-look/{otis}"), StringComparison.Ordinal);
        await house.Post($"/first-look/{otis}?handler=Begin");
        for (int n = 0; n < 12; n++)
        {
            string page = await house.Page($"/first-look/{otis}");
            Assert.Contains($"{n + 1} of at most 12", page, StringComparison.Ordinal);
            Assert.Contains("<span class=\"key-word\">not yet</span>", page, StringComparison.Ordinal);
            Assert.DoesNotContain("%", Regex.Match(page, "<main.*</main>", RegexOptions.Singleline).Value, StringComparison.Ordinal);
            if (n == 3)
            {
                await house.Post($"/first-look/{otis}?handler=Undo");
                Assert.Contains("3 of at most 12", await house.Page($"/first-look/{otis}"), StringComparison.Ordinal);
                await house.Post($"/first-look/{otis}?handler=Note", ("outcome", "5"), ("known", "2"));
                Assert.Contains("first look was begun", await house.Page("/"), StringComparison.Ordinal);
                await house.Restart();
            }
            // A tap that comes twice changes nothing.
            await house.Post($"/first-look/{otis}?handler=Note", ("outcome", n % 4 == 0 ? "0" : "5"), ("known", n.ToString()));
            await house.Post($"/first-look/{otis}?handler=Note", ("outcome", "0"), ("known", n.ToString()));
        }
        Assert.Equal(12, house.Get<Observations>().Of(otis).Count);
        string told = await house.Page($"/first-look/{otis}");
        Assert.Contains("Three games to begin with", told, StringComparison.Ordinal);
        Assert.Equal(7, Regex.Count(told, "sure</td>|guess</td>|the rest</td>"));
        Assert.Equal(3, Regex.Count(told, "href=\"/bench\\?game="));
        Assert.Contains("First look", await house.Page("/logbook"), StringComparison.Ordinal);
        await house.Post($"/first-look/{otis}?handler=Begin");
        await house.Post($"/first-look/{otis}?handler=Stop");
        Assert.Equal(HttpStatusCode.NotFound, (await house.Client.GetAsync(new Uri("/first-look/9999", UriKind.Relative))).StatusCode);
    }

    [Fact]
    public async Task Growth_tells_every_picture_in_words_on_any_day_and_as_a_file()
    {
        var at = DateTimeOffset.Now.AddDays(-10);
        Entries.Add(EntryKind.Typed, at, "Shop", null, "", [otis],
            [.. Enumerable.Range(1, 4).Select(n => (otis, Note(at, 5, n, Outcome.CountedOn))), (otis, new(at, new Ask(AskKind.Say, 4, Form.Dice), Seen.How(Outcome.SawIt), .8, Source.Glimpse))]);
        string page = WebUtility.HtmlDecode(await house.Page($"/growth/{otis}"));
        foreach (string picture in new[] { "Skill path", "Number wall", "Number bonds to 10", "week by week", "Glimpses", "Ready to grow" }) Assert.Contains(picture, page, StringComparison.Ordinal);
        Assert.Contains("parts that make a number to 5: growing, some evidence", page, StringComparison.Ordinal);
        Assert.Contains("4 as dice about ", page, StringComparison.Ordinal);
        Assert.Contains("counted on 80", page, StringComparison.Ordinal);
        Assert.DoesNotContain("Nothing was seen of Otis", page, StringComparison.Ordinal);
        Assert.Contains("Nothing was seen of Otis by then", await house.Page($"/growth/{otis}?day=2026-01-01"), StringComparison.Ordinal);
        foreach (var (cell, says) in new[] { ("band-partners-5", "Parts that make a number, to 5"), ("say-4-dice", "4 as dice"), ("bond-5-1", "1 and 4 make 5"), ("say-9-rack", "was not seen itself"), ("nonsense", "Choose a tile"), ("bond-900-1", "Choose a tile") })
            Assert.Contains(says, await house.Fragment($"/growth/{otis}?cell={cell}"), StringComparison.Ordinal);
        string csv = await house.Page($"/growth/{otis}?handler=File&format=csv");
        Assert.Equal(Feeding.Bands.Count + 1, csv.TrimEnd().Split('\n').Length);
        Assert.Contains("partners,partners,5,growing,", csv, StringComparison.Ordinal);
        Assert.Contains("\"allowance-growth/1\"", await house.Page($"/growth/{otis}?handler=File&format=json"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Today_asks_who_is_here_and_for_how_long()
    {
        Offering.Whole(house.Get<Household>().Cupboard);
        string all = await house.Page("/");
        Assert.Contains($"child-{otis}", all, StringComparison.Ordinal);
        Assert.Contains($"child-{mags}", all, StringComparison.Ordinal);
        int children = Regex.Count(all, "<li aria-labelledby=\"child-");
        Assert.Equal(house.Get<Household>().Children.Count, children);
        // Each with a game of her own, and the table for all before them.
        Assert.Equal(children + 1, Regex.Count(all, "name=\"link\""));
        Assert.InRange(all.IndexOf("id=\"all-together\"", StringComparison.Ordinal), 1, all.IndexOf("id=\"child-", StringComparison.Ordinal));
        string one = await house.Page($"/?here={mags}&minutes=5");
        Assert.DoesNotContain($"child-{otis}", one, StringComparison.Ordinal);
        Assert.Contains("<option value=\"5\" selected", one, StringComparison.Ordinal);
        var minutes = Regex.Matches(one, "(\\d+)–(\\d+) minutes").Select(m => int.Parse(m.Groups[1].Value)).ToList();
        Assert.All(minutes, m => Assert.InRange(m, 0, 5));
        Assert.DoesNotContain("all-together", one, StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_kept_in_memory_is_what_replaying_gives()
    {
        var child = house.Get<Household>().Children.Single(c => c.Id == otis);
        var logs = house.Get<ChildLogs>();
        var at = new DateTimeOffset(2026, 1, 5, 16, 0, 0, TimeSpan.Zero);
        void Add(DateTimeOffset when, params Observation[] notes) => Entries.Add(EntryKind.Typed, when, "x", null, "", [otis], [.. notes.Select(n => (otis, n))]);
        void Same()
        {
            var log = logs.Of(child);
            var anew = ChildModel.Of(child.AgeOn(house.Get<Observations>().Of(otis)[0].Observation.Day)!.Value, house.Get<Observations>().Of(otis).Select(n => n.Observation));
            for (int band = 0; band < Feeding.Bands.Count; band++) Assert.Equal(anew.Standing(band, new(2026, 3, 1)), log.Model.Standing(band, new(2026, 3, 1)));
        }
        Add(at, Note(at, 5, 2, Outcome.SawIt), Note(at, 5, 3, Outcome.NotYet));
        Same();
        Add(at.AddDays(2), Note(at.AddDays(2), 6, 3, Outcome.SawIt));
        Same();
        // A note of an earlier day, one put right, one taken back.
        Add(at, Note(at.AddDays(-4), 7, 3, Outcome.SawIt));
        Same();
        house.Get<Observations>().Correct(house.Get<Observations>().Of(otis)[1].Id, Seen.How(Outcome.CountedAll));
        Same();
        house.Get<Observations>().Withdraw(house.Get<Observations>().Of(otis)[0].Id);
        Same();
        Assert.Same(logs.Of(child), logs.Of(child));
    }

    [Fact]
    public async Task A_long_log_is_kept_over_a_restart_and_an_earlier_day_is_the_same_as_replaying_up_to_it()
    {
        var rng = new Random(4);
        var start = new DateTimeOffset(2022, 1, 5, 16, 0, 0, TimeSpan.Zero);
        var notes = Enumerable.Range(0, 4_500).Select(i => (otis, Note(start.AddDays(i / 10), 5 + rng.Next(5), 1 + rng.Next(4), (Outcome)rng.Next(6)))).ToList();
        Entries.Add(EntryKind.Import, start, "", null, "", [otis], notes);
        var child = house.Get<Household>().Children.Single(c => c.Id == otis);
        var before = house.Get<ChildLogs>().Of(child);
        Assert.NotEmpty(house.Get<Estimates>().All(otis));
        await house.Restart();
        var after = house.Get<ChildLogs>().Of(child);
        Assert.Equal(before.Model.Observations, after.Model.Observations);
        var end = new DateOnly(2024, 1, 1);
        for (int band = 0; band < Feeding.Bands.Count; band++) Assert.Equal(before.Model.Standing(band, end), after.Model.Standing(band, end));
        foreach (int day in (int[])[0, 150, 260, 449])
        {
            var on = DateOnly.FromDateTime(start.DateTime).AddDays(day);
            var anew = ChildModel.Of(child.AgeOn(notes[0].Item2.Day)!.Value, notes.Select(n => n.Item2).Where(n => n.Day <= on));
            Assert.Equal(anew.Standing(Feeding.BandIndex("partners", 9), on), before.At(on).Standing(Feeding.BandIndex("partners", 9), on));
            Assert.Equal(anew.Standing(Feeding.BandIndex("partners", 9), on), after.At(on).Standing(Feeding.BandIndex("partners", 9), on));
        }
    }

    [Fact]
    public void Removing_a_child_erases_her_entries_too()
    {
        var at = DateTimeOffset.Now;
        Entries.Add(EntryKind.Words, at, "", null, "Only hers", [otis], []);
        Entries.Add(EntryKind.Words, at, "", null, "Of both", [otis, mags], []);
        Entries.Add(EntryKind.Typed, at, "Shop", null, "", [otis], [(otis, Note(at, 5, 2, Outcome.SawIt))]);
        house.Get<Players>().Erase(otis);
        var left = Assert.Single(house.Get<Logbook>().Search(new(), 10, 0));
        Assert.Equal("Of both", left.Words);
        Assert.Equal([mags], left.Players.Select(p => p!.Value));
    }

    [Fact]
    public async Task Another_game_is_proposed_and_nonsense_in_the_address_passes_nothing_over()
    {
        Offering.Whole(house.Get<Household>().Cupboard);
        string first = await house.Page("/");
        string Game(string page) => Regex.Match(page, "id=\"all-together\"><span class=\"quiet\">[^<]*</span> ([^<]*)</h2>").Groups[1].Value;
        string another = Regex.Match(first, "href=\"(/[^\"]*over=all\\.[^\"]*)\"").Groups[1].Value.Replace("&amp;", "&");
        Assert.NotEmpty(Game(first));
        Assert.NotEqual(Game(first), Game(await house.Page(another)));
        foreach (string nonsense in (string[])["a", "..", "all.", "all.nogame,99.x", "%3Cb%3E.x", new string('a', 400)])
            Assert.Equal(Game(first), Game(await house.Page($"/?over={nonsense}")));
    }

    [Fact]
    public async Task What_was_not_wished_for_today_is_not_proposed_to_her()
    {
        Offering.Whole(house.Get<Household>().Cupboard);
        // What is hers ends where the next child's begins.
        string Link(string page) => Regex.Match(page, $"id=\"child-{otis}\"(?:(?!id=\"child-).)*?name=\"link\" value=\"game=([a-z]+)[^\"]*\"", RegexOptions.Singleline).Groups[1].Value;
        string proposed = Link(await house.Page("/"));
        var frame = Core.Games.Catalogue.Data.First(f => f.Id == proposed);
        var setup = Core.Setups.Setup.Default(frame, Core.Setups.Seat.Child("Otis", 5, $"{otis}"));
        var at = DateTimeOffset.Now;
        house.Get<SittingLog>().Start(frame.Id, setup.ToLink(), Core.Sittings.Way.Notes, 1, at, [otis], [new(new Core.Sittings.Stopped(true), at), new(new Core.Sittings.Closed(0, Core.Sittings.Closing.NotToday), at, otis)]);
        string another = Link(await house.Page("/"));
        Assert.NotEqual(proposed, another);
        // A first game that was not wished for leaves the day open for another.
        Assert.NotEmpty(another);
    }

    [Fact]
    public void Of_a_game_that_was_played_together_each_is_looked_back_on_at_her_own_place()
    {
        var setup = Core.Games.Catalogue.Read("""{"format":"allowance-setup/1","game":"around","table":{"n":11,"max":16},"players":[{},{"allowance":{"n":3,"max":7}}]}""").Setup!;
        var at = DateTimeOffset.Now;
        house.Get<SittingLog>().Start("around", setup.ToLink(), Core.Sittings.Way.Notes, 1, at, [mags, otis], [new(new Core.Sittings.Stopped(false), at)]);
        var people = house.Get<Household>();
        foreach (var (player, number) in new[] { (mags, 11), (otis, 3), (mags, 11) })
        {
            var last = house.Get<Advising>().Here(people.Children.Single(c => c.Id == player)).Played[^1];
            Assert.Equal(number, last.Setup.At(last.Seat, Core.Games.Around.Knobs.N).Number);
        }
    }

    [Fact]
    public async Task What_is_in_the_drawer_is_kept_and_decides_what_is_proposed()
    {
        Assert.Equal(1, house.Get<Household>().Cupboard.Packs);
        await house.Post("/start?handler=Drawer", ("packs", "0"));
        Assert.Equal(0, house.Get<Household>().Cupboard.Packs);
        Offering.Whole(house.Get<Household>().Cupboard);
        // All that is proposed with cards is played with slips of paper, and says so.
        string paper = await house.Page("/");
        Assert.Equal(paper.Contains("deck=h%3A", StringComparison.OrdinalIgnoreCase) || paper.Contains("deck=h:", StringComparison.Ordinal), paper.Contains("on slips of paper", StringComparison.Ordinal));
        Assert.All(Regex.Matches(paper, "href=\"/bench\\?game=partners[^\"]*\"").Select(m => Uri.UnescapeDataString(m.Value)), link => Assert.Contains("deck=h:", link, StringComparison.Ordinal));
        await house.Post("/start?handler=Drawer", ("packs", "99"));
        Assert.Equal(Household.MostPacks, house.Get<Household>().Cupboard.Packs);
        Assert.DoesNotContain("on slips of paper", await house.Page("/"), StringComparison.Ordinal);
    }

    /// <summary>Put first, set aside, taken back; and a grown-up's word that something is known is a note of its own kind.</summary>
    [Fact]
    public async Task Aims_are_put_first_set_aside_and_said_to_be_known()
    {
        var wishes = house.Get<AimWishes>();
        int cross = Core.Asks.Feeding.Find("cross", 20), join = Core.Asks.Feeding.Find("join", 10);
        await house.Post($"/growth/1?handler=Wish&band={cross}&wish=First", ("post", "w1"));
        string page = await house.Page("/growth/1");
        Assert.Contains("first this week", page, StringComparison.Ordinal);
        Assert.Contains("Over ten by way of ten, to 20: put first this week.", page, StringComparison.Ordinal);
        await house.Post($"/growth/1?handler=Wish&band={cross}&wish=Aside", ("post", "w2"));
        Assert.Equal(Core.Tuning.Wish.Aside, wishes.Of(1).Single().Wish);
        Assert.Contains("Set aside: over ten by way of ten, to 20", await house.Page("/growth/1"), StringComparison.Ordinal);
        await house.Restart();
        Assert.Single(house.Get<AimWishes>().Of(1));
        await house.Post($"/growth/1?handler=Wish&band={cross}", ("post", "w3"));
        Assert.Empty(house.Get<AimWishes>().Of(1));

        double before = house.Get<Household>().Model(house.Get<Players>().All()[0]).Standing(join, house.Get<Household>().Today).Right;
        await house.Post($"/growth/1?handler=Known&band={join}", ("post", "k1"));
        Assert.Contains("Noted as known: Join two sets, to 10.", (await house.Post($"/growth/1?handler=Known&band={join}", ("post", "k1"))).Body, StringComparison.Ordinal);
        Assert.Equal(3, house.Get<Observations>().Of(1).Count(o => o.Observation.Ask.ToString() == "join * numeral to 10"));
        Assert.True(house.Get<Household>().Model(house.Get<Players>().All()[0]).Standing(join, house.Get<Household>().Today).Right > before);
        string logbook = await house.Page("/logbook");
        Assert.Contains("Said to be known already", logbook, StringComparison.Ordinal);
        Assert.DoesNotContain("<option value=\"known\"", logbook, StringComparison.Ordinal);
        Assert.Equal(System.Net.HttpStatusCode.BadRequest, (await house.Post("/growth/1?handler=Wish&band=1&wish=Never")).Status);
        foreach (string wrong in (string[])["/growth/1?handler=Wish&band=999&wish=First", "/growth/99?handler=Known&band=1"]) Assert.Equal(System.Net.HttpStatusCode.NotFound, (await house.Post(wrong)).Status);
    }
}
