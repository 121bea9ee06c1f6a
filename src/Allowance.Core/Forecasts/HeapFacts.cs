using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>A face of a colour die: one colour, or two; −1 where there is none, or none of it in the heap.</summary>
internal readonly record struct HeapFace(int One, int Other);

/// <summary>Exact answers about a heap that is rolled away.</summary>
/// <param name="pieces">How many of each colour.</param>
/// <param name="faces">Of the colour die; none where there is none.</param>
/// <param name="dice">What each seat rolls.</param>
/// <param name="exact">A roll larger than what is left takes none.</param>
internal sealed class HeapFacts(int[] pieces, HeapFace[] faces, Dice[] dice, bool exact)
{
    public const double MostStates = 20_000;

    private const double Negligible = 1e-13, Nothing = 1e-18;
    private const int MostRolls = 200_000;

    /// <summary>In how many ways the heap can lie.</summary>
    public double States => pieces.Aggregate(1.0, (n, p) => n * (p + 1));

    /// <summary>How many a roll takes of what is left.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Taken(int roll, int left, bool exact) => roll <= left ? roll : exact ? 0 : left;

    /// <summary>The better of two colours: what brings more, then of what more is left, then the first.</summary>
    public static int Better(int roll, int one, int leftOfOne, int other, int leftOfOther, bool exact)
    {
        int gain = Taken(roll, leftOfOne, exact).CompareTo(Taken(roll, leftOfOther, exact));
        return (gain != 0 ? gain : leftOfOne.CompareTo(leftOfOther)) >= 0 ? one : other;
    }

    /// <summary>A number left of some colour that can be met and that no dice at the table roll; null where there is none.</summary>
    public int? NeverTaken()
    {
        var rolls = dice.SelectMany(d => d.Likely()).Select(r => r.Roll).Where(r => r > 0).Distinct().ToList();
        foreach (int most in pieces)
        {
            var met = new bool[most + 1];
            met[most] = true;
            for (int left = most; left > 0; left--)
            {
                if (!met[left]) continue;
                if (rolls.TrueForAll(r => r > left)) return left;
                foreach (int roll in rolls.Where(r => r <= left)) met[left - roll] = true;
            }
        }
        return null;
    }

    /// <summary>
    /// The distribution of rolls until the heap is gone, or the rounds are over, and the mean number of rolls that meet nothing of
    /// their colour: the chances of all ways the heap can lie are carried on from roll to roll.
    /// </summary>
    /// <param name="rounds">Rolls of each player; null where the heap ends it.</param>
    /// <param name="beginners">Who may begin, each as likely.</param>
    /// <param name="best">Of two colours the better one is chosen; else either, as likely.</param>
    public (Pmf Rolls, double Empty) Until(int? rounds, ImmutableArray<int> beginners, bool best, Spending spending)
    {
        var walks = beginners.Select(b => Walk(rounds * dice.Length, b, best, spending)).ToList();
        return (new Pmf([.. Enumerable.Range(0, walks.Max(w => w.Done.Count)).Select(t => walks.Average(w => t < w.Done.Count ? w.Done[t] : 0))]), walks.Average(w => w.Empty));
    }

    /// <summary>What the colour die comes to while some colours are left.</summary>
    /// <param name="ByColour">The chance that each colour is taken from, where that does not hang on the roll.</param>
    /// <param name="None">The chance of a face without a colour that is left.</param>
    /// <param name="Chosen">Faces of two colours, of which the better is chosen, and their chances.</param>
    private sealed record FaceShares(double[] ByColour, double None, (HeapFace Face, double Chance)[] Chosen)
    {
        /// <param name="there">The colours that are left, as bits.</param>
        /// <param name="best">Of two colours the better one is chosen; else either, as likely.</param>
        public static FaceShares Of((HeapFace Face, double Chance)[] faces, int there, int colours, bool best)
        {
            var byColour = new double[colours];
            double none = 0;
            var chosen = new List<(HeapFace, double)>();
            foreach (var (face, chance) in faces)
            {
                int[] left = [.. new[] { face.One, face.Other }.Where(c => c >= 0 && (there >> c & 1) != 0)];
                if (left.Length == 0) none += chance;
                else if (left.Length == 2 && best) chosen.Add((face, chance));
                else
                    foreach (int colour in left) byColour[colour] += chance / left.Length;
            }
            return new(byColour, none, [.. chosen]);
        }
    }

    private (List<double> Done, double Empty) Walk(int? last, int beginner, bool best, Spending spending)
    {
        int colours = pieces.Length, states = (int)States, limit = last ?? MostRolls;
        var place = new int[colours];
        for (int c = 0, p = 1; c < colours; p *= pieces[c++] + 1) place[c] = p;
        var rolls = dice.Select(d => d.Likely()).ToArray();
        var shown = faces.Length == 0 ? [(new HeapFace(0, -1), 1.0)] : faces.GroupBy(f => f).Select(g => (Face: g.Key, Chance: g.Count() / (double)faces.Length)).ToArray();
        double[] here = new double[states], next = new double[states];
        here[^1] = 1;
        // By the colours that are left, as bits.
        var shares = Enumerable.Range(0, 1 << colours).Select(there => FaceShares.Of(shown, there, colours, best)).ToArray();
        var left = new int[colours];
        var done = new List<double> { 0 };
        double open = 1, empty = 0;
        int high = states - 1;
        while (open > Negligible && done.Count <= limit)
        {
            spending.Check();
            var mine = rolls[(beginner + done.Count - 1) % rolls.Length];
            double moving = mine.Sum(r => r.Roll > 0 ? r.Chance : 0);
            Array.Clear(next, 0, high + 1);
            while (high > 0 && here[high] < Nothing) high--;
            Array.Clear(left);
            for (int state = 1; state <= high; state++)
            {
                for (int c = 0; ++left[c] > pieces[c]; c++) left[c] = 0;
                double mass = here[state];
                if (mass < Nothing) continue;
                int there = 0;
                for (int c = 0; c < colours; c++) there |= left[c] > 0 ? 1 << c : 0;
                var share = shares[there];
                next[state] += mass * share.None;
                empty += mass * share.None * moving;
                for (int c = 0; c < colours; c++)
                    if (share.ByColour[c] > 0)
                        foreach (var (roll, chance) in mine) next[state - Taken(roll, left[c], exact) * place[c]] += mass * share.ByColour[c] * chance;
                foreach (var (face, chosen) in share.Chosen)
                    foreach (var (roll, chance) in mine)
                    {
                        int colour = Better(roll, face.One, left[face.One], face.Other, left[face.Other], exact);
                        next[state - Taken(roll, left[colour], exact) * place[colour]] += mass * chosen * chance;
                    }
            }
            done.Add(next[0]);
            open -= next[0];
            next[0] = 0;
            (here, next) = (next, here);
        }
        // Where rounds end it, what is still open ends there.
        if (last is not null && done.Count == limit + 1) done[^1] += Math.Max(0, open);
        return (done, empty);
    }
}
