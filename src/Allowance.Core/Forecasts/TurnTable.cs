using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using Allowance.Core.Games;

namespace Allowance.Core.Forecasts;

/// <summary>A kind of turn: how often it came, and what it is when everyone is right.</summary>
internal struct TurnCount
{
    public Tally Tally;
    public float Seconds;
    public int Fastest;

    /// <summary>Who is asked something beyond her range, as bits.</summary>
    public uint Beyond;

    /// <summary>Asks that turns of other kinds put too; 0 where there is none.</summary>
    public int Shared, SharedToo;

    /// <summary>There are more such asks.</summary>
    public bool SharesMore;
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

    /// <summary>What each kind asks; of that what no other kind does; and what others ask too, but for the first two such asks.</summary>
    private readonly List<int[]> all = [[]], alone = [[]], more = [[]];

    /// <summary>By ask, the one kind of turn that asks it; 0 where none has yet, or <see cref="Several"/>.</summary>
    private int[] asker = new int[64];
    private TurnCount[] turns = new TurnCount[64];

    private const int Several = -1;

    /// <summary>Where a kind lies; 0 where it has not come up.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Find(int kind) => places[kind];

    /// <summary>Counts a turn of the kind that lies here.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref readonly TurnCount Meet(int at, int game)
    {
        ref var turn = ref turns[at];
        turn.Tally.Meet(game);
        if (turn.Shared == 0) return ref turn;
        asks[turn.Shared].Tally.Meet(game);
        if (turn.SharedToo == 0) return ref turn;
        asks[turn.SharedToo].Tally.Meet(game);
        if (turn.SharesMore) MeetMore(at, game);
        return ref turn;
    }

    [MethodImpl(MethodImplOptions.NoInlining)]
    private void MeetMore(int at, int game)
    {
        foreach (int ask in CollectionsMarshal.AsSpan(more)[at]) asks[ask].Tally.Meet(game);
    }

    /// <summary>Where the asks of a kind lie.</summary>
    public ReadOnlySpan<int> Asked(int at) => all[at];

    /// <returns>Where the kind lies from now on.</returns>
    /// <param name="asked">Where the asks of turns of this kind lie.</param>
    public int Learn(int kind, ReadOnlySpan<int> asked)
    {
        int at = all.Count;
        if (at == turns.Length) Array.Resize(ref turns, 2 * at);
        places[kind] = (ushort)at;
        all.Add(asked.ToArray());
        alone.Add([]);
        more.Add([]);
        if (!counts) return at;
        uint beyond = 0;
        var answered = asks.RightAnswers(asked, -1, ref beyond, out float seconds);
        turns[at] = new() { Tally = new(), Seconds = seconds, Fastest = answered.Fastest, Beyond = beyond };
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
            alone[at] = [.. alone[at], ask];
            return;
        }
        if (only != Several)
        {
            // From now on it is counted by itself.
            asks[ask].Tally = turns[only].Tally;
            asker[ask] = Several;
            alone[only] = [.. alone[only].Where(a => a != ask)];
            Share(only, ask);
        }
        Share(at, ask);
    }

    private void Share(int at, int ask)
    {
        ref var turn = ref turns[at];
        if (turn.Shared == 0) turn.Shared = ask;
        else if (turn.SharedToo == 0) turn.SharedToo = ask;
        else
        {
            more[at] = [.. more[at], ask];
            turn.SharesMore = true;
        }
    }

    /// <summary>After some games: what was asked by one kind of turn only came as often as that.</summary>
    public void CountAsks()
    {
        for (int at = 1; at < all.Count; at++)
            foreach (int ask in alone[at]) asks[ask].Tally = turns[at].Tally;
    }
}
