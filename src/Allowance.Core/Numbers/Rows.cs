using System.Numerics;
using System.Runtime.InteropServices;

namespace Allowance.Core.Numbers;

/// <summary>What estimates and exact figures spend their time in: operations on rows of numbers, several at once.</summary>
internal static class Rows
{
    /// <summary>Adds a multiple of one row to another that is no longer.</summary>
    public static void AddScaled(Span<double> to, ReadOnlySpan<double> from, double factor)
    {
        if (factor == 0) return;
        var factors = new Vector<double>(factor);
        var wideTo = MemoryMarshal.Cast<double, Vector<double>>(to);
        var wideFrom = MemoryMarshal.Cast<double, Vector<double>>(from);
        for (int i = 0; i < wideTo.Length; i++) wideTo[i] += factors * wideFrom[i];
        for (int i = wideTo.Length * Vector<double>.Count; i < to.Length; i++) to[i] += factor * from[i];
    }

    public static void Scale(Span<double> row, double factor)
    {
        var wide = MemoryMarshal.Cast<double, Vector<double>>(row);
        for (int i = 0; i < wide.Length; i++) wide[i] *= factor;
        for (int i = wide.Length * Vector<double>.Count; i < row.Length; i++) row[i] *= factor;
    }

    public static double Dot(ReadOnlySpan<double> a, ReadOnlySpan<double> b)
    {
        var sums = Vector<double>.Zero;
        var wideA = MemoryMarshal.Cast<double, Vector<double>>(a);
        var wideB = MemoryMarshal.Cast<double, Vector<double>>(b);
        for (int i = 0; i < wideA.Length; i++) sums += wideA[i] * wideB[i];
        double sum = Vector.Sum(sums);
        for (int i = wideA.Length * Vector<double>.Count; i < a.Length; i++) sum += a[i] * b[i];
        return sum;
    }
}
