using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Sittings;
using Allowance.Core.Tables;
using Allowance.Core.Tuning;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Table;

/// <summary>The table: a game under way, on the screen, refereed, or with notes only.</summary>
public sealed partial class PlayModel(Tables tables, Household household, Advising advising, Computing computing) : PageModel
{
    public OpenTable Table { get; private set; } = null!;

    public Sitting Sitting => Table.Sitting;

    public Household Household => household;

    /// <summary>Items tapped so far of a move that needs more.</summary>
    public IReadOnlyList<int> Picked { get; private set; } = [];

    public string Message { get; private set; } = "";

    /// <summary>What was just noted: shown as its sign, as a child may look on.</summary>
    public (Seen Seen, Ask Ask)? JustNoted { get; private set; }

    /// <summary>What can still be taken now, in words; shown only while it is held open.</summary>
    public string WhatGoes()
    {
        if (Sitting.Game is not { } game) return "";
        if (game.Helps is { Count: > 0 } helps) return string.Join("; ", helps.Take(8));
        if (game.Next.Kind != StepKind.Choice) return "";
        var moves = game.Moves.Where(m => game.Seeking(m) && m.Items != 0).Select(m => game.Tells(m, true).Replace("took ", "", StringComparison.Ordinal)).Distinct().ToList();
        return moves.Count == 0 ? "" : string.Join("; ", moves.Take(8));
    }

    /// <summary>The answer, shown only while it is held open; where an ask has none of its own, what the caller knows.</summary>
    public string AnswerTo(Ask ask) => ask.AnswerWords() is { Length: > 0 } answer ? answer : Catalogue.Of(Sitting.Setup).IsCalled ? WhatGoes() : "";

    /// <summary>The last hint that was given for the turn that is being played.</summary>
    public Hint? Hint => Sitting.HintStep > 0 && (Sitting.Game is null ? AskOfThings() : LikelyAsk()) is { } ask ? Hints.Of(ask, Sitting.HintStep, household.Approach) : null;

    /// <summary>A glimpse on the screen has the whole stage; every other game lies on the table.</summary>
    public string View => Sitting is { Way: Way.Screen, Setup.Frame.Id: "glimpse" } && !Table.IsOver ? "_Glimpse" : "_Table";

    /// <summary>For how long to show the picture of a glimpse.</summary>
    public double ShowSeconds(Item picture) => Glimpses.SecondsToShow(Table, household, Sitting.Mover, picture.Value, picture.Form);

    public bool IsFragment => Request.Headers.ContainsKey("HX-Request");

    /// <summary>How long it took, where the household likes a clock, and for beating one's own time the quickest so far; else null.</summary>
    public string? Clock()
    {
        if (household.Approach["clock"] == "none") return null;
        var took = (Table.Head.EndedAt ?? household.Now) - Table.Head.StartedAt;
        string says = $"It took {Said(took)}.";
        if (household.Approach["clock"] != "own" || Table.Seats.FirstOrDefault(s => s is not null) is not { } player) return says;
        return tables.Quickest(Table, player) is { } best ? $"{says} {(took < best ? $"Quicker than ever: the quickest was {Said(best)}." : $"The quickest so far: {Said(best)}.")}" : says;

        static string Said(TimeSpan time) => time.TotalMinutes < 1 ? $"{time.TotalSeconds:0} seconds" : $"{(int)time.TotalMinutes} min {time.Seconds} s";
    }

    /// <summary>For how long the sand runs, where some stands there and the household likes a clock.</summary>
    public int? SandSeconds => household.Approach["clock"] == "none" ? null : Sitting.Setup.Get<LimitValue>(KnobRole.Sand)?.Number;

    private IReadOnlyDictionary<long, Player>? people;

    private IReadOnlyDictionary<long, Player> People => people ??= household.People.ToDictionary(p => p.Id);

    public string Name(int seat)
    {
        if (Table.Seats.ElementAtOrDefault(seat) is { } id && People.TryGetValue(id, out var player)) return player.Name;
        var at = Sitting.Setup.Seats[seat];
        return at.GrownUp ? "the grown-up" : at.Name.Length > 0 ? at.Name : Sitting.Setup.Seats.Length == 1 ? "the child" : Sitting.Setup.Seats.Length > Engine.MostSeats ? $"child {seat + 1}" : $"place {seat + 1}";
    }

