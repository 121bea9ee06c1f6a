using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>A number in a form and how it stands.</summary>
public sealed record WallCell(Form Form, int Number, double Right, int Seen)
{
    public string Says => $"{Number} as {Form.Facts().Label}: {FirmnessScale.Of(Right).Says()}, {Sureness.Of(Seen).Says()}" + (Seen > 0 ? $", seen {AskTiles.Often(Seen)}" : "");
}

/// <summary>The pictures of a child's growth beside the bond triangle.</summary>
public static class GrowthPictures
{
    /// <summary>The number wall: a row for each form, a column for each number, every stone a link to what it rests on.</summary>
    public static IHtmlContent Wall(IReadOnlyList<WallCell> cells, Func<WallCell, string> link)
    {
        const double cell = 30, left = 124, high = 32;
        int most = cells.Max(c => c.Number);
        var rows = cells.GroupBy(c => c.Form).ToList();
        var svg = new Svg(left + (most + 1) * cell + 4, 24 + rows.Count * high, "number-wall", "Number wall", holdsLinks: true);
        for (int n = 0; n <= most; n++) svg.Text(left + n * cell + 12, 16, 13, n.ToString(), "quiet");
        for (int r = 0; r < rows.Count; r++)
        {
            double y = 24 + r * high;
            svg.Text(left - 8, y + 18, 13, rows[r].Key.Facts().Label, "ink", "end");
            foreach (var stone in rows[r])
            {
                double x = left + stone.Number * cell;
                svg.Link(link(stone), stone.Says, "#evidence");
                svg.Rect(x, y, 25, 25, "bond-ground");
                Firm.Tile(svg, x, y, 25, 22, FirmnessScale.Of(stone.Right));
                Firm.Certain(svg, x, y + 25, 25, Sureness.Of(stone.Seen));
                svg.Open("</a>");
            }
        }
        return svg.End();
    }

    /// <summary>The path of methods: a column a week, what stands higher is nearer to seeing; as wide as the share it had.</summary>
    public static IHtmlContent Methods(IReadOnlyList<MethodWeek> weeks, Calendar calendar)
    {
        const double left = 128, cell = 44, high = 34, top = 8;
        Outcome[] rows = [Outcome.SawIt, Outcome.Structure, Outcome.CountedOn, Outcome.CountedAll, Outcome.WithHelp, Outcome.NotYet];
        string label = "How she got there, week by week: " + string.Join("; ", weeks.Where(w => w.Watched > 0).Select(w =>
            $"{calendar.Shortest(w.First)} {string.Join(", ", rows.Where(o => w.Share(o) > 0).Select(o => $"{o.Says()} {w.Share(o):0%}"))}"));
        var svg = new Svg(left + weeks.Count * cell + 4, top + rows.Length * high + 40, "method-path", label);
        for (int r = 0; r < rows.Length; r++)
        {
            double y = top + r * high;
            svg.Text(left - 10, y + 20, 13, rows[r].Says(), "ink", "end").Line(left, y + high - 2, left + weeks.Count * cell, y + high - 2, "grid");
            for (int w = 0; w < weeks.Count; w++)
            {
                double share = weeks[w].Share(rows[r]);
                if (share > 0) svg.Rect(left + w * cell + 4, y + (high - 6) * (1 - share), cell - 8, Math.Max(1.5, (high - 6) * share) + 2, "tile-fill");
            }
        }
        for (int w = 0; w < weeks.Count; w++)
        {
            double x = left + w * cell + cell / 2;
            if (w % 2 == weeks.Count % 2 || weeks.Count < 8) svg.Text(x, top + rows.Length * high + 16, 12, calendar.Shortest(weeks[w].First), "quiet");
            svg.Text(x, top + rows.Length * high + 34, 12, weeks[w].Watched == 0 ? "–" : weeks[w].Watched.ToString(), "quiet");
        }
        svg.Text(left - 10, top + rows.Length * high + 34, 12, "answers watched", "quiet", "end");
        return svg.End();
    }

    /// <summary>How long a picture must show, by form and number: the shorter the time, the fuller the tile; a guess has a dashed edge.</summary>
    public static IHtmlContent Glimpses(IReadOnlyList<GlimpseThreshold> thresholds)
    {
        const double left = 124, cell = 52, high = 42;
        int least = thresholds.Min(t => t.Number), most = Math.Max(least + 5, thresholds.Max(t => t.Number));
        var rows = thresholds.GroupBy(t => t.Form).ToList();
        string label = "Glimpses: " + string.Join("; ", thresholds.Select(t => $"{t.Number} as {t.Form.Facts().Label} {Told(t)} from {Words.Count(t.Looks, "look")}"));
        var svg = new Svg(left + (most - least + 1) * cell + 4, 24 + rows.Count * high, "number-wall", label);
        for (int n = least; n <= most; n++) svg.Text(left + (n - least + .5) * cell - 3, 16, 13, n.ToString(), "quiet");
        for (int r = 0; r < rows.Count; r++)
        {
            double y = 24 + r * high;
            svg.Text(left - 8, y + 15, 13, rows[r].Key.Facts().Label, "ink", "end");
            foreach (var t in rows[r])
            {
                double x = left + (t.Number - least) * cell;
                // On the scale of steps: the shortest time is full, the longest next to nothing.
                double full = Math.Clamp(1 - Math.Log(t.Seconds / ShowTimes.Shortest) / Math.Log(ShowTimes.Longest / ShowTimes.Shortest), .05, 1);
                svg.Rect(x, y + 20 * (1 - full), cell - 6, 20 * full, "tile-fill").Rect(x, y, cell - 6, 20, t.IsGuess ? "tile-edge dashed" : "tile-edge");
                svg.Text(x + cell / 2 - 3, y + 32, 11, Short(t), "quiet");
            }
        }
        return svg.End();
    }

    private static string Short(GlimpseThreshold t) => (t.IsGuess ? "~" : "") + (t.Seconds <= ShowTimes.Shortest ? $"≤{ShowTimes.Shortest:0.0#} s" : t.Seconds >= ShowTimes.Longest ? $"{ShowTimes.Longest:0}+ s" : $"{t.Seconds:0.0} s");

    private static string Told(GlimpseThreshold t) => $"{(t.IsGuess ? "about " : "")}{Math.Clamp(t.Seconds, ShowTimes.Shortest, ShowTimes.Longest):0.0} seconds";
}
