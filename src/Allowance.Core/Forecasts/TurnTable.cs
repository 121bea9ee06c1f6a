using System.Runtime.CompilerServices;
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

    /// <summary>An ask that turns of other kinds put too; 0 where there is none.</summary>
    public int Shared;

    /// <summary>There are more such asks.</summary>
    public bool SharesMore;
}

/// <summary>
/// Counts turns by their kind, and in the end asks by what each kind asks. An ask of one kind of turn only came as often
/// as that kind, and in as many games. An ask of several kinds is counted each time, since a game in which two of them came
/// must not count twice.
/// </summary>
internal sealed class TurnTable(AskTable asks, int kinds)
{
    /// <summary>By kind, where it lies, from 1 in the order in which kinds came up; 0 where it has not.</summary>
    private readonly ushort[] places = new ushort[kinds];

    /// <summary>What each kind asks; of that what no other kind does; and what others ask too, but for the first such ask.</summary>
    private readonly List<int[]> all = [[]], alone = [[]], more = [[]];

    /// <summary>By ask, the one kind of turn that asks it; 0 where none has yet, or <see cref="Several"/>.</summary>
    private int[] asker = new int[64];
    private TurnCount[] counts = new TurnCount[64];

    private const int Several = -1;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public bool Knows(int kind) => places[kind] != 0;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref readonly TurnCount Meet(int kind, int game)
    {
        ref var turn = ref counts[places[kind]];
        turn.Tally.Meet(game);
        if (turn.Shared == 0) return ref turn;
        asks[turn.Shared].Tally.Meet(game);
        if (turn.SharesMore) MeetMore(places[kind], game);
        return ref turn;
    }

    private void MeetMore(int at, int game)
    {
        foreach (int ask in more[at]) asks[ask].Tally.Meet(game);
    }

    /// <summary>Where the asks of a kind lie.</summary>
    public ReadOnlySpan<int> Asked(int kind) => all[places[kind]];

    /// <param name="asked">Where the asks of turns of this kind lie.</param>
    public void Learn(int kind, ReadOnlySpan<int> asked)
    {
        int at = all.Count;
        if (at == counts.Length) Array.Resize(ref counts, 2 * at);
        places[kind] = (ushort)at;
        all.Add(asked.ToArray());
        alone.Add([]);
        more.Add([]);
        uint beyond = 0;
        var answered = asks.RightAnswers(asked, -1, ref beyond, out float seconds);
        counts[at] = new() { Tally = new(), Seconds = seconds, Fastest = answered.Fastest, Beyond = beyond };
        foreach (int ask in asked) Add(at, ask);
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
            asks[ask].Tally = counts[only].Tally;
            asker[ask] = Several;
            alone[only] = [.. alone[only].Where(a => a != ask)];
            Share(only, ask);
        }
        Share(at, ask);
    }

    private void Share(int at, int ask)
    {
        ref var turn = ref counts[at];
        if (turn.Shared == 0) turn.Shared = ask;
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
            foreach (int ask in alone[at]) asks[ask].Tally = counts[at].Tally;
    }
}
