using System.Net;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Sittings;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>Playing through the real handlers: durable before shown, repeatable, resumable.</summary>
public sealed class TableTests : IAsyncLifetime
{
    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private async Task<long> Begin(string way, params (string, string)[] more)
    {
        var (_, _, at) = await house.Post("/bench?handler=Play", [("game", "partners"), ("level", "spot"), ("s1", "2"), ("s2", "3"), ("bench.way", way), .. more]);
        Assert.StartsWith("/table/", at.AbsolutePath, StringComparison.Ordinal);
        return long.Parse(at.AbsolutePath[7..]);
    }

    private Sitting Sitting(long id) => house.Get<Tables>().Find(id)!.Sitting;

    /// <summary>Taps the cards of the first pair that goes.</summary>
    private async Task<string> TakePair(long id, string post)
    {
        var game = Sitting(id).Game!;
        var move = game.Moves[0];
        int[] places = [.. Enumerable.Range(0, 60).Where(i => (move.Items >> i & 1) == 1)];
        return (await house.Post($"/table/{id}?handler=Tap", ("post", post), ("sel", $"{places[0]}"), ("item", $"{places[1]}"))).Body;
    }

    [Fact]
    public async Task A_pair_is_taken_noted_and_said_how()
    {
        long id = await Begin("screen");
        long otis = 2;
        int before = house.Get<Observations>().Of(otis).Count;
        string page = await TakePair(id, "a");
        Assert.Contains("aria-label=\"right, not watched\" title=\"right, not watched\" aria-pressed=\"true\"", page, StringComparison.Ordinal);
        var note = Assert.Single(Sitting(id).Notes);
        await house.Post($"/table/{id}?handler=Note", ("post", "b"), ("seat", "0"), ("ask", note.Ask.ToString()), ("turn", "0"), ("outcome", "4"));
        var seen = house.Get<Observations>().Of(otis);
        Assert.Equal(before + 1, seen.Count);
        Assert.Equal(Core.Asks.Outcome.Structure, seen[^1].Observation.Seen.Outcome);
        await house.Post($"/table/{id}?handler=Undo", ("post", "c"));
        await house.Post($"/table/{id}?handler=Undo", ("post", "d"));
        Assert.Equal(before, house.Get<Observations>().Of(otis).Count);
        Assert.Equal(0, Sitting(id).Turns);
    }

