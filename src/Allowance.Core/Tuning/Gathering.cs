using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>Brings several children to one table: the first one's setup, and for each other an allowance from her own proposal.</summary>
public static class Gathering
{
    public static Setup Of(IReadOnlyList<Proposal> proposals, IReadOnlyList<Seat> children)
    {
        var setup = proposals[0].Setup;
        for (int i = 1; i < children.Count; i++) setup = WithChild(setup, proposals[i].Setup, children[i]);
        return setup;
    }

    private static Setup WithChild(Setup table, Setup own, Seat child)
    {
        var frame = Catalogue.Of(table);
        int at = table.Seats.Length;
        var joined = table with { Seats = table.Seats.Add(child) };
        if (own.LevelId != table.LevelId) joined = Try(joined, joined.WithSeat(at, child with { Level = own.LevelId }));
        foreach (var knob in own.Frame.Knobs.Where(k => k.Scope == Scope.Both && !Equals(own.Get(k), table.Get(k))))
        {
            var wanted = joined.WithSeat(at, joined.Seats[at].With(knob, own.Get(knob)));
            joined = Try(joined, wanted, Wider(wanted, own));
        }
        return joined;

        Setup Try(Setup otherwise, params Setup[] wishes) => wishes.FirstOrDefault(w => frame.Check(w) is not null) ?? otherwise;
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
