using Allowance.Core.Forms;
using Allowance.Core.Numbers;

namespace Allowance.Core.Tests;

/// <summary>Pictures of numbers: every one shows as many marks as it says, inside its box, without overlaps.</summary>
public class FormTests
{
    private const int Seeds = 60;

    /// <summary>Forms whose marks can be counted.</summary>
    public static TheoryData<Form> Countable =>
        [Form.Objects, Form.Dice, Form.Scatter, Form.Row, Form.Twos, Form.Domino, Form.FiveFrame, Form.TenFrame, Form.DoubleTenFrame, Form.Fingers, Form.Tally, Form.Rack, Form.Bar, Form.Spots];

    public static TheoryData<Form> All => [.. FormTable.All.Select(f => f.Form).Where(f => f != Form.None)];

    private static IEnumerable<int> Range(Form form) => Enumerable.Range(form.Facts().Low, form.Facts().High - form.Facts().Low + 1);

    private static IEnumerable<PictureStyle> Styles()
    {
        foreach (var order in Enum.GetValues<FingerOrder>())
            foreach (var fill in Enum.GetValues<FrameFill>())
                yield return new(order, fill);
    }

    [Theory, MemberData(nameof(Countable))]
    public void Every_picture_shows_its_number(Form form)
    {
        foreach (int n in Range(form))
            for (long seed = 0; seed < Seeds; seed++)
                foreach (var style in seed < 5 ? Styles() : [PictureStyle.Default])
                    Assert.Equal(n, Pictures.Of(form, n, seed, style).Count);
    }

    [Theory, MemberData(nameof(All))]
    public void No_mark_leaves_its_box(Form form)
    {
        foreach (int n in Range(form))
            for (long seed = 0; seed < 12; seed++)
            {
                var picture = Pictures.Of(form, n, seed);
                Assert.All(picture.Marks, m => Assert.True(m.Extent.Within(picture.Width, picture.Height), $"{form} {n}, seed {seed}: {m}"));
            }
    }

    [Theory, MemberData(nameof(Countable))]
    public void Marks_that_count_keep_apart(Form form)
    {
        foreach (int n in Range(form))
            for (long seed = 0; seed < Seeds; seed++)
            {
                var counting = Pictures.Of(form, n, seed).Marks.Where(m => m.Counts).ToList();
                for (int i = 0; i < counting.Count; i++)
                    for (int j = 0; j < i; j++) Assert.False(Overlap(counting[i], counting[j]), $"{form} {n}, seed {seed}");
            }
    }

    private static bool Overlap(Mark a, Mark b) => (a, b) switch
    {
        (Dot p, Dot q) => new Point(p.X, p.Y).To(new(q.X, q.Y)) <= p.Radius + q.Radius,
        (Thing p, Thing q) => new Point(p.X, p.Y).To(new(q.X, q.Y)) <= p.Size + q.Size,
        (Block p, Block q) => p.X < q.X + q.Width - .01 && q.X < p.X + p.Width - .01 && p.Y < q.Y + q.Height - .01 && q.Y < p.Y + p.Height - .01,
        // The fifth stroke of a bundle lies across the others; no stroke lies on another.
        _ => a == b,
    };

    [Fact]
    public void Loose_dots_make_no_rows_by_accident()
    {
        for (int n = 3; n <= 10; n++)
            for (long seed = 0; seed < 200; seed++)
            {
                var dots = Pictures.Of(Form.Scatter, n, seed).Marks.OfType<Dot>().Select(d => new Point(d.X, d.Y)).ToList();
                double reach = n < 6 ? 100 : 30;
                foreach (var a in dots)
                    foreach (var middle in dots)
                        foreach (var b in dots)
                        {
                            if (a == b || a == middle || b == middle || a.To(b) > 2 * reach) continue;
                            double off = middle.To(new((a.X + b.X) / 2, (a.Y + b.Y) / 2));
                            Assert.True(off > .05 * a.To(b), $"{n} dots, seed {seed}");
                        }
            }
    }

