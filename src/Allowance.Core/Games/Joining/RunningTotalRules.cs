using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The pack of one setup, and what each player plays to.</summary>
internal sealed record TotalTable : Seating
{
    public TotalTable(Setup setup) : base(setup)
    {
        var deck = setup.Get(RunningTotal.Knobs.Deck).Deck;
        Pack = [.. deck.Counts.SelectMany(c => Enumerable.Repeat((byte)c.Key, c.Value))];
        Most = deck.Counts.Keys.Last();
        int all = deck.Counts.Sum(c => c.Key * c.Value);
        Rounds = setup.Get(RunningTotal.Knobs.Rounds).Number;
        InSand = setup.Get(RunningTotal.Knobs.Sand).Number is { } seconds ? Math.Max(1, (int)(seconds / Handling.SandCard)) : null;
        Takes = [.. Level.Select(l => l == RunningTotal.Down)];
        Stop = [.. Level.Select((_, s) => setup.At(s, RunningTotal.Knobs.StopAt).Number ?? (Takes[s] ? RunningTotal.UsualStart : int.MaxValue))];
        Form = CommonKnobs.FormAt(setup, RunningTotal.Knobs.Form);
        Kinds = new(Stop.Select((stop, s) => ((Takes[s] ? stop : Math.Min(stop, all)) + 1.0) * (Most + 1)));
    }

    public byte[] Pack { get; }

    public int Most { get; }

    public int Rounds { get; }

    /// <summary>How many cards the sand lasts for, as far as that can be told beforehand; null where there is none.</summary>
    public int? InSand { get; }

    /// <summary>By seat, whether she takes away.</summary>
    public bool[] Takes { get; }

    /// <summary>By seat, the total that ends a round; where she takes away, what it begins with.</summary>
    public int[] Stop { get; }

    public Form Form { get; }

    /// <summary>A turn is told by what there is and what is turned up.</summary>
    public TurnKinds Kinds { get; }

    public int Start(int seat) => Takes[seat] ? Stop[seat] : 0;
}

internal struct TotalState
{
    public Head Head;

    /// <summary>The card that waits to be added; −1 for none.</summary>
    public short Card;

    /// <summary>Cards of this round so far.</summary>
    public short Turned;

    /// <summary>Whose round it is.</summary>
    public byte Of;
    public int Total;
    public EightNumbers Sum;
    public EightCounts Rounds;
    public DrawPile Pile;
}