    /// <summary>What could come next for a child, once it was said how it was for her; null before, and where nobody known sits there.</summary>
    public Advised? NextFor(int seat) => Sitting.Closings.ContainsKey(seat) && Table.Seats.ElementAtOrDefault(seat) is { } id && People.TryGetValue(id, out var player) ? advising.After(player, Sitting.Setup.Frame) : null;

    public bool IsChild(int seat) => !Sitting.Setup.Seats[seat].GrownUp;

    public IActionResult OnGet(long id, string? sel)
    {
        if (tables.Find(id) is not { } table) return NotPlayed(id);
        Table = tables.GoOn(table);
        Picked = Items(sel);
        return Show();
    }

    /// <summary>There is no such table; or rules of an earlier time played it, and it is read in the logbook.</summary>
    private IActionResult NotPlayed(long id) => tables.Kept(id) is null ? NotFound() : Redirect($"/logbook/{id}");

    private IActionResult Show() => IsFragment ? Partial(View, this) : Page();

    private static IReadOnlyList<int> Items(string? text) =>
        [.. (text ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries).Select(t => int.TryParse(t, out int n) ? n : -1).Where(n => n >= 0).Take(60)];

    /// <summary>The ask to note: of the last move, or, before one was made, the one that is likeliest to teach something.</summary>
    public IReadOnlyList<AskToNote> ToNote()
    {
        if (Sitting.Game is null)
            return IsChild(Sitting.Mover) && AskOfThings() is { } asked ? [new(Sitting.Mover, asked, Sitting.Turns, Sitting.Notes.LastOrDefault(n => n.Turn == Sitting.Turns && n.Seat == Sitting.Mover))] : [];
        var (asks, turn) = Sitting.Waiting is { } waiting ? (waiting.Asks, Sitting.Turns) : Sitting.Last is { } last ? (last.Asks, last.Turn) : ([], 0);
        return [.. asks.Distinct().Select(a => new AskToNote(a.Seat, a.Ask, turn, NoteOf(a, turn)))];
    }

    /// <summary>By player, the ask that matters most and what else the turn asked of her.</summary>
    public IReadOnlyList<NoteGroup> NoteGroups(IReadOnlyList<AskToNote> notes) => [.. notes.GroupBy(n => n.Seat).Select(hers =>
    {
        var main = Catalogue.Of(Sitting.Setup).MattersMost(Sitting.Setup, hers.Key, [.. hers.Select(n => n.Ask)]);
        return new NoteGroup(hers.Key, hers.First(n => n.Ask == main), [.. hers.Where(n => n.Ask != main)]);
    })];

    /// <summary>The place among the players whose keys are pressed by letters: of a call that waits, the first that is not noted yet.</summary>
    public int Lettered(IReadOnlyList<NoteGroup> groups) => Sitting.Waiting is null ? 0 : Math.Max(0, groups.ToList().FindIndex(g => g.Main.Note is null));

    /// <summary>Whose turn it is and what to do, in one line.</summary>
    public string TurnSays => Sitting.Next.Kind == StepKind.Over ? Sitting.Game?.Says ?? "The game has ended."
        : Sitting.Game is not { } game ? $"{Name(Sitting.Next.Seat)}’s turn."
        : IsForEveryone(game) ? game.Says : $"{Name(game.Speaker)}: {game.Says}";

    /// <summary>All look at boards or hands at once.</summary>
    private bool IsForEveryone(Run game) => ForAll || game.Zones.Any(z => z is ChoiceKeys { ArePlayers: true }) || Sitting.Setup.Frame.Asks.Count > 0 && game.Zones.Count(z => z is Board) > 1 && !game.Zones.Any(z => z is CardGrid) || Sitting.Next.Kind == StepKind.Choice && game.Zones.Count(z => z is Hand { Cards: var cards } && !cards.Any(c => c.CanTap)) > 1;

    /// <summary>What going on without a tap on the table means now.</summary>
    public string PassSays => Sitting.Game is not { } game ? "Next turn" : game.Zones.Any(z => z is ChoiceKeys { ArePlayers: true }) ? "Nobody did"
        : ForAll || Picked.Count > 0 && game.Zones.Any(z => z is Board) || game.Moves is [var only] && (only.Items == 0 || !game.Seeking(only) && !game.IsLegal(Move.Pass)) ? "Go on" : "Nothing found";

