using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct BalanceState
{
    public Head Head;

    /// <summary>Turns one after another, with no cards to come, in which nobody could lay.</summary>
    public byte Idle;
    public EightCounts Bonus, Laid;

    /// <summary>Where something is to be laid: how many ways there are.</summary>
    public short Goes;

    /// <summary>Cards of hands that were changed; and what was given ahead, which are no cards.</summary>
    public short Aside, Ahead;

    /// <summary>What was laid last, the whole one first.</summary>
    public byte LastCount;
    public ulong Last;
    public HandCards Hands;
    public DrawPile Pile;
}

/// <summary>The rules of Balance: fill the hand, and lay what balances.</summary>
internal readonly struct BalanceRules(BalanceTable table) : IRules<BalanceState>
{
    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref BalanceState s) => ref s.Head;

    public void Start(ref BalanceState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int seat = 0; seat < Seats; seat++) Give(ref s, seat);
        s.Pile.Fill(table.Pack);
        Settle(ref s);
    }

    /// <summary>Her head start; somebody who comes back has what she had.</summary>
    private void Give(ref BalanceState s, int seat)
    {
        if (s.Bonus[seat] > 0) return;
        s.Bonus[seat] = (short)table.HeadStart[seat];
        s.Ahead += s.Bonus[seat];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref BalanceState s, ref Rng rng) => s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref BalanceState s, int outcome)
    {
        s.Pile.Take((byte)outcome);
        if (outcome == HandCards.Bonus) s.Bonus[s.Head.Mover]++;
        else s.Hands.Add(s.Head.Mover, (byte)outcome);
        if (!Fills(in s, table)) Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool Fills(in BalanceState s, BalanceTable table) => s.Hands.Count(s.Head.Mover) < table.Hand[s.Head.Mover] && s.Pile.Count > 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Settle(ref BalanceState s)
    {
        int seat = s.Head.Mover;
        s.Head.Phase = Fills(in s, table) ? StepKind.Chance : StepKind.Choice;
        if (s.Head.Phase != StepKind.Choice) return;
        s.Goes = (short)table.Ways(seat, s.Hands.One(seat));
        s.Head.Stuck |= s.Goes == 0;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Move Laying(LaidCards laid) => new((ulong)laid.Set, laid.Whole);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in BalanceState s, ref Rng rng) => s.Goes == 0 ? Move.Pass : Laying(table.Laid(s.Head.Mover, s.Hands.One(s.Head.Mover), rng.Below(s.Goes)));

    /// <summary>The most cards: each one laid brings another.</summary>
    public Move Best(in BalanceState s, ref Rng rng)
    {
        int most = 0;
        var best = Move.Pass;
        for (int i = 0; i < s.Goes; i++)
        {
            var laid = table.Laid(s.Head.Mover, s.Hands.One(s.Head.Mover), i);
            if (BitOperations.PopCount((uint)laid.Set) > most) (best, most) = (Laying(laid), BitOperations.PopCount((uint)laid.Set));
        }
        return best;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in BalanceState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover;
        if (table.GrownUp[seat] || move.IsPass) return 0;
        into[0] = new(seat, table.Asked(seat, s.Hands.One(seat), new((int)move.Items, move.Pick)));
        return 1;
    }

    public int TurnKinds => 0;

    public int TurnKind(in BalanceState s, Move move) => 0;

    public float DealSeconds(in BalanceState s) => Handling.TurnUpFromPile;

    public float MoveSeconds(in BalanceState s, Move move) => move.IsPass ? Handling.TakeRound : Handling.TakeOpenPair;

    public bool Seeking(in BalanceState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref BalanceState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover;
        s.Head.Turns++;
        if (!move.IsPass)
        {
            var hand = s.Hands.Of(seat);
            (s.Last, s.LastCount) = (hand[move.Pick], 1);
            for (int rest = (int)move.Items & ~(1 << move.Pick); rest != 0; rest &= rest - 1) s.Last |= (ulong)hand[BitOperations.TrailingZeroCount(rest)] << 8 * s.LastCount++;
            s.Laid[seat] += s.LastCount;
            s.Hands.Take(seat, (int)move.Items);
            s.Idle = 0;
        }
        else if (s.Pile.Count == 0) s.Idle++;
        else if (s.Goes == 0)
        {
            s.Aside += (short)s.Hands.Count(seat);
            s.Hands.Take(seat, ~0);
        }
        s.Head.NextMover();
        if (s.Pile.Count == 0 && (s.Idle >= BitOperations.PopCount(s.Head.Active) || s.Hands.Total == 0)) s.Head.Phase = StepKind.Over;
        else Settle(ref s);
    }

    public void Arrange(ref BalanceState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) Give(ref s, seat);
        s.Idle = 0;
        Settle(ref s);
    }

    public int Points(in BalanceState s, int seat) => table.HasBonus ? s.Bonus[seat] : s.Laid[seat] + s.Bonus[seat];

    public bool AimReached(in BalanceState s) => s.Hands.Total == 0 && s.Pile.Count == 0;

    public int Left(in BalanceState s) => s.Pile.Count + s.Hands.Total;

    public int Things(in BalanceState s)
    {
        int things = Left(in s) + s.Aside;
        for (int seat = 0; seat < Seats; seat++) things += s.Laid[seat] + s.Bonus[seat];
        return things - s.Ahead;
    }

    public IReadOnlyList<Possible> Possibilities(in BalanceState s) => [.. s.Pile.Possibilities.Select(p => p with { Label = HandCards.Named(p.Outcome) })];

    public bool IsLegal(in BalanceState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        if (move.IsPass) return true;
        return table.Laid(s.Head.Mover, s.Hands.One(s.Head.Mover)).Exists(laid => Laying(laid) == move);
    }

    public IReadOnlyList<Move> Moves(in BalanceState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var moves = table.Laid(s.Head.Mover, s.Hands.One(s.Head.Mover)).ConvertAll(Laying);
        return moves.Count == 0 ? [Move.Pass] : moves;
    }

    public IReadOnlyList<string> Helps(in BalanceState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        int seat = s.Head.Mover;
        var told = new List<string>();
        foreach (var laid in table.Laid(seat, s.Hands.One(seat)).OrderByDescending(l => BitOperations.PopCount((uint)l.Set))) told.Add(table.Says(seat, s.Hands.Of(seat), laid));
        return told.Count == 0 ? ["nothing goes with these cards"] : told;
    }

    /// <summary>Of alike cards any may be tapped: what counts is what they show.</summary>
    public Tapped Read(in BalanceState s, IReadOnlyList<int> items)
    {
        int seat = s.Head.Mover;
        var hand = s.Hands.Of(seat);
        if (items.Count == 0) return Tapped.NeedsMore;
        var tapped = new List<int>();
        foreach (int item in items)
        {
            if (item < 0 || item >= hand.Length) return Tapped.No("That card is not yours.");
            tapped.Add(hand[item]);
        }
        tapped.Sort();
        Move? goes = null;
        bool more = false;
        foreach (var laid in table.Laid(seat, s.Hands.One(seat)))
        {
            var cards = new List<int>();
            for (int rest = laid.Set; rest != 0; rest &= rest - 1) cards.Add(hand[BitOperations.TrailingZeroCount(rest)]);
            cards.Sort();
            if (cards.SequenceEqual(tapped)) goes ??= Laying(laid);
            else more |= cards.Count > tapped.Count && tapped.GroupBy(c => c).All(g => cards.Count(c => c == g.Key) >= g.Count());
        }
        if (goes is { } move) return more ? Tapped.SoFar(move) : Tapped.As(move);
        string named = Words.List(tapped.Select(HandCards.Named));
        return more ? Tapped.NeedsMore : Tapped.No(items.Count == 1 ? $"Nothing in this hand goes with {named}. Look again together." : $"{named}: one is not as much as the others. Look again together.");
    }

    private const int OtherHand = 100, LastCard = 50;

    public IReadOnlyList<Zone> Zones(in BalanceState s)
    {
        int mover = s.Head.Mover;
        bool choosing = s.Head.Phase == StepKind.Choice;
        var zones = new List<Zone>();
        if (s.LastCount > 0 || table.HasMat)
        {
            var last = new List<Item>();
            Span<byte> laid = stackalloc byte[s.LastCount];
            for (int i = 0; i < laid.Length; i++) last.Add(HandCards.Shown(LastCard + i, laid[i] = (byte)(s.Last >> 8 * i & 255), table.Shown, false));
            // What is not only joined is no whole with its parts.
            string? equation = laid.Length > 2 && table.HowLaid(laid) is { } made && made.Joined.Any(m => m.Sign is not null) ? $"{made.Value} = {made}" : null;
            zones.Add(table.HasMat && equation is null ? new PartsMat("The mat", last) : new BalancedCards("Laid last", last) { Equation = equation });
        }
        for (int seat = 0; seat < Seats; seat++)
        {
            if (s.Hands.Count(seat) == 0 || seat != mover && choosing) continue;
            var cards = new List<Item>();
            for (int i = 0; i < s.Hands.Count(seat); i++) cards.Add(HandCards.Shown(seat == mover ? i : OtherHand * (seat + 1) + i, s.Hands[seat, i], table.Shown, choosing && seat == mover));
            zones.Add(new Hand(seat == mover ? "The cards in hand" : "Another hand", seat, cards));
        }
        if (s.Pile.Count > 0 || zones.Count == 0) zones.Add(new Pile("Cards to come", s.Pile.Count));
        return zones;
    }

    public string Says(in BalanceState s)
    {
        return s.Head.Phase switch
        {
            StepKind.Over => "Nobody can lay any more.",
            StepKind.Chance => "Fill up the hand.",
            _ => s.Goes == 0 ? s.Pile.Count > 0 ? "Nothing balances: change these cards." : "Nothing balances with these." : table.Level[s.Head.Mover] == "double" ? "Which two are the same?" : "Which one is as much as others together, or which two are the same?",
        };
    }

    public string Tells(in BalanceState s, Move move, bool found)
    {
        return move.IsPass ? "laid nothing this time" : $"laid {table.Says(s.Head.Mover, s.Hands.Of(s.Head.Mover), new((int)move.Items, move.Pick))}";
    }
}
