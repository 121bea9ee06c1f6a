using System.Runtime.Intrinsics;

namespace Allowance.Core.Forecasts;

/// <summary>
/// In how many games each ask came that several kinds of turns share. What a game met is a set of bits, so that a turn costs
/// one step whatever it asks. Counts are kept by their binary digits, the lowest digit of every ask in one set, the next in
/// another: what a game met is added to all counts at once. Even Plates takes some three quarters of the time with it.
/// </summary>
/// <param name="kinds">How many kinds of turns there can be.</param>
internal sealed class GamesMet(int kinds)
{
    /// <summary>Asks in one set, and digits of a count.</summary>
    private const int Wide = 256, Digits = 32;

    /// <summary>As many asks as go into a set.</summary>
    private sealed class Some(int kinds)
    {
        /// <summary>By where a kind lies, from 1, which of them it asks.</summary>
        public readonly Vector256<ulong>[] Asked = new Vector256<ulong>[kinds + 1];

        /// <summary>By digit, the lowest first.</summary>
        public readonly Vector256<ulong>[] Counts = new Vector256<ulong>[Digits];

        /// <summary>What came in the game that goes on.</summary>
        public Vector256<ulong> Now;

        public void Add(Vector256<ulong> met)
        {
            for (int digit = 0; met != Vector256<ulong>.Zero; digit++)
            {
                var carried = Counts[digit] & met;
                Counts[digit] ^= met;
                met = carried;
            }
        }
    }

    private readonly List<Some> all = [];

    /// <summary>By ask, its place among those that are shared, and the games in which it came before it was.</summary>
    private readonly Dictionary<int, (int Place, long Before)> asks = [];
    private int game = -1;

    /// <summary>From now on an ask is counted here that one kind of turn asked until now.</summary>
    public void Share(int ask, int kind, Tally before)
    {
        int place = asks.Count;
        if (place % Wide == 0) all.Add(new(kinds));
        // The game that goes on is counted when it is over.
        bool goesOn = before.CameLast(game);
        if (goesOn) all[place / Wide].Now |= Bit(place);
        asks[ask] = (place, before.Games - (goesOn ? 1 : 0));
        Share(ask, kind);
    }

    /// <summary>Another kind of turn asks this, too.</summary>
    public void Share(int ask, int kind) => all[asks[ask].Place / Wide].Asked[kind] |= Bit(asks[ask].Place);

    private static Vector256<ulong> Bit(int place) => Vector256<ulong>.Zero.WithElement(place / 64 % 4, 1UL << place % 64);

    /// <summary>Some turns, in the order in which they were played: the game, and in the lower half where the kind lies.</summary>
    public void Meet(ReadOnlySpan<long> turns)
    {
        if (turns.IsEmpty) return;
        foreach (var some in all)
        {
            int last = game;
            var now = some.Now;
            foreach (long turn in turns)
            {
                if ((int)(turn >> 32) != last)
                {
                    some.Add(now);
                    (now, last) = (default, (int)(turn >> 32));
                }
                now |= some.Asked[(int)turn];
            }
            some.Now = now;
        }
        game = (int)(turns[^1] >> 32);
    }

    /// <summary>In how many games an ask came.</summary>
    public long Of(int ask)
    {
        var (place, games) = asks[ask];
        var some = all[place / Wide];
        for (int digit = 0; digit < Digits; digit++) games += (long)Digit(some.Counts[digit]) << digit;
        return games + (long)Digit(some.Now);

        ulong Digit(Vector256<ulong> of) => of.GetElement(place / 64 % 4) >> place % 64 & 1;
    }
}
