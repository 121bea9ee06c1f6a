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

    // Begins with the two numbers as they stand on the tile, so that what is seen can be said to it.
    public string Says => $"{Small} {Large} make {Whole}: {Firmness.Says()}, {Certainty.Says()}"
        + (Usually is { } how ? $", mostly {how.Says()}" : "") + (Seen > 0 ? $", seen {AskTiles.Often(Seen)}" : "");
}

/// <summary>Number bonds as pictures, marked by firmness.</summary>
public static class Bonds
{
    /// <summary>The bonds that will come up in a game, one tile each, with how often.</summary>
    public static IHtmlContent Row(IReadOnlyList<(string Label, double PerGame, double Right)> bonds, string who)
    {
        const double width = 46, gap = 6;
        string label = $"What comes up for {who}: " + string.Join("; ", bonds.Select(b => $"{b.Label} {AskTiles.Often(b.PerGame)} a game, {FirmnessScale.Of(b.Right).Says()}"));
        var svg = new Svg(Math.Max(9, bonds.Count) * (width + gap), 62, "bond-row", label);
        for (int i = 0; i < bonds.Count; i++)
        {
            double x = i * (width + gap) + 2;
            Firm.Tile(svg, x, 2, width - 2, 24, FirmnessScale.Of(bonds[i].Right));
            svg.Text(x + width / 2 - 1, 42, 14, bonds[i].Label, "ink");
            svg.Text(x + width / 2 - 1, 57, 11, AskTiles.Often(bonds[i].PerGame), "quiet");
        }
        return svg.End();
    }

    /// <summary>
    /// The bond triangle: a row for each whole, a tile for each pair of parts. Every tile is a link to its evidence, so the
    /// picture can be walked by keyboard; its words are in the link.
    /// </summary>
    public static IHtmlContent Triangle(IReadOnlyList<BondCell> cells, int most, Func<BondCell, string> link)
    {
        const double cell = 74, high = 50;
        var svg = new Svg((most / 2 + 1) * cell + 52, (most - 1) * high + 6, "bond-triangle", $"Bonds to {most}", holdsLinks: true);
        foreach (var row in cells.GroupBy(c => c.Whole).OrderBy(g => g.Key))
        {
            double y = (row.Key - 2) * high + 4;
            svg.Text(22, y + 17, 19, row.Key.ToString(), "ink");
            foreach (var bond in row.OrderBy(c => c.Small))
            {
                double x = 48 + bond.Small * cell;
                svg.Link(link(bond), bond.Says, "#evidence");
                svg.Rect(x, y, cell - 8, high - 6, "bond-ground");
                Firm.Tile(svg, x, y, cell - 8, 20, bond.Firmness);
                svg.Text(x + 2, y + 38, 15, $"{bond.Small} {bond.Large}", "ink", "start");
                if (bond.Usually is { } how)
                {
                    svg.Open($"<g class=\"bond-sign\" transform=\"translate({x + 34} {y + 25}) scale(.66)\">");
                    Firm.Sign(svg, how, true);
                    svg.Open("</g>");
                }
                Firm.Certain(svg, x, y + 42, cell - 8, bond.Certainty);
                svg.Open("</a>");
            }
        }
        return svg.End();
    }
}
