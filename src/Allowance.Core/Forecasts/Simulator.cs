using System.Numerics;
using System.Runtime.CompilerServices;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Forecasts;

/// <summary>What to simulate. The arrays hold one figure a game and are filled in place.</summary>
/// <param name="hands">By seat, how many times as long handling takes.</param>
internal sealed class SimulationPlan(Behaviour behaviour, long seed, IAnswers answers, FirstSeat first, int youngest, NumberRange?[] ranges, float[] hands, int games)
{
    /// <summary>Seconds until the next player has the dice, or looks up.</summary>
    public const float PassOn = 1.5f;

    public static float[] HandsOf(Setup setup) => [.. setup.Seats.Select(s => s.Hands)];

    public float[] Hands { get; } = hands;

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

/// <summary>Counts of one seat over simulated games.</summary>
internal struct SeatTally
{
    public long Wins, Beyond;

    /// <summary>What the seat had at the end, summed over games.</summary>
    public long Points;

    /// <summary>Waiting in milliseconds, summed over games, and the games in which the seat had a turn.</summary>
    public long WaitMilliseconds, WaitGames;
}

/// <summary>Counts over simulated games. All are whole numbers, so that adding them up in any order gives the same.</summary>
internal sealed class GameTally(int seats, SimulationPlan plan)
{
    public SeatTally[] Seats { get; } = new SeatTally[seats];
    public long Ties, Stuck, Aims, Turns, Draws, Deals, Left, LeftSquared, NoTurn;
    public AskTable Asks { get; } = new(plan);

    /// <summary>The kinds of turns met so far, where the game numbers them.</summary>
    public TurnTable? Kinds { get; set; }

