using System.Runtime.CompilerServices;
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
    public int DrawFirst(Dictionary<byte, int> ranks, ref Rng rng)
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

    public readonly byte[] Cards => ((ReadOnlySpan<byte>)cards)[..Count].ToArray();

    public readonly IReadOnlyList<Possible> Possibilities =>
        [.. Cards.GroupBy(n => n).OrderBy(g => g.Key).Select(g => new Possible(g.Key, g.Count(), g.Key.ToString()))];
}
