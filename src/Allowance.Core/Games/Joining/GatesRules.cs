using System.Collections.Immutable;
using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct GatesState
{
    public Head Head;
    public Rolled Rolled;

    /// <summary>Who is still in, as bits.</summary>
    public uint In;

    /// <summary>By seat, her open gates as bits; the first place holds those of all where there is one row.</summary>
    public EightNumbers Open;
}

/// <summary>The rules of Gates: roll, and shut gates by the roll, until nothing goes.</summary>
internal readonly struct GatesRules(GateTable table) : IRules<GatesState>
{
    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref GatesState s) => ref s.Head;

    public void Start(ref GatesState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.In = s.Head.Active;
        for (int seat = 0; seat < Seats; seat++) s.Open[seat] = table.Row(seat).Full;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Place(int seat) => table.IsCommon ? 0 : seat;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Open(in GatesState s) => s.Open[Place(s.Head.Mover)];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref GatesState s, ref Rng rng) => table.Cups[s.Head.Mover].Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref GatesState s, int outcome)
    {
        s.Rolled.Add(outcome);
        if (s.Rolled.Count < table.DiceAt(s.Head.Mover, Open(in s))) return;
        s.Head.Phase = StepKind.Choice;
        if (Legal(in s) == 0) s.Head.Stuck = true;
    }

    /// <summary>How many sets of gates go.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Legal(in GatesState s) => table.Row(s.Head.Mover).Goes(table.Key(s.Head.Mover, in s.Rolled), Open(in s));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in GatesState s, ref Rng rng)
    {
        int legal = Legal(in s);
        return legal == 0 ? Move.Pass : new((uint)table.Row(s.Head.Mover).Going(table.Key(s.Head.Mover, in s.Rolled), Open(in s), rng.Below(legal)));
    }

    public Move Best(in GatesState s, ref Rng rng)
    {
        int seat = s.Head.Mover;
        return table.Plan(seat).Best(Open(in s), table.Key(seat, in s.Rolled)) is > 0 and var set ? new((uint)set) : Move.Pass;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in GatesState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover;
        if (table.GrownUp[seat]) return 0;
        if (!table.Row(seat).IsSum)
        {
            if (move.IsPass) return 0;
            into[0] = new(seat, table.AskFor(seat, in s.Rolled, BitOperations.TrailingZeroCount(move.Items) + 1));
            return 1;
        }
        into[0] = new(seat, table.Counts[seat] ? new Ask(AskKind.Say, s.Rolled.Total, Form.Dice, support: table.Support[seat]) : table.Cups[seat].Asked(in s.Rolled, table.Faces[seat], table.Support[seat]));
        int gates = BitOperations.PopCount(move.Items);
        if (gates < 2) return 1;
        into[1] = new(seat, gates == 2 ? new Ask(AskKind.Part, s.Rolled.Total, Highest(move.Items), Form.Numeral, table.Support[seat]) : Together(move.Items, gates, s.Rolled.Total, table.Support[seat]));
        return 2;
    }

    private static int Highest(ulong gates) => 64 - BitOperations.LeadingZeroCount(gates);

    /// <summary>Three gates and more, the highest first.</summary>
    private static Ask Together(ulong gates, int count, int total, Support support)
    {
        ulong numbers = 0;
        int n = 0;
        if (count > MostJoined) return new Ask(AskKind.Join, total, Form.Numeral, support: support).WithoutNumbers(total);
        for (; gates != 0; gates &= ~(1UL << Highest(gates) - 1)) numbers |= (ulong)Highest(gates) << 8 * n++;
        return Ask.Join(numbers, count, Form.Numeral, support);
    }

    private const int MostJoined = 6;

    public int TurnKinds => table.Kinds.All;

    /// <summary>What is asked hangs on the roll and on the gates.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in GatesState s, Move move)
    {
        int seat = s.Head.Mover;
        var row = table.Row(seat);
        return table.Kinds[seat] + table.Cups[seat].Kind(in s.Rolled) * (row.MostPlaces + 1) + row.PlaceOf((int)move.Items);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in GatesState s) => Handling.RollDie;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in GatesState s, Move move) => Handling.ShutGate * BitOperations.PopCount(move.Items);

    public bool Seeking(in GatesState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref GatesState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover;
        bool again = table.Again && !move.IsPass && IsDouble(in s.Rolled);
        s.Rolled = default;
        s.Head.Turns++;
        ref int open = ref s.Open[Place(seat)];
        open &= ~(int)move.Items;
        if (move.IsPass) s.In &= ~(1u << seat);
        else if (open == 0) s.In = table.IsCommon ? 1u << seat : s.In & ~(1u << seat);
        GoOn(ref s, stays: again || table.IsAlone);
    }

    /// <summary>On to the next who is in.</summary>
    /// <param name="stays">Whoever moved goes on, if she is in.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void GoOn(ref GatesState s, bool stays)
    {
        s.In &= s.Head.Active;
        // Of one row somebody is the last one in; who begins alone at it still plays.
        bool over = s.In == 0 || table.IsCommon && (s.In & s.In - 1) == 0;
        s.Head.Phase = over ? StepKind.Over : StepKind.Chance;
        if (over || stays && (s.In >> s.Head.Mover & 1) != 0) return;
        do s.Head.NextMover();
        while ((s.In >> s.Head.Mover & 1) == 0);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool IsDouble(in Rolled rolled)
    {
        for (int die = 1; die < rolled.Count; die++)
            if (rolled[die] != rolled[0]) return false;
        return rolled.Count > 1;
    }

    public void Arrange(ref GatesState s, uint before)
    {
        foreach (int seat in s.Head.New(before))
        {
            s.In |= 1u << seat;
            if (!table.IsCommon) s.Open[seat] = table.Row(seat).Full;
        }
        // There may be fewer gates now; further ones were shut.
        for (int seat = 0; seat < Seats; seat++) s.Open[seat] &= table.Row(seat).Full;
        s.Rolled = default;
        GoOn(ref s, stays: true);
    }

    /// <summary>The less she has left, the more; where there is one row, the last one in has it.</summary>
    public int Points(in GatesState s, int seat) =>
        table.IsCommon ? s.Head.Phase == StepKind.Over && s.In == 1u << seat ? 1 : 0 : table.MostSum - table.Row(seat).Sum(s.Open[seat]);

    public bool AimReached(in GatesState s)
    {
        for (int seat = 0; seat < (table.IsCommon ? 1 : Seats); seat++)
            if (s.Open[seat] != 0) return false;
        return true;
    }

    /// <summary>What the open gates add up to.</summary>
    public int Left(in GatesState s)
    {
        int left = 0;
        for (int seat = 0; seat < (table.IsCommon ? 1 : Seats); seat++) left += table.Row(seat).Sum(s.Open[seat]);
        return left;
    }

    /// <summary>The gates of the table's row.</summary>
    public int Things(in GatesState s) => table.Gates;

    public IReadOnlyList<Possible> Possibilities(in GatesState s) => table.Cups[s.Head.Mover].Possibilities(in s.Rolled);

    public bool IsLegal(in GatesState s, Move move) => s.Head.Phase == StepKind.Choice && Moves(in s).Contains(move);

    public IReadOnlyList<Move> Moves(in GatesState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        int shut = ~Open(in s);
        var moves = table.Sets(s.Head.Mover, in s.Rolled).Where(set => (set & shut) == 0).Select(set => new Move((uint)set)).ToList();
        return moves.Count == 0 ? [Move.Pass] : moves;
    }

    /// <summary>What each choice leads to, the best first.</summary>
    public IReadOnlyList<string> Helps(in GatesState s)
    {
        var plan = table.Plan(s.Head.Mover);
        int open = Open(in s);
        var moves = Moves(in s).Where(m => !m.IsPass).Select(m => (int)m.Items).ToList();
        return [.. (table.AimAll ? moves.OrderByDescending(set => plan.All(open & ~set)).ThenBy(set => plan.Left(open & ~set)) : moves.OrderBy(set => plan.Left(open & ~set)).ThenByDescending(set => plan.All(open & ~set)))
            .Select(set => $"{Named((uint)set)}: then {(plan.All(open & ~set) > 0 ? $"{Words.Share(plan.All(open & ~set))} all are shut, " : "")}about {plan.Left(open & ~set):0} left open")];
    }

    public Tapped Read(in GatesState s, IReadOnlyList<int> items)
    {
        if (items.Count == 0) return Tapped.NeedsMore;
        int open = Open(in s), set = 0;
        var row = table.Row(s.Head.Mover);
        foreach (int item in items)
        {
            if (item < 0 || item >= row.Gates || (open >> item & 1) == 0) return Tapped.No("That gate is shut.");
            set |= 1 << item;
        }
        var move = new Move((uint)set);
        if (IsLegal(in s, move)) return Tapped.As(move);
        var moves = Moves(in s);
        if (moves is [{ IsPass: true }]) return Tapped.No("No gate goes with this roll. Go on.");
        if (moves.Any(m => ((int)m.Items & set) == set)) return Tapped.NeedsMore;
        return Tapped.No(row.IsSum ? $"{Named((uint)set)} {(items.Count == 1 ? "does" : "do")} not go with this roll. Look again together." : $"These dice do not come to {Named((uint)set)}. Look again together.");
    }

    private static string Named(ulong gates) => Words.List(Enumerable.Range(1, 14).Where(g => (gates >> g - 1 & 1) != 0).Select(g => g.ToString()));

    /// <summary>Gates that cannot be chosen now are told apart from those that can.</summary>
    private const int Elsewhere = 100;

    public IReadOnlyList<Zone> Zones(in GatesState s)
    {
        var zones = new List<Zone>();
        if (s.Rolled.Count > 0) zones.Add(DiceCup.Lying(in s.Rolled, table.Faces[s.Head.Mover]));
        // Who plays alone has only her own before her.
        var shown = table.IsCommon ? [0] : table.IsAlone && s.Head.Phase != StepKind.Over ? [s.Head.Mover] : Enumerable.Range(0, Seats);
        foreach (int seat in shown)
        {
            bool choosing = s.Head.Phase == StepKind.Choice && (table.IsCommon || seat == s.Head.Mover);
            int open = s.Open[seat];
            ImmutableArray<Item> gates = [.. Enumerable.Range(0, table.Row(seat).Gates).Select(g => new Item(choosing ? g : Elsewhere * (seat + 1) + g, g + 1, Form.Numeral, (open >> g & 1) != 0 ? ItemState.Up : ItemState.Down, choosing && (open >> g & 1) != 0))];
            zones.Add(new GateFence("The gates", gates, Seats > 1 && !table.IsCommon ? seat : null));
        }
        if (s.Head.Phase == StepKind.Over && !table.IsCommon)
        {
            var left = new List<(int Seat, string Says)>();
            for (int seat = 0; seat < Seats; seat++) left.Add((seat, s.Open[seat] == 0 ? "all are shut" : $"{table.Row(seat).Sum(s.Open[seat])} still open"));
            zones.Add(new Told("How much is still open", left));
        }
        return zones;
    }

    public string Says(in GatesState s) => s.Head.Phase switch
    {
        StepKind.Over => table.IsCommon ? "Who is the last one in?" : AimReached(in s) ? "All gates are shut." : "How much is still open?",
        StepKind.Chance => table.DiceAt(s.Head.Mover, Open(in s)) < table.Cups[s.Head.Mover].Count ? "Roll one die." : "Roll.",
        _ when Legal(in s) == 0 => "No gate goes with this roll.",
        _ => !table.Row(s.Head.Mover).IsSum ? "Which gate do these dice come to?" : table.IsOne[s.Head.Mover] ? "Shut that gate." : "Which gates make that many?",
    };

    public string Tells(in GatesState before, Move move, bool found)
    {
        var dice = before.Rolled;
        string rolled = Words.List(Enumerable.Range(0, dice.Count).Select(i => dice[i].ToString()));
        return move.IsPass ? $"rolled {rolled}; no gate goes" : $"rolled {rolled}, shut {Named(move.Items)}";
    }
}
