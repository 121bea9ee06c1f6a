using System.Text.Json.Nodes;

namespace Allowance.Core.Setups;

/// <summary>What cannot be read or played, where it stands, and the nearest thing that works.</summary>
/// <param name="Path">Where in the file, for example <c>players[0].allowance.target</c>; empty for the whole.</param>
/// <param name="Nearest">A value to put in its place, or null where there is none.</param>
public sealed record Problem(string Path, string Message, JsonNode? Nearest = null);

/// <summary>The nearest of a few words, for refusals that help.</summary>
public static class Closest
{
    public static string? To(string word, IEnumerable<string> words) =>
        words.MinBy(w => Distance(word.Length > 40 ? word[..40] : word, w));

    public static string Shorten(string text) => text.Length <= 40 ? text : text[..40] + "…";

    private static int Distance(string a, string b)
    {
        var row = Enumerable.Range(0, b.Length + 1).ToArray();
        for (int i = 1; i <= a.Length; i++)
        {
            int corner = row[0];
            row[0] = i;
            for (int j = 1; j <= b.Length; j++)
            {
                int up = row[j];
                row[j] = Math.Min(Math.Min(row[j], row[j - 1]) + 1, corner + (a[i - 1] == b[j - 1] ? 0 : 1));
                corner = up;
            }
        }
        return row[b.Length];
    }
}
