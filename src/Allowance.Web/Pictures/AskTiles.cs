using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Materials;

namespace Allowance.Web.Pictures;

/// <summary>Asks of one kind and form that come up in a game, by number.</summary>
/// <param name="Says">What they ask; empty for bonds, which speak for themselves.</param>
/// <param name="Reach">What they ask, and of which numbers.</param>
public sealed record AskGroup(string Says, string Reach, IReadOnlyList<(string Label, double PerGame, double Right)> Tiles)
{
    internal const double LeastOften = .75;

    public double PerGame => Tiles.Sum(t => t.PerGame);

    /// <summary>Many of them, in words.</summary>
    public string InWords => $"{Reach}: {(PerGame < LeastOften ? "not in every game" : $"about {AskTiles.Often(PerGame)} a game")}, {FirmnessScale.Of(Right).Says()}";

    /// <summary>The mean chance of being right.</summary>
    public double Right => Tiles.Sum(t => t.PerGame * t.Right) / PerGame;
}

/// <summary>What comes up for a player, put together for looking at: what comes most often first.</summary>
public static class AskTiles
{
    /// <summary>So many tiles stand in a row; more are said in words.</summary>
    public const int MostTiles = 10;

    /// <summary>How often something comes in a game, as people say it.</summary>
    public static string Often(double perGame) => perGame switch { < AskGroup.LeastOften => "seldom", < 1.5 => "once", < 2.5 => "twice", _ => $"{perGame:0} times" };

    public static IReadOnlyList<AskGroup> Of(IEnumerable<AskForecast> asks) =>
        [.. asks.GroupBy(a => (a.Ask.Kind, a.Ask.Form)).Select(Group).OrderByDescending(g => g.PerGame)];

    private static AskGroup Group(IGrouping<(AskKind Kind, Form Form), AskForecast> asks)
    {
        string says = asks.Key.Kind is AskKind.Part or AskKind.Match ? "" : Says(asks.Key.Kind, asks.Key.Form);
        IReadOnlyList<(string Label, double, double)> tiles = [.. asks.GroupBy(a => Tile(a.Ask)).OrderBy(g => g.Key.By)
            .Select(g => (g.Key.Label, g.Sum(a => a.PerGame), g.Sum(a => a.PerGame * a.Right) / g.Sum(a => a.PerGame)))];
        var (least, most) = (asks.Min(a => a.Ask[0]), asks.Max(a => a.Ask[0]));
        string wholes = least == most ? $"{most}" : $"{least} to {most}";
        return new(says, asks.Key.Kind switch { AskKind.Part => $"the missing part of {wholes}", AskKind.Match => $"finding the same, {wholes}", AskKind.More or AskKind.Gap or AskKind.Times or AskKind.Even or AskKind.Share or AskKind.Story or AskKind.Step => $"{says}, up to {asks.Max(a => a.Ask.Largest)}", _ => $"{says}, {tiles[0].Label} to {tiles[^1].Label}" }, tiles);
    }

    private static string Says(AskKind kind, Form form)
    {
        string label = form.Facts().Label;
        return kind switch
        {
            AskKind.Say => form is Form.Numeral or Form.Word ? $"reading {label}" : $"how many, {label}",
            AskKind.Take => $"putting out that many, {label}",
            AskKind.Join => "adding up",
            AskKind.Gone => "taking away",
            AskKind.On => $"counting on, {label}",
            AskKind.Back => $"counting back, {label}",
            _ => $"{kind.Facts().Asks}, {label}",
        };
    }

    /// <summary>What stands on a tile, and where it comes in the row. A bond and its mirror are one.</summary>
    private static (string Label, int By) Tile(Ask ask) => ask.Kind switch
    {
        AskKind.Part when Math.Min(ask[1], ask[0] - ask[1]) is var small => ($"{small} {ask[0] - small}", ask[0] * 1000 + small),
        AskKind.Match => ($"{ask[0]} {ask[0]}", ask[0]),
        AskKind.Join => (string.Join("+", Enumerable.Range(0, ask.Count).Select(i => ask[i])), ask.Total * 1000 + ask[0]),
        AskKind.Gone => ($"{ask[0]}−{ask[1]}", ask[0] * 1000 + ask[1]),
        AskKind.On => ($"{ask[0]}+{ask[1]}", ask[0] * 1000 + ask[1]),
        AskKind.Back => ($"{ask[0]}−{ask[1]}", ask[0] * 1000 + ask[1]),
        _ => (string.Join(' ', Enumerable.Range(0, ask.Count).Select(i => ask[i])), ask[0] * 1000 + (ask.Count > 1 ? ask[1] : 0)),
    };
}
