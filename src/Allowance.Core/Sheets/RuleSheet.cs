using Allowance.Core.Asks;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Tables;
using Allowance.Core.Tuning;

namespace Allowance.Core.Sheets;

/// <summary>An ask of the worked turn: what to say, the answer, and what to say when she is stuck.</summary>
/// <param name="CanTellHow">There are several ways to get there, so that it is worth asking how she knows.</param>
/// <param name="Afterwards">What is said or written then, by the household's approach; empty where nothing is.</param>
public sealed record WorkedAsk(int Seat, string Question, string Answer, bool CanTellHow, string Afterwards, IReadOnlyList<string> Hints);

/// <summary>A step of the worked turn: what to do, what came of it, and what is asked with it.</summary>
public sealed record WorkedStep(int Seat, string Says, string Does, IReadOnlyList<WorkedAsk> Asks);

/// <summary>One whole turn, played by the frame's own rules with this setup's own numbers.</summary>
/// <param name="Lies">What lies on the table when it is asked, as it would be drawn.</param>
/// <param name="Next">Whose turn is next; null where the game is over.</param>
/// <param name="Matters">Of what whoever is asked first can tell how she knows, what this game is about; null where there is no such ask.</param>
public sealed record WorkedTurn(IReadOnlyList<Zone> Lies, IReadOnlyList<WorkedStep> Steps, int? Next, WorkedAsk? Matters)
{
    /// <summary>What is asked, step by step.</summary>
    public IEnumerable<WorkedAsk> Asks => Steps.SelectMany(s => s.Asks);
}

