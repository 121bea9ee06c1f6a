using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Web.Pictures;

namespace Allowance.Web.Pages.Bench;

/// <summary>What a forecast comes to for the table as a whole, as a friend would say it.</summary>
public static class ForecastWords
{
    /// <summary>A smaller difference between the first place and the others is none.</summary>
    private const double NoMatter = .02;

    /// <summary>A smaller one is hardly noticed: one game in ten goes the other way.</summary>
    private const double ALittle = .1;

    /// <summary>Who wins, or what is reached, and what the first turn is worth.</summary>
    /// <param name="name">Who sits at a place.</param>
    public static string Winning(Setup setup, Forecast forecast, Func<int, string> name)
    {
        var wins = forecast.Wins;
        if (wins.Length == 0) return "Nobody wins.";
        if (Catalogue.Of(setup).EndsTogether(setup)) return "Everyone gets to the end together.";
        if (wins.Length == 1) return $"What you play for is reached {Curves.InOfTen(wins[0], "game")}.";
        string tie = forecast.Tie > 0 ? $"Two or more come out equal {Curves.InOfTen(forecast.Tie, "game")}. " : "";
        return tie + GoingFirst(setup, wins, name);
    }

    /// <summary>The first place against the mean of the others, where it is always the same one that begins.</summary>
    private static string GoingFirst(Setup setup, IReadOnlyList<double> wins, Func<int, string> name)
    {
        if (setup.Frame.Knob(KnobRole.WhoBegins) is null || setup.First is FirstSeat.Alternate or FirstSeat.Draw) return "";
        int first = setup.Beginners[0];
        double edge = wins[first] - wins.Where((_, i) => i != first).Average();
        if (Math.Abs(edge) < NoMatter) return $"{name(first)} begins; it makes no difference.";
        string others = wins.Count == 2 ? name(1 - first) : "the others", much = Math.Abs(edge) < ALittle ? "a little " : "";
        return $"{name(first)}, who begins, wins {much}{(edge > 0 ? "more" : "less")} often than {others}.";
    }

    /// <summary>How often nothing goes while cards are left; empty where that cannot be.</summary>
    public static string Stuck(Forecast forecast)
    {
        if (forecast.Stuck <= 0 && forecast.Facts.Find("pStuck") is null) return "";
        string left = forecast.Setup.Frame.Knob(KnobRole.Deck) is not null && forecast.Facts.Find("leftMean") is NumberFact { Value: >= .05 } cards ? $"; {Words.About(Math.Max(1, cards.Value), "card")} {(cards.Value < 1.5 ? "is" : "are")} left then" : "";
        string often = forecast.Stuck < .03 ? "Hardly any game comes to a point where nothing goes." : $"{Words.Capital(Curves.InOfTen(forecast.Stuck, "game"))} there comes a point where nothing goes{left}.";
        string fresh = forecast.Setup.Frame.Knobs.Any(k => k.Kind is SizeKind) && forecast.Facts.Find("pMove") is NumberFact { Value: < .995 } move ? $" When the cards are first laid out, something can be taken {Curves.InOfTen(move.Value, "game")}." : "";
        string run = forecast.Facts.Find("pRun") is NumberFact made ? $" The first turn makes the number {Curves.InOfTen(made.Value, "game")}." : "";
        return often + fresh + run;
    }
}
