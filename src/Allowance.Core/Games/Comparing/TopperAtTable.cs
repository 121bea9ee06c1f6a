using System.Numerics;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Rules;
using Allowance.Core.Tables;

namespace Allowance.Core.Games;

/// <summary>The same rules for people at a table.</summary>
internal readonly partial struct TopperRules
{
    public IReadOnlyList<Possible> Possibilities(in TopperState s) => own ? s.Own.Possibilities(table.Order[s.At])
        : table.RangeTo[table.Order[s.At]] is { } to ? [.. s.Pile.Possibilities.Where(p => p.Outcome <= to)] : s.Pile.Possibilities;

    public bool IsLegal(in TopperState s, Move move) => s.Head.Phase == StepKind.Choice && (move == Settled || Moves(in s).Contains(move));

    /// <summary>Where saying it first counts, one for each who may have been first.</summary>
    public IReadOnlyList<Move> Moves(in TopperState s)
    {
        if (s.Head.Phase != StepKind.Choice) return [];
        uint round = s.InRound;
        return table.FirstSaid ? [.. Enumerable.Range(0, Seats).Where(seat => (round >> seat & 1) != 0).Select(seat => new Move(0, seat))] : [Settled];
    }

    public Tapped Read(in TopperState s, IReadOnlyList<int> items) => items is [var seat] && Moves(in s).Contains(new Move(0, seat)) ? Tapped.As(new Move(0, seat)) : Tapped.NeedsMore;

    private byte[] Cards(int hand, int count)
    {
        byte[] cards = new byte[count];
        table.Read(hand, cards);
        return cards;
    }

    public IReadOnlyList<Zone> Zones(in TopperState s)
    {
        var zones = new List<Zone>();
        for (int at = 0; at < Seats && s.Head.Phase != StepKind.Over; at++)
        {
            int seat = table.Order[at], cards = s.Head.Phase == StepKind.Choice || at < s.At ? table.Cards[seat] : at == s.At ? s.Card : 0;
            if ((s.InRound >> seat & 1) == 0 || cards == 0) continue;
            var form = table.Make[seat] is TopperMake.Single or TopperMake.Common or TopperMake.CommonDifference ? table.Form : Form.Numeral;
            zones.Add(new Hand("Turned up", seat, [.. Cards(s.Hands[seat], cards).Select((n, i) => new Item(seat * Topper.MostCardsEach + i, n, form, ItemState.Up, false))]) { BeforeSign = table.HasSigns && zones.Count == 0 });
        }
        if (s.Head.Phase == StepKind.Choice && table.FirstSaid) zones.Add(ChoiceKeys.WhoWasFirst(Moves(in s).Select(m => m.Pick)));
        if (!own) zones.Add(new Pile("The pile", s.Pile.Count));
        for (int seat = 0; own && seat < Seats; seat++)
            if (s.Head.Plays(seat)) zones.Add(new Pile("A pile of her own", s.Own.Count(seat)) { Of = seat });
        return zones;
    }

    public string Says(in TopperState s) => s.Head.Phase switch
    {
        StepKind.Over => "The pack is played out.",
        StepKind.Chance => "Turn up.",
        _ when Seats == 1 => table.Make[0] switch
        {
            TopperMake.Sum or TopperMake.Common => "How many together?",
            TopperMake.Difference or TopperMake.CommonDifference => "What is the difference?",
            TopperMake.Product => "How many altogether?",
            _ => "Which number is it?",
        },
        _ when table.Common => table.Make[0] == TopperMake.CommonDifference ? "What is the difference?" : "How many are all together?",
        _ => First() + Question(in s) + (table.FirstSaid ? " Who says it first?" : table.HasSigns ? " Lay the sign." : ""),
    };

    /// <summary>What each finds out of her own cards before they are compared, where all do the same with them.</summary>
    private string First() => table.Make.Distinct().ToList() is not [var make] ? "" : make switch
    {
        TopperMake.Sum => "How many together? ",
        TopperMake.Difference => "How far apart? ",
        TopperMake.Product => "How many altogether? ",
        TopperMake.Digits => "Which number is it? ",
        _ => "",
    };

    private string Question(in TopperState s)
    {
        bool fewer = table.AsksFewer ?? s.Head.Turns / Seats % 2 == 1;
        return table.Gap.Contains(true) ? fewer ? "Which is fewer? How many fewer?" : "Which is more? How many more?"
            : fewer ? Seats == 2 ? "Which is fewer?" : "Who has the fewest?" : Seats == 2 ? "Which is more?" : "Who has the most?";
    }

    public string Tells(in TopperState before, Move move, bool found)
    {
        var values = new List<int>();
        for (int seat = 0; seat < Seats; seat++)
            if ((before.InRound >> seat & 1) != 0) values.Add(Value(in before, seat));
        return Words.List(values.Select(v => v.ToString())) + (BitOperations.PopCount(before.Who) > 1 ? ": a tie" : "");
    }
}
