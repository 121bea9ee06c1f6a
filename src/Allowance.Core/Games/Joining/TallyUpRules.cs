using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct TallyState
{
    public Head Head;

    /// <summary>What the piece is worth that was taken and is not written yet.</summary>
    public short Taken;
    public EightNumbers Sum;
    public DrawPile Pile;
}

/// <summary>The rules of Tally Up: take a piece, and write what it is worth.</summary>
internal readonly struct TallyRules(TallyTable table) : IRules<TallyState>
{
    public int Seats => table.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref TallyState s) => ref s.Head;

    public void Start(ref TallyState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        for (int seat = 0; seat < Seats; seat++) s.Sum[seat] = table.HeadStart[seat];
        s.Pile.Fill(table.Worths);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref TallyState s, ref Rng rng) => s.Pile.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref TallyState s, int outcome)
    {
        s.Pile.Take((byte)outcome);
        s.Taken = (short)outcome;
        s.Head.Phase = StepKind.Choice;
    }

    private static Move Written => new(0, 0);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in TallyState s, ref Rng rng) => Written;

    public Move Best(in TallyState s, ref Rng rng) => Written;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in TallyState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover;
        if (table.GrownUp[seat]) return 0;
        // With nothing yet, or nothing more, there is only the piece to read.
        into[0] = new(seat, s.Sum[seat] == 0 || s.Taken == 0 ? new Ask(AskKind.Say, s.Taken, Form.Numeral, support: table.Support[seat]) : new Ask(AskKind.On, s.Sum[seat], s.Taken, table.Record[seat], table.Support[seat]));
        return 1;
    }

    public int TurnKinds => table.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in TallyState s, Move move) => table.Kinds[s.Head.Mover] + s.Sum[s.Head.Mover] * (table.Most + 1) + s.Taken;

    public float DealSeconds(in TallyState s) => Handling.DrawSlip;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in TallyState s, Move move) => Handling.MoveOne * s.Taken;

    public bool Seeking(in TallyState s, Move move) => false;

    /// <summary>Past a goal that must be met exactly, a piece is laid aside.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool Counts(in TallyState s) => !table.IsExact[s.Head.Mover] || s.Sum[s.Head.Mover] + s.Taken <= table.Goals[s.Head.Mover];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref TallyState s, Move move, Answered answered)
    {
        int seat = s.Head.Mover;
        if (Counts(in s)) s.Sum[seat] += s.Taken;
        s.Taken = 0;
        s.Head.Turns++;
        if (s.Sum[seat] >= table.Goals[seat]) s.Head.Phase = StepKind.Over;
        else GoOn(ref s);
    }

    private static void GoOn(ref TallyState s)
    {
        s.Head.Phase = s.Pile.Count == 0 ? StepKind.Over : StepKind.Chance;
        s.Head.Stuck |= s.Pile.Count == 0;
        if (s.Pile.Count > 0) s.Head.NextMover();
    }

    public void Arrange(ref TallyState s, uint before)
    {
        foreach (int seat in s.Head.New(before)) s.Sum[seat] = table.HeadStart[seat];
        // A piece that was taken by somebody who left stays out.
        s.Taken = 0;
        s.Head.Phase = s.Pile.Count == 0 || AimReached(in s) ? StepKind.Over : StepKind.Chance;
    }

    public int Points(in TallyState s, int seat) => s.Sum[seat];

    public bool AimReached(in TallyState s)
    {
        for (int seat = 0; seat < Seats; seat++)
            if (s.Sum[seat] >= table.Goals[seat]) return true;
        return false;
    }

    public int Left(in TallyState s) => s.Pile.Count;

    /// <summary>The goal is one for all.</summary>
    public int Things(in TallyState s) => 1;

    public IReadOnlyList<Possible> Possibilities(in TallyState s) => s.Pile.Possibilities;

    public bool IsLegal(in TallyState s, Move move) => s.Head.Phase == StepKind.Choice && move == Written;

    public IReadOnlyList<Move> Moves(in TallyState s) => s.Head.Phase == StepKind.Choice ? [Written] : [];

    public Tapped Read(in TallyState s, IReadOnlyList<int> items) => Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in TallyState s)
    {
        var places = new List<NearPlace>();
        var (pieces, flags) = (new List<Piece>(), new SortedSet<int>());
        int? goal = table.Goals.Distinct().Count() == 1 ? table.Goals[0] : null;
        int furthest = 0;
        for (int seat = 0; seat < Seats; seat++)
        {
            int sum = s.Sum[seat];
            if (table.Record[seat] == Form.Line)
            {
                pieces.Add(new(seat, sum));
                flags.Add(table.Goals[seat]);
                furthest = Math.Max(furthest, Math.Max(sum, table.Goals[seat] + (table.IsExact[seat] ? 0 : table.Most - 1)));
                continue;
            }
            var form = Pictures.CanDraw(table.Record[seat], sum) && sum > 0 ? table.Record[seat] : Form.Numeral;
            places.Add(new(seat, new(seat, sum, form, ItemState.Up, false), [], 0) { Own = goal is null ? table.Goals[seat] : null });
        }
        var zones = new List<Zone> { new Heap("The pieces", [new("", s.Pile.Count)]) };
        if (s.Head.Phase == StepKind.Choice) zones.Add(new Stage("The piece", [new(0, s.Taken, Form.Numeral, ItemState.Up, false)]));
        if (places.Count > 0) zones.Add(new NearMarks("The scores", goal, places, "what she has"));
        if (pieces.Count > 0) zones.Add(new NumberLine($"The line to {Words.List(flags.Select(f => $"{f}"))}", 0, furthest, furthest <= 30 ? LineLabels.All : LineLabels.Fives) { Pieces = pieces, Flagged = flags });
        return zones;
    }

    public string Says(in TallyState s) => s.Head.Phase switch
    {
        StepKind.Over => AimReached(in s) ? "That is enough." : "The box is empty: who is nearest?",
        StepKind.Chance => "Take a piece.",
        _ => !Counts(in s) ? "Is that past the goal? Lay it aside." : "How many do you have now?",
    };

    public string Tells(in TallyState before, Move move, bool found) =>
        Counts(in before) ? $"took {before.Taken}, now {before.Sum[before.Head.Mover] + before.Taken}" : $"took {before.Taken}, laid aside";
}
