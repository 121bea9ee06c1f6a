using Allowance.Core.Forms;

namespace Allowance.Core.Tests;

/// <summary>Pictures of numbers: every one shows as many marks as it says, inside its box, without overlaps.</summary>
public class FormTests
{
    private static readonly Form[] Drawn = [Form.Dice, Form.Domino, Form.Scatter, Form.TenFrame, Form.DoubleTenFrame, Form.Row, Form.Fingers];

    public static TheoryData<Form> Forms => [.. Drawn];

    [Theory, MemberData(nameof(Forms))]
    public void Every_picture_shows_its_number(Form form)
    {
        for (int n = 0; n <= 20; n++)
            for (long seed = 0; seed < 40 && Pictures.CanDraw(form, n); seed++)
                foreach (var order in Enum.GetValues<FingerOrder>())
                {
                    var picture = Pictures.Of(form, n, seed, order);
                    Assert.Equal(n, picture.Count);
                    Assert.All(picture.Marks.OfType<Dot>(), d => Assert.True(d.X - d.Radius >= 0 && d.X + d.Radius <= picture.Width && d.Y - d.Radius >= 0 && d.Y + d.Radius <= picture.Height));
                    Assert.All(picture.Marks.OfType<Block>(), b => Assert.True(b.X >= 0 && b.X + b.Width <= picture.Width && b.Y >= 0 && b.Y + b.Height <= picture.Height));
                }
    }

    [Fact]
    public void Loose_dots_keep_apart()
    {
        for (int n = 2; n <= 20; n++)
            for (long seed = 0; seed < 60; seed++)
            {
                var dots = Pictures.Of(Form.Scatter, n, seed).Marks.OfType<Dot>().ToList();
                for (int i = 0; i < dots.Count; i++)
                    for (int j = 0; j < i; j++)
                        Assert.True(Math.Sqrt(Math.Pow(dots[i].X - dots[j].X, 2) + Math.Pow(dots[i].Y - dots[j].Y, 2)) > dots[i].Radius + dots[j].Radius + 1, $"{n} dots, seed {seed}");
            }
    }

    [Fact]
    public void The_fixed_picture_is_fixed_and_others_differ()
    {
        Assert.Equal(Pictures.Of(Form.Scatter, 5).Marks, Pictures.Of(Form.Scatter, 5).Marks);
        Assert.NotEqual(Pictures.Of(Form.Scatter, 5).Marks, Pictures.Of(Form.Scatter, 5, 1).Marks);
        Assert.NotEqual(Pictures.Of(Form.Fingers, 1, 0, FingerOrder.Thumb).Marks, Pictures.Of(Form.Fingers, 1, 0, FingerOrder.Index).Marks);
    }

    [Fact]
    public void A_number_beyond_a_form_is_shown_as_its_numeral() =>
        Assert.Equal("13", Assert.IsType<Glyph>(Assert.Single(Pictures.Of(Form.TenFrame, 13).Marks)).Text);
}
