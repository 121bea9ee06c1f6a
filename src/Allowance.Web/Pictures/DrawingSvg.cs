using Allowance.Core.Forms;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>
/// Writes a drawing of a table as SVG: for thumbnail, bench, table and sheet alike. Where it is played on, what can be
/// tapped bears a button of its own, so that a form takes it with or without scripts, by finger, mouse or key.
/// </summary>
public static class DrawingSvg
{
    /// <param name="label">What it shows as a whole, where it is only looked at; null where words beside it say so.</param>
    public static IHtmlContent Of(Drawing drawing, string? label = null)
    {
        var svg = new Svg(drawing.Width, drawing.Height, "drawing", label);
        foreach (var part in drawing.Parts) Draw(svg, part, null);
        return svg.End();
    }

    /// <summary>A game as the small picture by which it is recognised.</summary>
    public static IHtmlContent Thumbnail(Playable playable, PictureStyle style) => Of(Drawing.Of(playable.Pictured(), Room.Thumbnail, new DrawnBy(style, playable.Setup.Who, (_, _) => 0)));

    /// <summary>Where pressing a thing opens what can be set about it. Words beside it say and open the same, for those who do not see or point.</summary>
    /// <param name="link">Where a thing leads; null where there is nothing to be set.</param>
    /// <param name="into">What the page behind a link replaces.</param>
    public static IHtmlContent ToTurn(Drawing drawing, Func<Sits, string?> link, string into)
    {
        var svg = new Svg(drawing.Width, drawing.Height, "drawing", null);
        foreach (var part in drawing.Parts)
        {
            Draw(svg, part, null);
            if (link(part.Zone.Sits) is not { } address) continue;
            var box = part.Box;
            svg.Open(FormattableString.Invariant($"<foreignObject x=\"{box.Left:0.##}\" y=\"{box.Top:0.##}\" width=\"{Width(box):0.##}\" height=\"{Height(box):0.##}\"><a xmlns=\"http://www.w3.org/1999/xhtml\" class=\"d-tap thing\" tabindex=\"-1\" href=\"{Svg.Encode(address)}\" hx-get=\"{Svg.Encode(address)}\" hx-target=\"{into}\" hx-swap=\"outerHTML\"></a></foreignObject>"));
        }
        return svg.End();
    }

    /// <param name="picked">Items that were tapped so far.</param>
    public static IHtmlContent ToPlay(Drawing drawing, string label, IReadOnlyCollection<int> picked)
    {
        var svg = new Svg(drawing.Width, drawing.Height, "drawing", label, holdsLinks: true);
        foreach (var part in drawing.Parts) Draw(svg, part, picked);
        return svg.End();
    }

    private static void Draw(Svg svg, Part part, IReadOnlyCollection<int>? picked)
    {
        // One who does not see it hears of each zone, and of what lies there one by one; the shapes themselves say nothing.
        svg.Open(picked is null ? $"<g data-zone=\"{part.Zone.Kind}\">" : $"<g data-zone=\"{part.Zone.Kind}\" role=\"group\" aria-label=\"{Svg.Encode(part.Zone.Label)}\">");
        string? of = null;
        foreach (var shape in part.Shapes)
        {
            // On a table, what belongs together can be followed from one drawing to the next.
            if (picked is not null && shape.Of != of)
            {
                if (of is not null) svg.Open("</g>");
                of = shape.Of;
                if (of is not null) svg.Open($"<g data-of=\"{of}\"{(shape.At is { } at ? $" data-at=\"{at}\"" : "")}>");
            }
            Draw(svg, shape);
        }
        if (of is not null) svg.Open("</g>");
        if (picked is not null)
        {
            foreach (var tap in part.Taps)
            {
                bool chosen = picked.Contains(tap.Item.Id);
                if (chosen) svg.Rect(tap.Box.Left, tap.Box.Top, Width(tap.Box), Height(tap.Box), "d-picked", 3);
                if (tap.Id is "card" or "pane" or "way" or "gate" or "cell" or "bar") Button(svg, tap, chosen);
                else svg.Open(FormattableString.Invariant($"<g role=\"img\" id=\"{tap.Id}-{tap.Item.Id}\" aria-label=\"{Svg.Encode(tap.Says)}\">")).Rect(tap.Box.Left, tap.Box.Top, Width(tap.Box), Height(tap.Box), "d-named").Open("</g>");
            }
        }
        svg.Open("</g>");
    }

    private static void Button(Svg svg, Tap tap, bool chosen)
    {
        // Ways have keys in their order, and gates those of their numbers, as far as there are any.
        string key = tap.Role == Role.Key || tap is { Id: "gate", Item: { CanTap: true, Id: < 9 } } ? $" data-key=\"{tap.Item.Id + 1}\"" : "", more = $"{(tap.Item.CanTap ? "" : " disabled")}{key}";
        string state = tap.Item.State switch { ItemState.Down => " down", ItemState.Taken => " covered", ItemState.Marked => " slot", _ => "" } + (chosen ? " picked" : "");
        svg.Open(FormattableString.Invariant($"<foreignObject x=\"{tap.Box.Left:0.##}\" y=\"{tap.Box.Top:0.##}\" width=\"{Width(tap.Box):0.##}\" height=\"{Height(tap.Box):0.##}\"><button xmlns=\"http://www.w3.org/1999/xhtml\" class=\"d-tap {tap.Id}{state}\" id=\"{tap.Id}-{tap.Item.Id}\" name=\"item\" value=\"{tap.Item.Id}\" aria-label=\"{Svg.Encode(tap.Says)}\" aria-pressed=\"{(chosen ? "true" : "false")}\"{more}></button></foreignObject>"));
    }

    private static double Width(Extent box) => box.Right - box.Left;

    private static double Height(Extent box) => box.Bottom - box.Top;

    private static Svg Draw(Svg svg, DrawnShape shape)
    {
        string css = Class(shape.Role, shape.Tint);
        return shape switch
        {
            RectShape r => svg.Rect(r.Box.Left, r.Box.Top, Width(r.Box), Height(r.Box), css, r.Corner),
            DiscShape d => svg.Circle(d.X, d.Y, d.Radius, css),
            PathShape { Closed: true } p => svg.Outline(p.Points.Select(q => (q.X, q.Y)), css),
            PathShape p => svg.Polyline(p.Points.Select(q => (q.X, q.Y)), css + " d-open"),
            WordsShape w => svg.Text(w.X, w.Y, w.Size, w.Words, "d-words " + css),
            PictureShape p => FormPicture.Within(svg, p.Picture, p.Box),
            ThingShape t => FormPicture.Within(svg, new Thing(t.Kind, t.X, t.Y, t.Radius, t.Turn)),
            _ => svg,
        };
    }

    private static string Class(Role role, int tint) => role switch
    {
        Role.Counter when tint > 0 => $"d-counter colour-{Colours.Known[tint - 1]}",
        Role.Piece => $"piece piece-{tint - 1}",
        _ => $"d-{role.ToString().ToLowerInvariant()}",
    };
}
