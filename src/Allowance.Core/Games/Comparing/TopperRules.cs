using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

internal struct TopperState
{
    public Head Head;

    /// <summary>Who turns up cards in this round, as bits: all, or those who tied.</summary>
    public uint InRound;

    /// <summary>Where dealing has come to: a place in the order of drawing, and a card of that seat.</summary>
    public byte At, Card;

    /// <summary>Who settles the rounds.</summary>
    public byte Leads;

    /// <summary>Of a round that is dealt: the best number and the next best (−1 where there is none), and who has the best, as bits.</summary>
    public int Best, Second;
    public uint Who;

    /// <summary>Cards that the round takes, and those of ties that wait for a winner.</summary>
    public short Round, Waiting;
    public EightCounts Won;

    /// <summary>By seat, the cards turned up so far in this round or in her last one, as the number of a hand.</summary>
    public EightNumbers Hands;

    /// <summary>What is still to be turned up: of one pile for all, or of each one's own.</summary>
    public DrawPile Pile;
    public OwnPiles Own;
}

/// <summary>What every hand of a seat makes and asks.</summary>
internal sealed record TopperMade(int[] Values, Ask[] Asks)
{
    private const int MostHands = 4_096;

    /// <summary>By seat; null where it may turn up too many hands, so that each is worked out when it comes.</summary>
    public static TopperMade?[] OfAll(TopperTable table) => [.. Enumerable.Range(0, table.Seats).Select(s => Of(table, s))];

    private static TopperMade? Of(TopperTable table, int seat)
    {
        int hands = table.HandsOf(seat);
        if (hands > MostHands) return null;
        var made = new TopperMade(new int[hands], new Ask[hands]);
        for (int hand = 0; hand < hands; hand++)
        {
            made.Values[hand] = table.Value(seat, hand);
            made.Asks[hand] = table.GrownUp[seat] ? default : table.Own(seat, hand);
        }
        return made;
    }
}

