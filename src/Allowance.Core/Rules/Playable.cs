using System.Text.Json;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;
using Allowance.Core.Tables;

namespace Allowance.Core.Rules;

/// <summary>
/// A setup that its frame's rules have accepted (<see cref="Rules.Frame.Check(Setup)"/>): only such a one is compiled, forecast, played at a
/// table or told on a rule sheet.
/// </summary>
public sealed record Playable
{
    internal Playable(Frame frame, Setup setup) => (Frame, Setup) = (frame, setup);

    public Frame Frame { get; }

    public Setup Setup { get; }

    /// <summary>Makes it ready for play.</summary>
    /// <param name="beliefs">What is believed of the players, for a caller to choose by.</param>
    public Game Compile(IAnswers? beliefs = null) => Frame.Compile(Setup, beliefs);

    /// <inheritdoc cref="Rules.Frame.ExactFacts"/>
    public Facts ExactFacts(Behaviour behaviour = Behaviour.Plain, Spending? spending = null) => Frame.ExactFacts(Setup, behaviour, spending ?? Spending.Unlimited);

    /// <inheritdoc cref="Rules.Frame.At"/>
    public Facts? At(JsonElement position, List<Problem> problems) => Frame.At(Setup, position, problems);

    /// <inheritdoc cref="Rules.Frame.PlayedFacts"/>
    public Facts PlayedFacts(Behaviour behaviour, Spending spending) => Frame.PlayedFacts(Setup, behaviour, spending);

    /// <inheritdoc cref="Rules.Frame.SimulatedFacts"/>
    public IReadOnlyList<string> SimulatedFacts => Frame.SimulatedFacts(Setup);

    /// <inheritdoc cref="Rules.Frame.FromTurns"/>
    public double FromTurns(string fact, double turns) => Frame.FromTurns(Setup, fact, turns);

    /// <inheritdoc cref="Rules.Frame.InWords"/>
    public (string Heading, string Says)? InWords(Facts facts, double secondsATurn, Spending? spending = null) => Frame.InWords(Setup, facts, secondsATurn, spending ?? Spending.Unlimited);

    /// <inheritdoc cref="Rules.Frame.Journeys"/>
    public IReadOnlyList<Journey> Journeys(Spending? spending = null) => Frame.Journeys(Setup, spending ?? Spending.Unlimited);

    /// <inheritdoc cref="Rules.Frame.Choices"/>
    public ChoiceTree? Choices => Frame.Choices(Setup);

    private const int TurnsBefore = 4;

    /// <summary>
    /// The table by which the game is recognised, always the same one: cards and boards as they are laid out, everything else
    /// after a few turns, when something has been gathered, sorted or walked.
    /// </summary>
    public IReadOnlyList<Zone> Pictured()
    {
        var run = Compile().Start(0);
        var rng = new Rng(1);
        IReadOnlyList<Zone> zones = run.Zones;
        for (int turn = 0; turn < TurnsBefore; turn++)
        {
            while (run.Next.Kind == StepKind.Chance) run.Deal(run.Draw(ref rng));
            if (run.Next.Kind == StepKind.Over) break;
            zones = run.Zones;
            if (zones.Any(z => z is CardGrid or CardRow or Board)) break;
            run.Apply(run.Plain(ref rng), true);
        }
        return zones;
    }
}
