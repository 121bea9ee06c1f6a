using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Core.Tuning;

[assembly: AssemblyFixture(typeof(Allowance.Core.Tests.WholeBook))]

namespace Allowance.Core.Tests;

/// <summary>What there is to offer, worked out once for all tests.</summary>
public sealed class WholeBook
{
    private readonly Lazy<OfferBook> book = new(() => OfferBook.Of(new Cupboard([])));

    public OfferBook Book => book.Value;
}

/// <summary>Offers, and choosing among them: for one child, and for a table of several.</summary>
public class SearchTests(WholeBook whole)
{
    private static readonly DateOnly Day = new(2026, 3, 2);

    private static ChildHere Here(double age, IReadOnlyList<PlayedBefore>? played = null, IBeliefs? beliefs = null, string name = "") =>
        new(Seat.Child(name, age, name), beliefs ?? new ChildModel(age), played ?? [], []);

    private static Occasion On(DateOnly day, bool oneChange = true) => new(day, 10, Approach.Default, oneChange);

    private static Setup Of(string frame, string level) => Setup.Default(Catalogue.Data.First(f => f.Id == frame), Seat.Child("")) with { LevelId = level };

    /// <summary>Weeks of what is proposed first, five times a week, with notes by chance; what was played, in order.</summary>
    private List<(PlayedBefore Played, Suggestion Game)> Weeks(double age, int sittings, Func<int, Closing?>? closing = null, OfferBook? book = null)
    {
        var model = new ChildModel(age);
        var played = new List<(PlayedBefore, Suggestion)>();
        var rng = new Rng(5);
        for (int i = 0; i < sittings; i++)
        {
            var day = Day.AddDays(i / 5 * 7 + i % 5);
            var game = new Search(Here(age, [.. played.Select(p => p.Item1)], model), On(day)).Best(book ?? whole.Book)[0];
            played.Add((new(game.Playable.Setup, 0, day, closing?.Invoke(i)), game));
            foreach (var ask in game.Forecast.Players[0].Asks.Take(20))
                model.Observe(new(new(day.ToDateTime(new(16, 0)), TimeSpan.Zero), ask.Ask, Seen.NotWatched(rng.Unit() < ask.Right)));
        }
        return played;
    }

    [Fact]
    public void There_are_thousands_of_offers_of_every_level_and_all_can_be_played()
    {
        var offers = whole.Book.Ready;
        Assert.True(offers.Count >= 3_000);
        Assert.Equal(offers.Count, offers.Select(o => o.Setup.ToLink()).Distinct().Count());
        Assert.All(Catalogue.Data.SelectMany(f => f.Levels.Select(l => (f.Id, l.Id))), level => Assert.Contains(offers, o => (o.Setup.Frame.Id, o.Setup.LevelId) == level));
        Assert.All(offers, o => Assert.NotEmpty(o.Profile.Asks));
        // The few that stand for all stand for as many.
        Assert.All(offers.Where((_, i) => i % 50 == 0), o => Assert.Equal(10, o.Sample.Length));
    }

    /// <summary>Fourteen gates for one die, or numbers up to thirty to make ten: that can be set by hand, and is not offered.</summary>
    [Fact]
    public void Nothing_is_offered_that_has_a_remark_its_level_has_not_or_a_heavier_one()
    {
        foreach (var frame in Catalogue.All)
            foreach (var level in frame.Data.Levels)
            {
                var offers = Offers.Of(frame, level, new Cupboard([]));
                double begins = offers.Count == 0 ? 0 : Weight(offers[0].Setup);
                Assert.All(offers, o => Assert.InRange(Weight(o.Setup), 0, begins + .05));

                double Weight(Setup setup) => frame.Audit(setup).Sum(r => r.Weight);
            }
    }

