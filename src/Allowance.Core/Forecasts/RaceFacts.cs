using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>What happens at the end of a track: past it is enough, it must be met, or what is left over goes back.</summary>
public enum Finish { Reach, Exact, Bounce }

/// <summary>Exact answers about getting to the end of a track by dice. A roll that does not move is a turn.</summary>
public static class RaceFacts
{
    /// <summary>So little is not carried along.</summary>
    private const double Nothing = 1e-18;

    private const int MostTurns = 2_000_000;

    /// <summary>Turns between two looks at the clock.</summary>
    private const int Stretch = 16;

    /// <summary>Where a roll leads from a place, 0 (before the first section) to <paramref name="length"/> (done).</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int Land(int place, int roll, int length, Finish finish)
    {
        int to = place + roll;
        if (to <= length) return to;
        return finish switch { Finish.Reach => length, Finish.Exact => place, _ => Math.Max(0, 2 * length - to) };
    }

    /// <summary>Whether the end is reached for certain: from every place that can be met it can still be reached.</summary>
    public static bool Ends(Dice dice, int from, int length, Finish finish)
    {
        var rolls = dice.Likely();
        return new Reach(length, _ => rolls.Length, (place, way) => Land(place, rolls[way].Roll, length, finish) is var to && to < length ? to : -1).EndsFrom(from);
    }

    /// <summary>
    /// The mean number of turns to the end, by solving E(p) = 1 + Σ P(r) E(p after r) from the end backwards; only where
    /// rolls bounce do the last places hang on each other and are solved together.
    /// </summary>
    public static double MeanTurns(Dice dice, int from, int length, Finish finish)
    {
        var rolls = dice.Likely();
        var mean = new double[length + 1];
        int last = finish == Finish.Bounce ? Math.Max(0, length - dice.Most + 1) : length;
        if (last < length) Solve(rolls, mean, last, length);
        for (int place = last - 1; place >= 0; place--)
        {
            double sum = 1, stays = 0;
            foreach (var (roll, chance) in rolls)
                if (Land(place, roll, length, finish) is var to && to == place) stays += chance;
                else sum += chance * mean[to];
            mean[place] = sum / (1 - stays);
        }
        return mean[from];
    }

    /// <summary>The places from <paramref name="first"/> on, where a roll may lead back among them: Gaussian elimination.</summary>
    private static void Solve((int Roll, double Chance)[] rolls, double[] mean, int first, int length)
    {
        // Bouncing leads back at most as far as the largest roll before the end, and so stays among these.
        int n = length - first;
        var rows = new double[n][];
        for (int i = 0; i < n; i++)
        {
            var row = rows[i] = new double[n + 1];
            row[i] = row[n] = 1;
            foreach (var (roll, chance) in rolls)
                if (Land(first + i, roll, length, Finish.Bounce) is var to && to < length) row[Math.Max(0, to - first)] -= chance;
        }
        LinearEquations.Solve(rows);
        for (int i = 0; i < n; i++) mean[first + i] = rows[i][n];
    }

