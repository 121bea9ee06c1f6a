using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Sittings;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>A sitting is what its events give.</summary>
public class SittingTests
{
    private static Sitting Begin(Way way = Way.Screen, string table = """{"layout":[4,5]}""", string players = "[{},{}]") => new(Setups.FromJson(table, players).Ready(), way, 11);

    private static void DealAll(Sitting sitting)
    {
        while (sitting.Next.Kind == StepKind.Chance) sitting.Take(sitting.Draw());
    }

    private static Sitting Played(int moves)
    {
        var sitting = Begin();
        var rng = Rng.ForGame(1, 1);
        DealAll(sitting);
        for (int i = 0; i < moves && sitting.Next.Kind == StepKind.Choice; i++)
        {
            var move = sitting.Game!.Plain(ref rng);
            var notes = sitting.NotesShownBy(move);
            sitting.Take(new Moved(move.Items, move.Pick, move.First, true));
            foreach (var note in notes) sitting.Take(note);
            DealAll(sitting);
        }
        return sitting;
    }

    [Fact]
    public void Resuming_from_the_log_gives_the_same_table()
    {
        var sitting = Played(5);
        var log = sitting.Events.Select(e => SittingEvent.FromJson(e.ToJson()));
        var again = new Sitting(Setups.FromJson("""{"layout":[4,5]}""", "[{},{}]").Ready(), Way.Screen, 11, log);
        Assert.True(sitting.Game!.SameAs(again.Game!));
        Assert.Equal(sitting.Notes, again.Notes);
        Assert.Equal((sitting.Turns, sitting.Mover), (again.Turns, again.Mover));
    }

    [Fact]
    public void Undoing_goes_back_without_limit_and_chance_comes_back_the_same()
    {
        var sitting = Played(4);
        var cards = Cards(sitting);
        var rng = Rng.ForGame(7, 7);
        var move = sitting.Game!.Plain(ref rng);
        sitting.Take(new Moved(move.Items, move.Pick, move.First, true));
        DealAll(sitting);
        var after = Cards(sitting);
        sitting.Take(new Undone(sitting.LastAction()!.Value));
        DealAll(sitting);
        Assert.Equal(cards, Cards(sitting));
        sitting.Take(new Moved(move.Items, move.Pick, move.First, true));
        DealAll(sitting);
        Assert.Equal(after, Cards(sitting));
        while (sitting.LastAction() is { } from) sitting.Take(new Undone(from));
        Assert.Equal(0, sitting.Turns);
        Assert.Empty(sitting.Notes);
    }

    private static List<int> Cards(Sitting sitting) => [.. sitting.Game!.Zones[0].Items.Select(i => i.Value)];

    [Fact]
    public void Play_that_shows_the_answer_notes_it_and_a_key_says_how()
    {
        var sitting = Played(1);
        var note = Assert.Single(sitting.Notes);
        Assert.True(note is { Automatic: true, Seen: { Outcome: null, Right: true } });
        sitting.Take(new Noted(note.Seat, note.Ask.ToString(), 5, true, note.Turn, note.Event));
        Assert.Equal(Outcome.SawIt, Assert.Single(sitting.Notes).Seen.Outcome);
        sitting.Take(new Undone(sitting.LastAction()!.Value));
        Assert.True(Assert.Single(sitting.Notes).Automatic);
    }

    [Fact]
    public void After_a_hint_that_shows_it_the_note_says_with_help()
    {
        var sitting = Begin();
        DealAll(sitting);
        sitting.Take(new Hinted(1));
        sitting.Take(new Hinted(2));
        Assert.All(sitting.NotesShownBy(sitting.Game!.Moves[0]), n => Assert.Equal((int)Outcome.WithHelp, n.Outcome));
    }

    [Fact]
    public void Turning_a_card_in_run_shows_nothing_and_notes_nothing()
    {
        var sitting = Begin(table: """{"mode":"run","layout":[2,3]}""");
        Assert.Empty(sitting.NotesShownBy(new Move(0, 0)));
    }

    [Fact]
    public void A_child_leaves_and_another_joins_in_the_middle()
    {
        var sitting = Played(1);
        sitting.Take(new Left(sitting.Mover));
        Assert.Equal(0, sitting.Mover);
        sitting.Take(new Joined("9", false));
        Assert.Equal(3, sitting.Setup.Seats.Length);
        sitting.Take(new Moved(0, -1, -1, false));
        Assert.Equal(2, sitting.Mover);
    }