    /// <summary>One tap for the ask that matters most; what else the turn asked was right, too, and nobody watched.</summary>
    [Theory]
    [InlineData(Outcome.SawIt, 3)]
    [InlineData(Outcome.NotYet, 1)]
    public async Task One_tap_notes_what_a_turn_asked(Outcome seen, int notes)
    {
        var (_, _, at) = await house.Post("/bench?handler=Play", ("game", "spots"), ("level", "rings"), ("s1", "1"), ("bench.way", "screen"));
        long id = long.Parse(at.AbsolutePath[7..]);
        string page = (await house.Client.GetStringAsync($"/table/{id}"));
        var asked = System.Text.RegularExpressions.Regex.Match(page, "name=\"ask\" value=\"(take [^\"]+)\"");
        Assert.True(asked.Success && asked.Index < page.IndexOf("more things were asked", StringComparison.Ordinal), page);
        Assert.Contains("class=\"key-word\"", page, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Note", ("post", "a"), ("seat", "0"), ("ask", asked.Groups[1].Value), ("turn", "0"), ("outcome", ((int)seen).ToString()), ("others", "true"));
        Assert.Equal(notes, Sitting(id).Notes.Count);
        Assert.Equal(seen, Sitting(id).Notes.Single(n => n.Ask.Kind == AskKind.Take).Seen.Outcome);
        Assert.All(Sitting(id).Notes.Where(n => n.Ask.Kind != AskKind.Take), n => Assert.Equal(Seen.NotWatched(true), n.Seen));
        // The game goes on, and one undo takes it all back.
        Assert.Equal(1, Sitting(id).Turns);
        await house.Post($"/table/{id}?handler=Undo", ("post", "b"));
        Assert.Equal((0, 0), (Sitting(id).Notes.Count, Sitting(id).Turns));
    }

    [Fact]
    public async Task Words_beneath_the_signs_go_when_the_household_says_so()
    {
        long id = await Begin("notes");
        await house.Post("/house?handler=Approach", ("signs", "yes"), ("one", "yes"));
        Assert.DoesNotContain("class=\"key-word\"", (await house.Client.GetStringAsync($"/table/{id}")), StringComparison.Ordinal);
        await house.Post("/house?handler=Approach", ("one", "yes"));
        Assert.Contains("class=\"key-word\"", (await house.Client.GetStringAsync($"/table/{id}")), StringComparison.Ordinal);
    }

    [Fact]
    public async Task With_real_cards_two_taps_name_a_sum()
    {
        var (_, _, at) = await house.Post("/bench?handler=Play", ("game", "topper"), ("level", "sum"), ("s1", "2"), ("s2", "3"), ("bench.way", "notes"));
        string table = at.AbsolutePath;
        string page = (await house.Client.GetStringAsync($"{table}?asked=join 6 5 numeral"));
        Assert.Contains($"href=\"{table}?asked=join%206%205%20numeral&amp;first=9\"", page, StringComparison.Ordinal);
        page = (await house.Client.GetStringAsync($"{table}?asked=join 6 5 numeral&first=9"));
        Assert.Contains("name=\"asked\" value=\"join 9 7 numeral\"", page, StringComparison.Ordinal);
        page = (await house.Client.GetStringAsync($"{table}?asked=join 9 7 numeral"));
        Assert.Contains("How many are 9 and 7 together?", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task With_real_cards_an_ask_nobody_named_is_noted_for_the_skill_alone()
    {
        var (_, page, at) = await house.Post("/bench?handler=Play", ("game", "topper"), ("level", "sum"), ("s1", "2"), ("s2", "3"), ("bench.way", "notes"));
        string chosen = await house.Client.GetStringAsync($"{at.AbsolutePath}?asked=join * numeral to 20");
        Assert.Contains("Otis: How many together?", chosen, StringComparison.Ordinal);
        Assert.DoesNotContain("How many are", page, StringComparison.Ordinal);
        await house.Post($"{at.AbsolutePath}?handler=Note", ("post", "n"), ("seat", "0"), ("ask", "join * numeral to 20"), ("turn", "0"), ("outcome", "5"));
        var note = house.Get<Observations>().OfSitting(long.Parse(at.AbsolutePath[7..])).Single();
        Assert.Equal("join * numeral to 20", note.Observation.Ask.ToString());
        Assert.Contains("How many together?", await house.Page(at.AbsolutePath.Replace("/table/", "/logbook/", StringComparison.Ordinal)), StringComparison.Ordinal);
        // What cannot come up here is not noted.
        await house.Post($"{at.AbsolutePath}?handler=Note", ("post", "m"), ("seat", "1"), ("ask", "share * objects to 20"), ("turn", "1"), ("outcome", "5"));
        Assert.Single(house.Get<Observations>().OfSitting(long.Parse(at.AbsolutePath[7..])));
    }

    [Theory]
    [InlineData("969x737", "0 0 ", true)]
    [InlineData("rubbish", "0 0 ", false)]
    [InlineData("-5x99999", "0 0 ", false)]
    public async Task The_table_is_drawn_for_the_room_it_has(string told, string begins, bool known)
    {
        long id = await Begin("screen");
        house.Cookies.Add(house.Client.BaseAddress!, new System.Net.Cookie("board", told));
        string page = (await house.Client.GetStringAsync($"/table/{id}"));
        var box = System.Text.RegularExpressions.Regex.Match(page, "class=\"drawing\" viewBox=\"([^\"]+)\"").Groups[1].Value;
        Assert.StartsWith(begins, box, StringComparison.Ordinal);
        double[] sides = [.. box.Split(' ').Skip(2).Select(double.Parse)];
        Assert.Equal(known ? 969.0 / 737 : 940.0 / 700, sides[0] / sides[1], .001);
    }

    [Fact]
    public async Task A_repeated_post_changes_nothing()
    {
        long id = await Begin("screen");
        await TakePair(id, "same");
        int events = Sitting(id).EventCount;
        await TakePair(id, "same");
        Assert.Equal(events, Sitting(id).EventCount);
    }

    [Fact]
    public async Task After_a_power_cut_the_table_stands_where_it_stood()
    {
        long id = await Begin("screen");
        await TakePair(id, "a");
        await TakePair(id, "b");
        var before = Sitting(id).Game!;
        await house.Restart();
        Assert.True(before.SameAs(Sitting(id).Game!));
        Assert.Contains("Go on", await house.Page("/table"), StringComparison.Ordinal);
        await TakePair(id, "c");
        Assert.Equal(3, Sitting(id).Turns);
    }

    [Fact]
    public async Task Cards_that_do_not_make_the_target_are_said_so_and_nothing_is_noted()
    {
        long id = await Begin("screen");
        var cards = Sitting(id).Game!.Zones[0].Items;
        var (a, b) = (from x in cards from y in cards where x.Id != y.Id && x.Value + y.Value != 10 select (x, y)).First();
        string page = (await house.Post($"/table/{id}?handler=Tap", ("post", "a"), ("sel", $"{a.Id}"), ("item", $"{b.Id}"))).Body;
        Assert.Contains("Look again together", page, StringComparison.Ordinal);
        Assert.Empty(Sitting(id).Notes);
    }

    [Fact]
    public async Task Refereed_cards_are_typed_and_one_tap_takes_a_pair()
    {
        long id = await Begin("refereed", ("layout", "2x3"));
        string page = (await house.Post($"/table/{id}?handler=Turned", ("post", "a"), ("numbers", "6 4 99"))).Body;
        Assert.Contains("the nearest is 9", page, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Turned", ("post", "b"), ("numbers", "1 2 7 5 8"));
        Assert.Equal(StepKind.Choice, Sitting(id).Next.Kind);
        await house.Post($"/table/{id}?handler=Tap", ("post", "c"), ("item", "0"));
        Assert.Equal((2, StepKind.Chance), (Sitting(id).Game!.Points(0), Sitting(id).Next.Kind));
        await house.Post($"/table/{id}?handler=Turned", ("post", "d"), ("numbers", "9"));
        await house.Post($"/table/{id}?handler=Turned", ("post", "e"), ("numbers", "9"));
        Assert.Equal((1, StepKind.Choice), (Sitting(id).Mover, Sitting(id).Next.Kind));
    }

    [Fact]
    public async Task A_number_typed_after_the_last_card_is_not_taken_as_a_call()
    {
        var (_, _, at) = await house.Post("/bench?handler=Play", [("game", "spotsum"), ("level", "sum"), ("layout", "2x2"), ("s1", "2"), ("bench.way", "refereed")]);
        long id = long.Parse(at.AbsolutePath[7..]);
        string page = (await house.Post($"/table/{id}?handler=Turned", ("post", "a"), ("numbers", "6 4 2 1 10"))).Body;
        Assert.Contains("Only 4 cards were to be turned up", page, StringComparison.Ordinal);
        Assert.Contains("Somebody calls a number", page, StringComparison.Ordinal);
        Assert.Contains("aria-label=\"What is called\"", page, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Turned", ("post", "b"), ("numbers", "10"));
        await house.Post($"/table/{id}?handler=Tap", ("post", "c"), ("sel", "0"), ("item", "1"));
        Assert.Equal(2, Sitting(id).Game!.Points(0));
        page = (await house.Post($"/table/{id}?handler=Turned", ("post", "d"), ("numbers", "3 3 5"))).Body;
        Assert.Contains("Only 2 cards were to be turned up", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_card_that_goes_with_others_in_several_ways_waits_for_them()
    {
        var (_, _, at) = await house.Post("/bench?handler=Play", [("game", "balance"), ("level", "two"), ("s1", "2"), ("bench.way", "refereed")]);
        long id = long.Parse(at.AbsolutePath[7..]);
        await house.Post($"/table/{id}?handler=Turned", ("post", "a"), ("numbers", "8 8 5 3 1"));
        // The hand is held as 8, 8, 5, 3, 1: an 8 is the other 8, or 5 and 3 together.
        await house.Post($"/table/{id}?handler=Tap", ("post", "b"), ("item", "1"));
        Assert.Equal((StepKind.Choice, 0), (Sitting(id).Next.Kind, Sitting(id).Game!.Turns));
        await house.Post($"/table/{id}?handler=Tap", ("post", "c"), ("sel", "1"), ("item", "2"));
        // With the 5 nothing but the 3 goes.
        Assert.Equal(1, Sitting(id).Game!.Turns);
        Assert.Equal("part 8 5 numeral", $"{Sitting(id).Notes.Single().Ask}");
    }

    [Fact]
    public async Task With_notes_only_a_tap_notes_and_no_tap_does_not()
    {
        long id = await Begin("notes");
        await house.Post($"/table/{id}?handler=Pass", ("post", "a"));
        Assert.Equal((1, 0), (Sitting(id).Mover, Sitting(id).Notes.Count));
        await house.Post($"/table/{id}?handler=Note", ("post", "b"), ("seat", "1"), ("ask", "part 10 6 numeral"), ("turn", "1"), ("outcome", "0"), ("how", "guessed"));
        Assert.Equal((0, 1), (Sitting(id).Mover, Sitting(id).Notes.Count));
        Assert.Equal("guessed", Sitting(id).Events.OfType<Noted>().Single().How);
    }

    [Fact]
    public async Task Where_nobody_has_anything_nobody_is_named_at_the_end()
    {
        var (_, _, at) = await house.Post("/bench?handler=Play", [("game", "spotsum"), ("level", "difference"), ("deck", "h:5.4"), ("layout", "2x2"), ("s1", "2"), ("s2", "3"), ("bench.way", "screen")]);
        long id = long.Parse(at.AbsolutePath[7..]);
        string page = "";
        for (int turn = 0; turn < 20 && Sitting(id).Next.Kind != StepKind.Over; turn++) page = (await house.Post($"/table/{id}?handler=Pass", ("post", $"p{turn}"))).Body;
        Assert.Contains("The end", page, StringComparison.Ordinal);
        Assert.DoesNotContain("Most cards", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Hints_come_in_three_steps()
    {
        long id = await Begin("screen");
        string one = (await house.Post($"/table/{id}?handler=Hint", ("post", "a"))).Body;
        Assert.Contains("still to come?", one, StringComparison.Ordinal);
        string two = (await house.Post($"/table/{id}?handler=Hint", ("post", "b"))).Body;
        Assert.Contains("on the frame", two, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Hint", ("post", "c"));
        Assert.Equal(3, Sitting(id).HintStep);
    }

    /// <summary>The app does not know which cards lie there, until they are named.</summary>
    [Fact]
    public async Task With_real_things_a_hint_names_no_number_that_nobody_told()
    {
        long id = await Begin("notes");
        foreach (string post in new[] { "a", "b" }) await house.Post($"/table/{id}?handler=Hint", ("post", post));
        Assert.Contains("Put out what there is together", (await house.Post($"/table/{id}?handler=Hint", ("post", "c"))).Body, StringComparison.Ordinal);
        Assert.Contains("fill up to 10", await house.Fragment($"/table/{id}?asked=part+10+6+numeral"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Leaving_joining_easier_and_stopping()
    {
        long id = await Begin("screen");
        await house.Post($"/table/{id}?handler=Join&player=1", ("post", "a"));
        Assert.Equal(3, Sitting(id).Setup.Seats.Length);
        await house.Post($"/table/{id}?handler=Leave&seat=1", ("post", "b"));
        Assert.False(Sitting(id).IsHere(1));
        string changes = WebUtility.HtmlDecode(await house.Fragment($"/table/{id}?handler=Allowances&seat=0"));
        // The ladder binds: what stands below it is easier, whatever is believed of her.
        Assert.Contains("“Pairs of equals” instead of “Face up”", changes, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Allow", ("post", "c"), ("seat", "0"), ("knob", "target"), ("value", "9"));
        Assert.Equal(9, Sitting(id).Setup.At(0, Core.Games.Partners.Knobs.Target).Number);
        await house.Post($"/table/{id}?handler=Allow", ("post", "d"), ("seat", "0"), ("knob", "target"), ("value", "77"));
        Assert.Equal(9, Sitting(id).Setup.At(0, Core.Games.Partners.Knobs.Target).Number);
        string page = (await house.Post($"/table/{id}?handler=Stop", ("post", "e"))).Body;
        Assert.Contains("Stopped here", page, StringComparison.Ordinal);
        await house.Post($"/table/{id}?handler=Close&seat=0", ("post", "f"), ("how", "Again"));
        Assert.Equal(Closing.Again, Sitting(id).Closings[0]);
        await house.Restart();
        Assert.Equal(9, Sitting(id).Setup.At(0, Core.Games.Partners.Knobs.Target).Number);
    }

    [Fact]
    public async Task A_game_goes_to_its_end_and_says_who_has_most()
    {
        // However these cards fall, each finds another.
        long id = await Begin("screen", ("deck", "h:4.4,6.4"), ("layout", "2x4"), ("refill", "no"));
        string page = "";
        for (int i = 0; i < 6 && Sitting(id).Next.Kind == StepKind.Choice; i++) page = await TakePair(id, $"p{i}");
        Assert.Equal(StepKind.Over, Sitting(id).Next.Kind);
        Assert.Contains("Most cards", page, StringComparison.Ordinal);
        Assert.NotNull(house.Get<SittingLog>().Find(id)!.EndedAt);
    }

    [Fact]
    public async Task A_wrong_entry_is_put_right_and_the_old_one_stays()
    {
        long id = await Begin("screen");
        await TakePair(id, "a");
        var note = house.Get<Observations>().OfSitting(id).Single();
        await house.Post($"/logbook/{id}?handler=Correct&note={note.Id}", ("outcome", "1"));
        var all = house.Get<Observations>().OfSitting(id);
        Assert.Equal([false, true], all.Select(o => o.Counts));
        Assert.Equal(Core.Asks.Outcome.WithHelp, all[1].Observation.Seen.Outcome);
        string page = await house.Page($"/logbook/{id}");
        Assert.Contains("put right below", page, StringComparison.Ordinal);
        await house.Post($"/logbook/{id}?handler=Correct&note={all[1].Id}", ("outcome", "-1"));
        Assert.DoesNotContain(house.Get<Observations>().OfSitting(id), o => o.Counts);
    }

    [Theory]
    [InlineData("Tap", "item=999")]
    [InlineData("Tap", "item=-4&sel=x,y,99999999999")]
    [InlineData("Note", "seat=7&ask=part 10 6 numeral&turn=0&outcome=5")]
    [InlineData("Note", "seat=0&ask=nonsense&turn=0&outcome=5")]
    [InlineData("Note", "seat=0&ask=part 10 6 numeral&turn=0&outcome=77")]
    [InlineData("Leave&seat=55", "")]
    [InlineData("Join&player=55", "")]
    [InlineData("Allow", "seat=0&knob=nonsense&value=1")]
    public async Task Nonsense_changes_nothing(string handler, string fields)
    {
        long id = await Begin("screen");
        int events = Sitting(id).EventCount;
        var pairs = fields.Split('&', StringSplitOptions.RemoveEmptyEntries).Select(f => f.Split('=')).Select(f => (f[0], f[1])).ToArray();
        var (status, _, _) = await house.Post($"/table/{id}?handler={handler}", [("post", "z"), .. pairs]);
        Assert.True((int)status < 500);
        Assert.Equal(events, Sitting(id).EventCount);
    }

    /// <summary>A made-up child sits at the real screens for some weeks: what is believed of her comes near what she is.</summary>
    [Fact]
    public async Task A_simulated_child_plays_through_the_screens_and_becomes_known()
    {
        await using var home = new TestHouse();
        long id = home.Get<Players>().Add("Otis", "2021-07", PlayerKind.Child);
        var household = home.Get<Household>();
        var child = household.Children.Single();
        var mind = new SimulatedChild(138, 5.3);
        var asks = new[] { 5, 8 }.SelectMany(t => Enumerable.Range(1, t - 1).Select(n => new Ask(AskKind.Part, t, n, Form.Numeral))).ToList();
        double Off() => asks.Average(a => Math.Abs(household.Model(child).Right(a, household.Today) - mind.RightOverDays(a)));
        double before = Off();
        foreach (int target in (int[])[5, 8, 5, 8])
        {
            var (_, body, at) = await home.Post("/?handler=Play", ("link", $"game=partners&level=spot&target={target}&deck=2x4:A,2,3,4,5,6,7&s1={id}"), ("way", "notes"));
            for (int turn = 0; turn < 14; turn++)
            {
                var asked = System.Text.RegularExpressions.Regex.Match(body, "name=\"ask\" value=\"([^\"]+)\"");
                var number = System.Text.RegularExpressions.Regex.Match(body, "name=\"turn\" value=\"([^\"]+)\"");
                Assert.True(asked.Success, body);
                // Nothing is noted of a fact unless somebody names it; here it is named.
                Assert.Equal($"part * numeral to {target}", asked.Groups[1].Value);
                var named = new Ask(AskKind.Part, target, 1 + turn % (target - 1), Form.Numeral);
                var outcome = mind.Answer(named, household.Today);
                (_, body, _) = await home.Post($"{at.AbsolutePath}?handler=Note", ("post", Guid.NewGuid().ToString("N")), ("seat", "0"), ("ask", named.ToString()), ("turn", number.Groups[1].Value), ("outcome", ((int)outcome).ToString()));
            }
            await home.Post($"{at.AbsolutePath}?handler=Stop", ("post", Guid.NewGuid().ToString("N")));
        }
        Assert.Equal(56, home.Get<Observations>().Of(id).Count);
        Assert.True(Off() < before * .8, $"{before} {Off()}");
        Assert.Contains("56 notes", await home.Page("/"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_clock_is_shown_only_where_the_household_likes_one()
    {
        await using var home = new TestHouse();
        long id = home.Get<Players>().Add("Otis", "2021-07", PlayerKind.Child);
        async Task<string> End()
        {
            var (_, _, at) = await home.Post("/?handler=Play", ("link", $"game=partners&level=spot&target=5&deck=2x4:A,2,3,4&s1={id}"), ("way", "notes"));
            return (await home.Post($"{at.AbsolutePath}?handler=Stop", ("post", Guid.NewGuid().ToString("N")))).Body;
        }
        Assert.DoesNotContain("It took", await End(), StringComparison.Ordinal);
        home.Get<Household>().Choose("clock", "own");
        Assert.Contains("It took", await End(), StringComparison.Ordinal);
    }
}
