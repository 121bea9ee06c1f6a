using System.Runtime.CompilerServices;
using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <summary>Who begins a game of a series.</summary>
public enum FirstSeat { Seat, Alternate, Youngest, Draw }

/// <summary>What to simulate. The arrays hold one figure a game and are filled in place.</summary>
internal sealed class SimulationPlan(Behaviour behaviour, long seed, IAnswers answers, FirstSeat first, int youngest, NumberRange?[] ranges, int games)
{
    public Behaviour Behaviour { get; } = behaviour;
    public long Seed { get; } = seed;
    public IAnswers Answers { get; } = answers;
    public FirstSeat First { get; } = first;
    public int Youngest { get; } = youngest;

    /// <summary>Each seat's range, for the chance that a number outside it comes up.</summary>
    public NumberRange?[] Ranges { get; } = ranges;

    public int[] Turns { get; } = new int[games];
    public float[] Seconds { get; } = new float[games];
}

/// <summary>An ask and how often it came: what the inner loop touches every time, half a cache line of it.</summary>
internal struct AskCount
{
    /// <summary>0 where the slot is free; no ask has that code.</summary>
    public long Code;
    public int Count, Games, LastGame;
    public float SecondsRight;

    /// <summary>It goes beyond the range of the seat.</summary>
    public bool Beyond;
}

/// <summary>An ask met in simulated games.</summary>
internal readonly record struct AskTally(long Code, long Count, long Games, double Right);

/// <summary>Counts over simulated games. All are whole numbers, so that adding them up in any order gives the same.</summary>
internal sealed class GameTally(int seats, SimulationPlan plan)
{
    public long[] Wins { get; } = new long[seats];
    public long Ties, Stuck, Aims, Turns, Draws, Deals, Left, LeftSquared, NoTurn;
    public long[] Beyond { get; } = new long[seats];

    /// <summary>The seats, as bits, that met an ask beyond their range in the game being played.</summary>
    public uint BeyondNow;

    /// <summary>Waiting in milliseconds, summed over games, and the games in which the seat had a turn.</summary>
    public long[] WaitMilliseconds { get; } = new long[seats];
    public long[] WaitGames { get; } = new long[seats];
    public AskTable[] Asks { get; } = [.. Enumerable.Range(0, seats).Select(_ => new AskTable())];

    /// <summary>Counts an ask; where it comes up for the first time, finds out how it is answered and whether it goes beyond her range.</summary>
    /// <returns>The slot of the ask in the table of its seat.</returns>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Meet(AskTable table, SeatAsk ask, int game)
    {
        int slot = table.Slot(ask.Ask.Code, out bool isNew);
        if (isNew) First(table, slot, ask);
        ref var met = ref table.Count(slot);
        met.Count++;
        met.Games += met.LastGame != game ? 1 : 0;
        met.LastGame = game;
        BeyondNow |= (met.Beyond ? 1u : 0) << ask.Seat;
        return slot;
    }

    private void First(AskTable table, int slot, SeatAsk asked)
    {
        var (seat, ask) = asked;
        ref var answering = ref table.Answer(slot);
        answering = plan.Answers.For(seat, ask);
        ref var met = ref table.Count(slot);
        met.SecondsRight = answering.SecondsRight;
        if (plan.Ranges[seat] is not { } range) return;
        for (int i = 0; i < ask.Count; i++) met.Beyond |= !range.Contains(ask[i]);
        met.Beyond |= ask.Answer >= 0 && !range.Contains(ask.Answer);
    }

    public void Add(GameTally other)
    {
        for (int i = 0; i < Wins.Length; i++)
        {
            Wins[i] += other.Wins[i];
            Beyond[i] += other.Beyond[i];
            WaitMilliseconds[i] += other.WaitMilliseconds[i];
            WaitGames[i] += other.WaitGames[i];
            Asks[i].Add(other.Asks[i]);
        }
        Ties += other.Ties;
        Stuck += other.Stuck;
        Aims += other.Aims;
        Turns += other.Turns;
        Draws += other.Draws;
        Deals += other.Deals;
        Left += other.Left;
        LeftSquared += other.LeftSquared;
        NoTurn += other.NoTurn;
    }
}

/// <summary>
/// Counts by ask: open addressing, so that the inner loop allocates nothing once an ask has been met. How asks are
/// answered lies apart, for those who draw answers.
/// </summary>
internal sealed class AskTable
{
    private AskCount[] counts = new AskCount[512];
    private Answering[] answers = new Answering[512];
    private int used, shift = 64 - 9;

