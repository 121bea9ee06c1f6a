using Allowance.Core.Setups;

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
}