/// <summary>The rules of Topper: everyone's cards are dealt, then one move for all.</summary>
internal readonly partial struct TopperRules(TopperTable table) : IRules<TopperState>
{
    private readonly TopperMade?[] made = TopperMade.OfAll(table);

    private readonly bool own = table.OwnPile is not null;

    /// <summary>By seat, her own pile as it begins.</summary>
    private readonly byte[][] piles = table.OwnPile is null ? [] : [.. Enumerable.Range(0, table.Seats).Select(table.PileOf)];

    /// <summary>By who is in a round, as bits, how many cards it takes.</summary>
    private readonly short[] forRound = table.ForRounds();

    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref TopperState s) => ref s.Head;

    public void Start(ref TopperState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Leads = (byte)first;
        if (!own) s.Pile.Fill(table.Pack);
        for (int seat = 0; seat < piles.Length; seat++) s.Own.Fill(seat, piles[seat]);
        for (int seat = 0; seat < Seats; seat++) s.Won[seat] = (short)table.HeadStart[seat];
        NewRound(ref s, s.Head.Active);
    }

    /// <summary>Those of the round who play draw; over where the pack has too few cards for them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void NewRound(ref TopperState s, uint seats)
    {
        s.InRound = seats;
        (s.At, s.Card) = (0, 0);
        s.Round = forRound[seats];
        s.Head.Phase = IsEnough(in s, seats) ? StepKind.Chance : StepKind.Over;
        SkipWhoIsOut(ref s);
        s.Head.Mover = s.Head.Phase == StepKind.Chance ? (byte)table.Order[s.At] : s.Leads;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool IsEnough(in TopperState s, uint seats)
    {
        if (own) return IsEnoughOfEach(in s, seats);
        if (s.Pile.Count < forRound[seats]) return false;
        if (!table.HasParts) return true;
        int needed = 0;
        foreach (int seat in table.Order)
        {
            if (table.RangeTo[seat] is not { } to) break;
            if ((seats >> seat & 1) == 0) continue;
            needed += table.Cards[seat];
            if (s.Pile.UpTo(to) < needed) return false;
        }
        return true;
    }

    private bool IsEnoughOfEach(in TopperState s, uint seats)
    {
        for (; seats != 0; seats &= seats - 1)
            if (BitOperations.TrailingZeroCount(seats) is var seat && s.Own.Count(seat) < table.Cards[seat]) return false;
        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void SkipWhoIsOut(ref TopperState s)
    {
        while (s.At < Seats && (s.InRound >> table.Order[s.At] & 1) == 0) s.At++;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref TopperState s, ref Rng rng) => own ? s.Own.Draw(table.Order[s.At], ref rng)
        : table.HasParts && table.RangeTo[table.Order[s.At]] is { } to ? s.Pile.DrawUpTo(to, ref rng) : s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref TopperState s, int outcome)
    {
        int seat = table.Order[s.At];
        if (own) s.Own.Take(seat, (byte)outcome);
        else s.Pile.Take((byte)outcome);
        s.Hands[seat] = (s.Card++ == 0 ? 0 : s.Hands[seat] * table.Numbers) + outcome;
        if (s.Card < table.Cards[seat]) return;
        s.Card = 0;
        s.At++;
        SkipWhoIsOut(ref s);
        if (s.At < Seats)
        {
            s.Head.Mover = (byte)table.Order[s.At];
            return;
        }
        s.Head.Mover = s.Leads;
        s.Head.Phase = StepKind.Choice;
        Compare(ref s);
    }

    /// <summary>The round is settled by what the cards make, or by who said it first in the course of play.</summary>
    private Move Settled => new(0, Seats);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in TopperState s, ref Rng rng) => Settled;

    public Move Best(in TopperState s, ref Rng rng) => Settled;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Value(in TopperState s, int seat) => made[seat] is { } all ? all.Values[s.Hands[seat]] : table.Value(seat, s.Hands[seat]);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Ask Own(in TopperState s, int seat) => made[seat] is { } all ? all.Asks[s.Hands[seat]] : table.Own(seat, s.Hands[seat]);

    /// <summary>Without a branch: what cards show cannot be foreseen.</summary>
    private void Compare(ref TopperState s)
    {
        // Where the fewest wins, numbers are turned round for it.
        int turn = table.Fewer ? -1 : 1, from = table.Fewer ? 1 << 30 : 0;
        int best = -1, second = -1;
        uint who = 0;
        for (int seat = 0; seat < Seats; seat++)
        {
            // Who is not in the round has less than anything.
            int isOut = (int)(s.InRound >> seat & 1) - 1, value = from + turn * Value(in s, seat) | isOut;
            who = who & (uint)(0 - Bits.If(value <= best)) | (uint)Bits.If(value >= best) << seat;
            second = Bits.Max(second, Bits.Min(best, value));
            best = Bits.Max(best, value);
        }
        // A common number is everybody's.
        s.Who = table.Common ? s.InRound : who;
        s.Best = from + turn * best;
        s.Second = second < 0 ? -1 : from + turn * second;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in TopperState s, Move move, Span<SeatAsk> into)
    {
        if (table.Common) return AsksInCommon(in s, into);
        int count = 0;
        int larger = Math.Max(s.Best, s.Second), smaller = Math.Min(s.Best, s.Second);
        for (int seat = 0; seat < Seats; seat++)
        {
            if (table.GrownUp[seat] || (s.Head.Active >> seat & 1) == 0) continue;
            if ((s.InRound >> seat & 1) != 0) into[count++] = new(seat, Own(in s, seat));
            if (s.Second < 0) continue;
            var form = table.Make[seat] == TopperMake.Single ? table.Form : Form.Numeral;
            into[count++] = new(seat, new Ask(AskKind.More, larger, smaller, form, table.Support[seat]));
            if (table.Gap[seat] && larger > smaller) into[count++] = new(seat, new Ask(AskKind.Gap, larger, smaller, form, table.Support[seat]));
        }
        return count;
    }

    /// <summary>All cards of the round together, the larger first.</summary>
    private int AsksInCommon(in TopperState s, Span<SeatAsk> into)
    {
        Span<int> falling = stackalloc int[Seats];
        int cards = 0, count = 0;
        for (int seat = 0; seat < Seats; seat++)
        {
            if ((s.InRound >> seat & 1) == 0) continue;
            int at = cards++, number = Value(in s, seat);
            for (; at > 0 && falling[at - 1] < number; at--) falling[at] = falling[at - 1];
            falling[at] = number;
        }
        uint here = s.Head.Active & s.InRound;
        for (int seat = 0; seat < Seats; seat++)
            if (!table.GrownUp[seat] && (here >> seat & 1) != 0)
                into[count++] = new(seat, new Ask(cards == 2 && table.Make[seat] == TopperMake.CommonDifference ? AskKind.Gap : AskKind.Join, falling[..cards], table.Form, support: table.Support[seat]));
        return count;
    }

    /// <summary>A round is told by what everyone turned up, and nothing by who is not in it.</summary>
    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in TopperState s, Move move)
    {
        int kind = 0;
        for (int seat = 0; seat < Seats; seat++) kind = kind * (table.HandsOf(seat) + 1) + ((s.InRound >> seat & 1) != 0 ? s.Hands[seat] + 1 : 0);
        return kind;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in TopperState s) => Handling.TurnUpFromPile;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in TopperState s, Move move) => Handling.TakeRound;

    public bool Seeking(in TopperState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref TopperState s, Move move, Answered answered)
    {
        uint who = s.Who;
        int cards = s.Round;
        int said = !table.FirstSaid ? -1 : move.Pick < Seats ? move.Pick : answered.Fastest;
        // Only who was asked can be first by answering.
        if (said >= 0 && (move.Pick < Seats || !table.GrownUp[said]) && (s.InRound >> said & 1) != 0) who = 1u << said;
        // Everyone's turning up is a turn of her own.
        s.Head.Turns += BitOperations.PopCount(s.InRound);
        int sharing = BitOperations.PopCount(who);
        if (sharing == 1)
        {
            s.Won[BitOperations.TrailingZeroCount(who)] += (short)(cards + s.Waiting);
            s.Waiting = 0;
        }
        else if (table.Tie == TopperTie.Split)
        {
            for (uint rest = who; rest != 0; rest &= rest - 1) s.Won[BitOperations.TrailingZeroCount(rest)] += (short)(cards / sharing);
            s.Waiting += (short)(cards % sharing);
        }
        else s.Waiting += (short)cards;
        NewRound(ref s, table.Tie == TopperTie.Again && sharing > 1 && IsEnough(in s, who) ? who : s.Head.Active);
    }

    /// <summary>A round that was begun is played to its end, also for one who leaves in its middle; who came draws from the next one on.</summary>
    public void Arrange(ref TopperState s, uint before)
    {
        foreach (int seat in s.Head.New(before))
        {
            s.Won[seat] = (short)table.HeadStart[seat];
            if (own && s.Own.Count(seat) == 0) s.Own.ShareWith(seat);
        }
        if (!s.Head.Plays(s.Leads)) s.Leads = s.Head.Mover;
        if (s.Head.Phase == StepKind.Choice) s.Head.Mover = s.Leads;
        else if (s.Card > 0 || s.At != FirstIn(in s)) s.Head.Mover = (byte)table.Order[s.At];
        else
        {
            // Of a tie, those go on who are still here; else all do.
            uint tied = s.InRound & s.Head.Active;
            NewRound(ref s, (s.InRound & before) == before || tied == 0 ? s.Head.Active : tied);
        }
    }

    private int FirstIn(in TopperState s)
    {
        int at = 0;
        while (at < Seats && (s.InRound >> table.Order[at] & 1) == 0) at++;
        return at;
    }

    public int Points(in TopperState s, int seat) => s.Won[seat];

    public bool AimReached(in TopperState s) => s.Head.Phase == StepKind.Over;

    /// <summary>Cards nobody has won: in the pile, in a tie, and lying before the players.</summary>
    public int Left(in TopperState s)
    {
        int lying = s.Head.Phase == StepKind.Choice ? s.Round : s.Card;
        if (s.Head.Phase == StepKind.Chance)
            for (int at = 0; at < s.At; at++)
                if ((s.InRound >> table.Order[at] & 1) != 0) lying += table.Cards[table.Order[at]];
        return s.Pile.Count + s.Own.Total + s.Waiting + lying;
    }
}