    /// <summary>The number that is heard and not seen now.</summary>
    public int? SpokenNow => Sitting.Game?.Zones.SelectMany(z => z.Items).FirstOrDefault(i => i.Form == Form.Spoken)?.Value;

    /// <summary>The table as it is drawn for this screen; null where nothing is known of it.</summary>
    public Drawing? Drawing => Sitting.Game is { } game ? Core.Tables.Drawing.Of(Shown(game.Zones), ScreenRoom.Of(Request), new DrawnBy(household.PictureStyle, Name, Loosely)) : null;

    private IReadOnlyList<Zone> Shown(IReadOnlyList<Zone> zones)
    {
        var lying = zones.SelectMany(z => z.Items).Where(i => i.CanTap).DistinctBy(i => i.Id).ToDictionary(i => i.Id);
        List<Item> picked = [.. Picked.Where(lying.ContainsKey).Select(id => lying[id])];
        return [.. zones.Where(z => z is not Told || AllNoted).Select(z => z.With(picked))];
    }

    /// <summary>What the last turn asked is noted, or the game is closed: what is told at the end gives nothing away any more.</summary>
    private bool AllNoted => Sitting.Closings.Count > 0 || NoteGroups(ToNote()).All(g => g.Main.Note is { Automatic: false });

    /// <summary>What has a structure is always drawn with it; only loose things lie differently each time.</summary>
    private long Loosely(Item item, bool lasting) => item.Form is Form.Scatter or Form.Objects ? PictureOf(item, lasting) : 0;

    /// <summary>Which of the many pictures of a number is shown: of a card that lies there, always the same; of a call, another each turn.</summary>
    public long PictureOf(Item item, bool lasting) => household.PictureSeed(1) == 0 ? 0 : 1 + (Table.Head.Id * 64 + (lasting ? 0 : Sitting.Turns * 7) + item.Id) % 9;

    private Note? NoteOf(SeatAsk asked, int turn) => Sitting.Notes.LastOrDefault(n => n.Ask == asked.Ask && n.Turn == turn && n.Seat == asked.Seat);

    /// <summary>With notes only: the ask the grown-up chose in place of the likely one.</summary>
    public Ask? Asked => Ask.Parse(Request.HasFormContentType ? Request.Form["asked"].ToString() : Request.Query["asked"].ToString(), out _) is { } chosen && CanBeAsked(chosen) ? chosen : null;

    /// <summary>She can meet it here; without its numbers, one of its kind.</summary>
    private bool CanBeAsked(Ask ask) => ask.IsWithoutNumbers ? OfMover().Any(ask.IsOfTheSortOf) : OfMover().Contains(ask);

    /// <summary>With notes only: the keys that name what was asked; null where the app knows.</summary>
    public Naming? Naming => Sitting.Game is null && ToNote() is [var note, ..] ? Core.Asks.Naming.Of(OfMover(), note.Ask, FirstTapped) : null;

    /// <summary>The first of two numbers that name what was asked or called.</summary>
    public int? FirstTapped => int.TryParse(Request.Query["first"], out int first) ? first : null;

    /// <summary>The asks that the mover can meet in this setup, those at her edge first.</summary>
    public IReadOnlyList<Ask> OfMover() => mover ??= OfSeat(Sitting.Mover);

    private IReadOnlyList<Ask>? mover;

    /// <summary>A setup that goes, with the names and ages of those who sit there now.</summary>
    private Playable Named(Setup setup) => Catalogue.Check(household.Named(setup))!;

    private IReadOnlyList<Ask> OfSeat(int seat)
    {
        var forecast = household.Glance(Named(Sitting.Setup), 200, household.Budget(HttpContext.RequestAborted));
        return [.. forecast.Players[seat].Asks.OrderBy(a => Math.Abs(a.Right - .75)).Select(a => a.Ask).Concat(Catalogue.Of(Sitting.Setup).AsksOfThings(Sitting.Setup, seat)).Distinct()];
    }

    /// <summary>
    /// The ask of the turn that is being played: what a waiting move asks, or one of those at the mover's edge, going round
    /// without the ones noted last.
    /// </summary>
    public Ask? LikelyAsk()
    {
        if (!likely.IsKnown) likely = (true, FindLikely());
        return likely.Ask;
    }

