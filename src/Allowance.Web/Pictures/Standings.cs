using Allowance.Core.Materials;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>A box for each way a thing can stand: full where it is there, dashed where it is made, half where another stands in, empty where it is missing.</summary>
public static class Standings
{
    public static IHtmlContent Sign(Standing standing)
    {
        var svg = new Svg(18, 18, "standing", standing switch { Standing.There => "there", Standing.StandsIn => "stands in", Standing.ToMake => "to make", _ => "missing" });
        if (standing == Standing.There) svg.Rect(2, 2, 14, 14, "tile-fill");
        if (standing == Standing.StandsIn) svg.Rect(2, 9, 14, 7, "tile-fill");
        svg.Rect(2, 2, 14, 14, standing == Standing.ToMake ? "tile-edge dashed" : "tile-edge");
        return svg.End();
    }
}
