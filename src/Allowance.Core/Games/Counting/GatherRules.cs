using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

[InlineArray(Gather.MostColours)]
internal struct ColourCounts
{
    private short first;
}

[InlineArray(Engine.MostSeats * Gather.MostColours)]
internal struct GatheredColours
{
    private short first;
}

internal struct GatherState
{
    public Head Head;
    public Rolled Rolled;

    /// <summary>One more than the face of the colour die, or of the sign die, that was rolled; 0 where none was.</summary>
    public byte Face;
    public ColourCounts Heap;

    /// <summary>Of all colours.</summary>
    public short InHeap;
    public EightCounts Has, Given;

    /// <summary>What each one took, by seat and colour.</summary>
    public GatheredColours Gathered;
}

/// <summary>The rules of Gather: all dice, then one move; with two colours she chooses.</summary>
internal readonly struct GatherRules(GatherHeap heap) : IRules<GatherState>
{
    public int Seats => heap.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref GatherState s) => ref s.Head;

    public void Start(ref GatherState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int c = 0; c < heap.Pieces.Length; c++) s.Heap[c] = (short)heap.Pieces[c];
        s.InHeap = (short)heap.Pool;
        for (int seat = 0; seat < Seats; seat++) s.Has[seat] = (short)heap.HeadStart[seat];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool DiceLie(in GatherState s) => s.Rolled.Count == heap.Cups[s.Head.Mover].Count;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref GatherState s, ref Rng rng) => heap.HasBeside && DiceLie(in s) ? heap.Alike[rng.Below(heap.Alike.Length)] : heap.Cups[s.Head.Mover].Draw(in s.Rolled, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref GatherState s, int outcome)
    {
        int missing = heap.Cups[s.Head.Mover].Count - s.Rolled.Count;
        if (missing > 0)
        {
            s.Rolled.Add(outcome);
            missing--;
        }
        else s.Face = (byte)(outcome + 1);
        if (missing == 0 && (s.Face > 0 || !heap.HasBeside)) s.Head.Phase = StepKind.Choice;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool IsMinus(in GatherState s) => heap.HasSigns && heap.Signs[s.Face - 1] is '-' or SignDieValue.Half;

    /// <summary>The sign that was rolled; a plus where none is.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private char Sign(in GatherState s) => heap.HasSigns ? heap.Signs[s.Face - 1] : '+';

    /// <summary>The colours that can be taken: those of the face that still have things; the first one where none has.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private (int One, int Other) Open(in GatherState s)
    {
        if (!heap.HasBeside || heap.HasSigns) return (0, -1);
        var face = heap.ColourFaces[s.Face - 1];
        bool one = face.One >= 0 && s.Heap[face.One] > 0, other = face.Other >= 0 && s.Heap[face.Other] > 0;
        return one && other && s.Rolled.Total > 0 ? (face.One, face.Other) : one ? (face.One, -1) : other ? (face.Other, -1) : (Nothing, -1);
    }

    /// <summary>A roll that meets nothing of its colour.</summary>
    public bool IsEmpty(in GatherState s) => Open(in s).One == Nothing && s.Rolled.Total > 0;

    /// <summary>The pick that takes nothing, where there is nothing of the colour.</summary>
    private const int Nothing = Gather.MostColours;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in GatherState s, ref Rng rng)
    {
        var (one, other) = Open(in s);
        return new(0, other >= 0 && rng.Below(2) == 1 ? other : one);
    }

    public Move Best(in GatherState s, ref Rng rng)
    {
        var (one, other) = Open(in s);
        return new(0, other < 0 ? one : heap.Better(s.Rolled.Total, one, s.Heap[one], other, s.Heap[other]));
    }

    /// <summary>How many change hands: from the heap, or back to it.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Moved(in GatherState s, Move move)
    {
        if (move.Pick == Nothing) return 0;
        int has = s.Has[s.Head.Mover];
        return Sign(in s) switch
        {
            '-' => Bits.Min(s.Rolled.Total, has),
            SignDieValue.Half => has / 2,
            SignDieValue.Twice => heap.Taken(has, s.Heap[move.Pick]),
            _ => heap.Taken(s.Rolled.Total, s.Heap[move.Pick]),
        };
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in GatherState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, count = 0;
        if (heap.GrownUp[seat]) return 0;
        var support = heap.Support[seat];
        int moved = Moved(in s, move), has = s.Has[seat];
        if (Sign(in s) is SignDieValue.Twice or SignDieValue.Half)
        {
            // The dots do not matter then.
            if (moved == 0) return 0;
            into[count++] = new(seat, Sign(in s) == SignDieValue.Half ? new Ask(AskKind.Share, has, 2, Form.Objects, support) : new Ask(AskKind.Double, has, Form.Objects, support: support));
            into[count++] = new(seat, new Ask(AskKind.Take, moved, Form.Objects, support: support));
            return count;
        }
        into[count++] = new(seat, heap.CountsAll[seat] && heap.Faces[seat] == Form.Dice ? new Ask(AskKind.Say, s.Rolled.Total, Form.Dice, support: support) : heap.Cups[seat].Asked(in s.Rolled, heap.Faces[seat], support));
        if (moved == 0) return count;
        into[count++] = new(seat, new Ask(AskKind.Take, moved, Form.Objects, support: support));
        if (heap.SaysTotal[seat] && has > 0)
            into[count++] = new(seat, IsMinus(in s) ? new Ask(AskKind.Gone, has, moved, Form.Objects, support) : new Ask(AskKind.Join, Math.Max(has, moved), Math.Min(has, moved), Form.Objects, support));
        return count;
    }

    public int TurnKinds => heap.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in GatherState s, Move move)
    {
        int seat = s.Head.Mover, moved = Moved(in s, move);
        var cup = heap.Cups[seat];
        int kind = moved * cup.Kinds + cup.Kind(in s.Rolled);
        return heap.Kinds[seat] + (heap.SaysTotal[seat] ? (heap.HasSigns ? 2 * s.Has[seat] + (IsMinus(in s) ? 1 : 0) : s.Has[seat]) * heap.RollKinds(seat) + kind : kind);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in GatherState s) => Handling.RollDie;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in GatherState s, Move move) => Handling.TakeThings;

    public bool Seeking(in GatherState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref GatherState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover, moved = Moved(in s, move);
        if (IsMinus(in s)) moved = -moved;
        if (moved != 0)
        {
            s.Heap[move.Pick] -= (short)moved;
            s.InHeap -= (short)moved;
            s.Has[seat] += (short)moved;
            s.Gathered[seat * Gather.MostColours + move.Pick] += (short)moved;
        }
        s.Rolled = default;
        s.Face = 0;
        s.Given[seat]++;
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = Onwards(in s);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private StepKind Onwards(in GatherState s) =>
        !heap.HasSigns && s.InHeap == 0 || heap.Rounds is { } rounds && s.Given[s.Head.Mover] >= rounds ? StepKind.Over : StepKind.Chance;

    public void Arrange(ref GatherState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) s.Has[seat] = (short)heap.HeadStart[seat];
        (s.Rolled, s.Face) = (default, 0);
        s.Head.Phase = Onwards(in s);
    }

    public int Points(in GatherState s, int seat) => s.Has[seat];

    public bool AimReached(in GatherState s) => s.Head.Phase == StepKind.Over;

    public int Left(in GatherState s) => s.InHeap;

    public IReadOnlyList<Possible> Possibilities(in GatherState s)
    {
        if (!DiceLie(in s)) return heap.Cups[s.Head.Mover].Possibilities(in s.Rolled);
        string[] words = heap.BesideWords;
        return [.. heap.Alike.GroupBy(face => face).Select(g => new Possible(g.Key, g.Count(), words[g.Key]))];
    }

    public bool IsLegal(in GatherState s, Move move) => Moves(in s).Contains(move);

    public IReadOnlyList<Move> Moves(in GatherState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var (one, other) = Open(in s);
        return other < 0 ? [new(0, one)] : [new(0, one), new(0, other)];
    }

    public Tapped Read(in GatherState s, IReadOnlyList<int> items) => items is [var colour] && Moves(in s).Contains(new(0, colour)) ? Tapped.As(new(0, colour)) : Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in GatherState s)
    {
        var zones = new List<Zone>();
        if (s.Rolled.Count > 0)
        {
            var lying = DiceCup.Lying(in s.Rolled, heap.Faces[s.Head.Mover]);
            string? beside = s.Face == 0 ? null : heap.ColourFaces.Length > 0 ? heap.FaceWords[s.Face - 1] : SignDieValue.Says(Sign(in s));
            zones.Add(beside is null ? lying : lying with { Dice = [.. lying.Dice, new(lying.Dice.Count, -1, Form.None, ItemState.Up, false) { Words = beside }], Patches = heap.ColourFaces.Length > 0 ? heap.Patches[s.Face - 1] : [] });
        }
        string[] colours = heap.Colours;
        if (Moves(in s) is { Count: > 1 } ways)
            zones.Add(new ChoiceKeys("Which colour", [.. ways.Select(m => new Item(m.Pick, m.Pick, Form.None, ItemState.Up, true) { Words = colours[m.Pick] })]));
        var lots = new List<Lot>();
        for (int c = 0; c < colours.Length; c++) lots.Add(new(colours[c], s.Heap[c]));
        zones.Add(new Heap("The heap", lots));
        for (int seat = 0; seat < Seats; seat++) zones.Add(new Heap("Gathered", Gathered(in s, seat), seat));
        return zones;
    }

    /// <summary>What she has, by colour; a head start has none.</summary>
    private List<Lot> Gathered(in GatherState s, int seat)
    {
        if (heap.Colours.Length == 1) return [new(heap.Colours[0], s.Has[seat])];
        var lots = new List<Lot>();
        int coloured = 0;
        for (int c = 0; c < heap.Colours.Length; c++)
        {
            int hers = s.Gathered[seat * Gather.MostColours + c];
            coloured += hers;
            lots.Add(new(heap.Colours[c], hers));
        }
        lots.Add(new("", s.Has[seat] - coloured));
        return lots;
    }

    public string Says(in GatherState s)
    {
        if (s.Head.Phase == StepKind.Over) return s.InHeap == 0 ? "The heap is gone." : "That was the last round.";
        if (s.Head.Phase == StepKind.Chance) return DiceLie(in s) ? heap.ColourFaces.Length > 0 ? "Which colour?" : "Plus or minus?" : "Roll.";
        var (one, other) = Open(in s);
        if (other >= 0) return "How many? Choose a colour.";
        if (one == Nothing) return "How many? None of that colour is left.";
        string colour = heap.ColourFaces.Length > 0 ? $" {heap.Colours[one]}" : "";
        int moved = Moved(in s, new(0, one)), rolled = s.Rolled.Total;
        return Sign(in s) switch
        {
            SignDieValue.Twice => "As many again: how many then?",
            SignDieValue.Half => "Half of them back: how many is that?",
            '-' => moved == 0 && rolled > 0 ? "How many? There is none to give back." : moved < rolled ? "How many? Give back what there is." : "How many? Give that many back.",
            _ when moved < rolled => moved == 0 ? "How many? More than are left: none this time." : $"How many? Take all{colour} that are left.",
            _ when heap.SaysTotal[s.Head.Mover] => "Take that many. How many then?",
            _ => $"How many? Take that many{colour}.",
        };
    }

    public string Tells(in GatherState before, Move move, bool found)
    {
        int moved = Moved(in before, move);
        string colour = move.Pick < heap.Colours.Length && heap.ColourFaces.Length > 0 ? $" {heap.Colours[move.Pick]}" : "";
        return $"rolled {(Sign(in before) is SignDieValue.Twice or SignDieValue.Half ? SignDieValue.InWords(Sign(in before)) : before.Rolled.Total)}, {(IsMinus(in before) ? "gave back" : "took")} {moved}{colour}";
    }
}
