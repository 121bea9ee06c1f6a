using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;

namespace Allowance.Core.Forecasts;

/// <summary>How often something came in simulated games.</summary>
internal struct Tally
{
    private int lastGame;

    // Two counts of 32 bits: a million games of two thousand turns fit.
    private ulong times;

    public Tally() => lastGame = -1;

    public static Tally OfGames(long games) => new() { times = (ulong)games << 32 };

    public readonly Tally WithoutGames => new() { times = (uint)times };

    /// <summary>It came in this game last.</summary>
    public readonly bool CameLast(int game) => times != 0 && lastGame == game;

    public readonly long Count => (uint)times;

    /// <summary>In how many games.</summary>
    public readonly long Games => (long)(times >> 32);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Meet(int game)
    {
        // Without a branch: whether it is new in a game cannot be foreseen.
        times += 1 + ((ulong)(lastGame != game ? 1u : 0) << 32);
        lastGame = game;
    }

    /// <summary>Adds games that were played elsewhere.</summary>
    public void Add(Tally other) => times += other.times;
}

/// <summary>An ask of one seat: what the inner loop touches every time, half a cache line of it.</summary>
internal struct AskCount
{
    /// <summary>0 stands for no ask.</summary>
    public long Code;
    public Tally Tally;
    public float SecondsRight;

    /// <summary>The seat as a bit, where the ask goes beyond its range; else 0.</summary>
    public uint Beyond;
    public byte Seat;
}

/// <summary>An ask met in simulated games.</summary>
internal readonly record struct AskTally(long Code, long Count, long Games, double Right);

/// <summary>
/// Counts by seat and ask: open addressing, so that the inner loop allocates nothing once an ask has been met. Asks lie in
/// the order in which they came up, from 1; how they are answered lies apart, for those who draw answers.
/// </summary>
internal sealed class AskTable(SimulationPlan plan)
{
    private AskCount[] counts = new AskCount[256];
    private Answering[] answers = new Answering[256];

    /// <summary>By hash, where an ask lies; 0 where the slot is free. Most are free, so that most asks are where they are looked for first.</summary>
    private int[] places = new int[2048];
    private int last, shift = 64 - 11;

    /// <summary>How many asks came up.</summary>
    public int Count => last;

    /// <summary>The asks of one seat.</summary>
    public IEnumerable<AskTally> Of(int seat) =>
        Enumerable.Range(1, last).Where(i => counts[i].Seat == seat).Select(i => new AskTally(counts[i].Code, counts[i].Tally.Count, counts[i].Tally.Games, answers[i].Right));

    public ref AskCount this[int at] => ref counts[at];

    /// <summary>Where an ask lies; where it comes up for the first time, finds out how it is answered and whether it goes beyond her range.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Find(SeatAsk asked)
    {
        int slot = Home(asked), at = places[slot];
        return counts[at].Code == asked.Ask.Code && counts[at].Seat == asked.Seat ? at : FindFurther(asked, slot);
    }

