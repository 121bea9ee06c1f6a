namespace Allowance.Core.Setups;

/// <summary>A setup that differs in one thing.</summary>
/// <param name="Says">The change in words: "target 9 instead of 10".</param>
/// <param name="Belongs">Which of range, form, rule level, support … it changes; one at a time is the house rule.</param>
public sealed record SingleChange(string Says, Belongs Belongs, Setup Setup)
{
    /// <summary>Another value of a knob, in words: "gates: 8 instead of 9", "with things to count", "without a number line".</summary>
    /// <param name="label">What the knob is called; a die names itself.</param>
    public static string Turned(Knob knob, KnobValue value, KnobValue was, string label) => knob.Role switch
    {
        KnobRole.Support when IsNone(value) => $"without {was}",
        KnobRole.Support => $"with {value}{(IsNone(was) ? "" : $" instead of {was}")}",
        KnobRole.Dice => $"{value} instead of {was}",
        _ => $"{label}: {value} instead of {was}",
    };

    private static bool IsNone(KnobValue value) => value is ChoiceValue { Id: "none" };
}