    /// <summary>With notes only: what the grown-up named, or the likely ask, without numbers where those are not known.</summary>
    private Ask? AskOfThings() => LikelyAsk() is { } likely ? Asked ?? Core.Asks.Naming.Unnamed(OfMover(), likely) : null;

    /// <summary>Found once for a table as it stands.</summary>
    private (bool IsKnown, Ask? Ask) likely;

    /// <summary>Likely asks go round among so many at her edge.</summary>
    private const int EdgeAsks = 6;

    private Ask? FindLikely()
    {
        if (Sitting.Next.Kind == StepKind.Over || !IsChild(Sitting.Mover)) return null;
        if (Sitting.Game is { } game)
        {
            if (game.Next.Kind != StepKind.Choice) return null;
            var asks = game.Moves.SelectMany(m => game.Asks(m)).Select(a => a.Ask).Distinct().ToList();
            if (asks.Count == 0) return null;
            var answers = household.Answers(household.Named(Sitting.Setup));
            return asks.MinBy(a => Math.Abs(answers.For(Sitting.Mover, a).Right - .75));
        }
        var main = MainAsks.KindsOf(Named(Sitting.Setup), Sitting.Mover);
        List<Ask> all = [.. OfMover()], edge = [.. all.Where(a => main.Contains(a.WithoutNumbers(0))).Take(EdgeAsks)];
        if (edge.Count == 0) edge = [.. all.Take(EdgeAsks)];
        if (edge.Count == 0) return null;
        var recent = Sitting.Notes.Where(n => n.Seat == Sitting.Mover).TakeLast(Math.Max(0, edge.Count - 1)).Select(n => n.Ask).ToHashSet();
        return edge.FirstOrDefault(a => !recent.Contains(a), edge[0]);
    }

    public IActionResult OnPostTap(long id, int item, string? sel) => Act(id, () =>
    {
        if (Sitting.Game is not { } game || game.Next.Kind != StepKind.Choice) return [];
        var items = Items(sel).ToList();
        if (!items.Remove(item)) items.Add(item);
        var read = game.Read(items);
        if (read.More && Sitting.Way == Way.Refereed && Implied(game, items) is { } implied) read = Tapped.As(implied);
        Picked = read.More ? items : [];
        Message = read.Words;
        if (read is not { More: false, Move: { } move }) return [];
        // A way that was chosen shows no answer.
        bool chosen = game.Zones.Any(z => z is ChoiceKeys && z.Items.Any(i => i.Id == item));
        return chosen ? [Moved.By(move, true)] : Make(move, true);
    });

    /// <summary>With real cards one tap is enough where everything that goes with the card is alike.</summary>
    private static Move? Implied(Run game, List<int> items) => ImpliedMove(game.Zones, game.Read, items);

    private static Move? ImpliedMove(IReadOnlyList<Zone> zones, Func<IReadOnlyList<int>, Tapped> read, List<int> items)
    {
        var next = zones.SelectMany(z => z.Items).Where(i => i.CanTap && !items.Contains(i.Id)).Select(i => (i.Value, Read: read([.. items, i.Id]))).ToList();
        // Where more than one further card may come, nobody knows what is meant.
        var fitting = next.Where(m => m.Read.Move is not null).ToList();
        return next.All(m => !m.Read.More) && fitting.Select(f => f.Value).Distinct().Count() == 1 ? fitting[0].Read.Move : null;
    }

    private IReadOnlyList<SittingEvent> Make(Move move, bool found)
    {
        var notes = found ? Sitting.NotesShownBy(move) : [];
        return [Moved.By(move, found), .. notes];
    }

    public IActionResult OnPostPass(long id, string? sel) => Act(id, () =>
    {
        if (Sitting.Game is not { } game) return [new Passed()];
        if (game.Next.Kind != StepKind.Choice) return [];
        // What was tapped so far stays, where it is a move already.
        if (Items(sel) is [_, ..] items && game.Read(items) is { More: true, Move: { } sofar }) return Make(sofar, true);
        if (game.IsLegal(Move.Pass)) return [Moved.By(Move.Pass, false)];
        return game.Moves is [var only] ? [Moved.By(only, !game.Seeking(only))] : [];
    });

    /// <summary>With real things and a caller: whether the app may be asked to call, or to stop calling.</summary>
    public bool CanBeCalled => Sitting is { Way: Way.Notes, Next.Kind: not StepKind.Over } && Sitting.Playable.Frame.IsCalled && !Sitting.Playable.Frame.AnswersAtOnce(Sitting.Setup);

