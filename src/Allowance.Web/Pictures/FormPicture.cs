using Allowance.Core.Forms;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>The one component that draws a number in a form, on screen and on paper.</summary>
public static class FormPicture
{
    /// <param name="label">Given only where it does not give away the answer.</param>
    /// <param name="seed">Which of the many pictures of the number; 0 is the fixed one.</param>
    public static IHtmlContent Of(Form form, int n, FingerOrder fingers = FingerOrder.Thumb, string? label = null, long seed = 0)
    {
        var picture = Core.Forms.Pictures.Of(form, n, seed, fingers);
        var svg = new Svg(picture.Width, picture.Height, "form-picture", label);
        foreach (var mark in picture.Marks)
            _ = mark switch
            {
                Dot dot => svg.Circle(dot.X, dot.Y, dot.Radius, "mark"),
                Block { Filled: true } b => svg.Rect(b.X, b.Y, b.Width, b.Height, "mark", b.Corner),
                Block b => svg.Rect(b.X, b.Y, b.Width, b.Height, "mark-outline", b.Corner),
                Stroke s => svg.Line(s.X1, s.Y1, s.X2, s.Y2, s.Heavy ? "mark-heavy" : "mark-line"),
                Glyph g => svg.Text(g.X, g.Y, g.Size, g.Text, "mark-glyph"),
                _ => svg,
            };
        return svg.End();
    }
}
