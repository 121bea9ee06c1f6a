using System.Numerics;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <summary>
/// The same as <see cref="HandEquations"/> for the inner loop: everything that every set of a hand's cards makes, as bits, with no step above
/// a number beyond which nobody at a table goes.
/// </summary>
public sealed class HandValues
{
    private readonly int[] hand;
    private readonly IReadOnlyList<Operation> signs;

    // By value, the sets that make it; of cards that are alike they take the first.
    private readonly ulong[] bits;
    private Dictionary<(int Set, int Value), Made>? told;

    /// <param name="most">The largest step; one less than a multiple of 64.</param>
    public HandValues(IReadOnlyList<int> hand, IReadOnlyList<Operation> signs, int most)
    {
        (this.hand, this.signs, Most) = ([.. hand], signs, most);
        bits = new ulong[(Most + 1) * SetWords];
        Span<ulong> all = stackalloc ulong[Words << hand.Count];
        for (int set = 1; set < 1 << hand.Count; set++)
        {
            var made = Of(all, set);
            if ((set & set - 1) == 0)
            {
                int card = hand[BitOperations.TrailingZeroCount(set)];
                for (int n = card == HandEquations.Wild ? 1 : card; n <= (card == HandEquations.Wild ? HandEquations.MostWild : card); n++) made[n >> 6] |= 1UL << n;
                continue;
            }
            // Cards that are alike make the same.
            if (FirstOfAlike<int>(this.hand, set) is var alike && alike != set)
            {
                Of(all, alike).CopyTo(made);
                continue;
            }
            // Each way to part the set once: the first card is always on one side.
            int first = set & -set;
            for (int others = set & ~first, some = others; some != 0; some = some - 1 & others) Join(Of(all, set & ~some), Of(all, some), made);
        }
        for (int set = 0; set < 1 << hand.Count; set++)
        {
            if (FirstOfAlike<int>(this.hand, set) != set) continue;
            for (int value = 0; value <= Most; value++) bits[value * SetWords + (set >> 6)] |= (Of(all, set)[value >> 6] >> value & 1) << set;
        }
    }

    /// <summary>The set that takes the first of cards that are alike and lie beside each other; it comes before those that take others.</summary>
    internal static int FirstOfAlike<TCard>(ReadOnlySpan<TCard> hand, int set) where TCard : IEquatable<TCard>
    {
        for (int i = 1; i < hand.Length; i++)
            for (int at = i; at > 0 && (set >> at & 1) != 0 && (set >> at - 1 & 1) == 0 && hand[at].Equals(hand[at - 1]); at--) set ^= 3 << at - 1;
        return set;
    }

    private int Most { get; }

    private int Words => (Most + 1) / 64;

    private Span<ulong> Of(Span<ulong> all, int set) => all.Slice(set * Words, Words);

    /// <summary>A bit for each set of the hand's cards.</summary>
    private int SetWords => (1 << hand.Length) + 63 >> 6;

    public bool Has(int set, int value) => FirstHas(FirstOfAlike<int>(hand, set), value);

    /// <param name="set">It takes the first of cards that are alike.</param>
    private bool FirstHas(int set, int value) => value >= 0 && value <= Most && (bits[value * SetWords + (set >> 6)] >> set & 1) != 0;

    /// <summary>By value, all sets that make it, a bit for each; of cards that are alike they take the first.</summary>
    internal ulong[] Makings => bits;

    private void Join(ReadOnlySpan<ulong> a, ReadOnlySpan<ulong> b, Span<ulong> made)
    {
        foreach (var sign in signs)
        {
            Each(sign, a, b, made);
            if (sign is Operation.Minus or Operation.By) Each(sign, b, a, made);
        }
    }

    private void Each(Operation sign, ReadOnlySpan<ulong> numbers, ReadOnlySpan<ulong> others, Span<ulong> made)
    {
        for (int word = 0; word < numbers.Length; word++)
            for (ulong rest = numbers[word]; rest != 0; rest &= rest - 1)
            {
                int n = 64 * word + BitOperations.TrailingZeroCount(rest);
                switch (sign)
                {
                    case Operation.Plus: ShiftUp(others, n, made); break;
                    case Operation.Minus: ShiftDown(others, n, made); break;
                    case Operation.Times: Multiply(others, n, made); break;
                    default: Divide(others, n, made); break;
                }
            }
    }

    private void Multiply(ReadOnlySpan<ulong> others, int n, Span<ulong> made)
    {
        for (int m = 0; m <= (n == 0 ? Most : Most / n); m++)
            if ((others[m >> 6] >> m & 1) != 0) made[n * m >> 6] |= 1UL << n * m;
    }

    /// <summary>What is a multiple of a number is divided by it.</summary>
    private void Divide(ReadOnlySpan<ulong> others, int n, Span<ulong> made)
    {
        for (int m = 0; n > 0 && m * n <= Most; m++)
            if ((others[m * n >> 6] >> m * n & 1) != 0) made[m >> 6] |= 1UL << m;
    }

    private static void ShiftUp(ReadOnlySpan<ulong> from, int by, Span<ulong> into)
    {
        int words = by >> 6, some = by & 63;
        for (int i = into.Length - 1; i >= words; i--) into[i] |= from[i - words] << some | (some > 0 && i > words ? from[i - words - 1] >> 64 - some : 0);
    }

    private static void ShiftDown(ReadOnlySpan<ulong> from, int by, Span<ulong> into)
    {
        int words = by >> 6, some = by & 63;
        for (int i = 0; i + words < into.Length; i++) into[i] |= from[i + words] >> some | (some > 0 && i + words + 1 < into.Length ? from[i + words + 1] << 64 - some : 0);
    }

    /// <summary>How a set makes a value, the gentlest signs first; null where it does not.</summary>
    public Made? How(int set, int value)
    {
        if (!Has(set, value)) return null;
        lock (bits)
        {
            told ??= [];
            return told.TryGetValue((set, value), out var known) ? known : told[(set, value)] = Find(set, value);
        }
    }

    private Made Find(int set, int value)
    {
        if ((set & set - 1) == 0) return new(value);
        if (signs.Contains(Operation.Plus) && HandEquations.Sum([.. hand.Where((_, i) => (set >> i & 1) != 0)], value) is { } sum) return sum;
        int first = set & -set;
        foreach (var sign in signs)
            for (int others = set & ~first, some = others; some != 0; some = some - 1 & others)
            {
                int one = FirstOfAlike<int>(hand, set & ~some), other = FirstOfAlike<int>(hand, some);
                for (int a = 0; a <= Most; a++)
                {
                    if (!FirstHas(one, a)) continue;
                    foreach (int b in Others(sign, a, value))
                        if (FirstHas(other, b)) return new(value, sign, sign.Of(a, b) == value ? How(set & ~some, a) : How(some, b), sign.Of(a, b) == value ? How(some, b) : How(set & ~some, a));
                }
            }
        throw new InvalidOperationException($"A set that makes {value} does not say how.");
    }

    /// <summary>What can stand on the other side of a sign, before it or after it.</summary>
    private IEnumerable<int> Others(Operation sign, int a, int value) => sign switch
    {
        Operation.Plus => [value - a],
        Operation.Minus => [a - value, a + value],
        Operation.Times when a == 0 => value == 0 ? Enumerable.Range(0, Most + 1) : [],
        Operation.Times => value % a == 0 ? [value / a] : [],
        _ when value == 0 => a == 0 ? Enumerable.Range(1, Most) : [0],
        _ => a == 0 ? [] : a % value == 0 ? [a / value, a * value] : [a * value],
    };
}