    public IActionResult OnPostCalls(long id, bool byApp) => Act(id, () => CanBeCalled && byApp == Sitting.Game is null ? [new Called(byApp)] : []);

    /// <summary>The turn can go on without anything found: there is one way on, or passing is one that has no key of its own; not where a way must be chosen.</summary>
    public bool CanPass => Sitting.Next.Kind == StepKind.Choice && (Sitting.Game is not { } game || game.Moves.Count == 1 || game.IsLegal(Move.Pass) && !game.Zones.Any(z => z is ChoiceKeys { BreaksOff: true }));

    /// <summary>After one number the next one turns up, as when cards are laid out; a caller calls one.</summary>
    public bool SeveralTurnUp
    {
        get
        {
            if (Sitting is not { Next.Kind: StepKind.Chance, Game: { } game }) return false;
            var ahead = game.Copy();
            ahead.Deal(game.Possibilities[0].Outcome);
            return ahead.Next.Kind == StepKind.Chance && !ahead.Possibilities[0].IsCall;
        }
    }

    /// <summary>Real cards: numbers that turned up, one or several.</summary>
    public IActionResult OnPostTurned(long id, string? numbers) => Act(id, () =>
    {
        var events = new List<SittingEvent>();
        if (Sitting.Game is not { } game) return events;
        var ahead = game.Copy();
        foreach (string word in (numbers ?? "").Split([' ', ',', ';'], StringSplitOptions.RemoveEmptyEntries))
        {
            var possible = ahead.Next.Kind == StepKind.Chance ? ahead.Possibilities : [];
            if (possible.Count == 0 || events.Count > 0 && possible[0].IsCall)
            {
                Message = events.Count > 0 ? $"Only {Words.Count(events.Count, "card")} {(events.Count == 1 ? "was" : "were")} to be turned up; the rest was not taken." : "No card is to be turned up now.";
                break;
            }
            // What is called by a word is typed as it is called.
            int number = int.TryParse(word, out int typed) && possible.Any(p => p.Outcome == typed) ? typed : possible.FirstOrDefault(p => p.Label.Equals(word, StringComparison.OrdinalIgnoreCase)) is { Label: not null } named ? named.Outcome : int.MinValue;
            if (possible.All(p => p.Outcome != number))
            {
                string nearest = int.TryParse(word, out int n) ? possible.MinBy(p => Math.Abs(p.Outcome - n)).Label : possible[0].Label;
                Message = $"No {(word.Length > 8 ? word[..8] + "…" : word)} is left in the pack; the nearest is {nearest}.";
                break;
            }
            ahead.Deal(number);
            events.Add(new Dealt(number, true));
        }
        return events;
    });

    /// <param name="shown">Of a glimpse: for how many thousandths of a second the picture was shown.</param>
    /// <param name="again">It was shown a second time, which is a help.</param>
    /// <param name="others">Whatever else the turn asked of her and is not noted was right, too, if this was; nobody watched. The game does not wait for it.</param>
    public IActionResult OnPostNote(long id, int seat, string? ask, int turn, int outcome, string? how, int? shown, bool again, bool others) => Act(id, () =>
    {
        if (Ask.Parse(ask ?? "", out _) is not { } asked || outcome is < 0 or > 6 || outcome < 6 && !Outcomes.Of(asked).Contains((Outcome)outcome))
        {
            Message = "That is no note of this game; nothing was noted.";
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return [];
        }
        if (!IsOpen(seat, asked, turn))
        {
            Message = "That turn has passed, so nothing was noted. A note can be put right in the logbook.";
            return [];
        }
        var old = Sitting.Notes.LastOrDefault(n => n.Seat == seat && n.Ask == asked && n.Turn == turn);
        if (again && outcome > (int)Outcome.WithHelp) outcome = (int)Outcome.WithHelp;
        var seen = Seen.Of(outcome);
        bool right = seen.Right;
        if (old is not null && old.Seen == seen && !old.Automatic && string.IsNullOrEmpty(how)) return [];
        JustNoted = (seen, asked);
        Message = $"Noted: {seen.Says(asked)}.";
        var noted = new Noted(seat, asked.ToString(), (int?)seen.Outcome, right, turn, old?.Event, how is "miscounted" or "guessed" or "other" || Groups().IsMatch(how ?? "") ? how! : "", Plausible(shown));
        if (Sitting.Game is null) return [noted, new Passed()];
        var with = others ? ToNote().Where(n => n.Seat == seat && n.Ask != asked && n.Note is null).Select(n => n.Ask).ToList() : [];
        return [noted, .. right ? with.Select(a => new Noted(seat, a.ToString(), null, true, turn)) : [], .. GoesOn([asked, .. with], seat)];
    });

