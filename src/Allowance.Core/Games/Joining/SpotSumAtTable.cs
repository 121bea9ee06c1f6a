using System.Numerics;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The same rules for people at a table.</summary>
internal readonly partial struct SpotSumRules
{
    public IReadOnlyList<Possible> Possibilities(in SpotSumState s) => Fills(in s) ? s.Pile.Possibilities
        : Named(CanBeCalled(in s), plainly: table.Places[s.Head.Mover].Ops.Length == 1);

    private static IReadOnlyList<Possible> Named(List<(Called Op, int Number, int Ways, int Rank)> calls, bool plainly) =>
        [.. calls.Select(c => new Possible((int)c.Op * OpStep + c.Number, c.Ways, plainly ? $"{c.Number}" : Named(c.Op, c.Number)) { IsCall = true, Called = plainly ? null : (c.Number, How(c.Op)) })];

    private static string Named(Called op, int number) => $"{number} {How(op)}";

    private static string How(Called op) => op switch { Called.Sum => "together", Called.Difference => "apart", _ => "by multiplying" };

    /// <summary>What can be called for the mover, with the number of sets of cards that come to it and how early it should be.</summary>
    private List<(Called Op, int Number, int Ways, int Rank)> CanBeCalled(in SpotSumState s)
    {
        var laid = table;
        var seat = laid.Places[s.Head.Mover];
        int[] cards = [.. ((ReadOnlySpan<byte>)s.Places)[..laid.Layout.Places].ToArray().Where(c => c != PartnersTable.Nothing).Select(c => (int)c)];
        var found = new SortedDictionary<(Called Op, int Number), (int Ways, int Rank)>();
        foreach (var op in seat.Ops)
            for (int i = 0; i < cards.Length; i++)
                for (int j = i + 1; j < cards.Length; j++)
                {
                    if (seat.Count == 2) Look(op, cards[i], cards[j], 0);
                    else
                        for (int k = j + 1; k < cards.Length; k++) Look(op, cards[i], cards[j], cards[k]);
                }
        return [.. found.Select(f => (f.Key.Op, f.Key.Number, f.Value.Ways, f.Value.Rank))];

        void Look(Called op, int a, int b, int c)
        {
            int number = SpotSumTable.Come(op, seat.Count, a, b, c);
            if (number > seat.CallTo) return;
            if (seat.Count == 3) (a, b, c) = Falling(a, b, c);
            int rank = seat.Ranks?[laid.Kind(seat, op, Lead(seat, op, a, b), Other(seat, op, a, b), c)] ?? 0;
            var (ways, least) = found.GetValueOrDefault((op, number), (0, int.MaxValue));
            found[(op, number)] = (ways + 1, Math.Min(least, rank));
        }
    }

    /// <summary>Before a call, what may be called and what of it fits her best.</summary>
    public IReadOnlyList<string> Helps(in SpotSumState s)
    {
        if (s.Head.Phase != StepKind.Chance || Fills(in s)) return [];
        var seat = table.Places[s.Head.Mover];
        return [.. CanBeCalled(in s).OrderBy(c => c.Rank).ThenByDescending(c => c.Ways).ThenBy(c => c.Number).Select(c =>
            $"{(seat.Ops.Length == 1 ? $"{c.Number}" : Named(c.Op, c.Number))}, found in {Words.Count(c.Ways, "way")}{(c.Rank == 0 && seat.Ranks is not null ? ", just right for her" : "")}")];
    }

    public bool IsLegal(in SpotSumState s, Move move)
    {
        if (s.Head.Phase != StepKind.Choice) return false;
        if (move.IsPass) return true;
        int count = table.Places[s.Head.Mover].Count;
        if ((move.Items & ~s.Cards) != 0 || BitOperations.PopCount(move.Items) != count || move.First is < 0 or > 63 || (move.Items >> move.First & 1) == 0) return false;
        var (a, b, c) = Numbers(in s, move);
        return SpotSumTable.Come(s.Op, count, a, b, c) == s.Number;
    }

    public IReadOnlyList<Move> Moves(in SpotSumState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        var state = s;
        var rules = this;
        int count = table.Places[s.Head.Mover].Count;
        return [.. Enumerable.Range(0, Set(in s, -1, out _)).Select(i =>
        {
            rules.Set(in state, i, out var set);
            return Taking(in state, set, count, lowFirst: false);
        })];
    }

    public Tapped Read(in SpotSumState s, IReadOnlyList<int> items)
    {
        ulong cards = s.Cards, set = 0;
        foreach (int item in items)
        {
            if (item is < 0 or > 63 || (cards >> item & 1) == 0) return Tapped.No("There is no card at that place.");
            set |= 1UL << item;
        }
        int count = table.Places[s.Head.Mover].Count;
        if (BitOperations.PopCount(set) < count) return Tapped.NeedsMore;
        var move = new Move(set, -1, items[0]);
        if (IsLegal(in s, move)) return Tapped.As(move);
        if (BitOperations.PopCount(set) > count) return Tapped.No($"Only {NumberWords.Of(count)} cards are looked for. Look again together.");
        var (a, b, c) = Numbers(in s, move);
        int come = SpotSumTable.Come(s.Op, count, a, b, c);
        return Tapped.No(count == 3 ? $"{a}, {b} and {c} make {come}, not {s.Number}. Look again together."
            : s.Op == Called.Difference ? $"{a} and {b} are {come} apart, not {s.Number}. Look again together."
            : s.Op == Called.Sum ? $"{a} and {b} make {come}, not {s.Number}. Look again together." : $"{a} times {b} is {come}, not {s.Number}. Look again together.");
    }

    public IReadOnlyList<Zone> Zones(in SpotSumState s)
    {
        var (state, form) = (s, table.Form);
        bool choosing = s.Head.Phase == StepKind.Choice;
        var zones = new List<Zone>();
        if (choosing) zones.Add(new Stage("The number that was called", [new(CalledNumber, s.Number, Form.Numeral, ItemState.Up, false)]));
        zones.Add(new CardGrid("Cards on the table", table.Layout.Columns, [.. Enumerable.Range(0, table.Layout.Places).Select(i =>
        {
            bool card = (state.Cards >> i & 1) != 0;
            return new Item(i, card ? state.Places[i] : -1, form, card ? ItemState.Up : ItemState.Gone, choosing && card);
        })]) { Wide = CardGrid.AreWide(table.Form) });
        if (s.Stock > 0) zones.Add(new Pile("Cards to come", s.Stock));
        return zones;
    }

    /// <summary>The item that is no card.</summary>
    private const int CalledNumber = 100;

    public string Says(in SpotSumState s) => s.Head.Phase switch
    {
        StepKind.Over => AimReached(in s) ? s.Aside == 0 ? "All cards are taken." : "No cards are left." : "Nothing can be called any more.",
        StepKind.Chance => Fills(in s) ? s.Head.Turns == 0 ? "Lay out the cards." : "Lay new cards in the gaps." : "Somebody calls a number.",
        _ => (table.Places[s.Head.Mover].Count, s.Op) switch
        {
            (3, Called.Sum) => $"Which three make {s.Number}?",
            (3, _) => $"Which three make {s.Number}, all times each other?",
            (_, Called.Sum) => $"Which two make {s.Number}?",
            (_, Called.Difference) => s.Number == 0 ? "Which two are the same?" : $"Which two are {s.Number} apart?",
            _ => $"Which two, one times the other, make {s.Number}?",
        },
    };

    public string Tells(in SpotSumState before, Move move, bool found)
    {
        bool taken = found && !move.IsPass;
        var (a, b, c) = Numbers(in before, move.IsPass ? Shown(in before) : move);
        string cards = table.Places[before.Head.Mover].Count == 3 ? $"{a}, {b} and {c}" : $"{a} and {b}";
        return taken ? $"took {cards}" : $"{before.Number} was not found this time: {cards}";
    }
}