/// <summary>The rules of Running Total: a card, and what that makes, until a round is over.</summary>
internal readonly struct TotalRules(TotalTable table) : IRules<TotalState>
{
    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref TotalState s) => ref s.Head;

    public void Start(ref TotalState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Pile.Fill(table.Pack);
        Begin(ref s);
    }

    /// <summary>The mover begins a round.</summary>
    private void Begin(ref TotalState s)
    {
        s.Of = s.Head.Mover;
        s.Card = -1;
        s.Turned = 0;
        s.Total = table.Start(s.Of);
        s.Head.Phase = StepKind.Chance;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref TotalState s, ref Rng rng) => s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref TotalState s, int outcome)
    {
        s.Pile.Take((byte)outcome);
        s.Card = (short)outcome;
        s.Head.Phase = StepKind.Choice;
    }

    private static Move Said => new(0, 0);

    /// <summary>The sand has run out: the card that lies there does not count.</summary>
    private static Move RunOut => new(0, 1);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in TotalState s, ref Rng rng) => s.Turned >= (table.InSand ?? int.MaxValue) ? RunOut : Said;

    public Move Best(in TotalState s, ref Rng rng) => Plain(in s, ref rng);

    /// <summary>There is enough to take the card away.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool Goes(in TotalState s) => !table.Takes[s.Of] || s.Card <= s.Total;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in TotalState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover;
        if (table.GrownUp[seat] || move == RunOut || !Goes(in s)) return 0;
        // With nothing yet, or nothing more, there is only the card to read.
        bool reads = s.Card == 0 || s.Total == 0 && !table.Takes[seat];
        var form = Pictures.CanDraw(table.Form, Math.Max(s.Total, s.Card)) || reads ? table.Form : Form.Numeral;
        into[0] = new(seat, reads ? new Ask(AskKind.Say, s.Card, form, support: table.Support[seat])
            : table.Takes[seat] ? new Ask(AskKind.Gone, s.Total, s.Card, form, table.Support[seat])
            : new Ask(AskKind.Join, Math.Max(s.Total, s.Card), Math.Min(s.Total, s.Card), form, table.Support[seat]));
        return 1;
    }

    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in TotalState s, Move move) => move == RunOut || !Goes(in s) ? -1 : table.Kinds[s.Head.Mover] + s.Total * (table.Most + 1) + s.Card;

    public float DealSeconds(in TotalState s) => Handling.TurnUpFromPile;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in TotalState s, Move move) => move == RunOut || table.Level[s.Head.Mover] != RunningTotal.Things ? 0 : Handling.MoveOne * s.Card;

    public bool Seeking(in TotalState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref TotalState s, Move move, Answered answered)
    {
        bool goes = Goes(in s), runOut = move == RunOut, takes = table.Takes[s.Of];
        s.Head.Turns++;
        if (!runOut)
        {
            s.Turned++;
            if (goes) s.Total += takes ? -s.Card : s.Card;
        }
        s.Card = -1;
        bool done = runOut || (takes ? s.Total == 0 || !goes : s.Total >= table.Stop[s.Of]);
        if (!done && s.Pile.Count > 0)
        {
            s.Head.Phase = StepKind.Chance;
            return;
        }
        s.Sum[s.Of] += takes ? table.Stop[s.Of] - s.Total : s.Total;
        s.Rounds[s.Of]++;
        GoOn(ref s);
    }

    /// <summary>On to the next who still has a round.</summary>
    private void GoOn(ref TotalState s)
    {
        s.Head.Phase = StepKind.Over;
        if (s.Pile.Count == 0) return;
        for (int tries = 0; tries < Engine.MostSeats; tries++)
        {
            s.Head.NextMover();
            if (s.Rounds[s.Head.Mover] >= table.Rounds || !s.Head.Plays(s.Head.Mover)) continue;
            Begin(ref s);
            return;
        }
    }

    public void Arrange(ref TotalState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) (s.Sum[seat], s.Rounds[seat]) = (0, 0);
        if (s.Of == s.Head.Mover && s.Head.Phase != StepKind.Over && s.Rounds[s.Of] < table.Rounds)
        {
            // A card that lies there is turned up again in a moment; it stays out.
            s.Card = -1;
            if (table.Takes[s.Of] && s.Turned == 0) s.Total = table.Start(s.Of);
            s.Head.Phase = s.Pile.Count > 0 ? StepKind.Chance : StepKind.Over;
            return;
        }
        if (s.Pile.Count > 0 && s.Rounds[s.Head.Mover] < table.Rounds) Begin(ref s);
        else GoOn(ref s);
    }

    public int Points(in TotalState s, int seat) => s.Sum[seat];

    public bool AimReached(in TotalState s)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (s.Head.Plays(seat) && s.Rounds[seat] < table.Rounds) return false;
        return true;
    }

    public int Left(in TotalState s) => s.Pile.Count;

    /// <summary>The pack.</summary>
    public int Things(in TotalState s) => table.Pack.Length;

    public IReadOnlyList<Possible> Possibilities(in TotalState s) => s.Pile.Possibilities;

    public bool IsLegal(in TotalState s, Move move) => s.Head.Phase == StepKind.Choice && (move == Said || move == RunOut && table.InSand is not null);

    public IReadOnlyList<Move> Moves(in TotalState s) => s.Head.Phase == StepKind.Choice ? [Said] : [];

    public Tapped Read(in TotalState s, IReadOnlyList<int> items) => items.Count > 0 && table.InSand is not null ? Tapped.As(RunOut) : Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in TotalState s)
    {
        bool waits = s.Head.Phase == StepKind.Choice;
        var zones = new List<Zone>
        {
            new TurnedPile("Cards that were turned", waits ? new(0, s.Card, table.Form, ItemState.Up, false) : null, s.Turned, Slip(in s)),
            new Pile("Cards to come", s.Pile.Count),
        };
        if (OnLine(in s)) zones.Add(new NumberLine("The line", 0, Math.Max(20, (s.Total + table.Most + 9) / 10 * 10), LineLabels.All) { Pointed = [s.Total] });
        if (OfThings(in s)) zones.Add(new Heap("What there is", [new("", s.Total)], s.Of));
        if (waits && table.InSand is not null) zones.Add(new ChoiceKeys("The sand", [new(0, 0, Form.None, ItemState.Up, true) { Words = "sand is out" }]) { BreaksOff = true });
        return zones;
    }

    private bool OnLine(in TotalState s) => table.Level[s.Of] == RunningTotal.Line;

    private bool OfThings(in TotalState s) => table.Level[s.Of] == RunningTotal.Things;

    /// <summary>What there is so far as a number; kept in the head it is turned over, and where it is seen otherwise it is not written.</summary>
    private Item? Slip(in TotalState s) => OnLine(in s) || OfThings(in s) ? null
        : new(1, s.Total, Form.Numeral, table.Level[s.Of] == RunningTotal.Head && s.Turned > 0 && s.Head.Phase != StepKind.Over ? ItemState.Down : ItemState.Up, false);

    public string Says(in TotalState s) => s.Head.Phase switch
    {
        StepKind.Over => "That was the last round.",
        StepKind.Chance => "Turn up a card.",
        _ when !Goes(in s) => "Is there enough to take that away?",
        _ when table.Takes[s.Of] => "Take that away: how many are left?",
        _ when s.Total == 0 => "Begin with that many.",
        _ => table.Level[s.Of] switch { RunningTotal.Things => "Put them to it: how many now?", RunningTotal.Line => "Go on along the line: where now?", _ => "How many is that now?" },
    };

    public string Tells(in TotalState before, Move move, bool found) =>
        move == RunOut ? $"the sand was out at {before.Total}"
        : before.Total == 0 && !table.Takes[before.Of] ? $"begins with {before.Card}"
        : !Goes(in before) ? $"{before.Card} from {before.Total} does not go"
        : table.Takes[before.Of] ? $"{before.Total} take away {before.Card} leaves {before.Total - before.Card}" : $"{before.Total} and {before.Card} make {before.Total + before.Card}";
}
