using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Learner;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>Firmness is fullness: a tile full, three quarters, half, or only its outline. The same everywhere.</summary>
public static class Firm
{
    public static double Fullness(Firmness firmness) => firmness switch { Firmness.Sure => 1, Firmness.Firm => .75, Firmness.Edge => .5, _ => 0 };

    internal static void Tile(Svg svg, double x, double y, double width, double height, Firmness firmness)
    {
        double full = Fullness(firmness) * height;
        if (full > 0) svg.Rect(x, y + height - full, width, full, "tile-fill");
        svg.Rect(x, y, width, height, "tile-edge");
    }

    /// <summary>A tile by itself, for keys and lists.</summary>
    public static IHtmlContent Tile(Firmness firmness)
    {
        var svg = new Svg(24, 24, "firm-tile", null);
        Tile(svg, 1, 1, 22, 22, firmness);
        return svg.End();
    }

    /// <summary>What comes up in a game by how firm it is, the firmest first: as wide as it comes up often, as full as it is firm.</summary>
    public static IHtmlContent Strip(IEnumerable<AskForecast> asks)
    {
        const double width = 200;
        var shares = asks.GroupBy(a => FirmnessScale.Of(a.Right)).Select(g => (Firmness: g.Key, PerGame: g.Sum(a => a.PerGame))).OrderByDescending(g => Fullness(g.Firmness)).ToList();
        double all = shares.Sum(s => s.PerGame), x = 1;
        var svg = new Svg(width + 2, 24, "firm-strip", "Of what comes up, " + string.Join(", ", shares.Select(s => $"{Curves.Percent(s.PerGame / all)} {s.Firmness.Says()}")));
        foreach (var (firmness, often) in shares)
        {
            Tile(svg, x, 1, width * often / all, 22, firmness);
            x += width * often / all;
        }
        return svg.End();
    }

    /// <summary>The sign of an outcome, our own six and one for "right, not watched".</summary>
    public static IHtmlContent Sign(Outcome? outcome, bool right = true)
    {
        var svg = new Svg(48, 24, "sign", null);
        Sign(svg, outcome, right);
        return svg.End();
    }

    /// <summary>The sign of what was seen; where nothing can be counted, right is a tick.</summary>
    public static IHtmlContent Sign(Seen seen, Ask ask) => Sign(seen.Right && ask.Scale != OutcomeScale.Countable ? null : seen.Outcome, seen.Right);

    /// <summary>The letter that notes it; digits type what turned up.</summary>
    public static string LetterOf(Seen seen) => "hgfdsaj"[seen.Key].ToString();

    /// <summary>Draws a sign 48 wide and 24 high at the origin.</summary>
    internal static void Sign(Svg svg, Outcome? outcome, bool right)
    {
        switch (outcome)
        {
            case Outcome.SawIt:
                svg.Circle(24, 12, 9, "sign-fill");
                break;
            case Outcome.Structure:
                for (int i = 0; i < 5; i++) svg.Rect(9 + 6 * i, 3, 6, 8, "sign-line");
                svg.Rect(9, 13, 6, 8, "sign-fill").Rect(15, 13, 6, 8, "sign-fill");
                break;
            case Outcome.CountedOn:
                svg.Rect(6, 4, 12, 16, "sign-fill").Circle(26, 12, 2.6, "sign-fill").Circle(34, 12, 2.6, "sign-fill").Circle(42, 12, 2.6, "sign-fill");
                break;
            case Outcome.CountedAll:
                for (int i = 0; i < 5; i++) svg.Circle(6 + 9 * i, 12, 2.6, "sign-fill");
                break;
            case Outcome.WithHelp:
                svg.Circle(19, 12, 8, "sign-line").Circle(29, 12, 8, "sign-line");
                break;
            case null when right:
                svg.Polyline([(14, 12), (21, 19), (35, 5)], "sign-stroke");
                break;
            default:
                svg.Circle(24, 12, 8, "sign-dashed");
                break;
        }
    }

    /// <summary>How sure the picture is, as marks under a tile: none, one or two.</summary>
    internal static void Certain(Svg svg, double x, double y, double width, Certainty certainty)
    {
        int marks = (int)certainty;
        for (int i = 0; i < marks; i++) svg.Rect(x + width / 2 - 5 * marks + 10 * i + 1, y, 8, 3, "certain");
    }
}
