using System.Runtime.CompilerServices;
using Allowance.Core.Forecasts;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>The line of one setup.</summary>
internal sealed record HomingLine : Seating
{
    public HomingLine(Setup setup) : base(setup)
    {
        int start = setup.Get(Homing.Knobs.Start).Number;
        var (low, high) = setup.Get(Homing.Knobs.Line) is RangeValue { Range: var range } ? (range.Low, range.High) : (int.MinValue, int.MaxValue);
        low = Math.Max(low, setup.Get(Homing.Knobs.Floor).Number ?? int.MinValue);
        Line = new(start, setup.Get(Homing.Knobs.Mark) is WholeValue mark ? mark.Number : start, setup.Get(Homing.Knobs.Rounds).Number, low, high);
        Writes = setup.Get(Homing.Knobs.Signs).On;
        Sees = [.. Enumerable.Range(0, setup.Seats.Length).Select(s => setup.At(s, Homing.Knobs.Sees).On || Support[s] == Asks.Support.Line)];
        Cups = [.. Enumerable.Range(0, setup.Seats.Length).Select(s => new DiceCup(setup.At(s, Homing.Knobs.Dice).Dice))];
        Furthest = Rounds * Cups.Max(c => c.Dice.Most);
        var plans = Cups.Select(c => c.Dice).Distinct().ToDictionary(d => d, d => new Lazy<MarkPlan>(() => new MarkPlan(Line, d)));
        Best = [.. Cups.Select(c => plans[c.Dice])];
    }

    public MarkedLine Line { get; }

    public int Start => Line.Start;

    public int Mark => Line.Mark;

    public int Rounds => Line.Rounds;

    /// <summary>By seat: the line lies before her.</summary>
    public bool[] Sees { get; }

    public DiceCup[] Cups { get; }

    public int Low => Line.Low;

    public int High => Line.High;

    /// <summary>Each move is written down with its sign.</summary>
    public bool Writes { get; }

    /// <summary>By seat, how to choose best; worked out when it is first needed.</summary>
    public Lazy<MarkPlan>[] Best { get; }

    /// <summary>How far one can come from the start.</summary>
    public int Furthest { get; }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Allows(int number) => Line.Allows(number);

    /// <summary>How the numbers of a seat's rolls are carried on, choosing best or anyhow.</summary>
    public MarkWalk Walk(int seat, bool best, Spending spending) => new(Line, Cups[seat].Dice, best ? Best[seat].Value : null, spending);
}
