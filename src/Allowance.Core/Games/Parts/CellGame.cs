using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct CellState
{
    public Head Head;
    public Rolled Rolled;

    /// <summary>Markers that were pushed off.</summary>
    public int Pushed;

    /// <summary>One more than who has won; 0 where nobody has.</summary>
    public byte Winner;

    /// <summary>The cells on which nobody may put a marker any more.</summary>
    public TwoSets<PlaceSet> Closed;

    /// <summary>By seat, her markers on the board.</summary>
    public EightCounts Markers;

    /// <summary>By cell: 0 where it is free, else one more than whose marker lies there; 16 more where it is locked.</summary>
    public HundredCells Owner;
}

/// <summary>What is its own in a game of rolling and putting a marker on a cell that fits.</summary>
internal interface ICellGame
{
    CellTable Table { get; }

    /// <summary>Puts a marker there, and closes the cell where that is its last.</summary>
    void Put(ref CellState s, int cell, int seat);

    /// <summary>She has won by the marker that she put there.</summary>
    bool Wins(in CellState s, int seat, int cell);

    /// <summary>The best of the cells that are open; −1 where any is as good.</summary>
    int Best(in CellState s, int seat, TwoSets<PlaceSet> open);

    int Points(in CellState s, int seat);

    bool AimReached(in CellState s);

    /// <summary>The marker on it is one of the line that has won.</summary>
    bool IsInLine(in CellState s, int cell);

    string Says(in CellState s);
}

