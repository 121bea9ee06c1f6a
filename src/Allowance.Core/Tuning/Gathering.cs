using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Brings several children to one table: a setup of one of them, and for each other an allowance from what fits her.</summary>
public static class Gathering
{
    /// <param name="table">What one of them would play alone.</param>
    /// <param name="host">Which of them.</param>
    /// <param name="children">In seat order, each with what she would play alone in this game, the best first.</param>
    public static Setup Of(Setup table, int host, IReadOnlyList<(Seat Seat, List<Setup> Own)> children)
    {
        var own = table.Seats[0];
        var setup = table with { Seats = [.. children.Select((c, i) => i == host ? c.Seat with { Level = own.Level, Allowance = own.Allowance } : c.Seat)] };
        for (int i = 0; i < children.Count; i++)
            if (i != host) setup = WithChild(setup, i, children[i].Own);
        return setup;
    }

    /// <summary>The first of her own that goes with the table; as much of it as goes with it.</summary>
    private static Setup WithChild(Setup table, int at, List<Setup> own)
    {
        Setup? nearest = null;
        int most = -1;
        foreach (var wish in own)
        {
            var (joined, kept, wished) = Allowing(table, at, wish);
            if (kept > most) (nearest, most) = (joined, kept);
            if (kept == wished) break;
        }
        return nearest ?? table;
    }

    /// <returns>The table with as much of what is wished as goes, how many of the wishes that were, and how many there were.</returns>
    private static (Setup Table, int Kept, int Wished) Allowing(Setup table, int at, Setup own)
    {
        var frame = Catalogue.Of(table);
        int kept = 0, wished = 0;
        var joined = table;
        if (own.LevelId != table.LevelId) Try(joined.WithSeat(at, joined.Seats[at] with { Level = own.LevelId }));
        foreach (var knob in own.Frame.Knobs.Where(k => k.Scope.HasFlag(Scope.Seat)))
        {
            var hers = own.At(0, knob);
            if (hers is null || Equals(hers, joined.At(at, knob))) continue;
            var wanted = joined.WithSeat(at, joined.Seats[at].With(knob, hers));
            Try(wanted, Wider(wanted, own));
        }
        return (joined, kept, wished);

        void Try(params Setup[] wishes)
        {
            wished++;
            if (wishes.FirstOrDefault(w => frame.Check(w) is not null) is not { } goes) return;
            kept++;
            joined = goes;
        }
    }

    /// <summary>The same with a pack that also holds the ranks of the other's own pack.</summary>
    private static Setup Wider(Setup setup, Setup own)
    {
        if (setup.Frame.Knob(KnobRole.Deck) is not { } knob || setup.Get(knob) is not DeckValue { Deck: var mine } || own.Get(knob) is not DeckValue { Deck: var hers }) return setup;
        if (mine.HomeMade || hers.HomeMade) return setup;
        var ranks = mine.Ranks.Concat(hers.Ranks).DistinctBy(r => r.Rank);
        return setup.With(knob, new DeckValue(Deck.FromRanks(ranks, Math.Max(mine.Packs, hers.Packs))));
    }
}
