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

/// <summary>An ask met in simulated games, how it is answered, and how often it came.</summary>
internal struct AskTally
{
    public long Code;
    public long Count;
    public long Games;
    public int LastGame;
    public bool Beyond;
    public Answering Answering;
}

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
/// Tallies by ask: open addressing, so that the inner loop allocates nothing once an ask has been met. The keys lie apart
/// from what is counted, close together.
/// </summary>
internal sealed class AskTable
{
    // 0 where a slot is free; no ask has that code.
    private long[] keys = new long[512];
    private AskTally[] tallies = new AskTally[512];
    private int used;

    public IEnumerable<AskTally> All => tallies.Where((_, i) => keys[i] != 0);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public ref AskTally Slot(long code, out bool isNew)
    {
        int mask = keys.Length - 1, i = (int)((ulong)code * 0x9E3779B97F4A7C15UL >> 48) & mask;
        while (keys[i] != code)
        {
            if (keys[i] == 0) return ref Insert(code, i, out isNew);
            i = (i + 1) & mask;
        }
        isNew = false;
        return ref tallies[i];
    }

    private ref AskTally Insert(long code, int at, out bool isNew)
    {
        if (2 * ++used > keys.Length)
        {
            used--;
            Grow();
            return ref Slot(code, out isNew);
        }
        isNew = true;
        keys[at] = code;
        tallies[at].Code = code;
        tallies[at].LastGame = -1;
        return ref tallies[at];
    }

    private void Grow()
    {
        var all = All.ToList();
        keys = new long[2 * keys.Length];
        tallies = new AskTally[keys.Length];
        used = 0;
        foreach (var tally in all) Slot(tally.Code, out _) = tally;
    }

    public void Add(AskTable other)
    {
        foreach (var tally in other.All)
        {
            ref var mine = ref Slot(tally.Code, out bool isNew);
            if (isNew)
            {
                mine = tally;
                continue;
            }
            mine.Count += tally.Count;
            mine.Games += tally.Games;
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
            float seconds = 0;
            rules.Start(ref state, First(plan, game, seats, ref rng));
            ref var head = ref rules.Head(ref state);
            while (head.Turns < Engine.MostTurns)
            {
                var step = rules.Next(in state);
                if (step.Kind == StepKind.Over) break;
                if (step.Kind == StepKind.Chance)
                {
                    int turnsBefore = head.Turns, seat = step.Seat, deals = 0;
                    float each = rules.Seconds(in state, step, default);
                    do
                    {
                        rules.Deal(ref state, rules.Draw(ref state, ref rng));
                        deals++;
                        step = rules.Next(in state);
                    }
                    while (step.Kind == StepKind.Chance && step.Seat == seat);
                    tally.Deals += deals;
                    seconds += each * deals;
                    own[seat] += each * deals;
                    turnsOf[seat] += head.Turns - turnsBefore;
                    continue;
                }
                var move = best ? rules.Best(in state, ref rng) : rules.Plain(in state, ref rng);
                float handling = rules.Seconds(in state, step, move), longest = 0, mine = 0, quickest = float.MaxValue;
                uint wrong = 0;
                int fastest = -1;
                int count = rules.Asks(in state, move, asks), before = head.Turns;
                if (count == 0)
                {
                    seconds += handling;
                    own[step.Seat] += handling;
                    rules.Apply(ref state, move, new Answered(true, 0, step.Seat));
                    turnsOf[step.Seat] += head.Turns - before;
                    continue;
                }
                for (int i = 0; i < count; i++)
                {
                    int seat = asks[i].Seat;
                    ref var slot = ref tally.Asks[seat].Slot(asks[i].Ask.Code, out bool isNew);
                    if (isNew) Meet(ref slot, plan, seat);
                    slot.Count++;
                    if (slot.LastGame != game)
                    {
                        slot.LastGame = game;
                        slot.Games++;
                        beyond[seat] |= slot.Beyond;
                    }
                    if (drawn)
                    {
                        var outcome = slot.Answering.Draw(ref rng);
                        mine += slot.Answering.Seconds(outcome);
                        if (outcome < Outcome.CountedAll) wrong |= 1u << seat;
                    }
                    else mine += slot.Answering.SecondsRight;
                    // A seat's asks follow one another; different seats answer at the same time.
                    if (i + 1 < count && asks[i + 1].Seat == seat) continue;
                    if ((wrong >> seat & 1) == 0 && mine < quickest) (quickest, fastest) = (mine, seat);
                    longest = Math.Max(longest, mine);
                    mine = 0;
                }
                float time = handling + longest;
                seconds += time;
                own[step.Seat] += time;
                if (!rules.Seeking(in state, move)) wrong = 0;
                rules.Apply(ref state, move, new Answered(wrong == 0, wrong, fastest));
                turnsOf[step.Seat] += head.Turns - before;
            }
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

    private static void Meet(ref AskTally slot, SimulationPlan plan, int seat)
    {
        var ask = Ask.FromCode(slot.Code);
        slot.Answering = plan.Answers.For(seat, ask);
        if (plan.Ranges[seat] is not { } range) return;
        for (int i = 0; i < ask.Count; i++) slot.Beyond |= !range.Contains(ask[i]);
        slot.Beyond |= ask.Answer >= 0 && !range.Contains(ask.Answer);
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
