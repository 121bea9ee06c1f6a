using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct TargetState
{
    public Head Head;

    /// <summary>The cards that were turned up for the target; −1 for none.</summary>
    public short FirstUp, SecondUp;

    /// <summary>The mover has made it at least once with this target.</summary>
    public bool Made;

    /// <summary>Turns one after another, with no cards to come, in which nobody's cards made it.</summary>
    public byte Idle;
    public EightCounts Used;

    /// <summary>Cards that lie aside: turned up, or changed.</summary>
    public short Aside;

    /// <summary>Where something is to be made: the sets of the mover's cards that make it; of cards that are alike the first.</summary>
    public HandSets Making;
    public HandCards Hands;

    /// <summary>Wild cards that are still to come.</summary>
    public byte Wilds;

    /// <summary>The cards with which a target was made last, how many they were, whose, and the target.</summary>
    public ulong Last;
    public byte LastCount, LastSeat;
    public short LastTarget;
    public DrawPile Pile;
}

/// <summary>The rules of Target Hand: fill the hand, turn up the target, and make it as often as it goes.</summary>
internal readonly struct TargetRules(TargetTable table) : IRules<TargetState>
{
    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref TargetState s) => ref s.Head;

    public void Start(ref TargetState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.FirstUp = s.SecondUp = -1;
        s.Pile.Fill(table.Pack);
        s.Wilds = table.Wilds;
        Settle(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool Fills(in TargetState s, TargetTable table) => s.Hands.Count(s.Head.Mover) < table.Hand[s.Head.Mover] && s.Pile.Count > 0;

    private bool Turns => table.Rule.Rule != TargetRule.Number;

    /// <summary>What is to be made.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Target(in TargetState s) => table.Rule.Rule switch { TargetRule.Sum => s.FirstUp + s.SecondUp, TargetRule.TwoDigits => 10 * s.FirstUp + s.SecondUp, _ => table.Rule.Number };

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref TargetState s, ref Rng rng) => s.Wilds == 0 || Fills(in s, table) ? s.Pile.Draw(ref rng) : s.Pile.DrawUpTo(Deck.LargestNumber, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref TargetState s, int outcome)
    {
        bool fills = Fills(in s, table);
        s.Pile.Take((byte)outcome);
        if (outcome == HandCards.Wild) s.Wilds--;
        if (fills) s.Hands.Add(s.Head.Mover, (byte)outcome);
        else
        {
            s.Aside++;
            if (s.FirstUp < 0) s.FirstUp = (short)outcome;
            else s.SecondUp = (short)outcome;
        }
        if (!Fills(in s, table)) Settle(ref s);
    }

    /// <summary>What is waited for: cards for the hand, then the target, then what the mover makes.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Settle(ref TargetState s)
    {
        s.Head.Phase = StepKind.Chance;
        if (Fills(in s, table)) return;
        if (Turns && s.SecondUp < 0)
        {
            // Wild cards give no target; it is over when there are no two others.
            int needed = s.FirstUp < 0 ? 2 : 1;
            if (s.Pile.Count - s.Wilds < needed) s.Head.Phase = StepKind.Over;
            return;
        }
        s.Head.Phase = StepKind.Choice;
        Look(ref s);
        s.Head.Stuck |= !s.Made && s.Making.Count == 0;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Look(ref TargetState s)
    {
        int seat = s.Head.Mover;
        s.Making = table.Books[seat].Making(s.Hands.One(seat), Target(in s));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in TargetState s, ref Rng rng)
    {
        int count = s.Making.Count;
        return count == 0 ? Move.Pass : Taking(s.Making.Nth(rng.Below(count)));
    }

    private static Move Taking(int set) => new((ulong)set, 0);

    public Move Best(in TargetState s, ref Rng rng)
    {
        return TargetBook.Plan(in s.Making, s.Hands.Of(s.Head.Mover)).Set is > 0 and var set ? Taking(set) : Move.Pass;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in TargetState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, count = 0;
        if (table.GrownUp[seat]) return 0;
        if (!s.Made && Turns)
            into[count++] = new(seat, table.Rule.Rule == TargetRule.TwoDigits ? s.FirstUp == 0 ? new(AskKind.Say, s.SecondUp, Form.Numeral, support: table.Support[seat]) : new Ask(AskKind.Digits, 10 * s.FirstUp + s.SecondUp, Form.Numeral, support: table.Support[seat])
                : new(AskKind.Join, Math.Max(s.FirstUp, s.SecondUp), Math.Min(s.FirstUp, s.SecondUp), table.Form[seat], table.Support[seat]));
        if (!move.IsPass) into[count++] = new(seat, table.Books[seat].Asked(s.Hands.One(seat), HandValues.FirstOfAlike(s.Hands.Of(seat), (int)move.Items), Target(in s)));
        return count;
    }

    public int TurnKinds => 0;

    public int TurnKind(in TargetState s, Move move) => 0;

    public float DealSeconds(in TargetState s) => Handling.TurnUpFromPile;

    public float MoveSeconds(in TargetState s, Move move) => move.IsPass ? Handling.TakeRound : Handling.TakeOpenPair;

    public bool Seeking(in TargetState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref TargetState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover;
        s.Head.Turns++;
        if (!move.IsPass)
        {
            var hand = s.Hands.Of(seat);
            (s.Last, s.LastCount, s.LastSeat, s.LastTarget) = (0, 0, (byte)seat, (short)Target(in s));
            for (int rest = (int)move.Items; rest != 0; rest &= rest - 1) s.Last |= (ulong)hand[BitOperations.TrailingZeroCount(rest)] << 8 * s.LastCount++;
            s.Hands.Take(seat, (int)move.Items);
            s.Used[seat] += s.LastCount;
            (s.Made, s.Idle) = (true, 0);
            // What is left may make it once more.
            Look(ref s);
            if (s.Making.Count != 0) return;
        }
        else if (!s.Made && s.Making.Count == 0)
        {
            // Where cards come, a hand that makes nothing is changed.
            if (s.Pile.Count == 0) s.Idle++;
            else
            {
                s.Aside += (short)s.Hands.Count(seat);
                s.Hands.Take(seat, ~0);
            }
        }
        Pass(ref s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Pass(ref TargetState s)
    {
        s.FirstUp = s.SecondUp = -1;
        s.Made = false;
        s.Head.NextMover();
        if (s.Idle < BitOperations.PopCount(s.Head.Active)) Settle(ref s);
        else s.Head.Phase = StepKind.Over;
    }

    public void Arrange(ref TargetState s, uint before)
    {
        // What was turned up for somebody who left is laid aside.
        s.FirstUp = s.SecondUp = -1;
        (s.Made, s.Idle) = (false, 0);
        Settle(ref s);
    }

    public int Points(in TargetState s, int seat) => s.Used[seat];

    public bool AimReached(in TargetState s) => s.Hands.Total == 0 && s.Pile.Count == 0;

    public int Left(in TargetState s) => s.Pile.Count + s.Hands.Total;

    public int Things(in TargetState s)
    {
        int things = Left(in s) + s.Aside;
        for (int seat = 0; seat < Seats; seat++) things += s.Used[seat];
        return things;
    }

    public IReadOnlyList<Possible> Possibilities(in TargetState s)
    {
        bool fills = Fills(in s, table);
        return [.. s.Pile.Possibilities.Where(p => fills || p.Outcome <= Deck.LargestNumber).Select(p => p with { Label = HandCards.Named(p.Outcome) })];
    }

    public bool IsLegal(in TargetState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        var hand = s.Hands.Of(s.Head.Mover);
        return move.IsPass || move.Items < 1UL << hand.Length && move.Pick == 0 && s.Making.Has(HandValues.FirstOfAlike(hand, (int)move.Items));
    }

    public IReadOnlyList<Move> Moves(in TargetState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var sets = s.Making.All;
        return sets.Count == 0 ? [Move.Pass] : [.. sets.Select(Taking)];
    }

    private string Equation(in TargetState s, int set) => $"{table.Books[s.Head.Mover].How(s.Hands.Of(s.Head.Mover), set, Target(in s))}";

    /// <summary>How the most cards are used, and other ways.</summary>
    public IReadOnlyList<string> Helps(in TargetState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        int seat = s.Head.Mover;
        var (best, used) = TargetBook.Plan(in s.Making, s.Hands.Of(seat));
        if (best == 0) return ["none of these cards make it"];
        var told = new List<string> { $"{Words.Count(used, "card")} can be used, with {Equation(in s, best)}" };
        foreach (var move in Moves(in s))
            if ((int)move.Items != best) told.Add(Equation(in s, (int)move.Items));
        return told;
    }

    public Tapped Read(in TargetState s, IReadOnlyList<int> items)
    {
        int seat = s.Head.Mover, set = 0, cards = s.Hands.Count(seat);
        if (items.Count == 0) return Tapped.NeedsMore;
        foreach (int item in items)
        {
            if (item < 0 || item >= cards) return Tapped.No("That card is not yours.");
            set |= 1 << item;
        }
        // Of cards that are alike any may be tapped.
        set = HandValues.FirstOfAlike(s.Hands.Of(seat), set);
        bool more = s.Making.All.Any(other => other != set && (other & set) == set);
        if (s.Making.Has(set)) return more ? Tapped.SoFar(Taking(set)) : Tapped.As(Taking(set));
        if (more) return Tapped.NeedsMore;
        int target = Target(in s);
        var tapped = HandCards.Cards(s.Hands.Of(seat), set);
        if (tapped is [var one] && one == target) return Tapped.No($"{one} alone is {target} already: it takes two cards at least.");
        return Tapped.No($"{Words.List(tapped.Select(c => c == HandEquations.Wild ? "any" : $"{c}"))} {(items.Count == 1 ? "is of no use for" : "cannot make")} {target} here. Look again together.");
    }

    public IReadOnlyList<Zone> Zones(in TargetState s)
    {
        int mover = s.Head.Mover;
        bool choosing = s.Head.Phase == StepKind.Choice;
        var zones = new List<Zone>();
        if (choosing && !Turns) zones.Add(new Stage("To be made", [new(TargetItem, table.Rule.Number, Form.Numeral, ItemState.Up, false)]));
        else if (choosing)
            zones.Add(new Stage("To be made", [new(TargetItem, s.FirstUp, table.Shown, ItemState.Up, false), new(TargetItem + 1, s.SecondUp, table.Shown, ItemState.Up, false)]) { Between = table.Rule.Rule == TargetRule.Sum ? ["+"] : [] });
        for (int seat = 0; seat < Seats; seat++)
        {
            if (seat != mover && (choosing || s.Hands.Count(seat) == 0) || s.Hands.Count(seat) == 0) continue;
            var cards = new List<Item>();
            for (int i = 0; i < s.Hands.Count(seat); i++) cards.Add(HandCards.Shown(seat == mover ? i : OtherHand * (seat + 1) + i, s.Hands[seat, i], table.Shown, choosing && seat == mover));
            zones.Add(new Hand(seat == mover ? "The cards in hand" : "Another hand", seat, cards));
        }
        if (s.Pile.Count > 0 || zones.Count == 0) zones.Add(new Pile("Cards to come", s.Pile.Count));
        if (LaidLast(in s) is { } laid) zones.Add(new Equation("Made last", laid, Seats > 1 ? s.LastSeat : null));
        return zones;
    }

    private const int TargetItem = 50, OtherHand = 100;

    /// <summary>How the last target was made: 10 + 7 − (3 + 3) = 11; null where none was yet.</summary>
    private string? LaidLast(in TargetState s)
    {
        if (s.LastCount == 0) return null;
        Span<byte> cards = stackalloc byte[s.LastCount];
        for (int i = 0; i < cards.Length; i++) cards[i] = (byte)(s.Last >> 8 * i & 255);
        return $"{table.Books[s.LastSeat].How(cards, (1 << cards.Length) - 1, s.LastTarget)} = {s.LastTarget}";
    }

    public string Says(in TargetState s)
    {
        return s.Head.Phase switch
        {
            StepKind.Over => "No more can be made.",
            StepKind.Chance => Fills(in s, table) ? "Fill up the hand." : s.FirstUp < 0 ? "Turn up two cards." : "And another one.",
            _ => s.Making.Count == 0 ? s.Made ? "That was all." : "These cards do not make it: change them." : s.Made ? "Is there more? Make it once again." : table.Rule.Rule switch
            {
                TargetRule.Sum => "What do these make? Make that many.",
                TargetRule.TwoDigits => "Which number is it? Make that many.",
                _ => $"Make {table.Rule.Number} with your cards.",
            },
        };
    }

    public string Tells(in TargetState s, Move move, bool found)
    {
        return move.IsPass ? s.Made || s.Making.Count != 0 ? "stopped there" : $"could not make {Target(in s)}" : $"{Equation(in s, (int)move.Items)} = {Target(in s)}";
    }

    /// <summary>Hands as they come from the whole pack, with a target each.</summary>
    public (PlayedFigure Makes, PlayedFigure Cards) Deals(int seat, Behaviour behaviour, Spending spending)
    {
        int enough = table.Books[seat].Book.Deals(table.Hand[seat]);
        var (makes, cards) = (new PlayedFigure(), new PlayedFigure());
        var state = default(TargetState);
        for (int deal = 0; deal == 0 || deal < enough && !spending.IsSpent; deal++)
        {
            var rng = Rng.ForGame(21, deal);
            state = default;
            state.Head = Rules.Head.At(seat, Seats);
            state.FirstUp = state.SecondUp = -1;
            state.Pile.Fill(table.Pack);
            state.Wilds = table.Wilds;
            Settle(ref state);
            while (state.Head.Phase == StepKind.Chance) Deal(ref state, Draw(ref state, ref rng));
            int used = 0, before = state.Hands.Count(seat);
            bool made = state.Head.Phase == StepKind.Choice && state.Making.Count != 0;
            while (state.Head.Phase == StepKind.Choice && state.Making.Count != 0)
            {
                var move = behaviour == Behaviour.Perfect ? Best(in state, ref rng) : Plain(in state, ref rng);
                state.Hands.Take(seat, (int)move.Items);
                Look(ref state);
                used = before - state.Hands.Count(seat);
            }
            makes.Add(made ? 1 : 0);
            cards.Add(used);
        }
        return (makes, cards);
    }
}