/// <summary>The rules of every game of rolling and putting a marker on a cell that fits the roll.</summary>
internal readonly struct CellRules<TGame>(TGame game) : IRules<CellState> where TGame : struct, ICellGame
{
    private readonly CellTable table = game.Table;

    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref CellState s) => ref s.Head;

    public void Start(ref CellState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref CellState s, ref Rng rng) => table.Cups[s.Head.Mover].Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref CellState s, int outcome)
    {
        s.Rolled.Add(outcome);
        if (s.Rolled.Count < table.Cups[s.Head.Mover].Count) return;
        s.Head.Phase = StepKind.Choice;
        s.Head.Stuck |= Open(in s).IsEmpty;
    }

    /// <summary>The cells that fit the roll and are open.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private TwoSets<PlaceSet> Open(in CellState s) => table.Fitting(s.Head.Mover, s.Rolled.Total) - s.Closed;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in CellState s, ref Rng rng)
    {
        var open = Open(in s);
        return open.IsEmpty ? Move.Pass : new(0, open.Nth(rng.Below(open.Count)));
    }

    public Move Best(in CellState s, ref Rng rng)
    {
        var open = Open(in s);
        if (open.IsEmpty) return Move.Pass;
        int best = game.Best(in s, s.Head.Mover, open);
        return new(0, best >= 0 ? best : open.Nth(rng.Below(open.Count)));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in CellState s, Move move, Span<SeatAsk> into) => table.Asks(s.Head.Mover, in s.Rolled, move, into);

    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in CellState s, Move move) => table.Kind(s.Head.Mover, in s.Rolled, move);

    public float DealSeconds(in CellState s) => Handling.RollDie;

    public float MoveSeconds(in CellState s, Move move) => move.IsPass ? 0 : Handling.PickUpPiece;

    public bool Seeking(in CellState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref CellState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover;
        s.Rolled = default;
        s.Head.Turns++;
        if (!move.IsPass)
        {
            game.Put(ref s, move.Pick, seat);
            if (game.Wins(in s, seat, move.Pick)) s.Winner = (byte)(seat + 1);
            if (s.Winner != 0 || IsFull(in s))
            {
                s.Head.Phase = StepKind.Over;
                return;
            }
        }
        s.Head.Phase = StepKind.Chance;
        s.Head.NextMover();
    }

    /// <summary>Nobody who is here can put a marker anywhere any more, whatever is rolled.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool IsFull(in CellState s)
    {
        for (uint here = s.Head.Active; here != 0; here &= here - 1)
            if (!(table.Reached[BitOperations.TrailingZeroCount(here)] - s.Closed).IsEmpty) return false;
        return true;
    }

    public void Arrange(ref CellState s, uint before)
    {
        s.Rolled = default;
        s.Head.Phase = IsFull(in s) ? StepKind.Over : StepKind.Chance;
    }

    /// <summary>Only who has left could still have moved.</summary>
    public void Recount(ref CellState s)
    {
        if (IsFull(in s)) s.Head.Phase = StepKind.Over;
    }

    public int Points(in CellState s, int seat) => game.Points(in s, seat);

    public bool AimReached(in CellState s) => game.AimReached(in s);

    public int Left(in CellState s)
    {
        int free = 0;
        for (int cell = 0; cell < table.Cells; cell++) free += s.Owner[cell] == 0 ? 1 : 0;
        return free;
    }

    /// <summary>The cells.</summary>
    public int Things(in CellState s) => table.Cells;

    public IReadOnlyList<Possible> Possibilities(in CellState s) => table.Cups[s.Head.Mover].Possibilities(in s.Rolled);

    public bool IsLegal(in CellState s, Move move) => s.Head.Phase == StepKind.Choice && Moves(in s).Contains(move);

    public IReadOnlyList<Move> Moves(in CellState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var open = Open(in s);
        return open.IsEmpty ? [Move.Pass] : [.. Enumerable.Range(0, open.Count).Select(n => new Move(0, open.Nth(n)))];
    }

    /// <summary>Where the cells lie that fit: who could be pushed off, and what could be locked.</summary>
    public IReadOnlyList<string> Helps(in CellState s)
    {
        var (state, numbers, columns) = (s, table.Numbers, table.Columns);
        return [.. Moves(in s).Where(m => !m.IsPass).Select(m => $"the {numbers[m.Pick]} in row {m.Pick / columns + 1}, place {m.Pick % columns + 1}{Does(m.Pick)}")];

        string Does(int cell) => state.Owner[cell] switch { 0 => "", var owner when (owner & 15) - 1 == state.Head.Mover => " (locks it)", _ => " (pushes one off)" };
    }

    public Tapped Read(in CellState s, IReadOnlyList<int> items)
    {
        if (items.Count == 0) return Tapped.NeedsMore;
        var move = new Move(0, items[^1]);
        if (IsLegal(in s, move)) return Tapped.As(move);
        return Tapped.No(items[^1] < 0 || items[^1] >= table.Cells ? "There is no such cell."
            : Moves(in s) is [{ IsPass: true }] ? "No cell fits this roll. Go on."
            : table.Maps[s.Head.Mover].AnswerTo(s.Rolled.Total) == table.Numbers[items[^1]] ? "That cell is taken." : $"{table.Numbers[items[^1]]} does not fit. Look again together.");
    }

    public IReadOnlyList<Zone> Zones(in CellState s)
    {
        var zones = new List<Zone>();
        if (s.Rolled.Count > 0) zones.Add(DiceCup.Lying(in s.Rolled, table.Faces[s.Head.Mover]));
        var cells = new List<Cell>();
        for (int cell = 0; cell < table.Cells; cell++)
        {
            int owner = s.Owner[cell];
            // Any cell may be tapped: which ones fit is for her to find.
            cells.Add(new(new(cell, table.Numbers[cell], table.Forms[cell], ItemState.Up, s.Head.Phase == StepKind.Choice && (owner & 16) == 0), owner == 0 ? null : (owner & 15) - 1, (owner & 16) != 0, game.IsInLine(in s, cell)));
        }
        zones.Add(new CellBoard("The board", table.Columns, cells));
        return zones;
    }

    public string Says(in CellState s)
    {
        if (s.Head.Phase == StepKind.Chance) return "Roll.";
        if (s.Head.Phase == StepKind.Choice && Moves(in s)[0].IsPass) return "No cell fits this roll.";
        return game.Says(in s);
    }

    public string Tells(in CellState before, Move move, bool found) => move.IsPass ? $"rolled {before.Rolled.Total}; no cell fits"
        : $"rolled {before.Rolled.Total}, to the {table.Numbers[move.Pick]} in cell {move.Pick + 1}";
}
