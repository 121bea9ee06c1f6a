using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

internal struct LookalikesRowState
{
    public Head Head;

    /// <summary>The card to be put down: a column, or so many columns later for each form.</summary>
    public byte Last;

    /// <summary>The columns whose number lies, as bits.</summary>
    public uint Row;
    public EightCounts Placed;

    /// <summary>What is still to come: numbers of the row, and cards to be put under them.</summary>
    public DrawPile Numbers, Cards;
}

/// <summary>
/// The rules of Lookalikes in a row: numbers lie in order, or are put in order first, and a pile of cards is sorted under them. A card is
/// its column, and for the forms beneath as many columns later as there are.
/// </summary>
internal readonly struct LookalikesRow(LookalikesTable table) : IRules<LookalikesRowState>
{
    private readonly int columns = table.Numbers.Count;
    private readonly bool ordersFirst = table.Mode == Lookalikes.LineUp;
    private readonly byte[] row = table.Row, under = table.Under;
    private readonly int kinds = table.Kinds;

    /// <summary>What may lie on one side of a number of the row: another column, or none.</summary>
    private readonly int beside = table.Numbers.Count + 1;

    /// <summary>A turn is told by its card, and of a number of the row by what it is put between.</summary>
    private readonly TurnKinds turns = new(Enumerable.Repeat(table.Kinds + (table.Mode == Lookalikes.LineUp ? table.Numbers.Count * Math.Pow(table.Numbers.Count + 1, 2) : 0), table.Seats.Length));
    private readonly LookalikesSeat[] seats = table.Seats;

    public int Seats => seats.Length;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref Head Head(ref LookalikesRowState s) => ref s.Head;

    public void Start(ref LookalikesRowState s, int first)
    {
        // The piles are as good as empty without being cleared.
        s.Head = Rules.Head.At(first, Seats);
        s.Placed = default;
        s.Last = 0;
        s.Row = 0;
        s.Numbers.Count = 0;
        if (ordersFirst) s.Numbers.Fill(row);
        else s.Row = uint.MaxValue >> (32 - columns);
        s.Cards.Fill(under);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref LookalikesRowState s, ref Rng rng) => s.Numbers.Count > 0 ? s.Numbers.Draw(ref rng) : s.Cards.Draw(ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Deal(ref LookalikesRowState s, int outcome)
    {
        s.Last = (byte)outcome;
        if (outcome < columns) s.Numbers.Take(s.Last);
        else s.Cards.Take(s.Last);
        s.Head.Phase = StepKind.Choice;
    }

    private int Column(in LookalikesRowState s) => s.Last % columns;

    /// <summary>It goes where it belongs.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Move Plain(in LookalikesRowState s, ref Rng rng) => new(0, Column(in s));

    public Move Best(in LookalikesRowState s, ref Rng rng) => Plain(in s, ref rng);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Asks(in LookalikesRowState s, Move move, Span<SeatAsk> into)
    {
        var seat = seats[s.Head.Mover];
        if (seat.GrownUp) return 0;
        if (s.Last >= columns) into[0] = new(s.Head.Mover, seat.Under[s.Last - columns]);
        else if (s.Row == 0) return 0;
        else into[0] = new(s.Head.Mover, Between(s.Row, s.Last, seat.Support));
        return 1;
    }

    /// <summary>A number is put between those that lie beside it.</summary>
    private Ask Between(uint row, int column, Support support)
    {
        Span<int> three = stackalloc int[3];
        int n = 0;
        uint below = row & (1u << column) - 1, above = row >> column >> 1;
        if (below != 0) three[n++] = table.Numbers[BitOperations.Log2(below)];
        three[n++] = table.Numbers[column];
        if (above != 0) three[n++] = table.Numbers[column + 1 + BitOperations.TrailingZeroCount(above)];
        return new(AskKind.Order, three[..n], table.FormA, support: support);
    }

    public int TurnKinds => turns.All;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int TurnKind(in LookalikesRowState s, Move move) => turns[s.Head.Mover] + (s.Last >= columns ? s.Last - columns : kinds + Placed(s.Row, s.Last));

    /// <summary>Among all numbers with those beside them; without branches, as what lies there cannot be foreseen.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Placed(uint row, int column)
    {
        // One more than the column below, 0 where there is none; and how far it is to the one above, 0 where there is none.
        int below = 32 - BitOperations.LeadingZeroCount(row & (1u << column) - 1);
        int above = BitOperations.TrailingZeroCount((ulong)(row >> column >> 1) << 1 | 1UL << 63) % 63;
        return (column * beside + below) * beside + above;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float DealSeconds(in LookalikesRowState s) => 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public float MoveSeconds(in LookalikesRowState s, Move move) => Handling.SortCard;

    public bool Seeking(in LookalikesRowState s, Move move) => false;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Apply(ref LookalikesRowState s, Move move, Answered answered)
    {
        if (s.Last < columns) s.Row |= 1u << s.Last;
        s.Placed[s.Head.Mover]++;
        s.Head.Turns++;
        s.Head.NextMover();
        s.Head.Phase = s.Numbers.Count + s.Cards.Count == 0 ? StepKind.Over : StepKind.Chance;
    }

    /// <summary>The card that was turned up is there for whoever is next.</summary>
    public void Arrange(ref LookalikesRowState s, uint before) { }

    public int Points(in LookalikesRowState s, int seat) => s.Placed[seat];

    public bool AimReached(in LookalikesRowState s) => s.Head.Phase == StepKind.Over;

    public int Left(in LookalikesRowState s) => s.Numbers.Count + s.Cards.Count + (s.Head.Phase == StepKind.Choice ? 1 : 0);

    public IReadOnlyList<Possible> Possibilities(in LookalikesRowState s)
    {
        var cards = s.Numbers.Count > 0 ? s.Numbers.Cards : s.Cards.Cards;
        var lookalikes = table;
        return [.. cards.GroupBy(c => c).OrderBy(g => g.Key).Select(g => new Possible(g.Key, g.Count(), lookalikes.RowLabel(g.Key)))];
    }

    public bool IsLegal(in LookalikesRowState s, Move move) => s.Head.Phase == StepKind.Choice && move == new Move(0, Column(in s));

    public IReadOnlyList<Move> Moves(in LookalikesRowState s) => s.Head.Phase == StepKind.Choice ? [new(0, Column(in s))] : [];

    /// <summary>Items are numbered by columns, those beneath after those above.</summary>
    public Tapped Read(in LookalikesRowState s, IReadOnlyList<int> items) =>
        items.Count == 0 ? Tapped.NeedsMore : items[^1] % columns == Column(in s) ? Tapped.As(new(0, Column(in s))) : Tapped.No(s.Last < columns ? "It belongs somewhere else. Look again together." : "That is another one. Look again together.");

    public IReadOnlyList<Zone> Zones(in LookalikesRowState s)
    {
        bool choosing = s.Head.Phase == StepKind.Choice;
        var above = new List<Item>();
        var below = new List<IReadOnlyList<Item>>();
        var toCome = s.Cards.Cards;
        for (int column = 0; column < columns; column++)
        {
            bool lies = (s.Row >> column & 1) != 0, numbers = s.Last < columns;
            above.Add(new(column, lies ? table.Numbers[column] : -1, table.FormA, lies ? ItemState.Up : ItemState.Marked, choosing && !(numbers && lies)));
            var stack = new List<Item>();
            for (int card = column + columns; card < columns + table.Kinds; card += columns)
            {
                int waits = toCome.Count(c => c == card) + (choosing && s.Last == card ? 1 : 0);
                for (int lying = table.Copies - waits; lying > 0; lying--) stack.Add(new(column + columns * (1 + stack.Count), table.RowNumber(card), table.RowForm(card), ItemState.Up, false));
            }
            // First the row, then what belongs under it.
            bool orders = s.Numbers.Count > 0 || choosing && numbers;
            if (!orders && stack.Count < table.Copies * table.Forms.Count) stack.Add(new(column + columns * (1 + stack.Count), -1, table.FormA, ItemState.Marked, choosing));
            below.Add(stack);
        }
        var row = new CardRow("The row", above, below) { Most = table.Copies * table.Forms.Count };
        return choosing ? [new Stage("The card to put down", [new(s.Last, table.RowNumber(s.Last), table.RowForm(s.Last), ItemState.Up, false)]), row] : [row];
    }

    public string Says(in LookalikesRowState s) => s.Head.Phase switch
    {
        StepKind.Over => "Every card lies where it belongs.",
        StepKind.Chance => "Take the next card.",
        _ => s.Last < columns ? "Put it where it belongs in the row." : "Put it under its own.",
    };

    public string Tells(in LookalikesRowState before, Move move, bool found) => before.Last < columns ? $"put {table.RowLabel(before.Last)} into the row" : $"put {table.RowLabel(before.Last)} under {table.RowLabel(Column(in before))}";
}