    /// <summary>It can be noted now: it is of the turn that is being played, or of the one just made.</summary>
    private bool IsOpen(int seat, Ask asked, int turn) =>
        Sitting.Game is null ? seat == Sitting.Mover && turn == Sitting.Turns && IsChild(seat) && CanBeAsked(asked)
            : ToNote().Any(n => n.Seat == seat && n.Ask == asked && n.Turn == turn && IsChild(seat));

    /// <summary>The ways to see a number in two or three groups, or all at once, to choose from where nothing is drawn.</summary>
    public static IEnumerable<string> GroupsOf(int number)
    {
        yield return number.ToString();
        for (int a = number - 1; 2 * a >= number; a--) yield return $"{a}+{number - a}";
        for (int a = number - 2; a >= 1; a--)
            for (int b = Math.Min(a, number - a - 1); b >= 1 && number - a - b <= b; b--) yield return $"{a}+{b}+{number - a - b}";
    }

    /// <summary>The groups that rings were drawn round, as 3+2.</summary>
    [GeneratedRegex(@"^\d{1,2}(\+\d{1,2}){0,9}$")]
    private static partial Regex Groups();

    private static int? Plausible(int? shown) => shown is >= 1 and <= 60_000 ? shown : null;

    /// <summary>The call that waits, as it is said aloud; null where nobody calls.</summary>
    public string? Call => Catalogue.Of(Sitting.Setup).IsCalled && Sitting is { Next.Kind: StepKind.Choice, Game: { } game }
        ? string.Join(". ", game.Zones.SelectMany(z => z.Items).Where(i => i.Form == Form.Spoken).Select(i => NumberWords.Of(i.Value)).Append(game.Says)) : null;

    private const int MostInRows = 3;

    /// <summary>Where many answer at once, or all the same, children are tapped, not how each one got there; a few have a row each.</summary>
    public bool ForAll => Sitting.Waiting is { Asks: var asks } && asks.Select(a => a.Seat).Distinct().Count() is > 1 and var children && (children > MostInRows || Sitting.Playable.Frame.AnswersAtOnce(Sitting.Setup));

    /// <summary>All answered at once: who was tapped had it, or had it not; everyone else the other way round.</summary>
    public IActionResult OnPostHad(long id, int[]? tapped, bool hadNot, int? shown) => Act(id, () =>
    {
        if (Sitting.Waiting is not { } waiting) return [];
        bool Had(int seat) => (tapped ?? []).Contains(seat) != hadNot;
        int had = waiting.Asks.Count(a => Had(a.Seat));
        Message = $"{had} of {waiting.Asks.Count} had it.";
        return [.. waiting.Asks.Select(a => new Noted(a.Seat, a.Ask.ToString(), Had(a.Seat) ? null : (int)Outcome.NotYet, Had(a.Seat), Sitting.Turns, Shown: Plausible(shown))),
            Moved.By(waiting.Move, true)];
    });

    /// <summary>A call that waited goes on when everybody's answer is noted; this one is just being noted.</summary>
    private IEnumerable<SittingEvent> GoesOn(IReadOnlyList<Ask> asked, int seat) =>
        Sitting.Waiting is { } waiting && waiting.Asks.All(a => a.Seat == seat && asked.Contains(a.Ask) || NoteOf(a, Sitting.Turns) is not null)
            ? [Moved.By(waiting.Move, true)] : [];

    public IActionResult OnPostHint(long id) => Act(id, () =>
        LikelyAsk() is null || Sitting.HintStep == 3 ? [] : [new Hinted(Sitting.HintStep + 1)]);

    public IActionResult OnPostUndo(long id) => Act(id, () => Sitting.LastAction() is { } from ? [new Undone(from)] : []);

    public IActionResult OnPostStop(long id) => Act(id, () => Sitting.IsStopped ? [] : [new Stopped(true)]);

