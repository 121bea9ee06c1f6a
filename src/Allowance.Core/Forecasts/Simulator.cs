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

/// <summary>How often an ask came: what the inner loop touches every time, sixteen bytes of it.</summary>
internal struct AskCount
{
    public int Count, Games, LastGame;
    public float SecondsRight;
}

/// <summary>How an ask is answered at a seat, and whether it goes beyond her range.</summary>
internal struct AskAnswer
{
    public Answering Answering;
    public bool Beyond;
}

/// <summary>An ask met in simulated games.</summary>
internal readonly record struct AskTally(long Code, long Count, long Games, double Right);

/// <summary>Counts over simulated games. All are whole numbers, so that adding them up in any order gives the same.</summary>
internal sealed class GameTally(int seats)
{
    public long[] Wins { get; } = new long[seats];
    public long Ties, Stuck, Aims, Turns, Draws, Deals, Left, LeftSquared, NoTurn;
    public long[] Beyond { get; } = new long[seats];

    /// <summary>Waiting in milliseconds, summed over games, and the games in which the seat had a turn.</summary>
    public long[] WaitMilliseconds { get; } = new long[seats];
    public long[] WaitGames { get; } = new long[seats];
    public AskTable[] Asks { get; } = [.. Enumerable.Range(0, seats).Select(_ => new AskTable())];

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
/// Counts by ask: open addressing, so that the inner loop allocates nothing once an ask has been met. Keys, counts and
/// answers lie apart, each close together.
/// </summary>
internal sealed class AskTable
{
    // 0 where a slot is free; no ask has that code.
    private long[] keys = new long[512];
    private AskCount[] counts = new AskCount[512];
    private AskAnswer[] answers = new AskAnswer[512];
    private int used;

    public IEnumerable<AskTally> All =>
        Enumerable.Range(0, keys.Length).Where(i => keys[i] != 0).Select(i => new AskTally(keys[i], counts[i].Count, counts[i].Games, answers[i].Answering.Right));

    /// <summary>The slot of an ask; where it is new, its answer is still to be filled in.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public int Slot(long code, out bool isNew)
    {
        var all = keys;
        int mask = all.Length - 1, i = (int)((ulong)code * 0x9E3779B97F4A7C15UL >> 48) & mask;
        while (all[i] != code)
        {
            if (all[i] == 0) return Insert(code, i, out isNew);
            i = (i + 1) & mask;
        }
        isNew = false;
        return i;
    }

    public ref AskCount Count(int slot) => ref counts[slot];

    public ref AskAnswer Answer(int slot) => ref answers[slot];

    private int Insert(long code, int at, out bool isNew)
    {
        isNew = true;
        if (2 * ++used <= keys.Length)
        {
            keys[at] = code;
            counts[at].LastGame = -1;
            return at;
        }
        var (oldKeys, oldCounts, oldAnswers) = (keys, counts, answers);
        keys = new long[2 * oldKeys.Length];
        counts = new AskCount[keys.Length];
        answers = new AskAnswer[keys.Length];
        used = 0;
        for (int i = 0; i < oldKeys.Length; i++)
        {
            if (oldKeys[i] == 0) continue;
            int slot = Slot(oldKeys[i], out _);
            counts[slot] = oldCounts[i];
            answers[slot] = oldAnswers[i];
        }
        return Slot(code, out isNew);
    }