/// <summary>One page for a setup: what is needed, how to get ready, how to play, a worked turn, and what comes next.</summary>
public sealed record RuleSheet(
    Setup Setup, IReadOnlyList<Need> Needs, IReadOnlyList<string> GetReady, IReadOnlyList<(int? Seat, string Says)> Play, WorkedTurn? Turn,
    string Ends, IReadOnlyList<string> Easier, IReadOnlyList<string> Harder)
{
    private const int Tries = 40, TurnsOfATry = 5, Candidates = 30, Samples = 240, Listed = 3, MostSteps = 12, ShortSteps = 4, MostTurned = 8;

    /// <summary>More than all else that a turn can teach.</summary>
    private const int ShowsAbout = 100;

    /// <param name="answers">How the players answer in a setup, to tell easier from harder.</param>
    /// <param name="budget">When it is spent, no more changes are looked at.</param>
    /// <param name="drawer">What is there, so that nothing else is proposed.</param>
    public static RuleSheet Of(Playable playable, Approach approach, Func<Setup, IAnswers> answers, Budget? budget = null, Cupboard? drawer = null)
    {
        var (frame, setup) = (playable.Frame, playable.Setup);
        var play = new List<(int?, string)> { (null, setup.Level.Says) };
        for (int i = 0; i < setup.Seats.Length; i++)
            if (setup.Seats[i].Level is { } own && own != setup.LevelId) play.Add((i, setup.Frame.Level(own)!.Says));
        var (easier, harder) = Around(playable, answers, budget?.Whole ?? Spending.Unlimited, drawer);
        return new(setup, frame.Needs(setup), frame.GetReady(setup), play, Work(playable, approach), frame.EndsWhen(setup), easier, harder);
    }

    /// <summary>
    /// Of the first turns of a few shuffles the one that teaches most: it shows what the game is about, asks several kinds of things,
    /// of numbers that are no zeros, and is short; of equals the first.
    /// </summary>
    private static WorkedTurn? Work(Playable playable, Approach approach)
    {
        var game = playable.Compile();
        (WorkedTurn? Turn, int Worth) best = (null, int.MinValue);
        for (int shuffle = 1, shows = 0; shuffle <= Tries && shows < Candidates; shuffle++)
        {
            var rng = Rng.ForGame(shuffle, 0);
            var run = game.Start(0);
            // A turn that is too long to be told is not told from its middle either.
            for (int turn = 0; turn < TurnsOfATry && run.Turns == turn && run.Next.Kind != StepKind.Over; turn++)
                if (WorkOne(playable, run, ref rng, approach, out var asks) is { } worked)
                {
                    bool about = playable.Frame.ShowsWhatItIsAbout(playable.Setup, asks);
                    if (about) shows++;
                    int worth = (about ? ShowsAbout : 0) + Teaches(worked, asks);
                    if (worth > best.Worth) best = (worked, worth);
                }
        }
        return best.Turn;
    }

    /// <summary>Above all how many kinds of things it asks; then that she can tell how, that it is short, and that the game goes on after it; last that no number is 0.</summary>
    private static int Teaches(WorkedTurn turn, List<SeatAsk> asks) =>
        4 * asks.Select(a => a.Ask.Kind).Distinct().Count() + (turn.Matters is null ? 0 : 2)
        - 3 * Math.Max(0, turn.Steps.Count - ShortSteps) - (turn.Next is null ? 3 : 0) - asks.Count(a => HasZero(a.Ask));

    private static bool HasZero(Ask ask) => ask.Answer == 0 || Enumerable.Range(0, ask.Count).Any(i => ask[i] == 0);

    /// <summary>Plays one turn to its end; null where it asks nothing.</summary>
    private static WorkedTurn? WorkOne(Playable playable, Run run, ref Rng rng, Approach approach, out List<SeatAsk> put)
    {
        put = [];
        var steps = new List<WorkedStep>();
        IReadOnlyList<Zone>? lies = null;
        // What is turned is told where it was said to turn it.
        string? said = null;
        for (int turns = run.Turns; run.Turns == turns && run.Next.Kind != StepKind.Over && steps.Count < MostSteps;)
        {
            var (seat, says) = (run.Speaker, run.Says);
            if (run.Next.Kind == StepKind.Chance)
            {
                var turned = new List<string>();
                // Dice and cards that come one after another are one step.
                while (run.Next.Kind == StepKind.Chance && run.Speaker == seat && run.Says == says)
                {
                    int outcome = run.Draw(ref rng);
                    turned.Add(run.Possibilities.First(p => p.Outcome == outcome).Label);
                    run.Deal(outcome);
                }
                // What fills a layout is seen in the picture.
                if (turned.Count <= MostTurned) steps.Add(new(seat, said ?? says, Words.List(turned), []));
                said = null;
                continue;
            }
            var move = run.Best(ref rng);
            var asks = run.Asks(move);
            put.AddRange(asks);
            // A key to break off is for the screen.
            if (asks.Count > 0) lies ??= [.. run.Zones.Where(z => z is not ChoiceKeys { BreaksOff: true })];
            string does = run.Tells(move, true);
            run.Apply(move, true);
            if (asks.Count == 0 && run.Next.Kind == StepKind.Chance && run.Turns == turns)
            {
                said = says;
                continue;
            }
            steps.Add(new(seat, says, does, [.. asks.Select(a => Worked(a, approach))]));
        }
        if (lies is null) return null;
        int first = put[0].Seat;
        List<Ask> told = [.. put.Where(a => a.Seat == first && CanTellHow(a.Ask)).Select(a => a.Ask)];
        return new(lies, steps, run.Next.Kind == StepKind.Over ? null : run.Speaker, told.Count == 0 ? null : Worked(new(first, playable.Frame.MattersMost(playable.Setup, first, told)), approach));
    }

    /// <summary>There are several ways to get there.</summary>
    private static bool CanTellHow(Ask ask) => Outcomes.Of(ask).Count > 3;

    private static WorkedAsk Worked(SeatAsk asked, Approach approach)
    {
        var ask = asked.Ask;
        string afterwards = approach["writing"] switch
        {
            "write" when ask.Equation() is { Length: > 0 } equation => $"Write: {equation}",
            "aloud" when ask.Sentence() is { Length: > 0 } sentence => $"Say: “{Words.Capital(sentence)}.”",
            _ => "",
        };
        return new(asked.Seat, ask.Question(), ask.AnswerWords(), CanTellHow(ask), afterwards, [.. Enumerable.Range(1, 3).Select(step => Hints.Of(ask, step, approach).Says)]);
    }

    private static (IReadOnlyList<string> Easier, IReadOnlyList<string> Harder) Around(Playable playable, Func<Setup, IAnswers> answers, Spending spending, Cupboard? drawer)
    {
        var setup = playable.Setup;
        int seat = setup.Seats.ToList().FindIndex(s => !s.GrownUp);
        if (seat < 0) return ([], []);
        var changes = Easing.Around(playable, seat, answers, Samples, spending, drawer);
        return (Told(Ease.Easier), Told(Ease.Harder));

        IReadOnlyList<string> Told(Ease ease) => [.. changes.Nearest(ease, int.MaxValue).DistinctBy(c => c.Step.Belongs).Take(Listed).Select(c => Words.Sentence(c.Step.Says))];
    }
}
