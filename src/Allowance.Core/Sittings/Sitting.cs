using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Sittings;

/// <summary>A note as it stands: who, which ask, what was seen.</summary>
/// <param name="Event">The number of the event that holds it.</param>
/// <param name="Automatic">Made because the play showed the answer; nobody has said how yet.</param>
/// <param name="Shown">Of a glimpse: for how many seconds the picture was shown.</param>
public sealed record Note(int Event, int Seat, Ask Ask, Seen Seen, int Turn, bool Automatic, double? Shown = null);

/// <summary>The last move and what it asked of whom.</summary>
public sealed record LastTurn(int Seat, string Tells, IReadOnlyList<SeatAsk> Asks, int Turn);

/// <summary>
/// One time at the table: what replaying its events gives. It changes only by <see cref="Take"/>, so that a table that
/// was resumed after a stop stands exactly where it stood.
/// </summary>
public sealed class Sitting
{
    /// <summary>Changes whenever the same events would give another game; a sitting keeps the version it was played with.</summary>
    public const int RulesVersion = 1;

    private readonly Setup start;
    private readonly IAnswers? beliefs;
    private readonly List<SittingEvent> events = [];
    private Run? run;
    private int drawn, notesMover, notesTurns;
    private readonly List<Note> notes = [];
    private readonly Dictionary<int, Closing> closings = [];

    /// <summary>By event, the turn in which a move was made.</summary>
    private readonly Dictionary<int, int> turnOfMove = [];
    private ImmutableArray<bool> active;

    /// <param name="beliefs">What is believed of the players, for a caller to choose by; what was called stands in the log.</param>
    public Sitting(Setup setup, Way way, long seed, IEnumerable<SittingEvent>? log = null, IAnswers? beliefs = null)
    {
        start = setup;
        this.beliefs = beliefs;
        Way = way;
        Seed = seed;
        Restart();
        foreach (var e in log ?? []) Take(e);
    }

    public Way Way { get; }

    public long Seed { get; }

    /// <summary>The setup as it is now: with everyone who joined and every allowance changed.</summary>
    public Setup Setup { get; private set; } = null!;

    public IReadOnlyList<SittingEvent> Events => events;

    public IReadOnlyList<Note> Notes => notes;

    public IReadOnlyDictionary<int, Closing> Closings => closings;

    public LastTurn? Last { get; private set; }

    /// <summary>The highest hint given for the turn that is being played; 0 where none.</summary>
    public int HintStep { get; private set; }

    public bool IsStopped { get; private set; }

    /// <summary>The game on the table; null where real cards are played and none are entered.</summary>
    public Run? Game => run;

    /// <summary>The app brings what chance brings: on the screen, and where it is the caller.</summary>
    public bool DrawsItself => Way == Way.Screen || Way == Way.Notes && run is not null;

    public Step Next => IsStopped ? new(StepKind.Over, Mover) : run?.Next ?? new(active.Contains(true) ? StepKind.Choice : StepKind.Over, notesMover);

    public int Mover => run?.Next.Seat ?? notesMover;

    public int Turns => run?.Turns ?? notesTurns;

    public bool IsHere(int seat) => active[seat];

    public int EventCount => events.Count;

    private void Restart()
    {
        Setup = start;
        active = [.. start.Seats.Select(_ => true)];
        int first = FirstSeat();
        var frame = Catalogue.Of(start);
        run = Way == Way.Notes && !frame.IsCalled ? null : frame.Compile(start, beliefs).Start(first);
        notesMover = first;
        notesTurns = drawn = HintStep = 0;
        Last = null;
        IsStopped = false;
        notes.Clear();
        closings.Clear();
    }

    private int FirstSeat()
    {
        if (start.Frame.Knob("first") is null) return 0;
        int seats = start.Seats.Length;
        return start.Get<ChoiceValue>("first").Id switch
        {
            "draw" => Rng.ForGame(Seed, -1).Below(seats),
            "alternate" => (int)((ulong)Seed % (ulong)seats),
            "youngest" => Enumerable.Range(0, seats).MinBy(i => start.Seats[i].GrownUp ? 100 : start.Seats[i].Age ?? 5),
            _ => 0,
        };
    }

    /// <summary>Adds an event to the log and plays it.</summary>
    public void Take(SittingEvent e)
    {
        events.Add(e);
        if (e is Undone) Replay();
        else Play(e, events.Count - 1);
    }

    /// <summary>Plays the log from the start, without what was undone.</summary>
    private void Replay()
    {
        var counts = new bool[events.Count];
        for (int n = 0; n < events.Count; n++)
        {
            if (events[n] is Undone undone) Array.Clear(counts, undone.From, n - undone.From);
            else counts[n] = true;
        }
        Restart();
        for (int n = 0; n < events.Count; n++)
            if (counts[n]) Play(events[n], n);
    }

