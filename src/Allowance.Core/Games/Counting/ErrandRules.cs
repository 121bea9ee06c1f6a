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

[InlineArray(4)]
internal struct RugCounts
{
    private short first;
}

internal struct ErrandState
{
    public Head Head;

    /// <summary>The slips of this trip, and how many were drawn.</summary>
    public byte First, Second, Drawn;

    /// <summary>One more than the colour of this trip; 0 where none was drawn.</summary>
    public byte Colour;

    /// <summary>The slips were read and closed.</summary>
    public bool Closed;

    /// <summary>What lies there: of no colour, and of each.</summary>
    public RugCounts Rug;
    public DrawPile Box;
}

/// <summary>The rules of Errand: slips are drawn and not put back; each trip has one move.</summary>
internal readonly struct ErrandRules(ErrandBox box) : IRules<ErrandState>
{
    public int Seats => box.Seats;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref ErrandState s) => ref s.Head;

    public void Start(ref ErrandState s, int first)
    {
        s = default;
        s.Head = Rules.Head.At(first, Seats);
        s.Box.Fill(box.Slips);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref ErrandState s, ref Rng rng) => 
        HasSlips(in s) ? rng.Below(ErrandBox.Colours.Count) : box.Ranks[s.Head.Mover] is { } ranks ? s.Box.DrawFirst(ranks, ref rng) : s.Box.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool HasSlips(in ErrandState s) => s.Drawn == box.Draws[s.Head.Mover];

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref ErrandState s, int outcome)
    {
        if (HasSlips(in s)) s.Colour = (byte)(outcome + 1);
        else
        {
            s.Box.Take((byte)outcome);
            (s.First, s.Second) = ((byte)outcome, s.First);
            s.Drawn++;
        }
        if (HasSlips(in s) && (s.Colour > 0 || !box.HasColour[s.Head.Mover])) s.Head.Phase = StepKind.Choice;
    }

    private static int Brought(in ErrandState s) => s.First + s.Second;

    private static readonly Move Close = new(1, 0);

    /// <summary>What is to be done: the slip is closed where it stays behind, then she brings that many.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Move Only(in ErrandState s) => !s.Closed && box.Closes[s.Head.Mover] ? Close : new(0, Brought(in s));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in ErrandState s, ref Rng rng) => Only(in s);

    public Move Best(in ErrandState s, ref Rng rng) => Only(in s);

    /// <summary>What the slip says, or both together; bringing it, out of mind where the slip stays behind; and what the others count.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in ErrandState s, Move move, Span<SeatAsk> into)
    {
        int seat = s.Head.Mover, count = 0;
        if (move.Items != 0) return 0;
        if (!box.GrownUp[seat])
        {
            var support = box.Support[seat];
            into[count++] = new(seat, s.Drawn == 2
                ? new Ask(AskKind.Join, Math.Max(s.First, s.Second), Math.Min(s.First, s.Second), Form.Numeral, support)
                : new Ask(AskKind.Say, s.First, Form.Numeral, support: support));
            if (move.Pick > 0) into[count++] = new(seat, box.Fetching(seat, move.Pick));
        }
        if (!box.IsSecret[seat]) return count;
        for (int other = 0; other < Seats; other++)
            if (other != seat && !box.GrownUp[other] && (s.Head.Active >> other & 1) != 0) into[count++] = new(other, new Ask(AskKind.Say, move.Pick, Form.Objects, support: box.Support[other]));
        return count;
    }

    public int TurnKinds => box.Kinds.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in ErrandState s, Move move) => move.Items != 0 ? -1 : box.Kinds[s.Head.Mover] + s.First * box.Numbers + s.Second;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in ErrandState s) => Handling.DrawSlip;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in ErrandState s, Move move) => move.Items != 0 ? 0 : Handling.WalkErrand;

    public bool Seeking(in ErrandState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref ErrandState s, Move move, Answered answered)
    {
        // What was brought before lies there until she goes for the next.
        if (!box.Keep) s.Rug = default;
        if (move.Items != 0)
        {
            s.Closed = true;
            return;
        }
        s.Rug[s.Colour] += (short)move.Pick;
        (s.First, s.Second, s.Drawn, s.Colour, s.Closed) = (0, 0, 0, 0, false);
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = Onwards(in s);
    }

    /// <summary>Over after the last trip, or where the box has too few slips for the next one.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private StepKind Onwards(in ErrandState s) => s.Head.Turns >= box.Trips || s.Box.Count < box.Draws[s.Head.Mover] ? StepKind.Over : StepKind.Chance;

    /// <summary>Slips that were drawn stay out: whoever is next goes this trip instead.</summary>
    public void Arrange(ref ErrandState s, uint before)
    {
        int seat = s.Head.Mover;
        if (s.Drawn == 0) s.Head.Phase = Onwards(in s);
        else if (s.Drawn > box.Draws[seat])
        {
            // One slip too many for her: it stays with the trip it was drawn for.
            s.Second = 0;
            s.Drawn = (byte)box.Draws[seat];
            s.Head.Phase = Ready(in s);
        }
        else s.Head.Phase = s.Drawn < box.Draws[seat] && s.Box.Count < box.Draws[seat] - s.Drawn ? StepKind.Over : Ready(in s);
    }

    private StepKind Ready(in ErrandState s) => HasSlips(in s) && (s.Colour > 0 || !box.HasColour[s.Head.Mover]) ? StepKind.Choice : StepKind.Chance;

    public int Points(in ErrandState s, int seat) => 0;

    public bool AimReached(in ErrandState s) => s.Head.Phase == StepKind.Over;

    public int Left(in ErrandState s) => s.Head.Phase == StepKind.Over ? 0 : box.Trips - s.Head.Turns;

    /// <summary>The box.</summary>
    public int Things(in ErrandState s) => 1;

    public IReadOnlyList<Possible> Possibilities(in ErrandState s) => HasSlips(in s) ? [.. ErrandBox.Colours.Select((c, i) => new Possible(i, 1, c))] : s.Box.Possibilities;

    public bool IsLegal(in ErrandState s, Move move) => s.Head.Phase == StepKind.Choice && move == Only(in s);

    public IReadOnlyList<Move> Moves(in ErrandState s) => s.Head.Phase == StepKind.Choice ? [Only(in s)] : [];

    public Tapped Read(in ErrandState s, IReadOnlyList<int> items) => s.Head.Phase == StepKind.Choice && Only(in s) == Close && items.Count > 0 ? Tapped.As(Close) : Tapped.NeedsMore;

    public IReadOnlyList<Zone> Zones(in ErrandState s)
    {
        var drawn = new List<Item>();
        // Read as long as she likes, and then closed by a tap.
        var state = s.Closed ? ItemState.Down : ItemState.Up;
        bool closes = s.Head.Phase == StepKind.Choice && Only(in s) == Close;
        if (s.Drawn > 0) drawn.Add(new(0, s.First, Form.Numeral, state, closes));
        if (s.Drawn == 2) drawn.Add(new(1, s.Second, Form.Numeral, state, closes));
        if (s.Colour > 0) drawn.Add(new(2, s.Colour - 1, Form.None, state, closes) { Words = ErrandBox.Colours[s.Colour - 1] });
        return [new Trip("The box and the rug", drawn, RugLots(in s))];
    }

    private static List<Lot> RugLots(in ErrandState s)
    {
        var lots = new List<Lot>();
        for (int c = 0; c < ErrandBox.Colours.Count; c++) lots.Add(new(ErrandBox.Colours[c], s.Rug[c + 1]));
        lots.Add(new("", s.Rug[0]));
        return lots;
    }

    public string Says(in ErrandState s)
    {
        if (s.Head.Phase == StepKind.Over) return "That was the last trip.";
        if (s.Head.Phase == StepKind.Chance) return HasSlips(in s) ? "Which colour?" : "Draw a slip.";
        int seat = s.Head.Mover;
        if (Only(in s) == Close) return "Read it, and close it.";
        string bring = s.Colour > 0 ? "Bring that many, all of that colour." : s.Drawn == 2 ? "How many together? Bring them." : box.Level[seat] == Errand.Open ? "Bring that many." : "Keep it in mind; bring that many.";
        return box.IsSecret[seat] ? "Bring them; the others count. Show the slip." : bring;
    }

    public string Tells(in ErrandState before, Move move, bool found) =>
        move.Items != 0 ? "read the slip" : (before.Drawn == 2 ? $"drew {before.First} and {before.Second}, brought {move.Pick}" : $"brought {move.Pick}") + (before.Colour > 0 ? $", {ErrandBox.Colours[before.Colour - 1]}" : "");
}
