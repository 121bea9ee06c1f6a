using Allowance.Core.Forecasts;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

/// <summary>
/// Facts about the first round of Topper, all hands drawn from one pack. Where all play alike they are exact: for one card each,
/// for two players, for sums and products of two cards, and where the hands are few enough to go through. Else they
/// are the mean of first rounds dealt by the rules themselves, with its error.
/// </summary>
internal static class TopperFacts
{
    private const int Sampled = 40_000, PlayedThrough = 400;

    public static Facts Of(TopperTable table, Spending spending)
    {
        int seats = table.Seats;
        // One sum for all: nobody has more, and nobody ties.
        if (table.Common) return Of(table, null, spending);
        if (!table.AllAlike) return Played(table, spending);
        var hands = Hands(table, spending);
        if (seats == 2)
        {
            var two = hands.Compare();
            return Of(table, new(new(two.Tie), new(two.Gap), new(two.Close)), spending);
        }
        return (seats == 1 ? 0 : hands.TieChance(seats)) is { } tie ? Of(table, new(new(tie), null, null), spending) : Played(table, spending);
    }

    private static HandFacts Hands(TopperTable table, Spending spending)
    {
        var make = table.Make[0];
        Func<int, int, long>? joined = make switch { TopperMake.Sum => (a, b) => a + b, TopperMake.Product => (a, b) => (long)a * b, _ => null };
        return new([.. table.Deck.Counts.Where(c => c.Value > 0)], table.Cards[0], hand => TopperTable.Value(make, hand), make == TopperMake.Digits, joined, table.Fewer, spending);
    }

    /// <summary>By first rounds that are dealt.</summary>
    public static Facts Played(TopperTable table, Spending spending) => Of(table, table.Common ? null : Sample(table, spending), spending);

    private static Facts Of(TopperTable table, FirstRound? round, Spending spending)
    {
        var facts = new Facts();
        int seats = table.Seats;
        if (round is not null) facts["tieChance"] = round.Tie;
        facts["rounds"] = table.OwnPile is not null ? new NumberFact(Enumerable.Range(0, seats).Min(s => table.PileOf(s).Length / table.Cards[s])) : table.RangeTo.All(r => r is null) ? new NumberFact(table.Pack.Length / table.ForRound(table.Everyone)) : Rounds(table, spending);
        if (seats == 2 && round is { Gap: { } gap, Close: { } close })
        {
            facts["gapMean"] = gap;
            facts["closeShare"] = close;
        }
        if (facts.Find("rounds") is NumberFact { Simulated: false, Value: var rounds } && (table.Tie != TopperTie.Again || seats == 1))
            facts.Turns = Pmf.Always((int)rounds * seats);
        facts.AimReached = 1;
        return facts;
    }

    private sealed record FirstRound(NumberFact Tie, NumberFact? Gap, NumberFact? Close);

    /// <summary>Games between two looks at the clock.</summary>
    private const int Stretch = 64;

    /// <returns>Null where not one could be dealt in time.</returns>
    private static FirstRound? Sample(TopperTable table, Spending spending)
    {
        var rules = new TopperRules(table);
        var state = default(TopperState);
        var rng = new Rng(20);
        double ties = 0, gaps = 0, squares = 0, close = 0;
        int seats = table.Seats, game = 0;
        for (; game < Sampled && (game % Stretch != 0 || !spending.IsSpent); game++)
        {
            rules.Start(ref state, 0);
            while (rules.Head(ref state).Next.Kind == StepKind.Chance) rules.Deal(ref state, rules.Draw(ref state, ref rng));
            long best = rules.Value(in state, 0), worst = best;
            int holders = 1;
            for (int seat = 1; seat < seats; seat++)
            {
                long value = rules.Value(in state, seat);
                holders = value == best ? holders + 1 : (table.Fewer ? value < best : value > best) ? 1 : holders;
                (best, worst) = table.Fewer ? (Math.Min(best, value), Math.Max(worst, value)) : (Math.Max(best, value), Math.Min(worst, value));
            }
            double gap = Math.Abs(best - worst);
            ties += holders > 1 ? 1 : 0;
            gaps += gap;
            squares += gap * gap;
            close += HandFacts.IsClose(Math.Max(best, worst), Math.Min(best, worst)) ? 1 : 0;
        }
        if (game == 0) return null;
        double n = game, mean = gaps / n;
        return new(Share(ties), new(mean, Math.Sqrt(Math.Max(0, squares / n - mean * mean) / n), true), Share(close));

        NumberFact Share(double count) => new(count / n, Math.Sqrt(count / n * (1 - count / n) / n), true);
    }

    /// <summary>Where players draw from parts of the pack, the rounds are those of games played through, ties left lying.</summary>
    private static NumberFact Rounds(TopperTable table, Spending spending)
    {
        var rules = new TopperRules(table.WithoutRepeats());
        var state = default(TopperState);
        var rng = new Rng(21);
        double sum = 0, squares = 0;
        int game = 0;
        // One at least is played, so that there is an answer.
        for (; game < PlayedThrough && (game == 0 || !spending.IsSpent); game++)
        {
            rules.Start(ref state, 0);
            while (rules.Head(ref state).Next is { Kind: not StepKind.Over } step)
                if (step.Kind == StepKind.Chance) rules.Deal(ref state, rules.Draw(ref state, ref rng));
                else rules.Apply(ref state, rules.Plain(in state, ref rng), new Answered(true, 0, -1));
            double rounds = state.Head.Turns / (double)table.Seats;
            sum += rounds;
            squares += rounds * rounds;
        }
        double mean = sum / game;
        return new(mean, Math.Sqrt(Math.Max(0, squares / game - mean * mean) / game), true);
    }
}
