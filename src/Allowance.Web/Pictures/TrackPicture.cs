using Allowance.Core.Forms;
using Allowance.Core.Rules;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>A track seen from above: sections in rows that run to and fro, with the pieces on it.</summary>
public static class TrackPicture
{
    private const double Cell = 46, High = 52;
    private const int MostInRow = 15, MostDrawn = 300;

    /// <param name="name">Who sits at a place.</param>
    public static IHtmlContent Of(Zone track, Func<int, string> name)
    {
        if (track.Single is { } single) name = _ => single;
        // Of a very long track only the part around the pieces is drawn.
        int furthest = track.Items.Max(i => i.Value), from = Math.Max(0, Math.Min(furthest - MostDrawn / 2, track.Columns - MostDrawn));
        int to = Math.Min(track.Columns, from + MostDrawn), drawn = to - from, rows = (drawn + MostInRow) / MostInRow;
        string label = $"{track.Label}, {track.Columns} sections: " + string.Join("; ", track.Items.Select(i => $"{name(i.Id)} {(i.Value == 0 ? "at the start" : $"on section {i.Value}")}"));
        var svg = new Svg(Math.Min(drawn + 1, MostInRow) * Cell + 4, rows * High + 4, "track", label);
        for (int place = from; place <= to; place++)
        {
            var (x, y) = At(place - from);
            if (place > 0) svg.Rect(x, y, Cell - 4, High - 8, place == track.Columns ? "track-end" : "track-section");
            if (place > 0 && Shows(track, place)) svg.Text(x + (Cell - 4) / 2, y + High - 14, 15, Number(track, place).ToString(), "quiet");
        }
        foreach (var group in track.Items.Where(i => i.Value >= from).GroupBy(i => i.Value))
        {
            var (x, y) = At(group.Key - from);
            int n = 0;
            foreach (var piece in group)
            {
                double px = x + 11 + 20 * (n % 2), py = y + 11 + 16 * (n / 2);
                svg.Circle(px, py, 9, $"piece piece-{piece.Id % 4}").Text(px, py + 4, 11, name(piece.Id)[..1], $"piece-name piece-name-{piece.Id % 4}");
                n++;
            }
        }
        return svg.End();
    }

    private static (double X, double Y) At(int index)
    {
        int row = index / MostInRow, column = index % MostInRow;
        return ((row % 2 == 0 ? column : MostInRow - 1 - column) * Cell + 2, row * High + 2);
    }

    private static int Number(Zone track, int place) => track.Labels!.First + track.Labels.Step * (place - 1);

    private static bool Shows(Zone track, int place) => track.Labels is { } labels && labels.Shown switch
    {
        LineLabels.All => true,
        LineLabels.Fives => Number(track, place) % 5 == 0,
        LineLabels.Ends => place == 1 || place == track.Columns,
        _ => false,
    };
}
