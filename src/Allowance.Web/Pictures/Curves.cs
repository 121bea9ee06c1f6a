using Allowance.Core.Numbers;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Pictures;

/// <summary>Small curves and bands for the forecast.</summary>
public static class Curves
{
    /// <summary>The chance that a fresh layout holds something to take, against the number of places.</summary>
    public static IHtmlContent Layout(IReadOnlyList<(int Places, double Chance)> curve, int now)
    {
        const double width = 340, height = 120, left = 34, bottom = 96, top = 10;
        int most = Math.Clamp(curve.Max(c => c.Places), 12, 30);
        double X(double places) => left + (width - left - 10) * (places - 2) / (most - 2);
        double Y(double chance) => bottom - (bottom - top) * chance;
        var shown = curve.Where(c => c.Places <= most).ToList();
        var here = curve.FirstOrDefault(c => c.Places == now);
        var svg = new Svg(width, height, "curve", $"Chance that a fresh layout holds something to take: {string.Join(", ", shown.Where(c => c.Places is 4 or 6 or 9 or 12 or 16 or 20 or 25).Select(c => $"{c.Places} cards {Percent(c.Chance)}"))}");
        foreach (double chance in new[] { 0, .5, 1 }) svg.Line(left, Y(chance), width - 10, Y(chance), "grid").Text(left - 6, Y(chance) + 4, 11, Percent(chance), "quiet", "end");
        foreach (int places in new[] { 4, 6, 9, 12, 16, 20, 25, 30 }.Where(p => p <= most)) svg.Text(X(places), bottom + 16, 11, places.ToString(), "quiet").Line(X(places), bottom, X(places), bottom + 4, "grid");
        svg.Polyline(shown.Select(c => (X(c.Places), Y(c.Chance))), "curve-line");
        if (here.Places > 0 && now <= most) svg.Line(X(now), bottom, X(now), Y(here.Chance), "curve-here").Circle(X(now), Y(here.Chance), 5, "curve-dot");
        return svg.End();
    }

    /// <summary>Minutes in words: from the shortest tenth of games to the longest.</summary>
    public static string MinutesSay(double p10, double p90)
    {
        double low = Math.Max(1, Math.Round(p10)), high = Math.Max(1, Math.Round(p90));
        return low < high ? $"{low} to {high} minutes" : low == 1 ? "about a minute" : $"about {low} minutes";
    }

    /// <summary>Minutes as a band from the shortest tenth of games to the longest, with the middle marked.</summary>
    public static IHtmlContent Minutes(double p10, double p50, double p90)
    {
        double most = p90 <= 20 ? 20 : p90 <= 40 ? 40 : p90 <= 80 ? 80 : Math.Ceiling(p90 / 60) * 60;
        double X(double minutes) => 8 + 324 * Math.Min(1, minutes / most);
        var svg = new Svg(340, 44, "band", $"{p10:0} to {p90:0} minutes, usually about {p50:0}");
        svg.Rect(X(0), 8, X(most) - X(0), 14, "band-ground").Rect(X(p10), 8, Math.Max(3, X(p90) - X(p10)), 14, "band-fill").Line(X(p50), 4, X(p50), 26, "band-mid");
        for (int i = 0; i <= 4; i++) svg.Text(X(most * i / 4), 40, 11, $"{most * i / 4:0}", "quiet");
        return svg.End();
    }

    private const int MostBars = 48;
    private const double AlmostAll = .995;

    /// <summary>How often a game takes how many turns: a bar each, with the middle and nine in ten marked. Of very long games several turns share a bar.</summary>
    public static IHtmlContent Spread(Pmf turns)
    {
        const double width = 340, bottom = 84, top = 8, left = 8;
        int from = Math.Max(0, turns.Quantile(1 - AlmostAll)), to = turns.Quantile(AlmostAll), step = (to - from) / MostBars + 1, bars = (to - from) / step + 1;
        double wide = (width - 2 * left) / bars;
        var chances = Enumerable.Range(0, bars).Select(b => Enumerable.Range(from + b * step, step).Sum(t => turns[t])).ToList();
        double most = chances.Max();
        double X(double turn) => left + wide * (turn - from) / step;
        var svg = new Svg(width, 104, "spread", $"From {from} to {to} rolls in almost all games; as often more as less than {turns.Quantile(.5)}, and nine times in ten at most {turns.Quantile(.9)}");
        for (int b = 0; b < bars; b++) svg.Rect(left + b * wide, bottom - (bottom - top) * chances[b] / most, Math.Max(1, wide - 1), (bottom - top) * chances[b] / most, from + b * step > turns.Quantile(.9) ? "spread-rare" : "band-fill");
        svg.Line(left, bottom, width - left, bottom, "grid");
        foreach (int turn in new[] { from, turns.Quantile(.5), turns.Quantile(.9), to }.Distinct().Where(t => t == from || t == to || X(t) - X(from) > 24 && X(to) - X(t) > 24)) svg.Text(X(turn) + wide / 2, bottom + 16, 11, turn.ToString(), "quiet");
        return svg.End();
    }

    /// <summary>A share as a bar.</summary>
    public static IHtmlContent Share(double share, string label)
    {
        var svg = new Svg(120, 12, "share", label);
        svg.Rect(0, 2, 120, 8, "band-ground").Rect(0, 2, 120 * Math.Clamp(share, 0, 1), 8, "band-fill");
        return svg.End();
    }

    /// <summary>A chance as people say it, where there is little room.</summary>
    public static string Tenths(double p) => p switch { >= .97 => "nearly always", < .03 => "hardly ever", _ => $"{Math.Clamp(Math.Round(10 * p), 1, 9):0} of 10" };

    /// <summary>A chance as people say it.</summary>
    public static string OfTen(double p) => p is >= .03 and < .97 ? "about " + Tenths(p) : Tenths(p);

    /// <summary>The same of games, turns or whatever comes again and again.</summary>
    /// <param name="thing">One of them.</param>
    public static string InOfTen(double p, string thing) => p switch { >= .97 => $"in nearly every {thing}", < .03 => $"in hardly any {thing}", _ => $"in {OfTen(p)} {thing}s" };

    public static string Percent(double p) => p is > 0 and < .005 ? "under 1\u00a0%" : p is < 1 and > .995 ? "over 99\u00a0%" : $"{100 * p:0}\u00a0%";
}
