using System.Text.RegularExpressions;
using System.Xml.Linq;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Web.Pictures;
using Microsoft.AspNetCore.Html;

namespace Allowance.Web.Tests;

/// <summary>Pictures are well-formed, say in words what they show, and give no answer away.</summary>
public class PictureTests
{
    private static XElement Read(IHtmlContent picture)
    {
        using var text = new StringWriter();
        picture.WriteTo(text, System.Text.Encodings.Web.HtmlEncoder.Default);
        return XElement.Parse(text.ToString());
    }

    public static TheoryData<Form> Forms => [.. FormTable.All.Select(f => f.Form).Where(f => f != Form.None)];

    [Theory, MemberData(nameof(Forms))]
    public void A_form_is_drawn_without_giving_its_number_away_unless_told_to(Form form)
    {
        for (int n = 0; n <= 12; n++)
        {
            var svg = Read(FormPicture.Of(form, n));
            Assert.Equal("true", svg.Attribute("aria-hidden")?.Value);
            Assert.Null(svg.Attribute("style"));
            Assert.Equal($"{n} shown", Read(FormPicture.Of(form, n, label: $"{n} shown")).Attribute("aria-label")?.Value);
        }
    }

    [Fact]
    public void Dots_on_the_picture_are_as_many_as_its_number()
    {
        for (int n = 0; n <= 10; n++)
            Assert.Equal(n, Read(FormPicture.Of(Form.TenFrame, n)).Descendants().Count(e => e.Name == "circle"));
    }

    [Fact]
    public void Each_outcome_has_a_sign_of_its_own()
    {
        var signs = Enum.GetValues<Outcome>().Select(o => (Outcome?)o).Append(null).Select(o => Read(Firm.Sign(o)).ToString()).ToList();
        Assert.Equal(signs.Count, signs.Distinct().Count());
    }

    [Fact]
    public void Firmness_is_fullness()
    {
        Assert.Equal([0, .5, .75, 1], Enum.GetValues<Firmness>().Select(Firm.Fullness));
        Assert.DoesNotContain(Read(Firm.Tile(Firmness.Far)).Descendants(), e => e.Attribute("class")?.Value == "tile-fill");
        Assert.Single(Read(Firm.Tile(Firmness.Edge)).Descendants(), e => e.Attribute("class")?.Value == "tile-fill");
    }

    [Fact]
    public void The_triangle_is_walked_link_by_link_and_each_says_how_it_stands()
    {
        BondCell[] cells = [new(7, 3, .97, Certainty.WellKnown, 14, Outcome.SawIt), new(7, 2, .5, Certainty.Guess, 0, null)];
        var svg = Read(Bonds.Triangle(cells, 10, c => $"/growth?bond={c.Whole}-{c.Small}&x=<y>"));
        var links = svg.Descendants("a").ToList();
        Assert.Equal(["3 4 make 7: knows it, well known, mostly saw it, seen 14 times"], links.Where(l => l.Attribute("href")!.Value.Contains("7-3", StringComparison.Ordinal)).Select(l => l.Attribute("aria-label")!.Value));
        Assert.Contains(links, l => l.Attribute("aria-label")!.Value == "2 5 make 7: a stretch, a guess");
        Assert.Equal("/growth?bond=7-2&x=<y>", links[0].Attribute("href")!.Value);
        Assert.Equal("group", svg.Attribute("role")?.Value);
    }

    [Theory]
    [InlineData(1, "nearly always", "in nearly every game"), InlineData(.97, "nearly always", "in nearly every game"), InlineData(.96, "about 9 of 10", "in about 9 of 10 games")]
    [InlineData(.52, "about 5 of 10", "in about 5 of 10 games"), InlineData(.04, "about 1 of 10", "in about 1 of 10 games"), InlineData(0, "hardly ever", "in hardly any game")]
    public void Chances_are_told_as_people_say_them(double chance, string often, string inGames) => Assert.Equal((often, inGames), (Curves.OfTen(chance), Curves.InOfTen(chance, "game")));

    [Fact]
    public void What_comes_up_is_one_strip_as_wide_as_often_and_as_full_as_firm()
    {
        AskForecast Asked(int n, double perGame, double right) => new(new Ask(AskKind.Say, n, Form.Dice), perGame, perGame, right);
        var svg = Read(Firm.Strip([Asked(1, 3, .99), Asked(2, 1, .3)]));
        Assert.StartsWith("Of what comes up, 75", svg.Attribute("aria-label")!.Value, StringComparison.Ordinal);
        Assert.Equal(["150", "150", "50"], svg.Descendants("rect").Select(r => r.Attribute("width")!.Value));
    }

    [Fact]
    public void Bonds_that_come_up_are_said_with_how_often()
    {
        string label = Read(Bonds.Row([("1 9", 2.04, .96), ("4 6", 3.2, .7)], "Otis")).Attribute("aria-label")!.Value;
        Assert.Equal("What comes up for Otis: 1 9 twice a game, knows it; 4 6 3 times a game, just right", label);
    }

    [Fact]
    public void Curves_and_bands_are_said_in_words()
    {
        var curve = Read(Curves.Layout([.. Enumerable.Range(2, 19).Select(n => (n, n / 20.0))], 12));
        Assert.Contains("12 cards 60", curve.Attribute("aria-label")!.Value, StringComparison.Ordinal);
        Assert.Single(curve.Descendants("circle"));
        Assert.Empty(Read(Curves.Layout([.. Enumerable.Range(2, 59).Select(n => (n, n / 60.0))], 60)).Descendants("circle"));
        Assert.Equal("4 to 9 minutes, usually about 6", Read(Curves.Minutes(4, 6, 9)).Attribute("aria-label")!.Value);
        Assert.Contains("180", Read(Curves.Minutes(100, 130, 170)).Value, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(0, "0 %")]
    [InlineData(.001, "under 1 %")]
    [InlineData(.5, "50 %")]
    [InlineData(.999, "over 99 %")]
    [InlineData(1, "100 %")]
    public void Chances_near_the_ends_are_not_rounded_away(double chance, string words) => Assert.Equal(words, Curves.Percent(chance).Replace('\u00a0', ' '));

    [Fact]
    public void Words_in_pictures_are_encoded()
    {
        using var text = new StringWriter();
        Bonds.Row([("<script>", 1, .5)], "<b>\"'&").WriteTo(text, System.Text.Encodings.Web.HtmlEncoder.Default);
        Assert.DoesNotMatch(new Regex("<script|<b>"), text.ToString());
    }

    [Theory]
    [InlineData("part 3 1 numeral;part 12 5 numeral", "the missing part of 3 to 12: about twice a game, just right")]
    [InlineData("join 1 1 dice;join 6 6 dice;join 4 2 1 dice", "adding up, 1+1 to 6+6: about 3 times a game, just right")]
    [InlineData("gap 2 1 dice;gap 6 5 dice", "how many more, dice, up to 6: about twice a game, just right")]
    [InlineData("say 1 numeral;say 20 numeral", "reading numerals, 1 to 20: about twice a game, just right")]
    public void Many_asks_are_told_by_what_they_reach(string asks, string said) =>
        Assert.Equal(said, Assert.Single(AskTiles.Of(asks.Split(';').Select(a => new AskForecast(Ask.Parse(a, out _)!.Value, 1, 1, .7)))).InWords);
}