    private void Play(SittingEvent e, int number)
    {
        switch (e)
        {
            case Dealt dealt:
                run!.Deal(dealt.Outcome);
                drawn++;
                break;
            case Moved moved:
                turnOfMove[number] = Turns;
                Move(new Move(moved.Items, moved.Pick, moved.First), moved.Found);
                break;
            case Passed:
                notesTurns++;
                NextInNotes();
                HintStep = 0;
                break;
            case Hinted hinted:
                HintStep = Math.Max(HintStep, hinted.Step);
                break;
            case Noted noted:
                AddNote(noted, number);
                break;
            case AllowanceChanged changed:
                Change(changed);
                break;
            case Joined joined:
                Setup = Setup with { Seats = Setup.Seats.Add(new Seat("", joined.Key, null, joined.GrownUp, null, ImmutableSortedDictionary<string, KnobValue>.Empty)) };
                active = active.Add(true);
                Recompile();
                run?.Seat(Setup.Seats.Length - 1, true);
                break;
            case Left left:
                active = active.SetItem(left.Seat, false);
                run?.Seat(left.Seat, false);
                if (run is null && notesMover == left.Seat) NextInNotes();
                break;
            case Stopped:
                IsStopped = true;
                break;
            case Closed closed:
                closings[closed.Seat] = closed.How;
                break;
        }
    }

    private void NextInNotes()
    {
        if (!active.Contains(true)) return;
        do notesMover = (notesMover + 1) % active.Length; while (!active[notesMover]);
    }

    private void Move(Move move, bool found)
    {
        int seat = Mover, turn = run!.Turns;
        var asks = run.Asks(move);
        string tells = run.Tells(move, found);
        run.Apply(move, found);
        if (asks.Count > 0 || run.Turns > turn) Last = new(seat, tells, asks, turn);
        if (asks.Count > 0 || run.Turns > turn) HintStep = 0;
    }

    private void AddNote(Noted noted, int number)
    {
        if (Ask.Parse(noted.Ask, out _) is not { } ask) return;
        if (noted.Replaces is { } old) notes.RemoveAll(n => n.Event == old);
        var seen = noted.Outcome is { } outcome ? Seen.How((Outcome)outcome) : Seen.NotWatched(noted.Right);
        notes.Add(new(number, noted.Seat, ask, seen, noted.Turn, noted is { Outcome: null, Replaces: null, Shown: null } && Way != Way.Notes, noted.Shown / 1000.0));
    }

    private void Change(AllowanceChanged changed)
    {
        var seat = Setup.Seats[changed.Seat];
        var problems = new List<Problem>();
        seat = changed.Knob == "level"
            ? seat with { Level = changed.Value }
            : seat.With(changed.Knob, changed.Value is null ? null : Setup.Frame.Knob(changed.Knob)?.Kind.FromLink(changed.Value, changed.Knob, problems));
        Setup = Setup.WithSeat(changed.Seat, seat);
        Recompile();
    }

    private void Recompile()
    {
        if (run is not null) run = Catalogue.Of(Setup).Compile(Setup, beliefs).Continue(run);
    }

    /// <summary>What the seed proposes for chance next; after an undo the same comes again.</summary>
    public Dealt Draw()
    {
        var rng = Rng.ForGame(Seed, drawn);
        return new(run!.Copy().Draw(ref rng), false);
    }

    /// <summary>
    /// A call that waits: the one move there is, with nothing on the table to tap, and what it asks. What was seen is noted
    /// before the game goes on.
    /// </summary>
    public (Move Move, IReadOnlyList<SeatAsk> Asks)? Waiting =>
        run is { Next.Kind: StepKind.Choice } && run.Moves is [var only] && !run.Seeking(only) && !run.Zones.Any(z => z.Items.Any(i => i.CanTap)) && run.Asks(only) is [_, ..] asks
            ? (only, asks) : null;

    /// <summary>
    /// The notes that a move makes by itself, where somebody's tap showed that she found it. After a hint that showed it,
    /// the note says <em>with help</em>; else it says right, and nobody watched how.
    /// </summary>
    public IReadOnlyList<Noted> NotesShownBy(Move move)
    {
        if (run is null) return [];
        return [.. run.Asks(move).Select(a => HintStep >= 2
            ? new Noted(a.Seat, a.Ask.ToString(), (int)Outcome.WithHelp, false, run.Turns)
            : new Noted(a.Seat, a.Ask.ToString(), null, true, run.Turns))];
    }

    /// <summary>From which event on the last thing that somebody did would be undone; null where there is nothing.</summary>
    public int? LastAction()
    {
        var counts = new List<int>();
        for (int n = 0; n < events.Count; n++)
        {
            if (events[n] is Undone undone) counts.RemoveAll(c => c >= undone.From);
            else counts.Add(n);
        }
        for (int i = counts.Count - 1; i >= 0; i--)
            if (events[counts[i]] is not (Dealt { Typed: false } or Stopped { Early: false } or Noted { Outcome: null, Replaces: null, Right: true, Shown: null }) || run is null) return counts[FirstOfTurn(counts, i)];
        return null;
    }

    /// <summary>A call that went on when it was noted is taken back with its notes.</summary>
    private int FirstOfTurn(List<int> counts, int last)
    {
        if (!turnOfMove.TryGetValue(counts[last], out int turn)) return last;
        while (last > 0 && events[counts[last - 1]] is Noted noted && noted.Turn == turn) last--;
        return last;
    }
}
