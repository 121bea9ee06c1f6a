using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Setups;
using Allowance.Core.Tuning;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Glimpse;

/// <summary>What each child sees in a moment, and three ways to go on: on the screen, with hands and cards, in a group.</summary>
public sealed class IndexModel(Household household) : PageModel
{
    public sealed record Viewer(Player Child, Setup Setup, double Sees, IReadOnlyList<GlimpseThreshold> Thresholds);

    public IReadOnlyList<Viewer> Viewers { get; private set; } = [];

    public void OnGet() => Viewers = [.. household.Children.Select(Of)];

    private Viewer Of(Player child)
    {
        var (setup, sees) = GlimpseFitting.For(household.SeatOf(child), household.Model(child), household.Today);
        return new(child, setup, sees, GlimpseThreshold.Of(Glimpses.Kept(household, child)));
    }

    /// <summary>All children at once.</summary>
    public string GroupLink
    {
        get
        {
            var frame = Catalogue.Data.First(f => f.Id == "glimpse");
            var setup = Setup.Default(frame, [.. household.Children.Select(household.SeatOf)]);
            return setup.With(Core.Games.Glimpse.Knobs.Answers, ((ChoiceKind)Core.Games.Glimpse.Knobs.Answers.Kind)[Core.Games.Glimpse.AtOnce]).ToLink();
        }
    }
}
