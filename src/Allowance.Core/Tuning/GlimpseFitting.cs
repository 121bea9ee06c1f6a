using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>
/// Which numbers and pictures to show a child for a moment. There is no time to count in a glimpse, so only what she is
/// believed to see at once or by its structure speaks.
/// </summary>
public static class GlimpseFitting
{
    private const double Wanted = .7;

    /// <summary>From the first loose few to ten-and-some.</summary>
    private static readonly IReadOnlyList<(int Low, int High, Form[] Forms)> Steps =
    [
        (1, 3, [Form.Dice, Form.Scatter]),
        (1, 4, [Form.Dice, Form.Scatter]),
        (2, 5, [Form.Dice, Form.Scatter, Form.Fingers]),
        (3, 6, [Form.Dice, Form.Domino, Form.Fingers]),
        (4, 10, [Form.TenFrame, Form.Fingers]),
        (6, 10, [Form.Domino, Form.Twos, Form.TenFrame]),
        (11, 20, [Form.DoubleTenFrame, Form.Tally]),
        (11, 20, [Form.DoubleTenFrame, Form.Rack, Form.Fingers]),
    ];

    /// <returns>The setup, and her chance of seeing a picture of it without counting.</returns>
    public static (Setup Setup, double Sees) For(Seat child, ChildModel model, DateOnly day)
    {
        var frame = Catalogue.All.OfType<Glimpse>().First().Data;
        var best = Steps.Select(s => (Step: s, Sees: Sees(s.Low, s.High, s.Forms, model, day))).MinBy(s => Math.Abs(s.Sees - Wanted));
        var setup = Setup.Default(frame, child).With(Glimpse.Knobs.Range, new RangeValue(new NumberRange(best.Step.Low, best.Step.High))).With(Glimpse.Knobs.Forms, new FormsValue(best.Step.Forms));
        return (setup, best.Sees);
    }

    private static double Sees(int low, int high, Form[] forms, ChildModel model, DateOnly day)
    {
        Span<double> chances = stackalloc double[6];
        double sum = 0;
        int count = 0;
        foreach (var form in forms)
            for (int n = low; n <= high; n++)
            {
                if (!Pictures.CanDraw(form, n)) continue;
                model.Chances(new Ask(AskKind.Say, n, form), day, chances);
                sum += chances[(int)Outcome.SawIt] + chances[(int)Outcome.Structure];
                count++;
            }
        return sum / count;
    }
}