    [Fact]
    public void No_offer_is_about_one_number_only_unless_its_level_is()
    {
        static bool IsOfOne(Offer offer) => offer.Profile.Asks.Select(a => string.Join(' ', Enumerable.Range(0, a.Ask.Count).Select(i => a.Ask[i]))).Distinct().Count() == 1;
        var levels = whole.Book.Ready.GroupBy(o => (o.Setup.Frame.Id, o.Setup.LevelId)).ToList();
        Assert.Equal([("door", "split"), ("door", "ways")], levels.Where(g => g.Any(IsOfOne)).Select(g => g.Key).Order());
        Assert.All(levels.Where(g => g.Any(IsOfOne)), g => Assert.True(IsOfOne(g.First())));
    }

    [Theory]
    [InlineData("somegone", """{"start":4,"takeMax":6}""", "There are only 4 things, so 6 can never go.")]
    [InlineData("runningtotal", """{"stopAt":5}""", "A card may count 6: a round can be over with the first.")]
    [InlineData("lookalikes", """{"relation":"partner","values":[5,12]}""", "2 of these numbers have no partner that makes 10, and stay in the box.")]
    [InlineData("chaincall", """{"relation":"partner:10","values":[1,12]}""", "2 of these numbers have no partner that makes 10.")]
    [InlineData("around", """{"n":1}""", "Nothing is fewer than 1: that ring stays empty.")]
    // Six of ten faces.
    [InlineData("gates", """{"gates":4,"dice":["d10"],"maxGates":1}""", "60 of 100 first rolls go with no gate.")]
    public void What_is_hardly_meant_is_remarked(string game, string table, string says)
    {
        var setup = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","table":{{table}},"players":[{}]}""").Playable!.Setup;
        Assert.Equal(says, Assert.Single(Catalogue.Of(setup).Audit(setup)).Says);
    }

    /// <summary>Twelve gates are what counting on is about, though no roll of two dice shuts the first.</summary>
    [Fact]
    public void A_level_is_offered_as_it_is_meant() =>
        Assert.Contains(Steps.Around(Of("gates", "count"), 0), s => s.Says == "“Count on” instead of “Count the dots”");

    [Theory]
    [InlineData("gates", "count", """{"gates":6}""", "7")]
    [InlineData("nearmiss", "frame", """{"n":10}""", "11")]
    [InlineData("nudge", "partner", """{"dice":["d10"]}""", "12")]
    [InlineData("somegone", "see", """{"start":5,"takeMax":5}""", "most: 6")]
    [InlineData("runningtotal", "head", """{"stopAt":10,"deck":{"packs":1,"suits":4,"ranks":{"A":1,"2":2,"3":3,"4":4,"5":5,"6":6,"7":7,"8":8,"9":9}}}""", "1 to 10")]
    public void A_step_that_brings_a_remark_is_not_offered(string game, string level, string table, string not)
    {
        var setup = Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","level":"{{level}}","table":{{table}},"players":[{}]}""").Playable!.Setup;
        var steps = Steps.Around(setup, 0).Where(s => s.Belongs == Belongs.Range).Select(s => s.Says).ToList();
        Assert.NotEmpty(steps);
        Assert.DoesNotContain(steps, s => s.Contains(not, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("topper", AskKind.More)]
    [InlineData("nudge", AskKind.Say)]
    [InlineData("hedge", AskKind.Say)]
    public void Where_a_game_takes_two_a_grown_up_sits_down_with_a_child_who_is_alone(string frame, AskKind asked)
    {
        var offers = whole.Book.Ready.Where(o => o.Setup.Frame.Id == frame).ToList();
        Assert.All(offers, o => Assert.Equal([false, true], o.Setup.Seats.Select(s => s.GrownUp)));
        Assert.Contains(offers, o => o.Profile.Asks.Any(a => a.Ask.Kind == asked));
        // Who is there is named; else it is anybody.
        var ines = Seat.Child("Ines", null, "9") with { GrownUp = true };
        Assert.Equal(["Mags", "Ines"], Seats(ines).Select(s => s.Name));
        Assert.Equal(["Mags", ""], Seats(null).Select(s => s.Name));

        IReadOnlyList<Seat> Seats(Seat? beside) =>
            new Search(Here(5.5, name: "Mags"), On(Day) with { GrownUp = beside }).BestIn(whole.Book, Of(frame, Catalogue.Data.First(f => f.Id == frame).DefaultLevel).Frame)!.Playable.Setup.Seats;
    }

    /// <summary>Whoever takes a game off the shelf finds it as she would begin: neither too hard nor dull where it has that for her.</summary>
    [Theory]
    [InlineData(3.8)]
    [InlineData(5.4)]
    [InlineData(7.1)]
    public void A_game_that_is_chosen_begins_where_she_is(double age)
    {
        var (seat, search) = (Seat.Child("", age), new Search(Here(age), On(Day)));
        foreach (var frame in Catalogue.Data)
        {
            var setup = Beginning.Of(frame, [seat], [search], whole.Book);
            // Alone; some offers take a grown-up beside her.
            var all = whole.Book.Ready.Where(o => o.Setup.Frame == frame && HouseWays.Allows(o.Playable, Approach.Default) && Catalogue.Check(o.Setup with { Seats = [o.Setup.Seats[0]] }) is not null).Select(o => (o.Setup, o.Rung, search.Tell(o).Right, Largest: o.Profile.Asks.Max(a => a.Ask.Largest))).ToList();
            var written = all.GroupBy(o => o.Rung).OrderBy(g => g.Key).Select(g => g.First()).ToList();
            var (_, _, right, largest) = all.First(o => o.Setup.LevelId == setup.LevelId && o.Setup.Table.SequenceEqual(setup.Table) && o.Setup.Seats[0].Allowance.SequenceEqual(setup.Seats[0].Allowance));
            var fits = written.Where(o => o.Right is >= .70 and <= .92).ToList();
            if (fits.Count > 0) Assert.Equal(fits[0].Rung, frame.Rung(setup.LevelId));
            else if (written.Exists(o => o.Right >= .70)) Assert.True(right > .92, frame.Id);
            else Assert.True(largest <= written[0].Largest && right >= Math.Min(.70, all.Where(o => o.Rung == written[0].Rung && o.Largest <= written[0].Largest).Max(o => o.Right)), frame.Id);
        }
    }

    [Fact]
    public void A_chosen_game_goes_on_where_it_was_left_and_everybody_keeps_her_place()
    {
        var ines = Seat.Child("Ines", null, "9") with { GrownUp = true };
        var left = Of("gather", "two");
        var (mags, juno) = (Here(7, [new(left, 0, Day.AddDays(-2))], name: "Mags"), Here(3.8, name: "Juno"));
        Assert.Equal("two", Beginning.Of(left.Frame, [mags.Seat], [new(mags, On(Day))], whole.Book).LevelId);
        foreach (var frame in Catalogue.Data.Where(f => f.MostPlayers >= 3))
        {
            var setup = Beginning.Of(frame, [ines, mags.Seat, juno.Seat], [new(mags, On(Day)), new(juno, On(Day))], whole.Book);
            Assert.Equal(["Ines", "Mags", "Juno"], setup.Seats.Select(s => s.Name));
            Assert.NotNull(Catalogue.Check(setup));
        }
        // Who is not known begins as it is written.
        Assert.Equal(Setup.Default(left.Frame, Seat.Child("")).ToLink(), Beginning.Of(left.Frame, [Seat.Child("")], [], whole.Book).ToLink());
    }

    [Fact]
    public void The_first_offers_are_spread_over_all_games_and_making_them_can_be_stopped()
    {
        Assert.Equal(Catalogue.All.Count, Offers.All(new Cupboard([])).Take(Catalogue.Data.Sum(f => f.Levels.Count)).Select(p => p.Frame).Distinct().Count());
        var book = new OfferBook(new Cupboard([]));
        Assert.Throws<OperationCanceledException>(() => book.Make(1, new CancellationToken(true)));
        Assert.False(book.IsWhole);
        Assert.Empty(book.Ready);
    }

    [Fact]
    public void A_profile_tells_how_often_each_ask_comes_whoever_plays()
    {
        // A heap of ten, two faces each of a die with two, four and six; whatever is rolled is said and taken.
        var profile = AskProfile.Of(Catalogue.Check(Of("gather", "one"))!);
        double said = profile.Asks.Where(a => a.Ask.Kind == AskKind.Say).Sum(a => a.PerGame), taken = profile.Asks.Where(a => a.Ask.Kind == AskKind.Take).Sum(a => a.PerGame);
        Assert.Equal(said, taken, 6);
        Assert.Equal(profile.Turns, said, 6);
        // Its asks are the forecast's, for a child who is right as often.
        foreach (string game in new[] { "chaincall same", "topper sum", "lift count", "countbox cross" })
        {
            var setup = Of(game.Split(' ')[0], game.Split(' ')[1]);
            var forecast = Forecaster.Make(Catalogue.Check(setup)!, new Flat(), new ForecastOptions(Behaviour.Child, 9, 2_000), new Facts());
            var mine = AskProfile.Of(Catalogue.Check(setup)!);
            Assert.Equal(forecast.Turns.Mean, mine.Turns, forecast.Turns.Mean * .12);
            double asks = forecast.Players[0].Asks.Sum(a => a.PerGame);
            Assert.Equal(asks, mine.Asks.Sum(a => a.PerGame), asks * .12);
        }
    }

    /// <summary>Right four times in five, at once.</summary>
    private sealed class Flat : IAnswers
    {
        public Answering For(int seat, Ask ask) => new([.2, 0, 0, 0, 0, .8], [0, 0, 0, 0, 0, 0]);
    }

    [Theory, InlineData(3.7), InlineData(7.4)]
    public void One_thing_changes_at_a_time_and_a_new_game_comes_at_most_once_a_day_then_once_a_week(double age)
    {
        var played = Weeks(age, 26);
        var known = new Dictionary<FrameData, Threefold>();
        var news = new List<DateOnly>();
        foreach (var ((setup, seat, day, _), game) in played)
        {
            if (known.TryGetValue(setup.Frame, out var last)) Assert.True(last.Changes(Threefold.Of(setup, seat)) <= 1);
            else news.Add(day);
            known[setup.Frame] = Threefold.Of(setup, seat);
            Assert.False(game.Offer.Preparing.IsMissing);
            Assert.InRange(game.Right, .55, .97);
        }
        Assert.Equal(news.Count, news.Distinct().Count());
        Assert.All(news.Skip(SearchConstants.FewGames).Zip(news.Skip(SearchConstants.FewGames - 1)), n => Assert.True(n.First.DayNumber - n.Second.DayNumber >= SearchConstants.NewGameDays));
        Assert.True(known.Count >= 4, string.Join(" ", known.Keys.Select(f => f.Id)));
        for (int i = 2; i < played.Count; i++)
            Assert.False(played[i].Played.Setup.Frame == played[i - 1].Played.Setup.Frame && played[i].Played.Setup.Frame == played[i - 2].Played.Setup.Frame);
    }

    [Fact]
    public void What_is_said_of_being_right_is_what_its_own_forecast_says()
    {
        foreach (var (_, game) in Weeks(5.3, 8))
        {
            var asks = game.Forecast.Players[0].Asks;
            Assert.Equal(asks.Sum(a => a.PerGame * a.Right) / asks.Sum(a => a.PerGame), game.Right, 9);
        }
    }

    [Fact]
    public void What_was_not_wished_for_is_left_alone_for_some_days()
    {
        var first = Weeks(5.3, 1)[0].Played;
        var refused = first with { Closing = Closing.NotToday };
        for (int later = 0; later < 14; later++)
        {
            var games = new Search(Here(5.3, [refused]), On(Day.AddDays(later))).Best(whole.Book, Catalogue.All.Count);
            if (later < SearchConstants.NotTodayDays) Assert.DoesNotContain(games, g => g.Playable.Setup.Frame == first.Setup.Frame);
        }
        double Score(Closing? how) => new Search(Here(5.3, [first with { Closing = how }]), On(Day.AddDays(5))).Best(whole.Book, Catalogue.All.Count).Single(g => g.Playable.Setup.Frame == first.Setup.Frame).Score;
        Assert.True(Score(Closing.NotToday) < Score(Closing.Fine));
        Assert.True(Score(Closing.Again) > Score(Closing.Fine));
    }

    [Fact]
    public void Nothing_is_proposed_that_the_drawer_lacks_and_cannot_make()
    {
        // Buttons, and nothing else.
        var drawer = new Cupboard([new(1, "buttons", Use.Pieces, 30, new(Shape.Round, 15, 3))]);
        var book = OfferBook.Of(drawer);
        Assert.Contains(book.Ready, o => o.Preparing.IsMissing);
        foreach (double age in new[] { 3.7, 5.3, 7.4 })
            foreach (var game in new Search(Here(age), On(Day)).Best(book, Catalogue.All.Count))
                Assert.DoesNotContain(drawer.Fetch(game.Playable.Frame.Needs(game.Playable.Setup)), f => f.Standing == Standing.Missing);
    }

    [Fact]
    public void With_a_pack_two_dice_and_paper_nothing_is_another_form_than_was_meant()
    {
        var book = OfferBook.Of(Beginners);
        foreach (var (one, other) in new[] { (3.4, 6.8), (4.5, 7.4), (3.7, 5.3) })
        {
            ChildHere[] here = [Here(one), Here(other)];
            var table = Together.For([here[0] with { Seat = here[0].Seat with { Key = "1" } }, here[1] with { Seat = here[1].Seat with { Key = "2" } }], [], On(Day), book)!;
            foreach (var playable in here.SelectMany(h => new Search(h, On(Day)).Best(book, 5)).Select(g => g.Playable).Append(table.Playable))
                Assert.DoesNotContain(Beginners.Fetch(playable.Frame.Needs(playable.Setup)), f => f.OtherForm || f.Standing == Standing.Missing);
            // Nobody saw them read a word yet, and by age it is not sure.
            Assert.All(here.Where(h => h.Seat.Age < 7).SelectMany(h => new Search(h, On(Day)).Best(book, 5)), g => Assert.DoesNotContain(g.Offer.Profile.Asks, a => a.Ask.Form == Form.Word || a.Ask.Second == Form.Word));
            // Where somebody wins, everybody can.
            if (table.Forecast.Wins is { Length: > 1 } wins) Assert.InRange(wins.Max() - wins.Min(), 0, .6);
        }
    }

    /// <summary>A race of two of different ages, with what a household begins with: as each would play it alone, one would win far more often.</summary>
    [Fact]
    public void A_race_of_two_ages_is_evened_out()
    {
        ChildHere[] here = [.. new[] { 3.4, 6.8 }.Select((age, i) => Here(age) with { Seat = Here(age).Seat with { Key = $"{i + 1}" } })];
        var table = Together.For(here, [], On(Day), OfferBook.Of(Beginners), Catalogue.Data.Select(f => f.Id).Where(id => id != "downline").ToHashSet())!;
        Assert.Equal("downline", table.Playable.Setup.Frame.Id);
        Assert.Equal(2, table.Forecast.Wins.Length);
        Assert.InRange(table.Forecast.Wins.Max() - table.Forecast.Wins.Min(), 0, .3);
    }

    /// <summary>A pack, two dice and paper.</summary>
    private static readonly Cupboard Beginners = new([new(1, "pack", Use.Packs, 1, default), new(2, "dice", Use.Dice, 2, new(Shape.Flat, 16, 16, 16), Die.Of(6)), new(3, "paper", Use.Paper, 50, new(Shape.Flat, 297, 210, .1))]);

    [Fact]
    public void The_best_is_chosen_and_what_fits_better_never_comes_after_what_fits_worse()
    {
        // The same beliefs everywhere, and one band as an aim: what asks more of it in the same time comes first.
        foreach (double age in new[] { 4.0, 5.5, 7.0 })
        {
            var games = new Search(Here(age), On(Day)).Best(whole.Book, 6);
            Assert.Equal(games.OrderByDescending(g => g.Score).Select(g => g.Score), games.Select(g => g.Score));
            Assert.Equal(games.Count, games.Select(g => g.Playable.Setup.Frame).Distinct().Count());
        }
        // Put first by a grown-up, partners of ten come up; set aside, they are no reason any more.
        int band = Feeding.BandIndex("partners", 5);
        var wished = new ChildHere(Seat.Child("", 6.3), new ChildModel(6.3), [], [new(band, Wish.First, Day)]);
        var first = new Search(wished, On(Day, false)).Best(whole.Book)[0];
        Assert.Equal(band, first.Aim!.Standing.Band);
        Assert.Contains(first.Forecast.Players[0].Asks, a => a.Ask.Kind is AskKind.Part or AskKind.Gone && a.Ask[0] <= 5);
        var aside = wished with { Wishes = [new(band, Wish.Aside, Day)] };
        Assert.All(new Search(aside, On(Day, false)).Best(whole.Book, 6), g => Assert.NotEqual(band, g.Aim?.Standing.Band));
    }

    [Fact]
    public void A_new_game_begins_with_numbers_she_holds_and_says_so()
    {
        foreach (double age in new[] { 3.7, 5.3, 7.4 })
            foreach (var advised in Advice.For(Here(age), On(Day), whole.Book, 3))
            {
                Assert.Equal(AdviceKind.Begin, advised.Kind);
                Assert.Equal("A new game: new rules with old numbers.", advised.New);
                Assert.InRange(advised.Game.Right, .70, .95);
                Assert.EndsWith(".", advised.Why);
            }
    }

    [Fact]
    public void After_a_game_comes_a_step_in_it_or_it_rests_and_another_is_played()
    {
        // Right in everything it asks, on six days: either a step up, or rest.
        var played = new PlayedBefore(Of("lift", "count"), 0, Day.AddDays(-1), Closing.Fine);
        var asks = AskProfile.Of(Catalogue.Check(played.Setup)!).Asks;
        var right = Enumerable.Range(0, 6).SelectMany(d => asks.Select(a => new Observation(new(Day.AddDays(d - 7).ToDateTime(new(16, 0)), TimeSpan.Zero), a.Ask, Seen.How(Outcome.SawIt))));
        var wrong = Enumerable.Range(0, 6).SelectMany(d => asks.Select(a => new Observation(new(Day.AddDays(d - 7).ToDateTime(new(16, 0)), TimeSpan.Zero), a.Ask, Seen.How(Outcome.NotYet))));
        var up = Advice.After(Here(5.3, [played], ChildModel.Of(5.3, right)), On(Day), whole.Book, played.Setup.Frame)!;
        Assert.Contains(up.Kind, new[] { AdviceKind.StepUp, AdviceKind.Rest });
        if (up.Kind == AdviceKind.Rest) Assert.NotEqual(played.Setup.Frame, up.Setup.Frame);
        var back = Advice.After(Here(5.3, [played], ChildModel.Of(5.3, wrong)), On(Day), whole.Book, played.Setup.Frame)!;
        Assert.Contains(back.Kind, new[] { AdviceKind.StepBack, AdviceKind.Rest, AdviceKind.Begin });
        // Not today: another game, and it says so.
        var other = Advice.After(Here(5.3, [played with { Closing = Closing.NotToday }]), On(Day), whole.Book, played.Setup.Frame)!;
        Assert.Equal(AdviceKind.Rest, other.Kind);
        Assert.NotEqual(played.Setup.Frame, other.Setup.Frame);
        Assert.StartsWith($"{played.Setup.Frame.Name} may rest for some days", other.Why);
    }

    [Fact]
    public void What_is_new_since_last_time_is_said_in_a_sentence()
    {
        var setup = Of("topper", "single");
        var last = new PlayedBefore(setup, 0, Day);
        Assert.Equal("The same as last time.", Advice.WhatIsNew(last, setup, 0));
        Assert.StartsWith("The same numbers, now ", Advice.WhatIsNew(last, setup with { LevelId = "gap" }, 0));
        Assert.StartsWith("The same numbers in another form: ", Advice.WhatIsNew(last, setup.With(setup.Frame.Knob(KnobRole.Form)!, ((ChoiceKind)setup.Frame.Knob(KnobRole.Form)!.Kind)["dice"]), 0));
        foreach (var (p, game) in Weeks(6.2, 12).Skip(1))
            Assert.NotEqual("The same game with several changes.", Advice.WhatIsNew(null, p.Setup, 0));
    }

    [Fact]
    public void A_table_for_several_is_too_hard_for_nobody_and_serves_each()
    {
        ChildHere[] children = [Here(3.8, name: "Juno"), Here(5.3, name: "Otis"), Here(7.1, name: "Mags")];
        var table = Together.For(children, [Seat.Child("Ines") with { GrownUp = true }], On(Day), whole.Book)!;
        Assert.Equal(["Juno", "Otis", "Mags"], table.Playable.Setup.Seats.Take(3).Select(s => s.Name));
        Assert.All(table.Children, c =>
        {
            Assert.InRange(c.Right, SearchConstants.TooHard, 1);
            Assert.True(c.Share > 0);
        });
        for (int i = 0; i < 3; i++) Assert.Equal(table.Forecast.Players[i].Success!.Value, table.Children[i].Right, 6);
        // Two who stand alike find a table that serves both well.
        Assert.True(Together.For([Here(5.3, name: "a"), Here(5.3, name: "b")], [], On(Day), whole.Book)!.IsGood);
    }

    [Theory, InlineData("together"), InlineData("none")]
    public void What_is_proposed_is_won_as_the_household_likes_it(string winning)
    {
        var occasion = On(Day) with { Approach = Approach.Default.With("winning", winning) };
        foreach (var game in new Search(Here(6.0), occasion).Best(whole.Book, 10))
            if (game.Playable.Setup.Frame.Knob(KnobRole.Winning) is { Kind: ChoiceKind kind } && kind.Options.Any(o => o.Id == winning)) Assert.Equal(winning, game.Playable.Setup.Winning);
        Assert.Contains(new Search(Here(6.0), occasion).Best(whole.Book, 10), g => g.Playable.Setup.Winning == winning);
    }

    [Fact]
    public void Another_table_is_another_game()
    {
        ChildHere[] children = [Here(4.5, name: "a"), Here(6.5, name: "b")];
        var first = Together.For(children, [], On(Day), whole.Book)!;
        // One that serves each of them goes before one that serves some of them better.
        SharedTable each = first with { Children = [.. first.Children.Select(c => c with { Share = .45 })] }, some = first with { Children = [.. first.Children.Select((c, i) => c with { Share = i == 0 ? .35 : 4 })] };
        Assert.True(each.IsBetterThan(some) && !some.IsBetterThan(each));
        var second = Together.For(children, [], On(Day), whole.Book, new HashSet<string> { first.Playable.Setup.Frame.Id })!;
        Assert.NotEqual(first.Playable.Setup.Frame, second.Playable.Setup.Frame);
        Assert.Null(Together.For(children, [], On(Day), whole.Book, Catalogue.Data.Select(f => f.Id).ToHashSet()));
    }

    [Fact]
    public void A_child_who_counts_to_six_meets_no_large_numbers_beside_the_others()
    {
        var seen = Enumerable.Range(0, 60).Select(i => new Observation(new(Day.AddDays(-20 + i / 3).ToDateTime(new(16, 0)), TimeSpan.Zero), new Ask(AskKind.Say, 1 + i % 9, Form.Objects), Seen.NotWatched(i % 9 < 6)));
        var juno = Here(3.8, beliefs: ChildModel.Of(3.8, seen), name: "Juno");
        var table = Together.For([juno, Here(6.5, name: "Otis")], [], On(Day), whole.Book)!;
        var asks = table.Forecast.Players[0].Asks;
        Assert.True(asks.Where(a => a.Right < .4).Sum(a => a.PerGame) <= .2 * asks.Sum(a => a.PerGame));
        Assert.True(table.Children[0].Right >= .6);
    }
}
