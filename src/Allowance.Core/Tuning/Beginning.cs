using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tuning;

/// <summary>
/// How people would begin a game that they choose themselves: each child where she left it, or at the
/// lowest level that is neither too hard nor dull for her as it is written; where all of them are too hard, at the gentlest one with numbers for her.
/// </summary>
public static class Beginning
{
    /// <param name="children">What is looked for, for each child among the seats, in their order; none where nobody is known: then it begins as it is written.</param>
    public static Setup Of(FrameData frame, IReadOnlyList<Seat> seats, IReadOnlyList<Search> children, OfferBook book)
    {
        var usual = Setup.Default(frame, [.. seats]);
        if (children.Count == 0 || children.Count != seats.Count(s => !s.GrownUp)) return usual;
        var own = children.Select(c => Ranked(frame, c, book)).ToList();
        if (own.Exists(o => o.Count == 0)) return usual;
        // The one who is asked least of hosts: what she can do goes for all.
        int host = own.Select((o, i) => (Rung: frame.Rung(o[0].LevelId), i)).Min().i;
        // What she plays with somebody beside her need not go alone.
        return own[host].Select(Gathered).FirstOrDefault(setup => Catalogue.Check(setup) is not null) ?? usual;

        Setup Gathered(Setup hers)
        {
            var setup = Gathering.Of(hers, host, [.. children.Select((c, i) => (c.Child.Seat, own[i].Take(Tried).ToList()))]);
            int child = 0;
            return HouseWays.Of(setup with { Seats = [.. seats.Select(s => s.GrownUp ? s : setup.Seats[child++])] }, children[0].Occasion.Approach);
        }
    }

    /// <summary>So many of the best are tried where several sit down.</summary>
    private const int Tried = 8;

    private static List<Setup> Ranked(FrameData frame, Search search, OfferBook book)
    {
        search.BringIn(book, frame);
        // Of each level its own beginning comes first.
        var offers = book.Ready.Where(o => o.Setup.Frame == frame && !o.Preparing.IsMissing && HouseWays.Allows(o.Playable, search.Occasion.Approach))
            .Select(o => (Offer: o, o.Rung, search.Tell(o).Right)).ToList();
        var levels = offers.GroupBy(o => o.Rung).OrderBy(g => g.Key).ToList();
        var written = levels.Select(g => g.First()).Where(o => o.Right >= SearchConstants.EaseFrom).ToList();
        // Easier is what has no larger numbers, whatever is believed.
        var easier = levels.Take(1).SelectMany(g => g.Where(o => o.Offer.LargestAsked <= g.First().Offer.LargestAsked));
        return
        [
            .. offers.Where(o => search.WasLeftAt(o.Offer))
                .Concat(written.Where(o => o.Right <= SearchConstants.BeginsAtMost))
                .Concat(written.OrderByDescending(o => o.Rung))
                .Concat(easier.OrderByDescending(o => Math.Min(o.Right, SearchConstants.EaseFrom)))
                .Select(o => o.Offer.Setup).Distinct(),
        ];
    }
}