    public IActionResult OnPostClose(long id, int seat, Closing how) => Act(id, () =>
        seat >= 0 && seat < Sitting.Setup.Seats.Length ? [new Closed(seat, how)] : []);

    public IActionResult OnPostLeave(long id, int seat) => Act(id, () =>
        seat >= 0 && seat < Sitting.Setup.Seats.Length && Sitting.IsHere(seat) && Sitting.Setup.Seats.Where((_, i) => Sitting.IsHere(i)).Count() > 1 ? [new Left(seat)] : []);

    public IActionResult OnPostJoin(long id, long player) => Act(id, () =>
    {
        if (!People.TryGetValue(player, out var who) || Joinable.All(p => p.Id != player)) return [];
        var joined = new Joined(who.Id.ToString(), who.Kind == PlayerKind.GrownUp);
        if (Sitting.Setup.Seats.Length >= Sitting.Setup.Frame.MostPlayers)
        {
            Message = $"{Sitting.Setup.Frame.Name} is for {Sitting.Setup.Frame.MostPlayers} at most.";
            return [];
        }
        if (Sitting.Playable.Frame.Check(Sitting.With(joined), out var problems) is null)
        {
            Message = $"{who.Name} cannot join this table: {problems[0].Message}";
            return [];
        }
        Message = $"{who.Name} plays from the next turn on.";
        return [joined];
    });

    public IReadOnlyList<Player> Joinable => [.. People.Values.Where(p => p.Plays && !Enumerable.Range(0, Table.Seats.Count).Any(i => Table.Seats[i] == p.Id && Sitting.IsHere(i)))];

    /// <summary>Easier or harder for one player, from the next turn on.</summary>
    public IActionResult OnPostAllow(long id, int seat, string? knob, string? value) => Act(id, () =>
    {
        if (seat < 0 || seat >= Sitting.Setup.Seats.Length) return [];
        var changed = AllowanceChanges(seat).FirstOrDefault(c => c.Knob == knob && c.Value == value);
        if (changed.Knob is null)
        {
            Message = "That change does not go at this table; choose one of those listed.";
            return [];
        }
        Message = $"From the next turn on, {changed.Step.Says}.";
        return [new AllowanceChanged(seat, changed.Knob, value)];
    });

    /// <summary>Changes of one player's own allowance that her table accepts: each with the knob and its value.</summary>
    private IReadOnlyList<(string Knob, string? Value, SingleStep Step)> AllowanceChanges(int seat)
    {
        var now = Sitting.Setup.Seats[seat];
        var found = new List<(string, string?, SingleStep)>();
        // A guest at the table makes every change a seat's own, also where she plays alone.
        var shared = Sitting.Setup with { Seats = Sitting.Setup.Seats.Add(Seat.Child("")) };
        foreach (var change in Steps.Around(shared, seat))
        {
            var then = change.Setup.Seats[seat];
            if (Catalogue.Check(household.Named(change.Setup with { Seats = change.Setup.Seats.RemoveAt(change.Setup.Seats.Length - 1) })) is not { } playable) continue;
            var step = new SingleStep(change.Change with { Setup = playable.Setup }, playable);
            if (then.Level != now.Level) found.Add(("level", then.Level, step));
            else if (then.Allowance.FirstOrDefault(a => !Equals(now.Allowance.GetValueOrDefault(a.Key), a.Value)) is { Key: not null } own) found.Add((own.Key, own.Value.ToLink(), step));
        }
        return found;
    }

    /// <summary>What is easier and what is harder for her, worked out when the list is opened.</summary>
    public async Task<IActionResult> OnGetAllowancesAsync(long id, int seat)
    {
        if (tables.Find(id) is not { } table || seat < 0 || seat >= table.Sitting.Setup.Seats.Length) return NotFound();
        Table = table;
        using var place = await computing.Enter(HttpContext.RequestAborted);
        if (place is null) return StatusCode(StatusCodes.Status429TooManyRequests);
        var changes = AllowanceChanges(seat);
        var eased = Easing.Among(Named(Sitting.Setup), changes.Select(c => c.Step), seat, household.Answers, GamesForChanges, household.Budget(HttpContext.RequestAborted).Whole, household.Cupboard);
        return Partial("_Allowances", new Allowances(this, seat, [.. from e in eased let own = changes.First(c => c.Step == e.Step) select new AllowanceChange(own.Knob, own.Value, e)]));
    }

