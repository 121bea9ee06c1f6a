using Allowance.Core.Forms;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Store;

namespace Allowance.Web;

/// <summary>How long a picture shows next: what was kept of the player, or of this sitting where nobody's notes are kept.</summary>
public static class Glimpses
{
    /// <summary>Where many answer at once, so many of them must have had it for it to count as seen.</summary>
    private const double MostOfThem = .75;

    public static double SecondsToShow(OpenTable table, Household household, int seat, int number, Form form)
    {
        var setup = table.Sitting.Setup;
        double start = setup.At(seat, Glimpse.Knobs.ShowMs).Number / 1000.0;
        if (!setup.At(seat, Glimpse.Knobs.Adaptive).On) return start;
        bool atOnce = setup.Get(Glimpse.Knobs.Answers).Id == Glimpse.AtOnce;
        var player = table.Seats.ElementAtOrDefault(seat) is { } id ? household.Children.FirstOrDefault(c => c.Id == id) : null;
        if (atOnce || player is null)
            return Staircase.Next(OfSitting(table, atOnce ? null : seat).Where(g => g.Number == number && g.Form == form), start);
        var kept = Kept(household, player);
        var looks = kept.Where(g => g.Number == number && g.Form == form).ToList();
        return looks.Count > 0 ? Staircase.Next(looks, start) : Staircase.Nearest(GlimpseThreshold.Borrowed(number, form, GlimpseThreshold.Of(kept), start));
    }

    /// <summary>All glimpses of a child that count, the oldest first.</summary>
    public static IReadOnlyList<Glance> Kept(Household household, Player child) => household.Log(child).Glimpses(household.Today);

    private static IEnumerable<Glance> OfSitting(OpenTable table, int? seat) =>
        table.Sitting.Notes.Where(n => n.Shown is > 0 && (seat is null || n.Seat == seat)).GroupBy(n => n.Turn).OrderBy(g => g.Key)
            .SelectMany(g => Glance.Of([new Observation(default, g.First().Ask, g.Count(n => n.Seen.Right) >= MostOfThem * g.Count() ? Core.Asks.Seen.NotWatched(true) : Core.Asks.Seen.NotWatched(false), g.First().Shown, Source.Glimpse)]));
}