    [Fact]
    public void Neither_the_size_of_loose_dots_nor_their_spread_tells_the_number()
    {
        var pictures = Enumerable.Range(3, 7).SelectMany(n => Enumerable.Range(1, 120).Select(seed => (N: (double)n, Dots: Pictures.Of(Form.Scatter, n, seed).Marks.OfType<Dot>().ToList()))).ToList();
        Assert.InRange(Math.Abs(Correlation(pictures.Select(p => (p.N, p.Dots[0].Radius)))), 0, .25);
        Assert.InRange(Math.Abs(Correlation(pictures.Select(p => (p.N, p.Dots.Count * p.Dots[0].Radius * p.Dots[0].Radius)))), 0, .75);
        foreach (int n in new[] { 3, 6, 9 })
        {
            var spreads = pictures.Where(p => p.N == n).Select(p => p.Dots.Max(d => d.X) - p.Dots.Min(d => d.X)).ToList();
            Assert.True(spreads.Max() - spreads.Min() > 25, $"the spread of {n} dots hardly varies");
        }
    }

    private static double Correlation(IEnumerable<(double X, double Y)> pairs)
    {
        var all = pairs.ToList();
        double x = all.Average(p => p.X), y = all.Average(p => p.Y);
        return all.Sum(p => (p.X - x) * (p.Y - y)) / Math.Sqrt(all.Sum(p => (p.X - x) * (p.X - x)) * all.Sum(p => (p.Y - y) * (p.Y - y)));
    }

    [Theory, MemberData(nameof(All))]
    public void The_fixed_picture_is_fixed(Form form)
    {
        foreach (int n in Range(form).Where(n => n < 40))
            for (long seed = 0; seed < 3; seed++) Assert.Equal(Pictures.Of(form, n, seed).Marks, Pictures.Of(form, n, seed).Marks);
    }

    [Theory]
    [InlineData(Form.Objects)]
    [InlineData(Form.Dice)]
    [InlineData(Form.Scatter)]
    [InlineData(Form.Row)]
    [InlineData(Form.Twos)]
    [InlineData(Form.Domino)]
    [InlineData(Form.FiveFrame)]
    [InlineData(Form.TenFrame)]
    [InlineData(Form.DoubleTenFrame)]
    [InlineData(Form.Fingers)]
    [InlineData(Form.Tally)]
    [InlineData(Form.Rack)]
    [InlineData(Form.Spots)]
    public void There_are_many_other_pictures(Form form) =>
        Assert.True(Enumerable.Range(1, 40).Select(seed => string.Join(';', Pictures.Of(form, 3, seed).Marks)).Distinct().Count() > 1);

    [Fact]
    public void Fingers_go_up_in_the_order_of_the_household()
    {
        static IEnumerable<double> Raised(int n, FingerOrder order) =>
            Pictures.Of(Form.Fingers, n, 0, new(order)).Marks.Where(m => m.Counts).Select(m => m.Extent.Left).Order();
        // The left little finger stands leftmost, the thumb of the left hand rightmost of its five.
        double little = Raised(5, FingerOrder.Thumb).First(), thumb = Raised(5, FingerOrder.Thumb).Last();
        Assert.Equal(thumb, Raised(1, FingerOrder.Thumb).Single());
        Assert.Equal(little, Raised(1, FingerOrder.Little).Single());
        Assert.NotEqual(thumb, Raised(1, FingerOrder.Index).Single());
        Assert.DoesNotContain(thumb, Raised(4, FingerOrder.Index));
    }

    [Theory]
    [InlineData(FrameFill.Rows, new[] { true, true, true, true, false, false })]
    [InlineData(FrameFill.Twos, new[] { true, true, false, false, true, true })]
    public void Frames_fill_along_the_row_or_by_twos(FrameFill fill, bool[] filled)
    {
        var dots = Pictures.Of(Form.TenFrame, 4, 0, new(Fill: fill)).Marks.OfType<Dot>().ToList();
        bool[] boxes = [.. new[] { 0, 1, 2, 3, 5, 6 }.Select(b => dots.Exists(d => Math.Abs(d.X - (24 + b % 5 * 38)) < 1 && Math.Abs(d.Y - (24 + b / 5 * 38)) < 1))];
        Assert.Equal(filled, boxes);
    }

    [Theory]
    [InlineData(LineShape.Straight)]
    [InlineData(LineShape.Upright)]
    [InlineData(LineShape.Winding)]
    public void A_line_marks_the_place_of_its_number_and_does_not_write_it(LineShape shape)
    {
        foreach (var labels in Enum.GetValues<LineLabels>())
            for (int n = 0; n <= 100; n++)
            {
                var style = new PictureStyle(Labels: labels, Shape: shape);
                var picture = Pictures.Of(Form.Line, n, 0, style);
                var places = Lines.Places(Lines.EndOf(n, style), shape);
                var pointer = picture.Marks.OfType<Curve>().Single().Points[0];
                Assert.Equal(n, Enumerable.Range(0, places.Count).MinBy(i => places[i].To(pointer)));
                Assert.DoesNotContain(picture.Marks.OfType<Glyph>(), g => g.Text == n.ToString());
                Assert.Equal(places.Count, places.Distinct().Count());
            }
        int Written(LineLabels labels) => Pictures.Of(Form.Line, 7, 0, new(Labels: labels, Shape: shape)).Marks.OfType<Glyph>().Count();
        Assert.Equal((10, 3, 2, 0), (Written(LineLabels.All), Written(LineLabels.Fives), Written(LineLabels.Ends), Written(LineLabels.None)));
    }

