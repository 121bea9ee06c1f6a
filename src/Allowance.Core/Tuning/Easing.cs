using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>What a single change is for a child.</summary>
public enum Ease { Neither, Easier, Harder }

/// <summary>A single change, which way it goes, and what it does to being right.</summary>
/// <param name="Before">Her mean chance of being right without it; <paramref name="After"/>: with it.</param>
public sealed record Eased(SingleStep Step, Ease Ease, double Before, double After)
{
    /// <summary>Its figures say the same as the ladder does, by one in a hundred and more; else they are not shown.</summary>
    public bool IsShownBy => (Ease == Ease.Easier ? After - Before : Before - After) >= .01;

    /// <summary>How large a step it is.</summary>
    internal double Size => Math.Abs(After - Before);
}

/// <summary>
/// Which single changes make a game easier or harder for one player. The ladder binds: a lower level is easier and a higher one
/// harder, whatever a simulation says. Length is never difficulty, a support or a help card is never harder, larger numbers are never
/// easier and smaller ones never harder, and a difference that is no larger than its error is none. Written words are no step for
/// who does not read them yet.
/// </summary>
public static class Easing
{
    /// <summary>A smaller difference nobody would notice at a table: one in fifty asks.</summary>
    public const double Noticed = .02;

    /// <param name="answers">How the players answer in a setup.</param>
    /// <param name="games">Games played for each change, one half beside the other, so that the halves tell the error.</param>
    /// <param name="spending">When it is spent, no more changes are looked at.</param>
    /// <param name="drawer">What is there; changes that need other things are left out. Null, or empty, where nobody has said.</param>
    public static IReadOnlyList<Eased> Around(Playable playable, int seat, Func<Setup, IAnswers> answers, int games, Spending spending, Cupboard? drawer = null) =>
        Among(playable, Steps.Around(playable.Setup, seat), seat, answers, games, spending, drawer);

    /// <summary>The same for changes that are given.</summary>
    public static IReadOnlyList<Eased> Among(Playable playable, IEnumerable<SingleStep> steps, int seat, Func<Setup, IAnswers> answers, int games, Spending spending, Cupboard? drawer = null)
    {
        if (Halves(playable) is not { } before) return [];
        var found = new List<Eased>();
        bool? reads = null;
        foreach (var step in steps)
        {
            if (spending.IsSpent) break;
            if (drawer is { Materials.Length: > 0 } && !IsThere(step.Playable, drawer)) continue;
            if (ShowsWords(step.Setup, seat) && !ShowsWords(playable.Setup, seat) && !(reads ??= ReadsWords(answers(playable.Setup), seat))) continue;
            var after = Halves(step.Playable) ?? before;
            double first = after.First - before.First, second = after.Second - before.Second, gain = (first + second) / 2;
            // Of two halves the error of their mean is half of what they differ by; nothing within twice that is told.
            found.Add(new(step, Of(playable.Setup, step, seat, gain, Math.Max(Noticed, Math.Abs(first - second))), Mean(before), Mean(after)));
        }
        return found;

        (double First, double Second)? Halves(Playable played) =>
            Forecaster.Success(played, answers(played.Setup), games / 2, seat, spending) is { } one && Forecaster.Success(played, answers(played.Setup), games / 2, seat, spending, 2) is { } other ? (one, other) : null;

        static double Mean((double First, double Second) halves) => (halves.First + halves.Second) / 2;
    }

    /// <summary>Which way a change goes.</summary>
    /// <param name="gain">How much oftener she is right with it.</param>
    /// <param name="least">No smaller gain or loss counts.</param>
    public static Ease Of(Setup before, SingleStep step, int seat, double gain, double least)
    {
        var frame = before.Frame;
        int rungs = frame.Rung(step.Setup.LevelAt(seat)) - frame.Rung(before.LevelAt(seat));
        if (rungs != 0) return rungs < 0 ? Ease.Easier : Ease.Harder;
        if (step.Belongs == Belongs.Length) return Ease.Neither;
        var told = gain > least ? Ease.Easier : gain < -least ? Ease.Harder : Ease.Neither;
        int had = Supports(before), has = Supports(step.Setup);
        if (had != has && told != (has > had ? Ease.Easier : Ease.Harder)) return Ease.Neither;
        if (told == Ease.Harder && IsHelpCard(before, step.Setup, seat)) return Ease.Neither;
        return step.Belongs == Belongs.Range && told == (Grows(before, step.Setup, seat) switch { > 0 => Ease.Easier, < 0 => Ease.Harder, _ => Ease.Neither }) ? Ease.Neither : told;

        int Supports(Setup setup) => (setup.At<ChoiceValue>(seat, KnobRole.Support) is { Id: not "none" } ? 1 : 0) + (setup.At<FlagValue>(seat, KnobRole.Aid) is { On: true } ? 1 : 0);
    }

    private static bool ShowsWords(Setup setup, int seat) => setup.Frame.Knobs.Any(k => k.Belongs == Belongs.Form && setup.At(seat, k) switch
    {
        FormsValue several => several.Forms.Contains(Form.Word),
        ChoiceValue one => one.Id == Form.Word.Id(),
        _ => false,
    });

    private static bool ReadsWords(IAnswers answers, int seat) => answers.For(seat, SearchConstants.NumberWord).Right >= SearchConstants.ReadsWords;

    /// <summary>A form of her own beside cards that are shared by all.</summary>
    private static bool IsHelpCard(Setup before, Setup after, int seat) =>
        before.Seats.Length > 1 && before.Frame.Knob(KnobRole.Form) is { } form && form.Scope.HasFlag(Scope.Table) && Equals(before.Get(form), after.Get(form)) && !Equals(before.At(seat, form), after.At(seat, form));

    /// <summary>1 where the numbers of a game grow, −1 where they shrink, 0 where some do the one and some the other.</summary>
    private static int Grows(Setup before, Setup after, int seat)
    {
        var ways = before.Frame.Knobs.Where(k => k.Belongs == Belongs.Range).Select(k => (Was: before.At(seat, k)?.Largest, Is: after.At(seat, k)?.Largest))
            .Where(k => k is { Was: not null, Is: not null } && k.Was != k.Is).Select(k => k.Is > k.Was ? 1 : -1).Distinct().ToList();
        return ways is [var one] ? one : 0;
    }

    /// <summary>Its dice lie in the drawer or are soon made, and it has things enough, if of other colours.</summary>
    private static bool IsThere(Playable playable, Cupboard drawer)
    {
        var needs = playable.Frame.Needs(playable.Setup).Where(n => n.Thing is Need.OfDice or Need.Pieces).ToList();
        return drawer.Fetch(needs).All(f => f.Standing is Standing.There or Standing.ToMake || f.Standing == Standing.StandsIn && f.Used.All(u => u.Use == Use.Pieces));
    }

    /// <summary>Those that go one way, the smallest steps first and of different kinds before more of one kind.</summary>
    public static IReadOnlyList<Eased> Nearest(this IEnumerable<Eased> changes, Ease ease, int most) =>
        [.. changes.Where(c => c.Ease == ease).OrderBy(c => c.Size).GroupBy(c => c.Step.Belongs).SelectMany(g => g.Select((c, i) => (c, i)))
            .OrderBy(x => x.i).ThenBy(x => x.c.Step.Belongs).Take(most).Select(x => x.c).OrderBy(c => c.Size)];
}