    public IEnumerable<AskTally> All =>
        Enumerable.Range(0, counts.Length).Where(i => counts[i].Code != 0).Select(i => new AskTally(counts[i].Code, counts[i].Count, counts[i].Games, answers[i].Right));

    /// <summary>The slot of an ask; where it is new, its answer is still to be filled in.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Slot(long code, out bool isNew)
    {
        var all = counts;
        int mask = all.Length - 1, i = (int)((ulong)code * 0x9E3779B97F4A7C15UL >> shift);
        while (all[i].Code != code)
        {
            if (all[i].Code == 0) return Insert(code, i, out isNew);
            i = (i + 1) & mask;
        }
        isNew = false;
        return i;
    }

    public ref AskCount Count(int slot) => ref counts[slot];

    public ref Answering Answer(int slot) => ref answers[slot];

    private int Insert(long code, int at, out bool isNew)
    {
        isNew = true;
        if (2 * ++used <= counts.Length)
        {
            counts[at] = new() { Code = code, LastGame = -1 };
            return at;
        }
        var (oldCounts, oldAnswers) = (counts, answers);
        counts = new AskCount[2 * oldCounts.Length];
        answers = new Answering[counts.Length];
        used = 0;
        shift--;
        for (int i = 0; i < oldCounts.Length; i++)
        {
            if (oldCounts[i].Code == 0) continue;
            int slot = Slot(oldCounts[i].Code, out _);
            counts[slot] = oldCounts[i];
            answers[slot] = oldAnswers[i];
        }
        return Slot(code, out isNew);
    }

    public void Add(AskTable other)
    {
        for (int i = 0; i < other.counts.Length; i++)
        {
            if (other.counts[i].Code == 0) continue;
            int slot = Slot(other.counts[i].Code, out bool isNew);
            if (isNew)
            {
                counts[slot] = other.counts[i];
                answers[slot] = other.answers[i];
                continue;
            }
            counts[slot].Count += other.counts[i].Count;
            counts[slot].Games += other.counts[i].Games;
        }
    }
}

/// <summary>Plays games through a frame's own rules. One simulator serves every frame.</summary>
internal static class Simulator
{
    /// <summary>
    /// Plays games <paramref name="from"/> to <paramref name="to"/> − 1 of the plan. The loop allocates nothing. It is
    /// called seldom and runs long, so it is compiled at its best from the start.
    /// </summary>
    public static GameTally Play<TRules, TState>(TRules rules, SimulationPlan plan, int from, int to)
        where TRules : struct, IRules<TState>
        where TState : struct
    {
        int seats = rules.Seats;
        var tally = new GameTally(seats, plan);
        var state = default(TState);
        Span<SeatAsk> asks = stackalloc SeatAsk[Engine.MostAsks];
        Span<float> own = stackalloc float[seats];
        Span<int> turnsOf = stackalloc int[seats];
        bool drawn = plan.Behaviour == Behaviour.Child, best = plan.Behaviour == Behaviour.Perfect;
        for (int game = from; game < to; game++)
        {
            var rng = Rng.ForGame(plan.Seed, game);
            var start = rng;
            own.Clear();
            turnsOf.Clear();
            tally.BeyondNow = 0;
            rules.Start(ref state, First(plan, game, seats, ref rng));
            ref var head = ref rules.Head(ref state);
            // Time is gathered while a turn lasts, and given to its seat when it ends.
            float seconds = 0, gathered = 0;
            int turns = 0, deals = 0;
            var step = rules.Next(in state);
            while (step.Kind != StepKind.Over && turns < Engine.MostTurns)
            {
                int seat = step.Seat;
                if (step.Kind == StepKind.Chance)
                {
                    float each = rules.Seconds(in state, step, default);
                    do
                    {
                        rules.Deal(ref state, rules.Draw(ref state, ref rng));
                        deals++;
                        gathered += each;
                        step = rules.Next(in state);
                    }
                    while (step.Kind == StepKind.Chance && step.Seat == seat);
                }
                else
                {
                    var move = best ? rules.Best(in state, ref rng) : rules.Plain(in state, ref rng);
                    gathered += rules.Seconds(in state, step, move);
                    int count = rules.Asks(in state, move, asks);
                    if (count == 0) rules.Apply(ref state, move, new Answered(true, 0, seat));
                    else if (!drawn && count == 1)
                    {
                        // One who is right: by far the most common turn of a game without mistakes.
                        int asked = asks[0].Seat;
                        var table = tally.Asks[asked];
                        gathered += table.Count(tally.Meet(table, asks[0], game)).SecondsRight;
                        rules.Apply(ref state, move, new Answered(true, 0, asked));
                    }
                    else
                    {
                        var answered = drawn
                            ? DrawAnswers(tally, asks[..count], game, ref rng, out float time)
                            : RightAnswers(tally, asks[..count], game, out time);
                        gathered += time;
                        rules.Apply(ref state, move, rules.Seeking(in state, move) ? answered : answered with { All = true, Wrong = 0 });
                    }
                    step = rules.Next(in state);
                }
                if (head.Turns == turns) continue;
                own[seat] += gathered;
                turnsOf[seat] += head.Turns - turns;
                seconds += gathered;
                gathered = 0;
                turns = head.Turns;
            }
            seconds += gathered;
            plan.Turns[game] = head.Turns;
            plan.Seconds[game] = seconds;
            tally.Turns += head.Turns;
            tally.Deals += deals;
            tally.Draws += rng.DrawsSince(start);
            if (head.Stuck || head.Turns >= Engine.MostTurns) tally.Stuck++;
            if (rules.AimReached(in state)) tally.Aims++;
            if (head.Turns == 0) tally.NoTurn++;
            long left = rules.Left(in state);
            tally.Left += left;
            tally.LeftSquared += left * left;
            Count(rules, in state, tally);
            for (int i = 0; i < seats; i++)
            {
                tally.Beyond[i] += (int)(tally.BeyondNow >> i & 1);
                if (turnsOf[i] == 0) continue;
                tally.WaitGames[i]++;
                tally.WaitMilliseconds[i] += (long)Math.Round(1000.0 * (seconds - own[i]) / turnsOf[i]);
            }
        }
        return tally;
    }

