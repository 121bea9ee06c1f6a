using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>
/// Several players in turn at one row of gates, choosing evenly among what goes: who cannot move is out, and the last one in wins. Worked
/// out from the fewest open gates on, as chances of those who are still in, in the order in which they come.
/// </summary>
public sealed class GateRace
{
    /// <summary>Who is still in, the one to roll first: which row is hers by her dice, and where it goes when she moved or is out.</summary>
    private sealed record Order(int[] Seats, int Row, int Moved, int Out, int At);

    private readonly List<Order> orders = [];
    private readonly Dictionary<string, int> known = [];
    private readonly IReadOnlyList<GateRow> rows;
    private readonly int[] rowOf;
    private readonly bool again, alike;
    private readonly int width;
    private readonly double[] chances;
    private readonly int start;

    /// <param name="rows">The gates with each kind of dice; <paramref name="rowOf"/>: by seat, hers.</param>
    /// <param name="again">A double rolls again after its move.</param>
    /// <param name="first">Who rolls first.</param>
    public GateRace(IReadOnlyList<GateRow> rows, IReadOnlyList<int> rowOf, bool again, int first, Spending spending)
    {
        (this.rows, this.rowOf, this.again) = (rows, [.. rowOf], again);
        alike = rows.Count == 1;
        start = Of([.. Enumerable.Range(0, rowOf.Count).Select(i => (first + i) % rowOf.Count)]);
        width = orders.Sum(o => o.Seats.Length);
        int full = rows[0].Full;
        spending.Hold(8L * width * (full + 1));
        chances = new double[(full + 1) * width];
        First = first;
        Work(full, spending);
    }

    /// <summary>Who rolled first.</summary>
    public int First { get; }

    /// <summary>Where all have the same dice only the number of those who are in matters.</summary>
    private int Of(int[] seats)
    {
        string key = alike ? $"{seats.Length}" : string.Join(',', seats);
        if (known.TryGetValue(key, out int index)) return index;
        if (seats.Length == 1) return Put(key, seats, -1);
        // A round of moves comes back to the same order: it is named before those that follow are looked for.
        index = Put(key, seats, Of(seats[1..]));
        int moved = Of([.. seats[1..], seats[0]]);
        orders[index] = orders[index] with { Moved = moved };
        return index;
    }

    private int Put(string key, int[] seats, int isOut)
    {
        known[key] = orders.Count;
        orders.Add(new(seats, rowOf[seats[0]], -1, isOut, orders.Sum(o => o.Seats.Length)));
        return orders.Count - 1;
    }

    /// <summary>What a roll of one kind of dice may shut at some open gates.</summary>
    private sealed class Choices(GateRow row)
    {
        private readonly int[] counts = new int[row.Keys];

        public int[] Keys { get; } = new int[row.MostLegal];

        public int[] Sets { get; } = new int[row.MostLegal];

        public int Count { get; private set; }

        /// <summary>By key, the chance of each of its sets: after a double that rolls again, and else.</summary>
        public double[] Stays { get; } = new double[row.Keys];

        public double[] Moves { get; } = new double[row.Keys];

        /// <summary>The chance that nothing goes.</summary>
        public double None { get; private set; }

        public void Look(int open, bool again)
        {
            Count = row.Legal(open, Keys, Sets);
            for (int i = 0; i < Count; i++) counts[Keys[i]]++;
            None = 0;
            Array.Clear(Stays);
            Array.Clear(Moves);
            foreach (var roll in row.Rolls(open))
            {
                if (counts[roll.Key] == 0) None += roll.Chance;
                else (again && roll.IsDouble ? Stays : Moves)[roll.Key] += roll.Chance / counts[roll.Key];
            }
            for (int i = 0; i < Count; i++) counts[Keys[i]] = 0;
        }
    }

    private void Work(int full, Spending spending)
    {
        var choices = rows.Select(r => new Choices(r)).ToList();
        foreach (var alone in orders.Where(o => o.Seats.Length == 1))
            for (int open = 0; open <= full; open++) chances[open * width + alone.At] = 1;
        // Fewer who are in come first, as somebody out leads there.
        var inTurn = orders.Where(o => o.Seats.Length > 1).OrderBy(o => o.Seats.Length).ToList();
        for (int open = 1; open <= full; open++)
        {
            spending.Check();
            foreach (var choice in choices) choice.Look(open, again);
            foreach (var order in inTurn) Weigh(order, open, choices[order.Row]);
        }
    }

    private void Weigh(Order order, int open, Choices choices)
    {
        int last = order.Seats.Length - 1;
        var sum = chances.AsSpan(open * width + order.At, last + 1);
        var without = chances.AsSpan(open * width + orders[order.Out].At, last);
        for (int i = 0; i < last; i++) sum[i + 1] += choices.None * without[i];
        for (int k = 0; k < choices.Count; k++)
        {
            int to = open & ~choices.Sets[k];
            double moves = choices.Moves[choices.Keys[k]], stays = choices.Stays[choices.Keys[k]];
            if (to == 0)
            {
                // Who shuts the last gate leaves the others without a move.
                sum[0] += moves + stays;
                continue;
            }
            if (moves > 0)
            {
                var after = chances.AsSpan(to * width + orders[order.Moved].At, last + 1);
                sum[0] += moves * after[last];
                for (int i = 0; i < last; i++) sum[i + 1] += moves * after[i];
            }
            if (stays > 0)
            {
                var after = chances.AsSpan(to * width + order.At, last + 1);
                for (int i = 0; i <= last; i++) sum[i] += stays * after[i];
            }
        }
    }

    /// <summary>By seat, the chance to be the last one in, from all gates open.</summary>
    public double[] WinChance()
    {
        var seats = new double[rowOf.Length];
        int full = rows[0].Full;
        for (int i = 0; i < rowOf.Length; i++) seats[(First + i) % rowOf.Length] = chances[full * width + orders[start].At + i];
        return seats;
    }
}
