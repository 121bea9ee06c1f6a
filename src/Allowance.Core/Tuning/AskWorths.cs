using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;

namespace Allowance.Core.Tuning;

/// <summary>What one ask would bring a child today.</summary>
/// <param name="Right">Her chance of being right without help.</param>
/// <param name="Lead">The band that gets most of it.</param>
/// <param name="Worth">Of the lead band; <paramref name="Along"/>: of the others, together.</param>
internal readonly record struct AskWorth(double Right, int Lead, double Worth, double Along);

/// <summary>What asks would bring a child on a day, by her aims. What was asked once is kept.</summary>
internal sealed class AskWorths
{
    private readonly IBeliefs beliefs;
    private readonly DateOnly day;
    private readonly Aim?[] aims = new Aim?[Feeding.Bands.Count];
    private readonly Dictionary<long, AskWorth> known = [];
    private readonly Dictionary<long, double> seconds = [];
    private readonly bool numeralsFirst;

    public AskWorths(IBeliefs beliefs, DateOnly day, IReadOnlyList<Aim> aims, Approach approach)
    {
        (this.beliefs, this.day) = (beliefs, day);
        numeralsFirst = approach["handle"] == "numerals";
        foreach (var aim in aims) this.aims[aim.Standing.Band] = aim;
    }

    public Aim? AimOf(int band) => aims[band];

    public AskWorth Of(Ask ask)
    {
        if (known.TryGetValue(ask.Code, out var worth)) return worth;
        return known[ask.Code] = WorkOut(ask);
    }

    private AskWorth WorkOut(Ask ask)
    {
        double right = beliefs.Right(ask, day);
        Span<int> bands = stackalloc int[4];
        int count = Feeding.Of(ask, bands);
        double along = 0;
        for (int i = 1; i < count; i++) along += Worth(bands[i], ask, right);
        double lead = Worth(bands[0], ask, right);
        return count == 1 ? new(right, bands[0], lead, 0) : new(right, bands[0], SearchConstants.LeadShare * lead, (1 - SearchConstants.LeadShare) / (count - 1) * along);
    }

    private double Worth(int band, Ask ask, double right)
    {
        double practice = Aims.Practice(right);
        if (aims[band] is not { } aim) return SearchConstants.ComesAlong * practice;
        // What she can is met at ease; what she can hardly is practice of another kind.
        double held = right >= AimConstants.GrowTo ? 1 : practice;
        return aim.Weight * (aim.IsFirst ? AimConstants.PutFirst : 1) * aim.Kind switch
        {
            AimKind.Open => practice * AimConstants.Tells * (IsSign(ask.Form) == numeralsFirst ? SearchConstants.FirstForm : 1),
            AimKind.Grow => practice,
            AimKind.See => AimConstants.Seeing * held * (ask.Form.Facts().Structure == Structure.None ? .5 : 1),
            AimKind.Widen => AimConstants.Widening * held * (aim.Standing.Met(ask.Form) ? .3 : 1),
            AimKind.Visit => AimConstants.Visiting * Math.Max(held, practice),
            _ => SearchConstants.ComesAlong * practice,
        };
    }

    private static bool IsSign(Form form) => form is Form.Numeral or Form.Word or Form.Equation;

    /// <summary>The seconds that an answer takes which is right so often, whatever is asked: for looking through many.</summary>
    public static double RoughSeconds(double right) => right * Seconds.Structure + (1 - right) * (Seconds.NotYet + Seconds.Help) / 2;

    /// <summary>The seconds that her answer takes, by how she is likely to get there.</summary>
    public double SecondsOf(Ask ask)
    {
        if (seconds.TryGetValue(ask.Code, out double kept)) return kept;
        Span<double> chances = stackalloc double[6], each = stackalloc double[6];
        beliefs.Chances(ask, day, chances);
        Seconds.Of(ask, each);
        double sum = 0;
        for (int i = 0; i < 6; i++) sum += chances[i] * each[i];
        return seconds[ask.Code] = sum;
    }
}
