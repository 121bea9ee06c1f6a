using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Setups;

namespace Allowance.Core.Games;

/// <summary>What every game asks of its places; a frame's own table adds what it needs.</summary>
internal abstract record Seating
{
    protected Seating(Setup setup)
    {
        var seats = Enumerable.Range(0, setup.Seats.Length).ToList();
        Level = [.. seats.Select(setup.LevelAt)];
        Support = [.. seats.Select(s => CommonKnobs.SupportAt(setup, s))];
        GrownUp = [.. setup.Seats.Select(s => s.GrownUp)];
        Faces = [.. seats.Select(s => CommonKnobs.FacesAt(setup, s))];
    }

    public string[] Level { get; }

    public Support[] Support { get; }

    public bool[] GrownUp { get; }

    /// <summary>By seat, what stands on her dice.</summary>
    public Form[] Faces { get; }

    public int Seats => Level.Length;
}
