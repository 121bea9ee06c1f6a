using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

[InlineArray(Deck.MostCards)]
internal struct PackCards
{
    private byte first;
}

[InlineArray(64)]
internal struct SixtyFour
{
    private byte first;
}

[InlineArray(64)]
internal struct SixtyFourSets
{
    private ulong first;
}

[InlineArray(Engine.MostSeats)]
internal struct EightCounts
{
    private short first;
}

[InlineArray(Engine.MostSeats)]
internal struct EightNumbers
{
    private int first;
}

/// <summary>
/// The cards nobody has seen yet. They are a multiset: a card has no place in the pile until it is turned, so a referee
/// may type in what real cards show.
/// </summary>
internal struct DrawPile
{
    public short Count;
    private PackCards cards;

    public void Fill(ReadOnlySpan<byte> pack)
    {
        pack.CopyTo((Span<byte>)cards);
        Count = (short)pack.Length;
    }

    /// <summary>Draws a card, each equally likely, and lays it last, where <see cref="Take"/> finds it at once.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Draw(ref Rng rng)
    {
        int pick = rng.Below(Count), last = Count - 1;
        byte drawn = cards[pick];
        cards[pick] = cards[last];
        cards[last] = drawn;
        return drawn;
    }

    /// <summary>How many cards go up to a number.</summary>
    public readonly int UpTo(int number)
    {
        int there = 0;
        foreach (byte card in ((ReadOnlySpan<byte>)cards)[..Count]) there += card <= number ? 1 : 0;
        return there;
    }

    /// <summary>Draws one of the cards up to a number, each equally likely, and lays it last.</summary>
    public int DrawUpTo(int number, ref Rng rng)
    {
        int left = rng.Below(UpTo(number)), last = Count - 1, at = 0;
        while (cards[at] > number || left-- > 0) at++;
        byte drawn = cards[at];
        cards[at] = cards[last];
        cards[last] = drawn;
        return drawn;
    }

    /// <summary>Draws one of those that come first, each equally likely, and lays it last.</summary>
    /// <param name="ranks">By number; the lowest comes first.</param>
    public int DrawFirst(ReadOnlySpan<byte> ranks, ref Rng rng)
    {
        int first = int.MaxValue, at = 0, last = Count - 1, alike = 0;
        for (int i = 0; i < Count; i++)
        {
            int rank = ranks[cards[i]];
            if (rank < first) (first, alike) = (rank, 0);
            // One of those that are alike, whichever has come so far.
            if (rank == first && rng.Below(++alike) == 0) at = i;
        }
        byte drawn = cards[at];
        cards[at] = cards[last];
        cards[last] = drawn;
        return drawn;
    }

    /// <summary>Takes a card with this number away.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Take(byte number)
    {
        int last = --Count;
        if (cards[last] != number) cards[((Span<byte>)cards).IndexOf(number)] = cards[last];
    }

    public readonly NumberBag Bag => NumberBag.Of(((ReadOnlySpan<byte>)cards)[..Count]);

    public readonly byte[] Cards => ((ReadOnlySpan<byte>)cards)[..Count].ToArray();

    public readonly IReadOnlyList<Possible> Possibilities =>
        [.. Cards.GroupBy(n => n).OrderBy(g => g.Key).Select(g => new Possible(g.Key, g.Count(), g.Key.ToString()))];
}

/// <summary>
/// A pile for each player, of at most a pack with its jokers. As in <see cref="DrawPile"/>, a card has no place in it until it is turned.
/// </summary>
internal struct OwnPiles
{
    /// <summary>The most cards in one of them.</summary>
    public const int Most = Deck.MostCards / Engine.MostSeats;

    private EightCounts counts;
    private PackCards cards;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private Span<byte> Of(int seat) => MemoryMarshal.CreateSpan(ref Unsafe.Add(ref Unsafe.As<PackCards, byte>(ref cards), seat * Most), counts[seat]);

    public readonly int Count(int seat) => counts[seat];

    public readonly int Total
    {
        get
        {
            int total = 0;
            for (int seat = 0; seat < Engine.MostSeats; seat++) total += counts[seat];
            return total;
        }
    }

    public void Fill(int seat, ReadOnlySpan<byte> pile)
    {
        counts[seat] = (short)pile.Length;
        pile.CopyTo(Of(seat));
    }

    /// <summary>Draws a card, each equally likely, and lays it last, where <see cref="Take"/> finds it at once.</summary>
    public int Draw(int seat, ref Rng rng)
    {
        var pile = Of(seat);
        int pick = rng.Below(pile.Length);
        (pile[pick], pile[^1]) = (pile[^1], pile[pick]);
        return pile[^1];
    }

    /// <summary>Takes a card with this number away.</summary>
    public void Take(int seat, byte number)
    {
        var pile = Of(seat);
        if (pile[^1] != number) pile[pile.IndexOf(number)] = pile[^1];
        counts[seat]--;
    }

    /// <summary>Who comes gets every second card, by their numbers, of the largest pile.</summary>
    public void ShareWith(int seat)
    {
        int from = 0;
        for (int other = 1; other < Engine.MostSeats; other++)
            if (counts[other] > counts[from]) from = other;
        var pile = Of(from);
        pile.Sort();
        int given = pile.Length / 2;
        Span<byte> theirs = stackalloc byte[Most];
        for (int i = 0; i < given; i++) theirs[i] = pile[2 * i + 1];
        for (int i = 0; i < pile.Length - given; i++) pile[i] = pile[2 * i];
        counts[from] -= (short)given;
        Fill(seat, theirs[..given]);
    }

    public IReadOnlyList<Possible> Possibilities(int seat) =>
        [.. Of(seat).ToArray().GroupBy(n => n).OrderBy(g => g.Key).Select(g => new Possible(g.Key, g.Count(), g.Key.ToString()))];
}