    [Fact]
    public void Signs_say_their_number()
    {
        Assert.Equal("42", Assert.IsType<Glyph>(Assert.Single(Pictures.Of(Form.Numeral, 42).Marks)).Text);
        Assert.Equal("forty-two", Assert.IsType<Glyph>(Assert.Single(Pictures.Of(Form.Word, 42).Marks)).Text);
        Assert.Equal("three hundred and seven", NumberWords.Of(307));
        for (int n = 0; n <= 20; n++)
            for (long seed = 0; seed < 20; seed++)
            {
                int[] bond = [.. Pictures.Of(Form.Bond, n, seed).Marks.OfType<Glyph>().Select(g => int.Parse(g.Text))];
                Assert.Equal((n, n), (bond[0], bond[1] + bond[2]));
                Assert.Equal(n, ((Glyph)Pictures.Of(Form.Equation, n, seed).Marks[0]).Text.Split(" + ").Sum(int.Parse));
            }
        Assert.Equal(["4"], Signs.Bond(9, 4, hidesWhole: true, hidesOther: true).Marks.OfType<Glyph>().Select(g => g.Text));
        Assert.Empty(Pictures.Of(Form.Spoken, 6).Marks.OfType<Glyph>());
    }

    [Fact]
    public void A_numeral_to_trace_has_its_strokes_inside_the_box_each_with_a_beginning()
    {
        for (int n = 0; n <= 120; n++)
        {
            var picture = Signs.Tracing(n);
            Assert.All(picture.Marks, m => Assert.True(m.Extent.Within(picture.Width, picture.Height), $"{n}: {m}"));
            var strokes = picture.Marks.OfType<Curve>().ToList();
            Assert.Equal(n.ToString().Sum(f => Signs.StrokesOf(f - '0')), strokes.Count);
            Assert.Equal(strokes.Select(s => s.Points[0]), picture.Marks.OfType<Dot>().Select(d => new Point(d.X, d.Y)));
        }
    }

    [Fact]
    public void A_number_beyond_a_form_is_shown_as_its_numeral() =>
        Assert.Equal("13", Assert.IsType<Glyph>(Assert.Single(Pictures.Of(Form.TenFrame, 13).Marks)).Text);

    [Theory, MemberData(nameof(All))]
    public void Each_form_says_what_it_asks_and_what_it_is_good_for(Form form)
    {
        Assert.EndsWith(".", form.Facts().Says);
        Assert.EndsWith(".", form.Facts().GoodFor);
    }

    /// <summary>Thirteen are always thirteen, however they came together.</summary>
    [Theory]
    [InlineData(Form.DoubleTenFrame)]
    [InlineData(Form.Tally)]
    [InlineData(Form.Fingers)]
    [InlineData(Form.Rack)]
    public void What_is_added_or_goes_is_shown_and_counts(Form form)
    {
        var whole = Pictures.Of(form, 13);
        var added = whole.WithAdded(5);
        Assert.Equal(13, added.Count);
        if (form != Form.Rack) Assert.Equal(5, added.Marks.Count(m => m.Counts && m is Dot { Tone: Tone.Second } or Block { Tone: Tone.Second } or Stroke { Tone: Tone.Second }));
        var struck = whole.WithStruck(4);
        Assert.Equal((13, whole.Marks.Count + 4), (struck.Count, struck.Marks.Count));
        // The last ones go, and a strike lies over each.
        Assert.Equal(4, struck.Marks.Zip(struck.Marks.Skip(1)).Count(p => p.First.Counts && p.Second is Stroke { Counts: false } strike && strike.Extent == p.First.Extent));
        Assert.All(struck.Marks, m => Assert.True(m.Extent.Within(struck.Width, struck.Height)));
        Assert.All(whole.WithApart(3).Marks, m => Assert.True(m.Extent.Within(whole.Width, whole.Height)));
    }
}
