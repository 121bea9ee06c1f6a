using System.Runtime.CompilerServices;
using Allowance.Core.Rules;

namespace Allowance.Core.Games;

/// <summary>Boards that their players lay themselves, card by card: for each pane the place of its number among those that can be covered.</summary>
internal struct LaidBoards
{
    private const int Most = Panes.MostSide * Panes.MostSide;

    /// <summary>The pane that is free; its number is none.</summary>
    private const byte Free = 255;

    [InlineArray(Most * Engine.MostSeats)]
    private struct AllPanes
    {
        private byte first;
    }

    private AllPanes panes;
    private EightCounts laid;

    private static int At(int seat) => seat * Most;

    /// <summary>How many panes lie, the free one with those before it.</summary>
    public readonly int Laid(int seat) => laid[seat];

    /// <summary>Lays the next card; the middle one is left free where <paramref name="middle"/> is a pane.</summary>
    public void Lay(int seat, int number, int middle)
    {
        if (laid[seat] == middle) panes[At(seat) + laid[seat]++] = Free;
        panes[At(seat) + laid[seat]++] = (byte)number;
    }

    public readonly bool Has(int seat, int number) => Covers(seat, number) != 0;

    /// <summary>The panes with this number, as bits.</summary>
    public readonly uint Covers(int seat, int number)
    {
        uint covers = 0;
        for (int pane = 0; pane < laid[seat]; pane++) covers |= (panes[At(seat) + pane] == number ? 1u : 0) << pane;
        return covers;
    }

    /// <summary>The number at a pane; −1 where it is free or empty.</summary>
    public readonly int this[int seat, int pane] => pane >= laid[seat] || panes[At(seat) + pane] == Free ? -1 : panes[At(seat) + pane];
}