    private const int GamesForChanges = 200, GamesForOffer = 100;

    /// <summary>The places at which something easier or harder could be offered quietly.</summary>
    public IEnumerable<int> Offers => Enumerable.Range(0, Sitting.Setup.Seats.Length).Where(seat => IsChild(seat) && MidGame.Calls(Sitting, seat) != Ease.Neither);

    /// <summary>One change for her from the next turn on, the smallest step the way her last notes call for; nothing where there is none.</summary>
    public async Task<IActionResult> OnGetOfferAsync(long id, int seat)
    {
        if (tables.Find(id) is not { } table || seat < 0 || seat >= table.Sitting.Setup.Seats.Length) return NotFound();
        Table = table;
        var ease = MidGame.Calls(Sitting, seat);
        if (ease == Ease.Neither) return Content("");
        using var place = await computing.Enter(HttpContext.RequestAborted);
        if (place is null) return Content("");
        var changes = AllowanceChanges(seat);
        var nearest = Easing.Among(Named(Sitting.Setup), changes.Select(c => c.Step), seat, household.Answers, GamesForOffer, household.Budget(HttpContext.RequestAborted).Whole, household.Cupboard).Nearest(ease, 1);
        if (nearest is not [var step]) return Content("");
        var own = changes.First(c => c.Step == step.Step);
        return Partial("_Offer", new Allowances(this, seat, [new(own.Knob, own.Value, step)]));
    }

    /// <summary>
    /// Does something at the table: what it means is worked out, stored durably, and only then shown. A post that was taken
    /// before, or a table that has moved on meanwhile, is shown as it stands.
    /// </summary>
    private IActionResult Act(long id, Func<IReadOnlyList<SittingEvent>> act)
    {
        if (tables.Find(id) is not { } table) return NotPlayed(id);
        Table = table;
        string? post = Request.PostId();
        bool again = post is not null && tables.WasTaken(post);
        if (again) Message = "That was taken already; here is how the table stands.";
        var events = again ? [] : act();
        if (events.Count > 0)
        {
            if (tables.Append(Table, post, events) is { } now) Table = now;
            else if (tables.Find(id) is { } moved)
            {
                (Table, Message, JustNoted, Picked) = (moved, "This table had moved on; here is how it stands.", null, []);
            }
            else return NotPlayed(id);
        }
        (mover, likely) = (null, default);
        return IsFragment ? Partial(View, this) : Picked.Count == 0 && Message.Length == 0 && Hint is null ? Redirect($"/table/{id}") : Page();
    }
}

/// <param name="Value">In a link; null puts it back to the table's.</param>
public sealed record AllowanceChange(string Knob, string? Value, Eased Eased);

public sealed record Allowances(PlayModel Play, int Seat, IReadOnlyList<AllowanceChange> Changes);

/// <summary>An ask of a turn, and what was noted of it so far.</summary>
public sealed record AskToNote(int Seat, Ask Ask, int Turn, Note? Note);

/// <summary>What a turn asked of one player: what matters most, and the others, which follow it unless they are noted themselves.</summary>
public sealed record NoteGroup(int Seat, AskToNote Main, IReadOnlyList<AskToNote> Others);

/// <param name="First">Its keys are pressed by letters.</param>
/// <param name="Post">The id of the post, so that a repeated one changes nothing.</param>
/// <param name="Place">Which of the players of this turn it is, from 0.</param>
/// <param name="Folded">One of many: only the first that is not noted lies open.</param>
public sealed record NoteKeys(PlayModel Play, NoteGroup Group, bool First, string Post, int Place = 0, bool Folded = false)
{
    /// <summary>With real things the number must be told; on the table nothing says what is to be put out.</summary>
    public string Asked(Ask ask) => $"{Play.Name(Group.Seat)}: {(Play.Sitting.Game is null ? ask.Question() : ask.QuestionAtTable(Play.ToNote().Select(n => n.Ask)))}";
}

/// <param name="ForAllOfTurn">One tap notes the others of the turn with it.</param>
public sealed record OneNote(PlayModel Play, AskToNote Asked, bool First, string Post, bool ForAllOfTurn);

/// <summary>All answer at once: who had it is tapped.</summary>
/// <param name="AfterLook">Hidden until the picture is covered.</param>
public sealed record AtOnce(PlayModel Play, IReadOnlyList<int> Seats, string Post, bool AfterLook);
