using Allowance.Core.Learner;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>How a skill band stands, as fullness: an outline, one with a dot for what is taken as known, half, full, full with a notch for fluent, and hatched for resting.</summary>
public static class SkillTiles
{
    public static IHtmlContent Tile(SkillWord word)
    {
        var svg = new Svg(24, 24, "firm-tile", null);
        Draw(svg, 1, 1, 22, word);
        return svg.End();
    }

    internal static void Draw(Svg svg, double x, double y, double size, SkillWord word)
    {
        if (word == SkillWord.Growing) svg.Rect(x, y + size / 2, size, size / 2, "tile-fill");
        if (word is SkillWord.Steady or SkillWord.Fluent) svg.Rect(x, y, size, size, "tile-fill");
        if (word == SkillWord.TakenAsKnown) svg.Rect(x + size * .35, y + size * .35, size * .3, size * .3, "tile-fill");
        if (word == SkillWord.Fluent) svg.Rect(x + size * .3, y + size * .3, size * .4, size * .4, "tile-notch");
        if (word == SkillWord.Resting)
            for (int i = 1; i < 5; i++) svg.Line(x, y + size * i / 5, x + size, y + size * i / 5, "tile-hatch");
        svg.Rect(x, y, size, size, word is SkillWord.New or SkillWord.TakenAsKnown ? "tile-open" : "tile-edge");
    }

    public static string Says(this SkillWord word) => word == SkillWord.TakenAsKnown ? "taken as known" : word.ToString().ToLowerInvariant();
}