    private static int First(SimulationPlan plan, int game, int seats, ref Rng rng) => plan.First switch
    {
        FirstSeat.Alternate => game % seats,
        FirstSeat.Youngest => plan.Youngest,
        FirstSeat.Draw => rng.Below(seats),
        _ => 0,
    };

    /// <summary>Everyone who is asked draws an answer; different seats answer at the same time.</summary>
    private static Answered DrawAnswers(GameTally tally, ReadOnlySpan<SeatAsk> asks, int game, ref Rng rng, out float seconds)
    {
        float longest = 0, quickest = float.MaxValue;
        uint wrong = 0;
        int fastest = -1;
        for (int i = 0; i < asks.Length;)
        {
            int seat = asks[i].Seat;
            var table = tally.Asks[seat];
            float mine = 0;
            // A seat's asks follow one another.
            do
            {
                ref readonly var answering = ref table.Answer(tally.Meet(table, asks[i++], game));
                var outcome = answering.Draw(ref rng);
                mine += answering.Seconds(outcome);
                wrong |= (outcome < Outcome.CountedAll ? 1u : 0) << seat;
            }
            while (i < asks.Length && asks[i].Seat == seat);
            if ((wrong >> seat & 1) == 0 && mine < quickest) (quickest, fastest) = (mine, seat);
            longest = Math.Max(longest, mine);
        }
        seconds = longest;
        return new(wrong == 0, wrong, fastest);
    }

    /// <summary>Everyone who is asked is right, in the mean time that it takes to be right.</summary>
    private static Answered RightAnswers(GameTally tally, ReadOnlySpan<SeatAsk> asks, int game, out float seconds)
    {
        float longest = 0, quickest = float.MaxValue;
        int fastest = -1;
        for (int i = 0; i < asks.Length;)
        {
            int seat = asks[i].Seat;
            var table = tally.Asks[seat];
            float mine = 0;
            do mine += table.Count(tally.Meet(table, asks[i++], game)).SecondsRight;
            while (i < asks.Length && asks[i].Seat == seat);
            if (mine < quickest) (quickest, fastest) = (mine, seat);
            longest = Math.Max(longest, mine);
        }
        seconds = longest;
        return new(true, 0, fastest);
    }

    private static void Count<TRules, TState>(TRules rules, in TState state, GameTally tally)
        where TRules : struct, IRules<TState>
        where TState : struct
    {
        int best = -1, holder = -1;
        bool shared = false;
        for (int i = 0; i < rules.Seats; i++)
        {
            int points = rules.Points(in state, i);
            if (points > best) (best, holder, shared) = (points, i, false);
            else if (points == best) shared = true;
        }
        if (shared) tally.Ties++;
        else tally.Wins[holder]++;
    }
}
