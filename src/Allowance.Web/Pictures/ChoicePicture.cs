using Allowance.Core.Rules;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>The choices of the first roll as a tree: the better one is drawn heavy, and each says how far from the mark one ends on average.</summary>
public static class ChoicePicture
{
    private const double Width = 340, Row = 22, RollX = 96, BranchX = 176;
    private const int MostRolls = 12;

    public static IHtmlContent Of(ChoiceTree tree)
    {
        var rolls = tree.Rolls.Take(MostRolls).ToList();
        double height = rolls.Sum(r => r.Branches.Count) * Row + 8, middle = height / 2, y = 4;
        string says = string.Join("; ", rolls.Select(r => $"a {r.Roll}: " + string.Join(" or ", r.Branches.Select(b => $"{b.Label} to {b.Number}, {b.Gap:0.0} off{(b.Best ? ", best" : "")}"))));
        var svg = new Svg(Width, height, "choices", $"From {tree.Root}, {says}");
        svg.Text(6, middle + 5, 16, tree.Root.ToString(), "choice-root", "start");
        foreach (var (roll, branches) in rolls)
        {
            double centre = y + branches.Count * Row / 2;
            svg.Line(34, middle, RollX - 16, centre, "choice-thin").Text(RollX, centre + 4, 12, $"rolls {roll}", "quiet");
            foreach (var branch in branches)
            {
                svg.Line(RollX + 26, centre, BranchX - 4, y + Row / 2, branch.Best ? "choice-best" : "choice-thin");
                svg.Text(BranchX, y + Row / 2 + 4, 12, $"{branch.Label} to {branch.Number}", branch.Best ? "choice-word" : "quiet", "start");
                svg.Text(Width - 6, y + Row / 2 + 4, 12, $"{branch.Gap:0.0} off", branch.Best ? "choice-word" : "quiet", "end");
                y += Row;
            }
        }
        return svg.End();
    }
}
