using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct HomingState
{
    public Head Head;
    public Rolled Rolled;
    public EightCounts Rolls;

    /// <summary>Rolls still to come, of all who are here.</summary>
    public int ToCome;

    /// <summary>By seat, where she is.</summary>
    public EightNumbers At;
}

/// <summary>The rules of Homing: roll, then up (1) or down (0); or stay where neither goes.</summary>
internal readonly struct HomingRules(HomingLine line) : IRules<HomingState>
{
    private const int GoDown = 0, GoUp = 1, Around = 8;

    public int Seats => line.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref HomingState s) => ref s.Head;

    public void Start(ref HomingState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int seat = 0; seat < Seats; seat++) s.At[seat] = line.Start;
        s.ToCome = Left(in s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref HomingState s, ref Rng rng) => line.Cups[s.Head.Mover].Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref HomingState s, int outcome)
    {
        s.Rolled.Add(outcome);
        if (s.Rolled.Count < line.Cups[s.Head.Mover].Count) return;
        s.Head.Phase = StepKind.Choice;
        if (!Goes(in s, GoUp) && !Goes(in s, GoDown)) s.Head.Stuck = true;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int To(in HomingState s, int way) => s.At[s.Head.Mover] + (way == GoUp ? s.Rolled.Total : -s.Rolled.Total);

    /// <summary>Where a move leads.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int There(in HomingState s, Move move) => move.IsPass ? s.At[s.Head.Mover] : To(in s, move.Pick);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool Goes(in HomingState s, int way) => line.Allows(To(in s, way));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in HomingState s, ref Rng rng)
    {
        bool up = Goes(in s, GoUp), down = Goes(in s, GoDown);
        return up && down ? new(0, rng.Below(2)) : up ? new(0, GoUp) : down ? new(0, GoDown) : Move.Pass;
    }

    public Move Best(in HomingState s, ref Rng rng)
    {
        if (!Goes(in s, GoUp) && !Goes(in s, GoDown)) return Move.Pass;
        return new(0, line.Best[s.Head.Mover].Value.Prefers(To(in s, GoUp), To(in s, GoDown), line.Rounds - s.Rolls[s.Head.Mover] - 1) ? GoUp : GoDown);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in HomingState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, here = s.At[seat], count = 0;
        if (line.GrownUp[seat] || here < 0) return 0;
        int there = There(in s, move);
        if (there != here && there >= 0)
            into[count++] = new(seat, new Ask(there > here ? AskKind.On : AskKind.Back, here, Math.Abs(there - here), line.Sees[seat] ? Form.Line : Form.Numeral, line.Support[seat]));
        // In the end she says how far she is from home.
        if (s.Rolls[seat] == line.Rounds - 1 && there != line.Mark && there >= 0) into[count++] = new(seat, new Ask(AskKind.Gap, Math.Max(there, line.Mark), Math.Min(there, line.Mark), Form.Numeral, line.Support[seat]));
        return count;
    }

    /// <summary>One seldom stands at the same number with the same roll: numbering that would cost more than looking up the asks.</summary>
    public int TurnKinds => 0;

    public int TurnKind(in HomingState s, Move move) => 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in HomingState s) => Handling.RollDie;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in HomingState s, Move move) => Handling.Walk(s.Rolled.Total) + (line.Writes ? Handling.WriteMove : 0);

    public bool Seeking(in HomingState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref HomingState s, Move move, Answered answered)
    {
        s.At[s.Head.Mover] = There(in s, move);
        s.Rolls[s.Head.Mover]++;
        s.Rolled = default;
        s.Head.Turns++;
        s.Head.Phase = --s.ToCome == 0 ? StepKind.Over : StepKind.Chance;
        if (s.ToCome > 0) Pass(ref s);
    }

    /// <summary>On to the next who still has rolls.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Pass(ref HomingState s)
    {
        do s.Head.NextMover();
        while (s.Rolls[s.Head.Mover] >= line.Rounds);
    }

    public void Recount(ref HomingState s) => s.ToCome = Left(in s);

    public void Arrange(ref HomingState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) s.At[seat] = line.Start;
        s.Rolled = default;
        s.ToCome = Left(in s);
        s.Head.Phase = s.ToCome == 0 ? StepKind.Over : StepKind.Chance;
        if (s.ToCome > 0 && s.Rolls[s.Head.Mover] >= line.Rounds) Pass(ref s);
    }

    /// <summary>Nearer is more: how far one can be off at most, less how far she is.</summary>
    public int Points(in HomingState s, int seat) => line.Furthest + Math.Abs(line.Start - line.Mark) - Math.Abs(s.At[seat] - line.Mark);

    public bool AimReached(in HomingState s)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (s.At[seat] != line.Mark) return false;
        return true;
    }

    public int Left(in HomingState s)
    {
        int left = 0;
        for (int seat = 0; seat < Seats; seat++) left += (s.Head.Active >> seat & 1) != 0 ? line.Rounds - s.Rolls[seat] : 0;
        return left;
    }

    /// <summary>The pieces on the line.</summary>
    public int Things(in HomingState s) => Seats;

    public IReadOnlyList<Possible> Possibilities(in HomingState s) => line.Cups[s.Head.Mover].Possibilities(in s.Rolled);

    public bool IsLegal(in HomingState s, Move move) => s.Head.Phase == StepKind.Choice && Moves(in s).Contains(move);

    public IReadOnlyList<Move> Moves(in HomingState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var moves = new List<Move>();
        if (Goes(in s, GoUp)) moves.Add(new(0, GoUp));
        if (Goes(in s, GoDown)) moves.Add(new(0, GoDown));
        return moves.Count == 0 ? [Move.Pass] : moves;
    }

    public Tapped Read(in HomingState s, IReadOnlyList<int> items) => items.Count == 0 ? Tapped.NeedsMore
        : Goes(in s, items[^1]) ? Tapped.As(new(0, items[^1])) : Tapped.No("That way leads off the line.");

    public IReadOnlyList<Zone> Zones(in HomingState s)
    {
        var zones = new List<Zone>();
        if (s.Rolled.Count > 0) zones.Add(DiceCup.Lying(in s.Rolled, line.Faces[s.Head.Mover]));
        if (s.Head.Phase == StepKind.Choice)
        {
            var ways = new List<Item>();
            foreach (int way in new[] { GoUp, GoDown })
                if (Goes(in s, way)) ways.Add(new(way, s.Rolled.Total, Form.None, ItemState.Up, true) { Words = way == GoUp ? "up" : "down" });
            if (ways.Count > 0) zones.Add(new ChoiceKeys("Up or down", ways));
        }
        var pieces = new List<Piece>();
        for (int seat = 0; seat < Seats; seat++) pieces.Add(new(seat, s.At[seat]));
        // Of an endless line the part around home and the pieces is drawn.
        int low = line.Low > int.MinValue && line.High < int.MaxValue ? line.Low : Math.Max(line.Low, Math.Min(line.Mark, pieces.Min(p => p.At)) - Around), high = line.High < int.MaxValue ? line.High : Math.Max(line.Mark, pieces.Max(p => p.At)) + Around;
        if (s.Head.Phase == StepKind.Over)
        {
            int mark = line.Mark;
            zones.Add(new Told("How far from home", [.. pieces.Select(p => (p.Seat, p.At == mark ? "home" : $"{Math.Abs(p.At - mark)} away"))]));
        }
        // Who goes without the line has her number on paper.
        if (s.Head.Phase == StepKind.Over ? !line.Sees.Contains(true) : !line.Sees[s.Head.Mover])
        {
            zones.Add(new NumbersOnPaper($"Where everyone is, home is {line.Mark}", line.Mark, [.. pieces.Select(p => (p.Seat, p.At))]));
            return zones;
        }
        zones.Add(new NumberLine($"The line, home is {line.Mark}", low, high, LineLabels.Fives) { Pieces = pieces, Home = line.Mark });
        return zones;
    }

    public string Says(in HomingState s) => s.Head.Phase switch
    {
        StepKind.Over => Seats == 1 ? "How far from home?" : "Who is nearest?",
        StepKind.Chance => "Roll.",
        _ => $"Up or down? Home is {line.Mark}.",
    };

    public string Tells(in HomingState before, Move move, bool found) => move.IsPass ? $"rolled {before.Rolled.Total} and stayed on {before.At[before.Head.Mover]}"
        : $"{(move.Pick == GoUp ? "up" : "down")} {before.Rolled.Total} from {before.At[before.Head.Mover]} to {To(in before, move.Pick)}";
}
