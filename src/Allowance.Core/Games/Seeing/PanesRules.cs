using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using Allowance.Core.Asks;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

[InlineArray(8)]
internal struct EightBoards
{
    private uint first;
}

internal struct PanesState
{
    public Head Head;

    /// <summary>The call that waits, and those made, as bits.</summary>
    public byte Call;
    public ulong CalledLow, CalledHigh;

    /// <summary>By seat, the panes that are covered.</summary>
    public EightBoards Covered;

    /// <summary>Somebody still lays her board; who is to call after that, and the boards as they lie.</summary>
    public bool Laying;
    public byte Leads;
    public LaidBoards Boards;
}

/// <summary>The rules of Nine Panes: where boards are laid, everyone lays hers; then a call, then one move with everyone who covers it; who misses hers leaves it open.</summary>
internal readonly partial struct PanesRules : IRules<PanesState>
{
    private readonly PanesTable table;
    private readonly Ask[]?[] asks;
    private readonly uint[] covers;
    private readonly uint[] lines;
    private readonly int calls;

    /// <summary>All calls, as bits.</summary>
    private readonly ulong allLow, allHigh;

    /// <summary>By the number that is called, its place among the calls.</summary>
    private readonly byte[] callOf;

    /// <summary>Of small squares, by the panes that are covered, whether a line is full; empty for larger ones.</summary>
    private readonly bool[] full;

    public PanesRules(PanesTable table)
    {
        this.table = table;
        (lines, asks) = (table.Lines, table.Asks);
        calls = table.Calls.Length;
        allLow = ulong.MaxValue >> Math.Max(0, 64 - calls);
        allHigh = calls <= 64 ? 0 : ulong.MaxValue >> (128 - calls);
        Seats = table.Seats;
        var all = new uint[calls * 8];
        for (int call = 0; call < calls; call++)
            for (int seat = 0; !table.IsLaid && seat < table.Seats; seat++) all[call * 8 + seat] = table.Covers(seat, call);
        covers = all;
        callOf = new byte[Panes.MostNumber + 1];
        for (int call = 0; call < calls; call++) callOf[table.Calls[call]] = (byte)call;
        full = Full[table.Side];
        TurnKinds = calls << Seats <= Engine.MostTurnKinds ? calls << Seats : 0;
    }

    private static readonly bool[][] Full = [.. Enumerable.Range(0, Panes.MostSide + 1).Select(side => side is < 3 or > 4 ? [] : FullOf(PanesTable.LinesOf(side), 1 << (side * side)))];

    private static bool[] FullOf(uint[] lines, int sets) => [.. Enumerable.Range(0, sets).Select(set => Array.Exists(lines, line => ((uint)set & line) == line))];

    public int Seats { get; }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref PanesState s) => ref s.Head;

    public void Start(ref PanesState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        if (table.Free)
            for (int seat = 0; seat < Seats; seat++) s.Covered[seat] = 1u << table.Middle;
        if (table.IsLaid) LetLay(ref s);
    }

    /// <summary>Those whose boards are not full lay them, the one to move first; then it is called.</summary>
    private void LetLay(ref PanesState s)
    {
        if (!s.Laying) s.Leads = s.Head.Mover;
        s.Laying = true;
        int panes = table.Side * table.Side;
        for (int tries = 0; tries < Seats && s.Boards.Laid(s.Head.Mover) >= panes; tries++) s.Head.NextMover();
        if (s.Boards.Laid(s.Head.Mover) < panes)
        {
            s.Head.Phase = StepKind.Choice;
            return;
        }
        s.Laying = false;
        s.Head.Mover = s.Leads;
        if (!s.Head.Plays(s.Leads)) s.Head.NextMover();
        s.Head.Phase = StepKind.Chance;
    }

    /// <summary>A number that may lie on her board next, by its place.</summary>
    private bool CanLay(in PanesState s, int number) => !table.Distinct || !s.Boards.Has(s.Head.Mover, number);

    private List<int> Layable(in PanesState s)
    {
        var state = s;
        var rules = this;
        return [.. Enumerable.Range(0, calls).Where(n => rules.CanLay(in state, n))];
    }

    private int OneToLay(in PanesState s, ref Rng rng)
    {
        int free = 0, pick = 0;
        for (int n = 0; n < calls; n++)
            if (CanLay(in s, n) && rng.Below(++free) == 0) pick = n;
        return pick;
    }

    /// <summary>The rest of her board is laid by chance, always the same way.</summary>
    private static Move TheRest => new(0, 1000);

    private void Lay(ref PanesState s, Move move)
    {
        int seat = s.Head.Mover, panes = table.Side * table.Side;
        var rng = Rng.ForGame(table.Seed, seat);
        do s.Boards.Lay(seat, move == TheRest ? OneToLay(in s, ref rng) : move.Pick, table.Middle);
        while (move == TheRest && s.Boards.Laid(seat) < panes);
        LetLay(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Open(in PanesState s) => BitOperations.PopCount(allLow & ~s.CalledLow) + BitOperations.PopCount(allHigh & ~s.CalledHigh);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref PanesState s, ref Rng rng)
    {
        ulong low = allLow & ~s.CalledLow, high = allHigh & ~s.CalledHigh;
        int inLow = BitOperations.PopCount(low), n = rng.Below(inLow + BitOperations.PopCount(high));
        return table.Calls[n < inLow ? Bits.Nth(low, n) : 64 + Bits.Nth(high, n - inLow)];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref PanesState s, int outcome)
    {
        int call = callOf[outcome];
        s.Call = (byte)call;
        if (call < 64) s.CalledLow |= 1UL << call;
        else s.CalledHigh |= 1UL << (call - 64);
        s.Head.Phase = StepKind.Choice;
    }

    /// <summary>By seat, the pane that the call covers.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Vector256<uint> Called(in PanesState s) => table.IsLaid ? CalledOnLaid(in s) : Vector256.Create(covers.AsSpan(8 * s.Call, 8));

    private Vector256<uint> CalledOnLaid(in PanesState s)
    {
        Span<uint> hers = stackalloc uint[8];
        for (int seat = 0; seat < Seats; seat++) hers[seat] = s.Boards.Covers(seat, s.Call);
        return Vector256.Create<uint>(hers);
    }

    private uint Covers(in PanesState s, int seat) => table.IsLaid ? s.Boards.Covers(seat, s.Call) : covers[s.Call * 8 + seat];

    private static Vector256<uint> SeatBits => Vector256.Create(1u, 2, 4, 8, 16, 32, 64, 128);

    /// <summary>The seats that can cover the call.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private uint Holders(in PanesState s)
    {
        var open = Vector256.AndNot(Called(in s), Vector256.Create<uint>(s.Covered));
        return ~Vector256.Equals(open, Vector256<uint>.Zero).ExtractMostSignificantBits() & s.Head.Active;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in PanesState s, ref Rng rng) => s.Laying ? new(0, OneToLay(in s, ref rng)) : new(Holders(in s));

    public Move Best(in PanesState s, ref Rng rng) => Plain(in s, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in PanesState s, Move move, Span<SeatAsk> into)
    {
        if (s.Laying) return 0;
        // Who has a number is hard to foretell: no branch hangs on it.
        int count = 0;
        for (int seat = 0; seat < Seats; seat++)
        {
            if (asks[seat] is not { } mine) continue;
            into[count] = new(seat, mine[s.Call]);
            count += (int)(move.Items >> seat & 1);
        }
        return count;
    }

    /// <summary>A turn is told by its call, and by who covers it.</summary>
    public int TurnKinds { get; }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in PanesState s, Move move) => s.Laying ? -1 : s.Call << Seats | (int)move.Items;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in PanesState s) => Handling.DrawCall;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in PanesState s, Move move) => s.Laying ? Handling.DealCard : Handling.CoverPane;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Seeking(in PanesState s, Move move) => !s.Laying;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref PanesState s, Move move, Answered answered)
    {
        if (s.Laying)
        {
            Lay(ref s, move);
            return;
        }
        var found = Vector256.Create((uint)move.Items & ~answered.Wrong) & SeatBits;
        Span<uint> covered = s.Covered;
        (Vector256.Create<uint>(covered) | Called(in s) & Vector256.Equals(found, SeatBits)).CopyTo(covered);
        bool line = false;
        for (int seat = 0; seat < Seats; seat++) line |= HasLine(s.Covered[seat]);
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = line ? StepKind.Over : StepKind.Chance;
        EndAfterTheLastCall(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool HasLine(uint covered)
    {
        if (full.Length > 0) return full[covered];
        foreach (uint line in lines)
            if ((covered & line) == line) return true;
        return false;
    }

    /// <summary>All calls are made, and nobody has a line: panes were missed.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void EndAfterTheLastCall(ref PanesState s)
    {
        if (s.Head.Phase == StepKind.Chance && (allLow & ~s.CalledLow | allHigh & ~s.CalledHigh) == 0) s.Head.Phase = StepKind.Over;
    }

    public void Arrange(ref PanesState s, uint before)
    {
        bool joined = false;
        foreach (int seat in s.Head.New(before))
        {
            if (table.Free) s.Covered[seat] = 1u << table.Middle;
            joined = true;
        }
        if (table.IsLaid && (s.Laying || joined)) LetLay(ref s);
    }

    public bool IsBetweenTurns(in PanesState s) => s.Laying;

    /// <summary>Boards stay as they are; who is new gets one of her own.</summary>
    public IRules<PanesState> Over(IRules<PanesState> before, in PanesState state) => !table.IsLaid && before is PanesRules rules ? new PanesRules(table.Keeping(rules.table.Boards)) : this;

    public int Points(in PanesState s, int seat) => HasLine(s.Covered[seat]) ? 1 : 0;

    public bool AimReached(in PanesState s)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (HasLine(s.Covered[seat])) return true;
        return false;
    }

    public int Left(in PanesState s) => Open(in s);

    /// <summary>The calls that were made and those to come.</summary>
    public int Things(in PanesState s) => Open(in s) + BitOperations.PopCount(allLow & s.CalledLow) + BitOperations.PopCount(allHigh & s.CalledHigh);
}