    public void Add(AskTable other)
    {
        for (int i = 0; i < other.keys.Length; i++)
        {
            if (other.keys[i] == 0) continue;
            int slot = Slot(other.keys[i], out bool isNew);
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
        var tally = new GameTally(seats);
        var state = default(TState);
        Span<SeatAsk> asks = stackalloc SeatAsk[Engine.MostAsks];
        Span<float> own = stackalloc float[seats];
        Span<int> turnsOf = stackalloc int[seats];
        Span<bool> beyond = stackalloc bool[seats];
        bool drawn = plan.Behaviour == Behaviour.Child, best = plan.Behaviour == Behaviour.Perfect;
        for (int game = from; game < to; game++)
        {
            var rng = Rng.ForGame(plan.Seed, game);
            var start = rng;
            own.Clear();
            turnsOf.Clear();
            beyond.Clear();
            rules.Start(ref state, First(plan, game, seats, ref rng));
            ref var head = ref rules.Head(ref state);
            // Time is gathered while a turn lasts, and given to its seat when it ends.
            float seconds = 0, gathered = 0;
            int turns = 0;
            while (turns < Engine.MostTurns)
            {
                var step = rules.Next(in state);
                if (step.Kind == StepKind.Over) break;
                if (step.Kind == StepKind.Chance)
                {
                    int seat = step.Seat, deals = 0;
                    float each = rules.Seconds(in state, step, default);
                    do
                    {
                        rules.Deal(ref state, rules.Draw(ref state, ref rng));
                        deals++;
                    }
                    while (rules.Next(in state) is { Kind: StepKind.Chance } next && next.Seat == seat);
                    tally.Deals += deals;
                    gathered += each * deals;
                }
                else
                {
                    var move = best ? rules.Best(in state, ref rng) : rules.Plain(in state, ref rng);
                    gathered += rules.Seconds(in state, step, move);
                    int count = rules.Asks(in state, move, asks);
                    if (count == 0) rules.Apply(ref state, move, new Answered(true, 0, step.Seat));
                    else
                    {
                        float longest = 0, mine = 0, quickest = float.MaxValue;
                        uint wrong = 0;
                        int fastest = -1;
                        for (int i = 0; i < count; i++)
                        {
                            int seat = asks[i].Seat;
                            var table = tally.Asks[seat];
                            int slot = table.Slot(asks[i].Ask.Code, out bool isNew);
                            if (isNew) Meet(table, slot, asks[i].Ask, plan, seat);
                            ref var met = ref table.Count(slot);
                            met.Count++;
                            if (met.LastGame != game)
                            {
                                met.LastGame = game;
                                met.Games++;
                                beyond[seat] |= table.Answer(slot).Beyond;
                            }
                            if (drawn)
                            {
                                ref readonly var answering = ref table.Answer(slot).Answering;
                                var outcome = answering.Draw(ref rng);
                                mine += answering.Seconds(outcome);
                                if (outcome < Outcome.CountedAll) wrong |= 1u << seat;
                            }
                            else mine += met.SecondsRight;
                            // A seat's asks follow one another; different seats answer at the same time.
                            if (i + 1 < count && asks[i + 1].Seat == seat) continue;
                            if ((wrong >> seat & 1) == 0 && mine < quickest) (quickest, fastest) = (mine, seat);
                            longest = Math.Max(longest, mine);
                            mine = 0;
                        }
                        gathered += longest;
                        if (!rules.Seeking(in state, move)) wrong = 0;
                        rules.Apply(ref state, move, new Answered(wrong == 0, wrong, fastest));
                    }
                }
                if (head.Turns == turns) continue;
                own[step.Seat] += gathered;
                turnsOf[step.Seat] += head.Turns - turns;
                seconds += gathered;
                gathered = 0;
                turns = head.Turns;
            }
            seconds += gathered;
            plan.Turns[game] = head.Turns;
            plan.Seconds[game] = seconds;
            tally.Turns += head.Turns;
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
                if (beyond[i]) tally.Beyond[i]++;
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

    /// <summary>An ask comes up for the first time: how it is answered, and whether it goes beyond her range.</summary>
    private static void Meet(AskTable table, int slot, Ask ask, SimulationPlan plan, int seat)
    {
        ref var answer = ref table.Answer(slot);
        answer.Answering = plan.Answers.For(seat, ask);
        table.Count(slot).SecondsRight = answer.Answering.SecondsRight;
        if (plan.Ranges[seat] is not { } range) return;
        for (int i = 0; i < ask.Count; i++) answer.Beyond |= !range.Contains(ask[i]);
        answer.Beyond |= ask.Answer >= 0 && !range.Contains(ask.Answer);
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
