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

    /// <summary>Where the asks lie that turns of other kinds put too: from here, up to but not including there.</summary>
    public int Shared, SharedEnd;
}

/// <summary>
/// Knows what each kind of turn asks. Where everyone is right it counts turns, and in the end asks by what each kind asks:
/// an ask of one kind of turn only came as often as that kind, and in as many games. An ask of several kinds is counted
/// each time, since a game in which two of them came must not count twice.
/// </summary>
/// <param name="counts">Turns are counted; else whoever draws answers counts the asks.</param>
internal sealed class TurnTable(AskTable asks, int kinds, bool counts)
{
    /// <summary>By kind, where it lies, from 1 in the order in which kinds came up; 0 where it has not.</summary>
    private readonly ushort[] places = new ushort[kinds];

    /// <summary>What each kind asks; of that what no other kind does; and what others ask too.</summary>
    private readonly List<int[]> all = [[]];
    private readonly List<List<int>> alone = [[]], shared = [[]];

    /// <summary>By ask, the one kind of turn that asks it; 0 where none has yet, or <see cref="Several"/>.</summary>
    private int[] asker = new int[64];
    private TurnCount[] turns = new TurnCount[64];

    /// <summary>
    /// What kinds share, one after another, as it is gone through turn by turn. How many asks a turn shares cannot be
    /// foreseen, so that few are filled up with ask 0, which is none, to as many as a third of the kinds share.
    /// </summary>
    private int[] lists = new int[64];
    private int listed, fill;

    /// <summary>How many kinds share at least so many asks.</summary>
    private readonly int[] sharing = new int[MostFilled + 1];

    private const int MostFilled = 3;

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
        foreach (long note in notes.AsSpan(0, noted))
        {
            int game = (int)(note >> 32);
            ref var turn = ref turns[(int)note];
            turn.Tally.Meet(game);
            for (int i = turn.Shared; i < turn.SharedEnd; i++) asks[lists[i]].Tally.Meet(game);
        }
        noted = 0;
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
        alone.Add([]);
        shared.Add([]);
        if (!counts) return at;
        uint beyond = 0;
        uint fastest = asks.RightAnswers(asked, -1, ref beyond, out float seconds);
        turns[at] = new() { Tally = new(), Seconds = seconds, Fastest = fastest, Beyond = beyond };
        Lay(at);
        foreach (int ask in asked) Add(at, ask);
        return at;
    }

    private void Add(int at, int ask)
    {
        while (ask >= asker.Length) Array.Resize(ref asker, 2 * asker.Length);
        int only = asker[ask];
        if (only == 0)
        {
            asker[ask] = at;
            alone[at].Add(ask);
            return;
        }
        if (only != Several)
        {
            // From now on it is counted by itself.
            asks[ask].Tally = turns[only].Tally;
            asker[ask] = Several;
            alone[only].Remove(ask);
            Share(only, ask);
        }
        Share(at, ask);
    }

    private void Share(int at, int ask)
    {
        shared[at].Add(ask);
        int count = shared[at].Count;
        if (count <= MostFilled) sharing[count]++;
        if (fill < MostFilled && 3 * sharing[fill + 1] > all.Count)
        {
            fill++;
            listed = 0;
            for (int kind = 1; kind < all.Count; kind++) Lay(kind);
        }
        else if (count <= fill) lists[turns[at].Shared + count - 1] = ask;
        else Lay(at);
    }

    /// <summary>Lays what a kind shares at the end of the lists.</summary>
    private void Lay(int at)
    {
        var mine = shared[at];
        int end = listed + Math.Max(mine.Count, fill);
        while (end > lists.Length) Array.Resize(ref lists, 2 * lists.Length);
        lists.AsSpan(listed, end - listed).Clear();
        mine.CopyTo(lists, listed);
        (turns[at].Shared, turns[at].SharedEnd, listed) = (listed, end, end);
    }

    /// <summary>After some games: what was asked by one kind of turn only came as often as that.</summary>
    public void CountAsks()
    {
        CountNoted();
        for (int at = 1; at < all.Count; at++)
            foreach (int ask in alone[at]) asks[ask].Tally = turns[at].Tally;
    }
}