    /// <summary>The distribution of the turns one player takes to the end, alone.</summary>
    /// <exception cref="BudgetSpentException">That takes longer than there is time.</exception>
    public static Pmf Turns(Dice dice, int from, int length, Finish finish, Spending spending)
    {
        var rolls = dice.Likely();
        double[] here = new double[length + 1], next = new double[length + 1];
        here[from] = 1;
        if (from == length) return new Pmf([1]);
        var endings = new Endings(1, MostTurns);
        var fromEnd = new double[length + 1];
        double ended;
        int low = from;
        do
        {
            if (endings.Steps % Stretch == 0) spending.Check();
            Array.Clear(next);
            while (low < length && here[low] < Nothing) low++;
            if (finish == Finish.Bounce)
                for (int left = 1; left <= length - low; left++) fromEnd[left] = here[length - left];
            foreach (var (roll, chance) in rolls)
            {
                // Places from which it goes on, and those from which it goes past the end.
                int past = Math.Max(low, Math.Min(length, length - roll + 1));
                if (past > low) Walks.Carry(here.AsSpan(low, past - low), chance, next.AsSpan(low + roll));
                if (past == length) continue;
                if (finish == Finish.Exact) Walks.Carry(here.AsSpan(past, length - past), chance, next.AsSpan(past));
                else if (finish == Finish.Reach) next[length] += chance * Walks.Sum(here.AsSpan(past, length - past));
                else if (roll <= length) Walks.Carry(fromEnd.AsSpan(1, length - past), chance, next.AsSpan(length - roll + 1));
                else
                    for (int place = past; place < length; place++) next[Land(place, roll, length, finish)] += chance * here[place];
            }
            ended = next[length];
            next[length] = 0;
            if (finish == Finish.Bounce) low = Math.Max(0, Math.Min(low, length - dice.Most));
            (here, next) = (next, here);
        }
        while (endings.Step(ended, here));
        return endings.Chances;
    }

    /// <summary>Where one stands on the track after each roll, alone.</summary>
    public static Journey Journey(string whose, Dice dice, int from, int length, Finish finish)
    {
        var rolls = dice.Likely();
        var places = new double[length + 1];
        places[from] = 1;
        return Rules.Journey.Along(whose, 0, length, places, (here, _) =>
        {
            var next = new double[length + 1];
            next[length] = here[length];
            for (int place = 0; place < length; place++)
                if (here[place] > 0)
                    foreach (var (roll, chance) in rolls) next[Land(place, roll, length, finish)] += here[place] * chance;
            return next;
        }, place => place == length);
    }

    /// <summary>
    /// Who is first, when all move in turn from <paramref name="first"/> on and the game stops with the first who is done:
    /// P(i) = Σₜ P(Tᵢ = t) Π P(Tⱼ > t) for those before her in the round, Π P(Tⱼ > t − 1) for those after.
    /// </summary>
    /// <returns>The chance of each seat, and the distribution of all turns taken together.</returns>
    public static (double[] Wins, Pmf Turns) First(IReadOnlyList<Pmf> turns, int first)
    {
        int seats = turns.Count, most = turns.Min(t => t.Length);
        var open = new double[seats];
        Array.Fill(open, 1);
        var wins = new double[seats];
        var all = new double[seats * most];
        for (int t = 0; t < most; t++)
            for (int k = 0; k < seats; k++)
            {
                int seat = (first + k) % seats;
                double here = turns[seat][t];
                for (int other = 0; other < seats; other++)
                    if (other != seat) here *= open[other];
                wins[seat] += here;
                // Whoever starts at the end has won before anybody moved.
                all[t == 0 ? 0 : (t - 1) * seats + k + 1] += here;
                open[seat] -= turns[seat][t];
            }
        return (wins, new Pmf(all));
    }

    /// <summary>The same where a round is played to its end: alone at the end in the first round in which anybody is.</summary>
    public static (double[] Wins, Pmf Turns) Equal(IReadOnlyList<Pmf> turns)
    {
        int seats = turns.Count, most = turns.Min(t => t.Length);
        var open = new double[seats];
        Array.Fill(open, 1);
        var wins = new double[seats];
        var all = new double[seats * (most - 1) + 1];
        double before = 1;
        for (int round = 0; round < most; round++)
        {
            for (int seat = 0; seat < seats; seat++) open[seat] -= turns[seat][round];
            double still = 1;
            for (int seat = 0; seat < seats; seat++)
            {
                still *= open[seat];
                double alone = turns[seat][round];
                for (int other = 0; other < seats; other++)
                    if (other != seat) alone *= open[other];
                wins[seat] += alone;
            }
            all[seats * round] = before - still;
            before = still;
        }
        return (wins, new Pmf(all));
    }
}
