using Allowance.Core.Rules;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>How far each roll gets: a row for each roll, with the part of the line where one then stands in eight games of ten, and the middle of it.</summary>
public static class JourneyPicture
{
    private const double Width = 340, Left = 34, Row = 17, Top = 22;
    private const int MostTicks = 7;

    public static IHtmlContent Of(Journey journey)
    {
        double wide = Width - Left - 14, X0 = Left + 4;
        double X(double place) => X0 + (journey.To == journey.From ? 0 : wide * (place - journey.From) / (journey.To - journey.From));
        double bottom = Top + Row * journey.Rolls.Count;
        string says = string.Join("; ", journey.Rolls.Select((r, i) => $"after {i + 1}: {r.Low} to {r.High}, usually {r.Middle}"));
        var svg = new Svg(Width, bottom + 8, "journey", $"{(journey.Whose.Length > 0 ? journey.Whose + ", " : "")}how far each roll gets: {says}");
        int step = Step(journey.To - journey.From);
        for (int place = journey.From; place <= journey.To; place++)
            if (place == journey.From || place == journey.To || place % step == 0 && place - journey.From >= step * .6 && journey.To - place >= step * .6)
                svg.Line(X(place), Top - 4, X(place), bottom, "grid").Text(X(place), Top - 8, 11, place.ToString(), "quiet");
        svg.Line(X(journey.Start), Top - 4, X(journey.Start), bottom, "journey-start");
        for (int i = 0; i < journey.Rolls.Count; i++)
        {
            var roll = journey.Rolls[i];
            double y = Top + Row * i;
            svg.Text(Left - 8, y + 11, 11, $"{i + 1}", "quiet", "end");
            svg.Rect(X(roll.Low) - 2, y + 3, X(roll.High) - X(roll.Low) + 4, Row - 7, "journey-band").Line(X(roll.Middle), y + 1, X(roll.Middle), y + Row - 2, "band-mid");
        }
        return svg.End();
    }

    private static int Step(int length) => new[] { 1, 2, 5, 10, 20, 50, 100, 200, 500 }.FirstOrDefault(s => length / s <= MostTicks, 1000);
}
