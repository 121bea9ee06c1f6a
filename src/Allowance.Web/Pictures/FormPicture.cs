using Allowance.Core.Forms;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>The one component that draws a number in a form, on screen and on paper.</summary>
public static class FormPicture
{
    /// <param name="label">Given only where it does not give away the answer.</param>
    /// <param name="seed">Which of the many pictures of the number; 0 is the fixed one.</param>
    public static IHtmlContent Of(Form form, int n, PictureStyle? style = null, string? label = null, long seed = 0) =>
        Draw(Core.Forms.Pictures.Of(form, n, seed, style), label);

    public static IHtmlContent Draw(Picture picture, string? label = null)
    {
        var svg = new Svg(picture.Width, picture.Height, "form-picture", label);
        Draw(svg, picture);
        return svg.End();
    }

    /// <summary>As part of a larger drawing: as large as the box allows, in its middle.</summary>
    internal static Svg Within(Svg svg, Picture picture, Extent box)
    {
        double scale = Math.Min((box.Right - box.Left) / picture.Width, (box.Bottom - box.Top) / picture.Height);
        double x = (box.Left + box.Right - scale * picture.Width) / 2, y = (box.Top + box.Bottom - scale * picture.Height) / 2;
        svg.Open(FormattableString.Invariant($"<g class=\"form-picture\" transform=\"translate({x:0.##} {y:0.##}) scale({scale:0.####})\">"));
        return Draw(svg, picture).Open("</g>");
    }

    internal static Svg Within(Svg svg, Thing thing) => Draw(svg.Open("<g class=\"form-picture\">"), thing).Open("</g>");

    private static Svg Draw(Svg svg, Picture picture)
    {
        foreach (var mark in picture.Marks)
            _ = mark switch
            {
                Dot dot => svg.Circle(dot.X, dot.Y, dot.Radius, Class(dot.Tone, dot.Counts)),
                Block b => svg.Rect(b.X, b.Y, b.Width, b.Height, Class(b.Tone, b.Counts), b.Corner),
                Stroke s => svg.Line(s.X1, s.Y1, s.X2, s.Y2, (s.Heavy ? "mark-heavy" : "mark-line") + (s.Tone switch { Tone.Second => " second", Tone.Outline => " hollow", _ => "" }) + (s.Counts ? " counts" : "")),
                Curve c => svg.Polyline(c.Points.Select(p => (p.X, p.Y)), c.Heavy ? "mark-path heavy" : "mark-path"),
                Glyph g => svg.Text(g.X, g.Y, g.Size, g.Text, "mark-glyph"),
                Thing t => Draw(svg, t),
                _ => svg,
            };
        return svg;
    }

    /// <summary>What makes up the number can be found by its class: rings are drawn round it.</summary>
    private static string Class(Tone tone, bool counts) => tone switch { Tone.Ink => "mark", Tone.Second => "mark-second", _ => "mark-outline" } + (counts ? " counts" : "");

    /// <summary>A thing from the drawer, within a circle of its size.</summary>
    private static Svg Draw(Svg svg, Thing thing)
    {
        svg.Open(FormattableString.Invariant($"<g transform=\"translate({thing.X:0.##} {thing.Y:0.##}) rotate({thing.Turn:0}) scale({thing.Size / 10:0.###})\">"));
        _ = thing.Kind switch
        {
            ThingKind.Tag => svg.Outline([(-9, -4), (-5, -7), (8, -5), (8, 5), (-5, 7), (-9, 4)], "mark").Circle(-5.5, 0, 1.8, "mark-hole"),
            ThingKind.Reel => svg.Rect(-7, -7, 14, 3.5, "mark", 1).Rect(-4.5, -3.5, 9, 7, "mark-second").Rect(-7, 3.5, 14, 3.5, "mark", 1),
            ThingKind.Skittle => svg.Circle(0, -6, 3, "mark").Outline([(-2, -3.5), (2, -3.5), (3.6, 2), (3, 9), (-3, 9), (-3.6, 2)], "mark"),
            _ => svg.Rect(-6.5, -6.5, 13, 13, "mark-second", 1.5),
        };
        return svg.Open("</g>");
    }
}
