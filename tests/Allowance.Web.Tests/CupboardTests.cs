using Allowance.Core.Materials;
using Allowance.Store;

namespace Allowance.Web.Tests;

public class CupboardTests
{
    [Fact]
    public async Task Things_are_put_in_changed_and_taken_out_and_stay()
    {
        await using var house = new TestHouse();
        Assert.Contains("six-sided dice", await house.Page("/cupboard"));
        await house.Post("/cupboard?handler=Put", ("name", "Acorns"), ("count", "25"), ("use", "Pieces"), ("shape", "Round"), ("a", "18"), ("b", "22,5"));
        var acorns = house.Get<Things>().All().Materials.Single(t => t.Name == "Acorns");
        Assert.Equal((25, new Size(Shape.Round, 18, 22.5), true), (acorns.Count, acorns.Size, acorns.IsSmallPart));
        await house.Post($"/cupboard?handler=Put&id={acorns.Id}", ("name", "Pine cones"), ("count", "8"), ("use", "Pieces"), ("shape", "Unknown"), ("food", "true"));
        var cones = house.Get<Things>().All().Materials.Single(t => t.Id == acorns.Id);
        Assert.Equal(("Pine cones", 8, true), (cones.Name, cones.Count, cones.IsFood));
        await house.Post($"/cupboard?handler=Remove&id={acorns.Id}");
        Assert.DoesNotContain("Pine cones", await house.Page("/cupboard"));
    }

    [Theory]
    [InlineData("use", "Dice", "faces", "seven", "A die or spinner is written d6")]
    [InlineData("use", "Packs", "missing", "6 9", "Missing cards are written by rank")]
    [InlineData("count", "-3", "use", "Pieces", "a whole number from 0")]
    [InlineData("name", "", "use", "Pieces", "A thing has a name")]
    [InlineData("shape", "Flat", "a", "0", "Each side is from")]
    [InlineData("colours", "red lots", "use", "Pieces", "Colours are written with how many")]
    [InlineData("colours", "red 40", "use", "Pieces", "Of all colours together there are 40, and 12 things.")]
    public async Task What_cannot_be_kept_is_said_and_nothing_is_lost(string field, string value, string other, string otherValue, string says)
    {
        await using var house = new TestHouse();
        var fields = new Dictionary<string, string> { ["name"] = "Buttons", ["count"] = "12", ["use"] = "Pieces", ["shape"] = "Unknown", [field] = value, [other] = otherValue };
        (System.Net.HttpStatusCode status, string page, _) = await house.Post("/cupboard?handler=Put", [.. fields.Select(f => (f.Key, f.Value))]);
        Assert.Equal(System.Net.HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains(says, page);
        Assert.Contains("Nothing was changed.", page);
        if (field != "name") Assert.Contains("value=\"Buttons\"", page);
        Assert.Equal(3, house.Get<Things>().All().Materials.Length);
    }

    [Fact]
    public async Task Colours_and_spinners_are_read_back_and_used()
    {
        await using var house = new TestHouse();
        await house.Post("/cupboard?handler=Put", ("name", "Buttons"), ("count", "30"), ("use", "Pieces"), ("shape", "Unknown"), ("colours", "red 10, green 9, white 8"));
        await house.Post("/cupboard?handler=Put", ("name", "Wheel"), ("count", "1"), ("use", "Spinners"), ("shape", "Unknown"), ("faces", "0-5"));
        string cupboard = await house.Page("/cupboard");
        Assert.Contains("9 green, 10 red and 8 white", cupboard);
        Assert.Contains("How things are made", cupboard);
        Assert.Contains("green for yellow", await house.Page("/bench?game=gather&level=colour&s1=child"));
        Assert.Contains("Wheel", await house.Page("/bench?game=downline&dice=0-5&faces=numeral&s1=child"));
    }

    [Fact]
    public async Task A_short_pack_and_home_made_dice_are_read_back_and_used()
    {
        await using var house = new TestHouse();
        await house.Post("/cupboard?handler=Put", ("name", "old pack"), ("count", "1"), ("use", "Packs"), ("shape", "Unknown"), ("missing", "6 1, Q 2"));
        await house.Post("/cupboard?handler=Put", ("name", "short die"), ("count", "1"), ("use", "Dice"), ("shape", "Unknown"), ("faces", "1, 1, 2, 2, 3, 3"));
        Assert.Equal(2, house.Get<Things>().All().Packs);
        Assert.Contains("1 of the sixes and 2 of the queens", await house.Page("/cupboard"));
        string bench = await house.Page("/bench?game=topper&deck=2x4:5,6,7&s1=child&s2=child");
        Assert.Contains("of the sixes one is missing", bench);
        Assert.Contains("Play with what is there", bench);
        Assert.Contains("short die", await house.Page("/bench?game=downline&dice=1.1.2.2.3.3&s1=child"));
    }

    [Fact]
    public async Task Who_still_mouths_things_keeps_small_things_out_of_reach()
    {
        await using var house = new TestHouse();
        var players = house.Get<Players>();
        long id = players.Add("Ada", "2021-01", PlayerKind.Child);
        Assert.DoesNotContain("could be swallowed", await house.Page($"/bench?game=downline&s1={id}"));
        await house.Post($"/house?handler=Change&id={id}", ("name", "Ada"), ("born", "2021-01"), ("kind", "Child"), ("mouths", "true"));
        Assert.Contains("could be swallowed: out of reach of Ada", await house.Page($"/bench?game=downline&s1={id}"));
        Assert.Contains("nothing marked", await house.Page("/cupboard"));
    }
}
