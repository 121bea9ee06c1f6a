using Allowance.Core.Rules;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>A number line with pieces on it and one number that is home.</summary>
public static class LinePicture
{
    private const double Left = 16, Width = 880, Base = 62;
    private const int MostTicks = 60;

    /// <param name="name">Who sits at a place.</param>
    public static IHtmlContent Of(Zone line, Func<int, string> name)
    {
        int low = line.Labels!.First, high = low + line.Columns - 1;
        double step = Width / Math.Max(1, high - low);
        string label = $"{line.Label}: " + string.Join("; ", line.Items.Select(i => $"{name(i.Id)} on {i.Value}"));
        var svg = new Svg(Width + 2 * Left, 96, "track", label);
        svg.Line(Left, Base, Left + Width, Base, "track-line");
        // So many ticks as can be told apart, and numbers at fives of them.
        int every = Math.Max(1, (high - low) / MostTicks + 1), labelled = every == 1 ? 5 : every * 10;
        for (int n = low; n <= high; n++)
        {
            bool home = n == line.Count, written = n % labelled == 0 || n == low || n == high || home;
            if (n % every != 0 && !written) continue;
            svg.Line(X(n), Base - (written ? 9 : 5), X(n), Base + (written ? 9 : 5), home ? "track-home" : "track-line");
            if (n % labelled == 0 || home) svg.Text(X(n), Base + 28, home ? 17 : 14, n.ToString(), home ? "ink" : "quiet");
        }
        foreach (var group in line.Items.GroupBy(i => i.Value))
        {
            int k = 0;
            foreach (var piece in group)
            {
                double y = Base - 20 - 20 * k++;
                svg.Circle(X(group.Key), y, 9, $"piece piece-{piece.Id % 4}").Text(X(group.Key), y + 4, 11, name(piece.Id)[..1], $"piece-name piece-name-{piece.Id % 4}");
            }
        }
        return svg.End();

        double X(int n) => Left + (n - low) * step;
    }
}
