namespace Allowance.Core.Setups;

/// <summary>How a knob is turned on a screen. What a form sends back is read by <see cref="KnobKind.FromFields"/>.</summary>
public abstract record Field;

/// <summary>A number is typed.</summary>
public sealed record NumberField(int Least, int Most) : Field;

/// <summary>Two numbers are typed, each in a field named after the knob and its part.</summary>
/// <param name="Parts">What the parts are called in a form, what stands before each, and what each is now.</param>
public sealed record PairField(int Least, int Most, IReadOnlyList<(string Part, string Label, Func<KnobValue, int> Now)> Parts) : Field;

/// <summary>One value is chosen. Where values beyond those offered can be had, they are written in a link or a file.</summary>
public sealed record PickField(IReadOnlyList<KnobValue> Offered) : Field;

/// <summary>Several are ticked.</summary>
/// <param name="Offered">Each as it is written and as it is said.</param>
public sealed record TickField(IReadOnlyList<(string Id, string Label)> Offered, Func<KnobValue, string, bool> IsTicked) : Field;

/// <summary>It is written, as in the example.</summary>
public sealed record TextField(string Example) : Field;

/// <summary>A pack has a panel of its own, with a field for each rank.</summary>
public sealed record PackField : Field;
