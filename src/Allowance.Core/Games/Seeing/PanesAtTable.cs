using System.Numerics;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The same rules for people at a table.</summary>
internal readonly partial struct PanesRules
{
    public IReadOnlyList<Possible> Possibilities(in PanesState s)
    {
        var open = new List<Possible>();
        for (int call = 0; call < calls; call++)
            if ((call < 64 ? s.CalledLow >> call & 1 : s.CalledHigh >> (call - 64) & 1) == 0) open.Add(new(table.Calls[call], 1, table.Calls[call].ToString()));
        return [.. open.OrderBy(p => p.Outcome)];
    }

    public bool IsLegal(in PanesState s, Move move) => s.Laying ? move == TheRest || move is { Items: 0, First: -1, Pick: >= 0 } && move.Pick < calls && CanLay(in s, move.Pick)
        : s.Head.Phase == StepKind.Choice && move is { Pick: -1, First: -1 } && (move.Items & ~(ulong)Holders(in s)) == 0;

    /// <summary>Everyone who has it covers it; whoever misses hers is left out.</summary>
    public IReadOnlyList<Move> Moves(in PanesState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        if (s.Laying) return [.. Layable(in s).Select(n => new Move(0, n)), TheRest];
        uint holders = Holders(in s);
        var moves = new List<Move>();
        for (uint part = holders; ; part = part - 1 & holders)
        {
            moves.Add(new(part));
            if (part == 0) return moves;
        }
    }

    /// <summary>An item is a pane of a board: 32 times the seat and the pane.</summary>
    public Tapped Read(in PanesState s, IReadOnlyList<int> items)
    {
        if (s.Laying)
        {
            var lay = items.Count == 0 ? default : new Move(0, items[^1] - ToLay);
            return items.Count == 0 ? Tapped.NeedsMore : IsLegal(in s, lay) ? Tapped.As(lay) : Tapped.No("That card does not lie there.");
        }
        uint found = 0;
        foreach (int item in items)
        {
            int seat = item >> 5, pane = item & 31;
            if (seat >= Seats || (Covers(in s, seat) >> pane & 1) == 0) return Tapped.No("That pane does not go with the call. Look again together.");
            found |= 1u << seat;
        }
        return found == Holders(in s) ? Tapped.As(new(found)) : Tapped.SoFar(new(found));
    }

    public IReadOnlyList<Zone> Zones(in PanesState s)
    {
        bool choosing = s.Head.Phase == StepKind.Choice;
        if (s.Laying)
            return
            [
                .. Laid(in s), new CardGrid("Cards to lay", LayInARow, [.. Layable(in s).Select(Card)]) { Wide = CardGrid.AreWide(table.FormBoard) },
                new ChoiceKeys("The rest", [new(ToLay + TheRest.Pick, -1, Forms.Form.None, ItemState.Up, true) { Words = "lay the rest by chance" }]), new Pile("Calls to come", Open(in s)),
            ];
        var zones = new List<Zone>();
        if (choosing) zones.Add(new Stage("The number that is called", [new(s.Call, table.Calls[s.Call], table.FormCall, ItemState.Up, false)]));
        for (int seat = 0; seat < Seats; seat++) zones.Add(Board(in s, seat, choosing));
        if (!choosing) zones.Add(new Pile("Calls to come", Open(in s)));
        return zones;
    }

    /// <summary>The board that is laid, and those that lie.</summary>
    private List<Zone> Laid(in PanesState s)
    {
        var boards = new List<Zone> { Board(in s, s.Head.Mover, false) };
        for (int seat = 0; seat < Seats; seat++)
            if (seat != s.Head.Mover && s.Boards.Laid(seat) > 0) boards.Add(Board(in s, seat, false));
        return boards;
    }

    private const int ToLay = 1000, LayInARow = 10;

    private Item Card(int number) => new(ToLay + number, table.Possible[number], table.FormBoard, ItemState.Up, true);

    private Board Board(in PanesState s, int seat, bool choosing)
    {
        var panes = new List<Item>();
        for (int pane = 0; pane < table.Side * table.Side; pane++)
        {
            bool covered = (s.Covered[seat] >> pane & 1) != 0, empty = table.IsLaid && pane >= s.Boards.Laid(seat);
            int number = !table.IsLaid ? table.Boards[seat][pane] : s.Boards[seat, pane] is >= 0 and var laid ? table.Possible[laid] : -1;
            panes.Add(new(32 * seat + pane, number, table.FormBoard, covered ? ItemState.Taken : ItemState.Up, choosing && !covered && (s.Head.Active >> seat & 1) != 0) { Words = empty && !covered ? "empty" : null });
        }
        return new($"Board {seat + 1}", seat, table.Side, panes);
    }

    public string Says(in PanesState s)
    {
        if (s.Laying) return "Lay your cards as you like.";
        if (s.Head.Phase == StepKind.Chance) return "The next number is called.";
        if (s.Head.Phase == StepKind.Choice) return table.Relation.Asks;
        return AimReached(in s) ? "A full line." : "All is called, and no line is full.";
    }

    public string Tells(in PanesState before, Move move, bool found)
    {
        if (before.Laying) return move == TheRest ? "laid the rest" : $"laid {table.Possible[move.Pick]}";
        int who = BitOperations.PopCount(move.Items);
        return $"called {table.Calls[before.Call]}: {(who == 0 ? "nobody covered it" : $"{Words.Count(who, "player")} covered {table.Possible[before.Call]}")}";
    }
}
