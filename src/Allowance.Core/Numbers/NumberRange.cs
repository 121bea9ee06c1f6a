namespace Allowance.Core.Numbers;

/// <summary>The whole numbers from <see cref="Low"/> to <see cref="High"/>, both included.</summary>
public readonly record struct NumberRange(int Low, int High)
{
    public bool Contains(int number) => number >= Low && number <= High;

    public override string ToString() => Low == High ? $"{Low}" : $"{Low} to {High}";
}
