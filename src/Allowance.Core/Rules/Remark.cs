namespace Allowance.Core.Rules;

/// <summary>Something about a setup that can be played and yet is hardly meant, in a whole sentence.</summary>
/// <param name="Weight">How much it spoils: 1, and what share of the rolls comes to nothing by it where that can be told.</param>
public readonly record struct Remark(string Says, double Weight = 1)
{
    public static implicit operator Remark(string says) => new(says);
}
