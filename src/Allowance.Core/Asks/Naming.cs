using Allowance.Core.Forms;

namespace Allowance.Core.Asks;

/// <summary>A number to tap.</summary>
/// <param name="Says">The number, or the tens that it stands for: 30–39.</param>
/// <param name="Ask">What is named by it; null where another tap follows.</param>
public sealed record NumberKey(string Says, int Number, Ask? Ask);

/// <summary>
/// Names what was asked of a child with real things, by at most two taps on numbers: both numbers of a sum, one of a roll,
/// the tens and then the number where there are many.
/// </summary>
/// <param name="Ask">What is named so far, or believed.</param>
/// <param name="Kinds">One ask of each kind that can be asked here, this one's among them.</param>
/// <param name="Tapped">The number tapped first; null where none is.</param>
public sealed record Naming(Ask Ask, IReadOnlyList<Ask> Kinds, int? Tapped, IReadOnlyList<NumberKey> Keys)
{
    private const int MostKeys = 24, MostFirsts = 42, Tens = 10;

    /// <summary>One number tells the ask, be it in two taps.</summary>
    public bool IsOfOne { get; private init; }

    /// <summary>What a kind of ask is called here: with its form, or the other one, where several kinds differ in it.</summary>
    public string Says(Ask kind)
    {
        var others = Kinds.Where(k => k.Kind == kind.Kind).ToList();
        string asks = kind.Kind != AskKind.Say ? kind.Kind.Facts().Asks : kind.Form is Form.Numeral or Form.Word ? "which number it is" : "how many";
        return others.Count < 2 ? asks : $"{asks}, {(others.DistinctBy(k => k.Form).Count() > 1 ? kind.Form : kind.Second).Facts().Label}";
    }

    /// <summary>The same ask as it is noted while nobody has named its numbers: without them, unless there is only one it can be.</summary>
    public static Ask Unnamed(IReadOnlyList<Ask> all, Ask ask)
    {
        var alike = all.Where(ask.IsOfTheSortOf).ToList();
        return alike.Count == 1 ? alike[0] : ask.WithoutNumbers(alike.Max(a => a.Largest));
    }

    /// <param name="all">What can be asked here.</param>
    /// <param name="ask">One of them, or one without its numbers.</param>
    public static Naming Of(IReadOnlyList<Ask> all, Ask ask, int? tapped = null)
    {
        var kinds = all.GroupBy(a => a.WithoutNumbers(0)).Select(g => g.Key == ask.WithoutNumbers(0) ? ask : Unnamed(all, g.First())).OrderBy(a => a.Kind).ThenBy(a => a.Form).ToList();
        var alike = all.Where(ask.IsOfTheSortOf).ToList();
        // Asks of more numbers than others of their kind cannot be tapped with two.
        int fewest = alike.Min(a => a.Count);
        alike = [.. alike.Where(a => a.Count == fewest)];
        var varying = Enumerable.Range(0, alike[0].Count).Where(i => alike.Exists(a => a[i] != alike[0][i])).ToList();
        if (varying.Count is 0 or > 2) return new(ask, kinds, null, []);
        // In a form of fives five and some are seen as the whole.
        bool whole = ask.Kind == AskKind.Join && ask.Form.Facts().Structure == Structure.Fives && alike.TrueForAll(a => a.Count == 2 && (a[0] == 5 || a[1] == 5));
        if (whole) return InTens(ask, kinds, alike, a => a.Total, tapped);
        if (varying is [var one]) return InTens(ask, kinds, alike, a => a[one], tapped);
        // Of numbers whose order does not matter any can be tapped first.
        bool either = ask.Kind is AskKind.Join or AskKind.More or AskKind.Gap or AskKind.Even or AskKind.Times or AskKind.Digits;
        var (p, q) = (varying[0], varying[1]);
        bool Has(Ask a, int n) => a[p] == n || either && a[q] == n;
        // A number that all of them have, as what they are compared with, need not be tapped.
        if (either && new[] { alike[0][p], alike[0][q] }.Where(n => alike.TrueForAll(a => Has(a, n))).ToList() is [var common, ..]) return InTens(ask, kinds, alike, a => a[p] == common ? a[q] : a[p], tapped);
        if (tapped is { } first && alike.Where(a => Has(a, first)).ToList() is [_, ..] left)
            return new(ask, kinds, first, [.. left.Select(a => (Other: a[p] == first ? a[q] : a[p], Ask: a)).DistinctBy(k => k.Other).OrderBy(k => k.Other).Select(k => new NumberKey(k.Other.ToString(), k.Other, k.Ask))]);
        var firsts = alike.SelectMany(a => either ? new[] { a[p], a[q] } : [a[p]]).Distinct().Order().ToList();
        // Two of very many would take more than two taps.
        return new(ask, kinds, null, firsts.Count > MostFirsts ? [] : [.. firsts.Select(n => new NumberKey(n.ToString(), n, null))]);
    }

    private static Naming InTens(Ask ask, IReadOnlyList<Ask> kinds, List<Ask> alike, Func<Ask, int> number, int? tapped)
    {
        var all = alike.DistinctBy(number).OrderBy(number).ToList();
        if (all.Count <= MostKeys) return new(ask, kinds, null, [.. all.Select(Key)]) { IsOfOne = true };
        if (tapped is { } ten && all.Where(a => number(a) / Tens == ten / Tens).ToList() is [_, ..] within) return new(ask, kinds, ten, [.. within.Select(Key)]) { IsOfOne = true };
        return new(ask, kinds, null, [.. all.Select(a => number(a) / Tens * Tens).Distinct().Select(t => new NumberKey($"{t}–{t + Tens - 1}", t, null))]) { IsOfOne = true };

        NumberKey Key(Ask a) => new(number(a).ToString(), number(a), a);
    }
}
