using System.Collections.Immutable;
using Allowance.Core.Asks;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

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
    /// <summary>
    /// Changes whenever the same events would give another game; a sitting keeps the version it was played with, and one of
    /// another version is only read. Version 1 arranged a table at once when somebody came, left or got another allowance; 2
    /// did it at the boundary of a turn; in 3 nobody calls where real things are played, unless the app is asked to,
    /// and callers call more; in 4 cards are put down in a row by their columns.
    /// </summary>
    public const int RulesVersion = 6;

    private readonly Playable start;
    private readonly Func<Setup, IAnswers>? beliefs;
    private readonly List<SittingEvent> events = [];
    private Run? run;
    private int drawn, notesMover, notesTurns;

    /// <summary>Turns that were over before the game on the table began.</summary>
    private int turnsBefore;
    private readonly List<Note> notes = [];
    private readonly Dictionary<int, Closing> closings = [];

    /// <summary>By event, the turn in which a move was made.</summary>
    private readonly Dictionary<int, int> turnOfMove = [];
    private ImmutableArray<bool> active;

    /// <summary>Nothing was done yet in the turn that comes.</summary>
    private bool isBoundary;

    /// <summary>Somebody came or left, or an allowance was changed: it is arranged before the next turn.</summary>
    private bool waits;

    /// <param name="beliefs">What is believed of those who sit in a setup, for a caller to choose by; what was called stands in the log.</param>
    public Sitting(Playable playable, Way way, long seed, IEnumerable<SittingEvent>? log = null, Func<Setup, IAnswers>? beliefs = null)
    {
        start = playable;
        this.beliefs = beliefs;
        Way = way;
        Seed = seed;
        // What was undone is left out once, however often that was.
        events.AddRange(log ?? []);
        Replay();
    }

    public Way Way { get; }

    public long Seed { get; }

    /// <summary>The setup as it is now: with everyone who joined and every allowance changed, also where that holds from the next turn on.</summary>
    public Setup Setup => Playable.Setup;

    public Playable Playable { get; private set; } = null!;

    /// <summary>What was arranged last holds from the next turn on.</summary>
    public bool HoldsFromTheNextTurn => waits;

    public IReadOnlyList<SittingEvent> Events => events;

    public IReadOnlyList<Note> Notes => notes;

    public IReadOnlyDictionary<int, Closing> Closings => closings;

    public LastTurn? Last { get; private set; }

    /// <summary>The highest hint given for the turn that is being played; 0 where none.</summary>
    public int HintStep { get; private set; }

    public bool IsStopped { get; private set; }

    /// <summary>The game on the table; null where real things are played and nothing is entered.</summary>
    public Run? Game => run;

    /// <summary>The app brings what chance brings: on the screen, and where it was asked to call.</summary>
    public bool DrawsItself => Way == Way.Screen || Way == Way.Notes && run is not null;

    public Step Next => IsStopped ? new(StepKind.Over, Mover) : run?.Next ?? new(active.Contains(true) ? StepKind.Choice : StepKind.Over, notesMover);

    public int Mover => run?.Next.Seat ?? notesMover;

    public int Turns => run is null ? notesTurns : turnsBefore + run.Turns;

    public bool IsHere(int seat) => active[seat];

    public int EventCount => events.Count;

    /// <summary>Everything in the log can happen by today's rules. Where it cannot, the sitting stands where it still did, and is only to be read.</summary>
    public bool Fits { get; private set; } = true;

    private void Restart()
    {
        Playable = start;
        active = [.. Setup.Seats.Select(_ => true)];
        var rng = Rng.ForGame(Seed, -1);
        int first = Setup.Begins(Seed, ref rng);
        run = Way == Way.Notes ? null : start.Compile(beliefs?.Invoke(Setup)).Start(first);
        notesMover = first;
        notesTurns = turnsBefore = drawn = HintStep = 0;
        (isBoundary, waits, Fits) = (true, false, true);
        Last = null;
        IsStopped = false;
        notes.Clear();
        closings.Clear();
    }

    /// <summary>Adds an event to the log and plays it.</summary>
    public void Take(SittingEvent e)
    {
        events.Add(e is Moved { Told: null } moved ? moved with { Told = run!.Tells(moved.Move, moved.Found) } : e);
        if (e is Undone) Replay();
        else Play(e, events.Count - 1);
    }

    /// <summary>Plays the log from the start, without what was undone.</summary>
    private void Replay()
    {
        Restart();
        foreach (int n in Counting(events)) Play(events[n], n);
    }

    /// <summary>The numbers of the events that count: without what was undone, and without the undoing.</summary>
    public static IReadOnlyList<int> Counting(IReadOnlyList<SittingEvent> log)
    {
        var counts = new List<int>();
        for (int n = 0; n < log.Count; n++)
        {
            if (log[n] is Undone undone) counts.RemoveAll(c => c >= undone.From);
            else counts.Add(n);
        }
        return counts;
    }

    private void Play(SittingEvent e, int number)
    {
        if (!Fits) return;
        switch (e)
        {
            case Dealt dealt when run is not { Next.Kind: StepKind.Chance } || run.Possibilities.All(p => p.Outcome != dealt.Outcome):
            case Moved other when run is not { Next.Kind: StepKind.Choice } || !run.IsLegal(other.Move):
                Fits = false;
                break;
            case Dealt dealt:
                Deal(dealt.Outcome);
                break;
            case Moved moved:
                turnOfMove[number] = Turns;
                Move(moved.Move, moved.Found);
                break;
            case Passed:
                notesTurns++;
                NextInNotes();
                HintStep = 0;
                break;
            case Called { ByApp: true } when run is null:
                LetTheAppCall();
                break;
            case Called { ByApp: false } when Way == Way.Notes && run is not null:
                (notesTurns, notesMover, run, waits) = (Turns, Mover, null, false);
                break;
            case Hinted hinted:
                HintStep = Math.Max(HintStep, hinted.Step);
                break;
            case Noted noted:
                AddNote(noted, number);
                break;
            case AllowanceChanged changed:
                if (start.Frame.Check(With(changed)) is { } withThat) Arrange(withThat);
                break;
            case Joined joined:
                if (start.Frame.Check(With(joined)) is { } withHer)
                {
                    active = active.Add(true);
                    Arrange(withHer);
                }
                break;
            case Left left:
                active = active.SetItem(left.Seat, false);
                if (run is not null)
                {
                    int turn = run.Turns;
                    run.Leave(left.Seat);
                    // A turn that nobody else can go on with is over.
                    isBoundary |= run.Turns > turn;
                }
                else if (notesMover == left.Seat) NextInNotes();
                Arrange(Playable);
                break;
            case Stopped:
                IsStopped = true;
                break;
            case Closed closed:
                closings[closed.Seat] = closed.How;
                break;
        }
    }

    /// <summary>A game of calls begins with whoever's turn it is.</summary>
    private void LetTheAppCall()
    {
        run = Playable.Compile(beliefs?.Invoke(Setup)).Start(notesMover);
        turnsBefore = notesTurns;
        for (int seat = 0; seat < active.Length; seat++)
            if (!active[seat]) run.Leave(seat);
        isBoundary = true;
    }

    private void NextInNotes()
    {
        if (!active.Contains(true)) return;
        do notesMover = (notesMover + 1) % active.Length; while (!active[notesMover]);
    }

    private void Deal(int outcome)
    {
        int turn = run!.Turns;
        run.Deal(outcome);
        drawn++;
        EndTurn(turn);
    }

    private void Move(Move move, bool found)
    {
        int seat = Mover, turn = run!.Turns;
        var asks = run.Asks(move);
        string tells = run.Tells(move, found);
        run.Apply(move, found);
        if (asks.Count > 0 || run.Turns > turn) (Last, HintStep) = (new(seat, tells, asks, turnsBefore + turn), 0);
        EndTurn(turn);
    }

    private void EndTurn(int turn)
    {
        isBoundary = run!.Turns > turn || run.IsBetweenTurns;
        if (isBoundary && waits) Arrange(Playable);
    }

    private void AddNote(Noted noted, int number)
    {
        if (Ask.Parse(noted.Ask, out _) is not { } ask) return;
        if (noted.Replaces is { } old) notes.RemoveAll(n => n.Event == old);
        var seen = noted.Outcome is { } outcome ? Seen.How((Outcome)outcome) : Seen.NotWatched(noted.Right);
        notes.Add(new(number, noted.Seat, ask, seen, noted.Turn, noted is { Outcome: null, Replaces: null, Shown: null } && Way != Way.Notes, noted.Shown / 1000.0));
    }

    /// <summary>The setup with somebody more at the table.</summary>
    public Setup With(Joined joined) => Setup with { Seats = Setup.Seats.Add(new Seat("", joined.Key, null, joined.GrownUp, null, ImmutableSortedDictionary<string, KnobValue>.Empty)) };

    /// <summary>The setup with another allowance at a place.</summary>
    public Setup With(AllowanceChanged changed)
    {
        var seat = Setup.Seats[changed.Seat];
        return Setup.WithSeat(changed.Seat, changed.Knob == "level" ? seat with { Level = changed.Value }
            : Setup.Frame.Knob(changed.Knob) is { } knob ? seat.With(knob, changed.Value is null ? null : knob.Kind.FromLink(changed.Value, changed.Knob, [])) : seat);
    }

    /// <summary>Goes on under a setup: at once between two turns, else from the next turn on.</summary>
    private void Arrange(Playable playable)
    {
        Playable = playable;
        waits = run is not null && !isBoundary;
        if (waits || run is null) return;
        uint here = 0;
        for (int seat = 0; seat < active.Length; seat++) here |= active[seat] ? 1u << seat : 0;
        run = Playable.Compile(beliefs?.Invoke(Setup)).Continue(run, here);
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
        run is { Next.Kind: StepKind.Choice } && run.Moves is [var only] && !run.Seeking(only) && !run.Zones.Any(z => z is not ChoiceKeys { BreaksOff: true } && z.Items.Any(i => i.CanTap)) && run.Asks(only) is [_, ..] asks
            ? (only, asks) : null;

    /// <summary>
    /// The notes that a move makes by itself, where somebody's tap showed that she found it. After a hint that showed it,
    /// the note says <em>with help</em>; else it says right, and nobody watched how.
    /// </summary>
    public IReadOnlyList<Noted> NotesShownBy(Move move)
    {
        if (run is null) return [];
        return [.. run.Asks(move).Select(a => HintStep >= 2
            ? new Noted(a.Seat, a.Ask.ToString(), (int)Outcome.WithHelp, false, Turns)
            : new Noted(a.Seat, a.Ask.ToString(), null, true, Turns))];
    }

    /// <summary>From which event on the last thing that somebody did would be undone; null where there is nothing.</summary>
    public int? LastAction()
    {
        var counts = Counting(events);
        for (int i = counts.Count - 1; i >= 0; i--)
            if (events[counts[i]] is not (Dealt { Typed: false } or Stopped { Early: false } or Noted { Outcome: null, Replaces: null, Right: true, Shown: null }) || run is null) return counts[FirstOfTurn(counts, i)];
        return null;
    }

    /// <summary>A turn that went on when it was noted is taken back with its notes.</summary>
    private int FirstOfTurn(IReadOnlyList<int> counts, int last)
    {
        if (events[counts[last]] is Passed) return last > 0 && events[counts[last - 1]] is Noted ? last - 1 : last;
        if (!turnOfMove.TryGetValue(counts[last], out int turn)) return last;
        while (last > 0 && events[counts[last - 1]] is Noted noted && noted.Turn == turn) last--;
        return last;
    }
}
