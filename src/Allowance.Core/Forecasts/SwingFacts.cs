using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>Exact answers about a walk that goes up by one roll and down by the next until it leaves at either end. Places count from the lower end, 0.</summary>
/// <param name="above">Steps from the start to the upper end; <paramref name="below"/> to the lower one.</param>
public sealed class SwingFacts(int above, int below, Dice upDice, Dice downDice)
{
    private const int MostSteps = 4_000_000;

    /// <summary>Steps between two looks at the clock.</summary>
    private const int Stretch = 64;

    private readonly (int Roll, double Chance)[][] rolls = [upDice.Likely(), downDice.Likely()];

    private int Top => above + below;

    /// <summary>Places strictly between the ends, each with the roll that comes next: 2 × place for up, and one more for down.</summary>
    private int Inside => Top - 1;

    private int Start => 2 * (below - 1);

    /// <summary>Where a roll leads: another floor, or out (−1).</summary>
    private int After(int at, int roll)
    {
        bool up = (at & 1) == 0;
        int floor = (at >> 1) + 1 + (up ? roll : -roll);
        return floor >= Top || floor <= 0 ? -1 : 2 * (floor - 1) + (up ? 1 : 0);
    }

    /// <summary>From every place that can be met an end can be reached.</summary>
    public bool Ends() => Reach.EndsFrom(Start);

    private Reach Reach => new(2 * Inside, at => rolls[at & 1].Length, (at, way) => After(at, rolls[at & 1][way].Roll));

    /// <summary>The means from the start: rolls, the chance of the top, dots.</summary>
    public (double Rolls, double Top, double Dots) Means()
    {
        int n = 2 * Inside, start = Start;
        // Floors that are never met would have no solution of their own.
        var met = Reach.MetFrom(Start);
        var index = new int[n];
        int count = 0;
        for (int at = 0; at < n; at++) index[at] = met[at] ? count++ : -1;
        var rows = new double[count][];
        for (int at = 0; at < n; at++)
        {
            if (!met[at]) continue;
            var row = rows[index[at]] = new double[count + 3];
            row[index[at]] = row[count] = 1;
            foreach (var (roll, chance) in rolls[at & 1])
            {
                row[count + 2] += chance * roll;
                int to = After(at, roll);
                if (to >= 0) row[index[to]] -= chance;
                else if ((at & 1) == 0) row[count + 1] += chance;
            }
        }
        LinearEquations.Solve(rows);
        var solved = rows[index[start]];
        return (solved[count], solved[count + 1], solved[count + 2]);
    }

    /// <summary>On which floor the lift is after each roll, the doors included.</summary>
    public Journey Journey()
    {
        var floors = new double[Top + 1];
        floors[below] = 1;
        return Rules.Journey.Along("", 0, Top, floors, (here, n) =>
        {
            var next = new double[here.Length];
            for (int floor = 0; floor < here.Length; floor++)
                if (here[floor] > 0)
                    foreach (var (roll, chance) in rolls[n % 2])
                        next[floor == 0 || floor == Top ? floor : Math.Clamp(floor + (n % 2 == 0 ? roll : -roll), 0, Top)] += here[floor] * chance;
            return next;
        }, floor => floor == 0 || floor == Top);
    }

    /// <summary>The distribution of rolls, walked forwards; up and down take turns.</summary>
    public Pmf Turns(Spending spending)
    {
        int floors = Inside;
        double[] here = new double[floors], next = new double[floors];
        here[below - 1] = 1;
        var endings = new Endings(2, MostSteps);
        double before;
        do
        {
            if (endings.Steps % Stretch == 0) spending.Check();
            before = Walks.Sum(here);
            Array.Clear(next);
            bool up = endings.Steps % 2 == 0;
            foreach (var (roll, chance) in rolls[up ? 0 : 1])
            {
                int inside = floors - roll;
                if (inside <= 0) continue;
                if (up) Walks.Carry(here.AsSpan(0, inside), chance, next.AsSpan(roll));
                else Walks.Carry(here.AsSpan(roll), chance, next.AsSpan(0, inside));
            }
            (here, next) = (next, here);
        }
        while (endings.Step(before - Walks.Sum(here), here));
        return endings.Chances;
    }
}