    /// <summary>Where asks lie.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ReadOnlySpan<int> Find(ReadOnlySpan<SeatAsk> asks, Span<int> into)
    {
        for (int i = 0; i < asks.Length; i++) into[i] = Find(asks[i]);
        return into[..asks.Length];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Home(SeatAsk asked) => (int)(((ulong)asked.Ask.Code + ((ulong)(uint)asked.Seat << 58)) * 0x9E3779B97F4A7C15UL >> shift);

    [MethodImpl(MethodImplOptions.NoInlining)]
    private int FindFurther(SeatAsk asked, int slot)
    {
        for (; places[slot] is not 0 and var at; slot = (slot + 1) & (places.Length - 1))
            if (counts[at].Code == asked.Ask.Code && counts[at].Seat == asked.Seat) return at;
        var (seat, ask) = asked;
        var answering = plan.Answers.For(seat, ask);
        bool beyond = false;
        if (plan.Ranges[seat] is { } range)
        {
            for (int i = 0; i < ask.Count; i++) beyond |= !range.Contains(ask[i]);
            beyond |= ask.Answer >= 0 && !range.Contains(ask.Answer);
        }
        return Put(slot, new() { Code = ask.Code, Seat = (byte)seat, Tally = new(), SecondsRight = answering.SecondsRight, Beyond = beyond ? 1u << seat : 0 }, answering);
    }

    private int Put(int slot, AskCount count, Answering answering)
    {
        if (++last == counts.Length)
        {
            Array.Resize(ref counts, 2 * last);
            Array.Resize(ref answers, 2 * last);
        }
        (counts[last], answers[last], places[slot]) = (count, answering, last);
        if (8 * last > places.Length)
        {
            places = new int[2 * places.Length];
            shift--;
            for (int at = 1; at <= last; at++) places[Free(AskedAt(at))] = at;
        }
        return last;
    }

    private SeatAsk AskedAt(int at) => new(counts[at].Seat, Ask.FromCode(counts[at].Code));

    private int Free(SeatAsk asked)
    {
        int slot = Home(asked);
        while (places[slot] != 0) slot = (slot + 1) & (places.Length - 1);
        return slot;
    }

    public void Add(AskTable other)
    {
        for (int i = 1; i <= other.last; i++)
        {
            // First found: that may make room for it.
            int at = Find(other.AskedAt(i));
            counts[at].Tally.Add(other.counts[i].Tally);
        }
    }

    /// <summary>The one who is asked draws an answer: by far the most common turn.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Answered DrawAnswer(int asked, int game, ref Rng rng, ref uint beyond, out float seconds)
    {
        ref var met = ref counts[asked];
        met.Tally.Meet(game);
        beyond |= met.Beyond;
        ref readonly var answering = ref answers[asked];
        var outcome = answering.Draw(ref rng);
        seconds = answering.Seconds(outcome);
        return Answered.By(met.Seat, outcome >= Outcome.CountedAll);
    }

    /// <summary>Everyone who is asked draws an answer; different seats answer at the same time.</summary>
    /// <param name="asked">Where the asks lie, those of a seat one after another.</param>
    /// <param name="beyond">Gets who is asked something beyond her range, as bits.</param>
    /// <param name="seconds">How long it takes.</param>
    public Answered DrawAnswers(ReadOnlySpan<int> asked, int game, int turn, ref Rng rng, ref uint beyond, out float seconds)
    {
        float longest = 0, quickest = float.MaxValue;
        uint wrong = 0, fastest = 0;
        for (int i = 0; i < asked.Length;)
        {
            int seat = counts[asked[i]].Seat;
            float mine = 0;
            do
            {
                int at = asked[i++];
                ref var met = ref counts[at];
                met.Tally.Meet(game);
                beyond |= met.Beyond;
                ref readonly var answering = ref answers[at];
                var outcome = answering.Draw(ref rng);
                mine += answering.Seconds(outcome);
                wrong |= (outcome < Outcome.CountedAll ? 1u : 0) << seat;
            }
            while (i < asked.Length && counts[asked[i]].Seat == seat);
            if ((wrong >> seat & 1) == 0) BeQuick(seat, mine, ref quickest, ref fastest);
            longest = Math.Max(longest, mine);
        }
        seconds = longest;
        return new(wrong == 0, wrong, OneOf(fastest, game, turn));
    }

    /// <summary>The one who is asked is right.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Answered RightAnswer(int asked, int game, ref uint beyond, out float seconds)
    {
        ref var met = ref counts[asked];
        met.Tally.Meet(game);
        beyond |= met.Beyond;
        seconds = met.SecondsRight;
        return new(true, 0, met.Seat);
    }

    /// <summary>Everyone who is asked is right, in the mean time that it takes to be right.</summary>
    /// <param name="game">Counts the asks in this game; −1 counts nothing.</param>
    /// <returns>Who is right first, as bits: several where they are equally quick.</returns>
    public uint RightAnswers(ReadOnlySpan<int> asked, int game, ref uint beyond, out float seconds)
    {
        float longest = 0, quickest = float.MaxValue;
        uint fastest = 0;
        for (int i = 0; i < asked.Length;)
        {
            int seat = counts[asked[i]].Seat;
            float mine = 0;
            do
            {
                ref var met = ref counts[asked[i++]];
                if (game >= 0) met.Tally.Meet(game);
                beyond |= met.Beyond;
                mine += met.SecondsRight;
            }
            while (i < asked.Length && counts[asked[i]].Seat == seat);
            BeQuick(seat, mine, ref quickest, ref fastest);
            longest = Math.Max(longest, mine);
        }
        seconds = longest;
        return fastest;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void BeQuick(int seat, float mine, ref float quickest, ref uint fastest)
    {
        if (mine > quickest) return;
        fastest = (mine < quickest ? 0 : fastest) | 1u << seat;
        quickest = mine;
    }

    /// <summary>
    /// Of those who are equally quick each is first as often; −1 where nobody is. No random number of the game is used for it, so that
    /// games of one seed run alike whoever is asked at the same time.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static int OneOf(uint seats, int game, int turn)
    {
        return (seats & seats - 1) == 0 ? seats == 0 ? -1 : BitOperations.TrailingZeroCount(seats) : OneOfSeveral(seats, game, turn);
    }

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int OneOfSeveral(uint seats, int game, int turn)
    {
        uint mixed = ((uint)game * 0x9E37_79B1 ^ (uint)turn * 0x85EB_CA77) * 0xC2B2_AE3D;
        return Bits.Nth(seats, (int)((ulong)mixed * (uint)BitOperations.PopCount(seats) >> 32));
    }
}
