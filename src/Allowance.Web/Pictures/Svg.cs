using System.Text;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>Writes SVG. Colours and line weights come from classes in the style sheet; text is encoded.</summary>
internal sealed class Svg
{
    private readonly StringBuilder text = new();

    /// <param name="label">What it shows, for those who do not see it; null where words stand beside it or it would give the answer away.</param>
    /// <param name="holdsLinks">The picture is walked link by link, so it is a group and not one image.</param>
    public Svg(double width, double height, string css, string? label, bool holdsLinks = false)
    {
        string aria = label is null ? "aria-hidden=\"true\"" : $"role=\"{(holdsLinks ? "group" : "img")}\" aria-label=\"{Encode(label)}\"";
        text.Append($"<svg class=\"{css}\" viewBox=\"0 0 {F(width)} {F(height)}\" {aria} focusable=\"false\">");
    }

    public Svg Rect(double x, double y, double width, double height, string css, double corner = 0) =>
        Add($"<rect x=\"{F(x)}\" y=\"{F(y)}\" width=\"{F(width)}\" height=\"{F(height)}\"{(corner > 0 ? $" rx=\"{F(corner)}\"" : "")} class=\"{css}\"/>");

    public Svg Circle(double x, double y, double radius, string css) => Add($"<circle cx=\"{F(x)}\" cy=\"{F(y)}\" r=\"{F(radius)}\" class=\"{css}\"/>");

    public Svg Line(double x1, double y1, double x2, double y2, string css) => Add($"<line x1=\"{F(x1)}\" y1=\"{F(y1)}\" x2=\"{F(x2)}\" y2=\"{F(y2)}\" class=\"{css}\"/>");

    public Svg Polyline(IEnumerable<(double X, double Y)> points, string css) =>
        Add($"<polyline points=\"{string.Join(' ', points.Select(p => $"{F(p.X)},{F(p.Y)}"))}\" class=\"{css}\"/>");

    /// <summary>A closed shape.</summary>
    public Svg Outline(IEnumerable<(double X, double Y)> points, string css) =>
        Add($"<polygon points=\"{string.Join(' ', points.Select(p => $"{F(p.X)},{F(p.Y)}"))}\" class=\"{css}\"/>");

    /// <param name="anchor">start, middle or end.</param>
    public Svg Text(double x, double y, double size, string words, string css, string anchor = "middle") =>
        Add($"<text x=\"{F(x)}\" y=\"{F(y)}\" font-size=\"{F(size)}\" text-anchor=\"{anchor}\" class=\"{css}\">{Encode(words)}</text>");

    /// <summary>Begins a link whose page is put in place where scripts run; ends with <c>Open("&lt;/a&gt;")</c>.</summary>
    public Svg Link(string address, string says, string into) =>
        Add($"<a href=\"{Encode(address)}\" hx-get=\"{Encode(address)}\" hx-target=\"{Encode(into)}\" class=\"bond\" aria-label=\"{Encode(says)}\"><title>{Encode(says)}</title>");

    public Svg Open(string element) => Add(element);

    private Svg Add(string element)
    {
        text.Append(element);
        return this;
    }

    public IHtmlContent End() => new HtmlString(text + "</svg>");

    public static string Encode(string words) => HtmlEncoder.Default.Encode(words);

    private static string F(double n) => Math.Round(n, 2).ToString("0.##");
}
