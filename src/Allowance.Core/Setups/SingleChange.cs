namespace Allowance.Core.Setups;

/// <summary>A setup that differs in one thing.</summary>
/// <param name="Says">The change in words: "target 9 instead of 10".</param>
/// <param name="Belongs">Which of range, form, rule level, support … it changes; one at a time is the house rule.</param>
public sealed record SingleChange(string Says, Belongs Belongs, Setup Setup);
