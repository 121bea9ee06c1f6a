using System.Runtime.CompilerServices;

namespace Allowance.Core.Forecasts;

/// <summary>A kind of turn: how often it came, and what it is when everyone is right.</summary>
internal struct TurnCount
{
    public Tally Tally;
    public float Seconds;

    /// <summary>Who is right first, as bits: several where they are equally quick.</summary>
    public uint Fastest;

    /// <summary>Who is asked something beyond her range, as bits.</summary>
    public uint Beyond;
}

/// <summary>
/// Knows what each kind of turn asks. Where everyone is right it counts turns, and in the end asks by what each kind asks:
/// an ask of one kind of turn only came in as many games as that kind. The games of an ask of several kinds are counted by
/// themselves (see <see cref="GamesMet"/>), since a game in which two of them came must not count twice.
/// </summary>
/// <param name="counts">Turns are counted; else whoever draws answers counts the asks.</param>
internal sealed class TurnTable(AskTable asks, int kinds, bool counts)
{
    /// <summary>By kind, where it lies, from 1 in the order in which kinds came up; 0 where it has not.</summary>
    private readonly ushort[] places = new ushort[kinds];

    /// <summary>What each kind asks.</summary>
    private readonly List<int[]> all = [[]];

    /// <summary>By ask, the one kind of turn that asks it; 0 where none has yet, or <see cref="Several"/>.</summary>
    private int[] asker = new int[64];
    private TurnCount[] turns = new TurnCount[64];

    /// <summary>The games of asks that several kinds share.</summary>
    private readonly GamesMet shared = new(kinds);

    /// <summary>Turns that are not counted yet: the game, and where the kind lies.</summary>
    private readonly long[] notes = new long[counts ? 1024 : 0];
    private int noted;

    private const int Several = -1;

    /// <summary>Where a kind lies; 0 where it has not come up.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Find(int kind) => places[kind];

    /// <summary>A turn of the kind that lies here. It is only noted, and counted with many others: nobody waits for that.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref readonly TurnCount Meet(int at, int game)
    {
        if (noted == notes.Length) CountNoted();
        notes[noted++] = (long)game << 32 | (uint)at;
        return ref turns[at];
    }

    [MethodImpl(MethodImplOptions.NoInlining)]
    private void CountNoted()
    {
        var noted = notes.AsSpan(0, this.noted);
        foreach (long note in noted) turns[(int)note].Tally.Meet((int)(note >> 32));
        shared.Meet(noted);
        this.noted = 0;
    }

    /// <summary>Where the asks of a kind lie.</summary>
    public ReadOnlySpan<int> Asked(int at) => all[at];

    /// <returns>Where the kind lies from now on.</returns>
    /// <param name="asked">Where the asks of turns of this kind lie.</param>
    public int Learn(int kind, ReadOnlySpan<int> asked)
    {
        CountNoted();
        int at = all.Count;
        if (at == turns.Length) Array.Resize(ref turns, 2 * at);
        places[kind] = (ushort)at;
        all.Add(asked.ToArray());
        if (!counts) return at;
        uint beyond = 0;
        uint fastest = asks.RightAnswers(asked, -1, ref beyond, out float seconds);
        turns[at] = new() { Tally = new(), Seconds = seconds, Fastest = fastest, Beyond = beyond };
        foreach (int ask in asked) Add(at, ask);
        return at;
    }

    private void Add(int at, int ask)
    {
        while (ask >= asker.Length) Array.Resize(ref asker, 2 * asker.Length);
        int only = asker[ask];
        asker[ask] = only == 0 ? at : Several;
        if (only == 0) return;
        if (only != Several) shared.Share(ask, only, turns[only].Tally);
        shared.Share(ask, at);
    }

    /// <summary>After some games: an ask came as often as all kinds of turns that ask it.</summary>
    public void CountAsks()
    {
        CountNoted();
        for (int ask = 1; ask < asker.Length; ask++)
            if (asker[ask] != 0) asks[ask].Tally = asker[ask] == Several ? Tally.OfGames(shared.Of(ask)) : default;
        for (int at = 1; at < all.Count; at++)
            foreach (int ask in all[at]) asks[ask].Tally.Add(asker[ask] == Several ? turns[at].Tally.WithoutGames : turns[at].Tally);
    }
}
