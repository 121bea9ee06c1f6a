namespace Allowance.Core.Tables;

/// <summary>How much room words take.</summary>
internal static class Lettering
{
    /// <summary>The width of a letter as a share of its height, on the safe side.</summary>
    private const double LetterWidth = .62;

    public static double Width(string words, double size) => words.Length * size * LetterWidth;

    /// <summary>As many letters as fit.</summary>
    public static string Fit(string words, double size, double width)
    {
        int most = (int)(width / (size * LetterWidth) + 1e-9);
        return words.Length <= most ? words : most < 2 ? words[..Math.Max(1, Math.Min(words.Length, most))] : words[..(most - 1)].TrimEnd() + "…";
    }

    /// <summary>The size at which words fit, and no larger than wished.</summary>
    public static double Size(string words, double wished, double width) => Math.Min(wished, width / Math.Max(1, words.Length) / LetterWidth);
}
