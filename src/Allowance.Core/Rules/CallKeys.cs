namespace Allowance.Core.Rules;

/// <summary>A key of the two by which a call is entered.</summary>
/// <param name="Outcome">The call that is made by it; null where a second key is wanted.</param>
/// <param name="How">What stands on it in place of its number, where the number is tapped already.</param>
public sealed record CallKey(int Number, int? Outcome, string? How = null)
{
    public string Says => How ?? Number.ToString();
}

/// <summary>A call that was made aloud, or two dice that were rolled, entered by tapping its two numbers, or its number and how it is come by.</summary>
/// <param name="Tapped">The first number; null where none is tapped.</param>
public sealed record CallKeys(int? Tapped, IReadOnlyList<CallKey> Keys)
{
    private const int MostKeys = 42;

    /// <summary>All calls have the other number, so that one tap makes the call.</summary>
    public bool IsOfOne { get; private init; }

    /// <summary>A call is one number, and where that is not enough a second key says how it is come by.</summary>
    public bool AsksHow { get; private init; }

    /// <returns>Null where two keys do not tell the calls apart.</returns>
    public static CallKeys? Of(IReadOnlyList<Possible> calls, int? tapped = null)
    {
        if (calls.All(c => c.Called is not null)) return OfCalled(calls.ToLookup(c => c.Called!.Value.Number), tapped);
        if (calls.Any(c => c.Numbers is null)) return null;
        var pairs = calls.Select(c => (c.Numbers!.Value.One, c.Numbers.Value.Other, c.Outcome)).ToList();
        if (new[] { pairs[0].One, pairs[0].Other }.Where(n => pairs.TrueForAll(p => p.One == n || p.Other == n)).ToList() is [var common, ..])
        {
            var others = pairs.Select(p => new CallKey(p.One == common ? p.Other : p.One, p.Outcome)).OrderBy(k => k.Number).ToList();
            return others.DistinctBy(k => k.Number).Count() < others.Count ? null : new(null, others) { IsOfOne = true };
        }
        // In any order, unless the other way round is another call.
        bool either = pairs.DistinctBy(p => (Math.Max(p.One, p.Other), Math.Min(p.One, p.Other))).Count() == pairs.Count;
        if (!either && pairs.DistinctBy(p => (p.One, p.Other)).Count() < pairs.Count) return null;
        if (either) pairs.AddRange([.. pairs.Where(p => p.One != p.Other).Select(p => (p.Other, p.One, p.Outcome))]);
        if (tapped is { } first && pairs.Where(p => p.One == first).OrderBy(p => p.Other).ToList() is [_, ..] seconds) return new(first, [.. seconds.Select(p => new CallKey(p.Other, p.Outcome))]);
        int[] firsts = [.. pairs.Select(p => p.One).Distinct().Order()];
        return firsts.Length > MostKeys ? null : new(null, [.. firsts.Select(n => new CallKey(n, null))]);
    }

    /// <summary>A number that is come by in one way only needs no second key.</summary>
    private static CallKeys? OfCalled(ILookup<int, Possible> calls, int? tapped) =>
        tapped is { } number && calls[number].Count() > 1 ? new(number, [.. calls[number].Select(c => new CallKey(number, c.Outcome, c.Called!.Value.How))]) { AsksHow = true }
        : calls.Count > MostKeys ? null : new(null, [.. calls.OrderBy(n => n.Key).Select(n => new CallKey(n.Key, n.ToList() is [var only] ? only.Outcome : null))]) { AsksHow = true };
}
