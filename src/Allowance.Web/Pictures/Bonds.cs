using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Learner;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>A bond and how it stands: what the two parts are, how firm, how sure, and how she usually gets it.</summary>
public sealed record BondCell(int Whole, int Small, double Right, Certainty Certainty, int Seen, Outcome? Usually)
{
    public int Large => Whole - Small;

    public Firmness Firmness => FirmnessScale.Of(Right);

    public string Says => $"{Small} and {Large} make {Whole}: {Firmness.Says()}, {Certainty.Says()}"
        + (Usually is { } how ? $", mostly {how.Says()}" : "") + (Seen > 0 ? $", seen {Seen} times" : "");
}

/// <summary>Number bonds as pictures, marked by firmness.</summary>
public static class Bonds
{
    /// <summary>The bonds that will come up in a game, one tile each, with how often.</summary>
    public static IHtmlContent Row(IReadOnlyList<(string Label, double PerGame, double Right)> bonds, string who)
    {
        const double width = 46, gap = 6;
        string label = $"What comes up for {who}: " + string.Join("; ", bonds.Select(b => $"{b.Label} {b.PerGame:0.0} times a game, {FirmnessScale.Of(b.Right).Says()}"));
        var svg = new Svg(Math.Max(9, bonds.Count) * (width + gap), 62, "bond-row", label);
        for (int i = 0; i < bonds.Count; i++)
        {
            double x = i * (width + gap) + 2;
            Firm.Tile(svg, x, 2, width - 2, 24, FirmnessScale.Of(bonds[i].Right));
            svg.Text(x + width / 2 - 1, 42, 14, bonds[i].Label, "ink");
            svg.Text(x + width / 2 - 1, 57, 11, $"{bonds[i].PerGame:0.0}×", "quiet");
        }
        return svg.End();
    }

    /// <summary>
    /// The bond triangle: a row for each whole, a tile for each pair of parts. Every tile is a link to its evidence, so the
    /// picture can be walked by keyboard; its words are in the link.
    /// </summary>
    public static IHtmlContent Triangle(IReadOnlyList<BondCell> cells, int most, Func<BondCell, string> link)
    {
        double cell = most <= 10 ? 78 : 56, high = most <= 10 ? 52 : 38;
        double width = (most / 2 + 1) * cell + 60;
        var svg = new Svg(width, (most - 1) * high + 6, "bond-triangle", "Bond triangle");
        foreach (var row in cells.GroupBy(c => c.Whole).OrderBy(g => g.Key))
        {
            double y = (row.Key - 2) * high + 4;
            svg.Text(26, y + high * .55, 20, row.Key.ToString(), "ink");
            foreach (var bond in row.OrderBy(c => c.Small))
            {
                double x = 56 + bond.Small * cell;
                svg.Open($"<a href=\"{Svg.Encode(link(bond))}\" class=\"bond\" aria-label=\"{Svg.Encode(bond.Says)}\"><title>{Svg.Encode(bond.Says)}</title>");
                Firm.Tile(svg, x, y, cell - 10, high - 18, bond.Firmness);
                svg.Rect(x + (cell - 10) / 2 - 21, y + (high - 18) / 2 - 10, 42, 20, "label-ground", 2);
                svg.Text(x + (cell - 10) / 2, y + (high - 18) / 2 + 5.5, 15, $"{bond.Small} {bond.Large}", "ink");
                Firm.Certain(svg, x, y + high - 14, cell - 10, bond.Certainty);
                svg.Open("</a>");
            }
        }
        return svg.End();
    }
}