    [Fact]
    public void An_allowance_changed_in_the_middle_holds_from_the_next_turn_on()
    {
        var sitting = Begin(table: """{"layout":[4,5]}""", players: "[{}]");
        DealAll(sitting);
        sitting.Take(new AllowanceChanged(0, "target", "8"));
        Assert.All(sitting.Game!.Moves, m => Assert.Equal(8, Assert.Single(sitting.Game.Asks(m)).Ask[0]));
        sitting.Take(new AllowanceChanged(0, "level", "same"));
        Assert.All(sitting.Game!.Moves, m => Assert.Equal(AskKind.Match, Assert.Single(sitting.Game.Asks(m)).Ask.Kind));
    }

    [Fact]
    public void With_notes_only_the_turn_goes_round_and_no_tap_notes_nothing()
    {
        var sitting = Begin(Way.Notes);
        sitting.Take(new Passed());
        sitting.Take(new Noted(1, new Ask(AskKind.Part, 10, 6, Form.Numeral).ToString(), 4, true, 1));
        sitting.Take(new Passed());
        Assert.Equal((0, 2), (sitting.Mover, sitting.Turns));
        Assert.Single(sitting.Notes);
        // A note went on to the next turn: taken back, both are.
        sitting.Take(new Undone(sitting.LastAction()!.Value));
        Assert.Equal((1, 1), (sitting.Mover, sitting.Turns));
        Assert.Empty(sitting.Notes);
    }

    [Fact]
    public void Three_not_yet_in_a_row_call_for_something_easier_and_eight_at_once_for_something_harder()
    {
        var sitting = Begin(Way.Notes);
        void Note(int seat, Outcome? outcome, bool right = true) => sitting.Take(new Noted(seat, new Ask(AskKind.Part, 10, 6, Form.Numeral).ToString(), (int?)outcome, right, sitting.Turns));
        Note(0, Outcome.NotYet);
        Note(0, Outcome.WithHelp);
        Assert.Equal(Ease.Neither, MidGame.Calls(sitting, 0));
        // What others do does not count, and what nobody watched breaks the row.
        Note(1, Outcome.NotYet);
        Assert.Equal(Ease.Neither, MidGame.Calls(sitting, 0));
        Note(0, null);
        Note(0, Outcome.NotYet);
        Assert.Equal(Ease.Neither, MidGame.Calls(sitting, 0));
        Note(0, Outcome.NotYet);
        Note(0, Outcome.WithHelp);
        Assert.Equal(Ease.Easier, MidGame.Calls(sitting, 0));
        Assert.Equal(Ease.Neither, MidGame.Calls(sitting, 1));
        // Once it was changed it is looked at anew, also where that is taken back.
        int changed = sitting.EventCount;
        sitting.Take(new AllowanceChanged(0, "target", "8"));
        Assert.Equal(Ease.Neither, MidGame.Calls(sitting, 0));
        sitting.Take(new Undone(changed));
        Assert.Equal(Ease.Easier, MidGame.Calls(sitting, 0));
        for (int i = 0; i < 7; i++) Note(0, Outcome.SawIt);
        Assert.Equal(Ease.Neither, MidGame.Calls(sitting, 0));
        Note(0, Outcome.SawIt);
        Assert.Equal(Ease.Harder, MidGame.Calls(sitting, 0));
        sitting.Take(new Stopped(true));
        Assert.Equal(Ease.Neither, MidGame.Calls(sitting, 0));
    }

    [Theory]
    // How far it is matters, not what the dice make; up and down are both asked; who says where she comes to also says how many.
    [InlineData("nearmiss", "list", "Gap")]
    [InlineData("homing", "move", "Back Gap On")]
    [InlineData("spots", "order", "Order")]
    [InlineData("errand", "closed", "Take")]
    [InlineData("downline", "predict", "On")]
    [InlineData("gather", "one", "Say")]
    public void What_is_likely_to_have_been_asked_is_what_matters_most_in_a_turn(string game, string level, string kinds)
    {
        var playable = Core.Games.Catalogue.Read($$"""{"format":"allowance-setup/1","game":"{{game}}","level":"{{level}}","players":[{"age":6},{"grownUp":true}]}""").Playable!;
        Assert.Equal(kinds, string.Join(' ', MainAsks.KindsOf(playable, 0).Select(a => $"{a.Kind}").Distinct().Order(StringComparer.Ordinal)));
        Assert.Empty(MainAsks.KindsOf(playable, 1));
    }
}
