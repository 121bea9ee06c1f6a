using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;

namespace Allowance.Bench;

/// <summary>First looks at made-up children nobody has seen play, against where they truly stand.</summary>
internal sealed class LookStudy
{
    private const int Minutes = 10;

    /// <summary>By her true chances: what she mostly manages, and what she mostly does not.</summary>
    private const double Easy = .7, Hard = .5;

    private int looks, beganEasily, threeHard, levels, twoBands, exact, byAge, games, gamesThatFit;
    private double said;

    public static LookStudy Play(IReadOnlyList<long> seeds, int children)
    {
        var book = OfferBook.Of(new Cupboard([]));
        var all = new LookStudy();
        foreach (long seed in seeds)
            Parallel.For(0, children, i =>
            {
                var part = new LookStudy();
                part.Look(seed, i, book);
                lock (all) all.Add(part);
            });
        return all;
    }

    private void Look(long seed, int i, OfferBook book)
    {
        var (age, child) = Study.Child(seed, i, Study.Usual);
        var at = new DateTimeOffset(2026, 1, 5, 16, 0, 0, TimeSpan.Zero);
        var day = DateOnly.FromDateTime(at.DateTime);
        var fresh = new ChildModel(age);
        var seen = new List<LookedAt>();
        int hard = 0, mostHard = 0;
        while (FirstLook.Next(fresh, seen, FirstLook.MostAsks, at) is { } ask)
        {
            double right = child.RightOverDays(ask);
            if (seen.Count == 0 && right >= Easy) beganEasily++;
            hard = right < Hard ? hard + 1 : 0;
            mostHard = Math.Max(mostHard, hard);
            seen.Add(new(ask, Seen.How(child.Answer(ask, day))));
        }
        looks++;
        if (mostHard > 2) threeHard++;
        var after = FirstLook.After(fresh, seen, at);
        foreach (var level in FirstLook.Levels(after, day))
        {
            int truth = Truth(child, level);
            var (lower, chance) = level.Between;
            levels++;
            said += chance;
            if (truth == lower || truth == lower + 1) twoBands++;
            if (truth == level.Likeliest) exact++;
            if (truth == StrandLevel.Of(fresh, level.Strand, day).Likeliest) byAge++;
        }
        foreach (var game in Advice.ToBegin(new(Seat.Child("", age), after, [], []), new(day, Minutes, Approach.Default), book))
        {
            games++;
            var asks = game.Game.Forecast.Players[0].Asks;
            if (asks.Sum(a => a.PerGame * child.RightOverDays(a.Ask)) / asks.Sum(a => a.PerGame) is >= .50 and <= .92) gamesThatFit++;
        }
    }

    private static int Truth(IMadeUpChild child, StrandLevel level)
    {
        string skill = Skills.Lead(level.Strand).Id;
        return level.Bands.TakeWhile(b => Study.Truth(child, Feeding.BandIndex(skill, b)) >= StrandLevel.Reached).Count();
    }

    private void Add(LookStudy other)
    {
        looks += other.looks;
        beganEasily += other.beganEasily;
        threeHard += other.threeHard;
        levels += other.levels;
        twoBands += other.twoBands;
        exact += other.exact;
        byAge += other.byAge;
        said += other.said;
        games += other.games;
        gamesThatFit += other.gamesThatFit;
    }

    public double TwoBands => (double)twoBands / levels;

    public double Exact => (double)exact / levels;

    public double ByAge => (double)byAge / levels;

    public double Honesty => Math.Abs(said - twoBands) / levels;

    /// <summary>The share of looks that began with something truly easy, and of those with three truly hard asks in a row.</summary>
    public double BeganEasily => (double)beganEasily / looks;

    public double ThreeHard => (double)threeHard / looks;

    public double GamesThatFit => (double)gamesThatFit / games;
}