    public void Add(GameTally other)
    {
        for (int i = 0; i < Seats.Length; i++)
        {
            Seats[i].Wins += other.Seats[i].Wins;
            Seats[i].Points += other.Seats[i].Points;
            Seats[i].Beyond += other.Seats[i].Beyond;
            Seats[i].WaitMilliseconds += other.Seats[i].WaitMilliseconds;
            Seats[i].WaitGames += other.Seats[i].WaitGames;
        }
        Asks.Add(other.Asks);
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

/// <summary>The seconds of one seat's turns in a game, and how many turns it had.</summary>
internal struct SeatTime
{
    public float Seconds;
    public int Turns;
}

/// <summary>How those who play decide and answer. A type for each, so that the loop is compiled for each.</summary>
internal interface IWay
{
    /// <summary>Answers are drawn; else everyone is right.</summary>
    static abstract bool Draws { get; }

    /// <summary>Moves are the best ones.</summary>
    static abstract bool Best { get; }

    /// <summary>What is asked is known by the kind of the turn; else each turn's asks are looked up.</summary>
    static virtual bool ByKind => false;
}

internal readonly struct PlainWay : IWay
{
    public static bool Draws => false;

    public static bool Best => false;
}

internal readonly struct PerfectWay : IWay
{
    public static bool Draws => false;

    public static bool Best => true;
}

internal readonly struct ChildWay : IWay
{
    public static bool Draws => true;

    public static bool Best => false;
}

/// <summary>The same way, in a game that numbers its kinds of turns.</summary>
internal readonly struct ByKind<TWay> : IWay where TWay : struct, IWay
{
    public static bool Draws => TWay.Draws;

    public static bool Best => TWay.Best;

    static bool IWay.ByKind => true;
}

/// <summary>Plays games <paramref name="from"/> to <paramref name="to"/> − 1 of the plan through a frame's own rules, and adds them to the tally. One simulator serves every frame.</summary>
internal readonly struct Simulator(SimulationPlan plan, GameTally tally, int from, int to) : IPlayer
{
    public void Play<TRules, TState>(TRules rules)
        where TRules : struct, ILoopRules<TState>
        where TState : struct
    {
        switch (plan.Behaviour)
        {
            case Behaviour.Child: Play<TRules, TState, ChildWay>(rules, plan, tally, from, to); break;
            case Behaviour.Perfect or Behaviour.Blocking: Play<TRules, TState, PerfectWay>(rules, plan, tally, from, to); break;
            default: Play<TRules, TState, PlainWay>(rules, plan, tally, from, to); break;
        }
    }

    private static void Play<TRules, TState, TWay>(TRules rules, SimulationPlan plan, GameTally tally, int from, int to)
        where TRules : struct, ILoopRules<TState>
        where TState : struct
        where TWay : struct, IWay
    {
        if (rules.TurnKinds > 0) PlayAll<TRules, TState, ByKind<TWay>>(rules, plan, tally, from, to);
        else PlayAll<TRules, TState, TWay>(rules, plan, tally, from, to);
    }

    /// <summary>The loop allocates nothing. It is called seldom and runs long, so it is compiled at its best from the start.</summary>
    private static void PlayAll<TRules, TState, TWay>(TRules rules, SimulationPlan plan, GameTally tally, int from, int to)
        where TRules : struct, ILoopRules<TState>
        where TState : struct
        where TWay : struct, IWay
    {
        int seats = rules.Seats;
        var state = default(TState);
        Span<SeatAsk> asks = stackalloc SeatAsk[Engine.MostAsks];
        Span<int> found = stackalloc int[Engine.MostAsks];
        Span<SeatTime> times = stackalloc SeatTime[Engine.MostInGroup];
        float[] hands = plan.Hands;
        float passing = seats > 1 ? SimulationPlan.PassOn : 0;
        if (TWay.ByKind) tally.Kinds ??= new(tally.Asks, rules.TurnKinds, !TWay.Draws);
        var kinds = tally.Kinds;
        // A small state is quicker copied than begun anew.
        bool copies = Unsafe.SizeOf<TState>() <= 512;
        var starts = new TState[copies ? seats : 0];
        for (int first = 0; first < starts.Length; first++) rules.Start(ref starts[first], first);
        var ahead = Rng.ForGame(plan.Seed, from);
        for (int game = from; game < to; game++)
        {
            // The next game's generator is made while this one is played, so that nobody waits for it.
            Rng rng = ahead, start = ahead;
            ahead = Rng.ForGame(plan.Seed, game + 1);
            for (int i = 0; i < seats; i++) times[i] = default;
            int begins = First(plan, game, seats, ref rng);
            if (copies) state = starts[begins];
            else rules.Start(ref state, begins);
            ref var head = ref rules.Head(ref state);
            int ended = 0, deals = 0;
            uint beyond = 0;
            float time = 0;
            var step = head.Next;
            while (true)
            {
                while (step.Kind == StepKind.Chance)
                {
                    time += rules.DealSeconds(in state) * hands[head.Mover];
                    rules.Deal(ref state, rules.Draw(ref state, ref rng));
                    deals++;
                    step = head.Next;
                }
                if (step.Kind == StepKind.Over || ended >= Engine.MostTurns) break;
                int seat = step.Seat;
                var move = TWay.Best ? rules.Best(in state, ref rng) : rules.Plain(in state, ref rng);
                // Added up by itself, so that it need not wait for the sum of all before.
                float spent = rules.MoveSeconds(in state, move) * hands[seat];
                int turnKind = TWay.ByKind ? rules.TurnKind(in state, move) : 0;
                Answered answered;
                if (turnKind < 0) answered = new(true, 0, seat);
                else
                {
                    int kind = TWay.ByKind ? kinds!.Find(turnKind) : 0;
                    if (TWay.ByKind && kind == 0) kind = Learn(in rules, in state, move, tally);
                    if (TWay.ByKind && !TWay.Draws)
                    {
                        // Turns of a kind are all alike where everyone is right, and are counted as one.
                        ref readonly var turn = ref kinds!.Meet(kind, game);
                        spent += turn.Seconds;
                        beyond |= turn.Beyond;
                        answered = new(true, 0, AskTable.OneOf(turn.Fastest, game, head.Turns));
                    }
                    else
                    {
                        var asked = TWay.ByKind ? kinds!.Asked(kind) : tally.Asks.Find(asks[..rules.Asks(in state, move, asks)], found);
                        float longest = 0;
                        answered = asked.IsEmpty ? new(true, 0, seat)
                            : asked.Length == 1
                                ? TWay.Draws ? tally.Asks.DrawAnswer(asked[0], game, ref rng, ref beyond, out longest) : tally.Asks.RightAnswer(asked[0], game, ref beyond, out longest)
                                : TWay.Draws ? tally.Asks.DrawAnswers(asked, game, head.Turns, ref rng, ref beyond, out longest) : new(true, 0, AskTable.OneOf(tally.Asks.RightAnswers(asked, game, ref beyond, out longest), game, head.Turns));
                        spent += longest;
                        if (TWay.Draws && !rules.Seeking(in state, move)) answered = answered with { All = true, Wrong = 0 };
                    }
                }
                rules.Apply(ref state, move, answered);
                time += spent;
                if (head.Turns != ended)
                {
                    ref var mine = ref times[seat];
                    mine.Seconds += time + passing;
                    mine.Turns += head.Turns - ended;
                    time = 0;
                    ended = head.Turns;
                }
                step = head.Next;
            }
            for (int i = 0; i < seats; i++) time += times[i].Seconds;
            int best = -1;
            uint holders = 0;
            for (int i = 0; i < seats; i++)
            {
                // Who wins cannot be foreseen, so no branch hangs on it.
                int points = rules.Points(in state, i);
                holders = holders & (uint)(0 - Bits.If(points <= best)) | (uint)Bits.If(points >= best) << i;
                best = Bits.Max(best, points);
                ref var seat = ref tally.Seats[i];
                seat.Points += points;
                seat.Beyond += beyond >> i & 1;
                if (times[i].Turns == 0) continue;
                seat.WaitGames++;
                seat.WaitMilliseconds += float.ConvertToIntegerNative<int>(1000 * (time - times[i].Seconds) / times[i].Turns + .5f);
            }
            if (BitOperations.PopCount(holders) > 1) tally.Ties++;
            else tally.Seats[BitOperations.TrailingZeroCount(holders)].Wins++;
            plan.Turns[game] = head.Turns;
            plan.Seconds[game] = time;
            tally.Turns += head.Turns;
            tally.Deals += deals;
            tally.Draws += rng.DrawsSince(start);
            if (head.Stuck || head.Turns >= Engine.MostTurns) tally.Stuck++;
            if (rules.AimReached(in state)) tally.Aims++;
            if (head.Turns == 0) tally.NoTurn++;
            long left = rules.Left(in state);
            tally.Left += left;
            tally.LeftSquared += left * left;
        }
        if (!TWay.Draws) kinds?.CountAsks();
    }

    /// <summary>Finds out what a kind of turn asks, the first time that it comes.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int Learn<TRules, TState>(in TRules rules, in TState state, Move move, GameTally tally)
        where TRules : struct, ILoopRules<TState>
        where TState : struct
    {
        Span<SeatAsk> asks = stackalloc SeatAsk[Engine.MostAsks];
        Span<int> found = stackalloc int[Engine.MostAsks];
        return tally.Kinds!.Learn(rules.TurnKind(in state, move), tally.Asks.Find(asks[..rules.Asks(in state, move, asks)], found));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int First(SimulationPlan plan, int game, int seats, ref Rng rng) => plan.First switch
    {
        FirstSeat.Alternate => game % seats,
        FirstSeat.Youngest => plan.Youngest,
        FirstSeat.Draw => rng.Below(seats),
        _ => 0,
    };
}
