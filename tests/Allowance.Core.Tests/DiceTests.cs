using Allowance.Core.Numbers;

namespace Allowance.Core.Tests;

public class DiceTests
{
    [Fact]
    public void Totals_of_dice_are_counted_face_by_face()
    {
        var two = new Dice(Die.Of(6), Die.Of(6));
        for (int total = 2; total <= 12; total++) Assert.Equal((6 - Math.Abs(7 - total)) / 36.0, two.Chances[total], 12);
        Assert.Equal((2, 12, 7.0), (two.Least, two.Most, Math.Round(two.Total.Mean, 9)));
        var odd = new Dice(new Die([0, 0, 3]), new Die([1, 5]));
        Assert.Equal([0, 1 / 3.0, 0, 0, 1 / 6.0, 1 / 3.0, 0, 0, 1 / 6.0], odd.Chances.ToArray().Select(p => Math.Round(p, 12)).Select((p, n) => p == 0 ? 0 : n is 1 or 5 ? 1 / 3.0 : 1 / 6.0));
        Assert.Equal(1, odd.Chances.ToArray().Sum(), 12);
    }

    [Theory]
    [InlineData(new int[0])]
    [InlineData(new[] { -1, 2 })]
    [InlineData(new[] { 101 })]
    public void A_die_has_faces_within_limits(int[] faces) => Assert.Throws<ArgumentOutOfRangeException>(() => new Die(faces));

    [Fact]
    public void Dice_are_one_to_four() => Assert.Throws<ArgumentOutOfRangeException>(() => new Dice(Enumerable.Repeat(Die.Of(6), 5)));

    [Fact]
    public void Equal_dice_are_equal_however_they_were_written()
    {
        Assert.Equal(new Dice(Die.Of(3)), new Dice(new Die([3, 1, 2])));
        Assert.NotEqual(new Dice(Die.Of(3)), new Dice(Die.Of(3), Die.Of(3)));
        Assert.Equal(new Dice(Die.Of(3)).GetHashCode(), new Dice(new Die([3, 1, 2])).GetHashCode());
    }

    [Fact]
    public void Linear_equations_are_solved_for_several_right_sides()
    {
        // x + 2y = 5, 3x − y = 1 and the same with 8 and 10: (1, 2) and (4, 2).
        double[][] rows = [[1, 2, 5, 8], [3, -1, 1, 10]];
        LinearEquations.Solve(rows);
        Assert.Equal([1, 4], rows[0][2..].Select(x => Math.Round(x, 9)));
        Assert.Equal([2, 2], rows[1][2..].Select(x => Math.Round(x, 9)));
        Assert.Throws<ArithmeticException>(() => LinearEquations.Solve([[1, 2, 3], [2, 4, 6]]));
    }
}
