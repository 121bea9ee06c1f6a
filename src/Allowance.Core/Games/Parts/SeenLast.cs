using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace Allowance.Core.Games;

/// <summary>By place, how many other cards were seen since its own was, those that are taken too: what a short memory holds.</summary>
internal struct SeenLast
{
    private SixtyFour since;

    /// <summary>Nothing was seen.</summary>
    public void Clear() => ((Span<byte>)since).Fill(byte.MaxValue);

    /// <summary>The places whose cards were seen last.</summary>
    /// <param name="span">So many of them.</param>
    /// <param name="places">How many places there are.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public readonly ulong Latest(int span, int places)
    {
        ulong latest = 0;
        for (int from = 0; from < places; from += Vector256<byte>.Count)
            latest |= Less(Vector256.LoadUnsafe(in since[from]), span) << from;
        return latest;
    }

    /// <summary>A card is seen: what was seen since it was last seen is now one card longer ago.</summary>
    /// <returns>The places whose cards were seen last.</returns>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ulong See(int place, int span, int places)
    {
        // No number is written by itself: the next one to read them all at once would wait for it.
        var mine = Vector256.Create(since[place]);
        ulong latest = 0;
        for (int from = 0; from < places; from += Vector256<byte>.Count)
        {
            var all = Vector256.LoadUnsafe(ref since[from]);
            var here = Vector256.Equals(Vector256<byte>.Indices, Vector256.Create((byte)(place - from)));
            all = Vector256.AndNot(all - Vector256.LessThan(all, mine), here);
            all.StoreUnsafe(ref since[from]);
            latest |= Less(all, span) << from;
        }
        return latest;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static ulong Less(Vector256<byte> since, int span) => Vector256.LessThan(since, Vector256.Create((byte)span)).ExtractMostSignificantBits();
}
