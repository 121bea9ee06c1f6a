using System.Collections.Immutable;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

public class CupboardTests
{
    private static readonly Material Reels = new(1, "reels", Use.Pieces, 40, new(Shape.Round, 30, 34)), Tags = new(2, "tags", Use.Pieces, 60, new(Shape.Flat, 82, 41, 1)),
        Dice = new(3, "dice", Use.Dice, 2, new(Shape.Flat, 16, 16, 16), Die.Of(6)), Cubes = new(4, "cubes", Use.Blanks, 3, new(Shape.Flat, 20, 20, 20)), Paper = new(5, "paper", Use.Paper, 20, default),
        Full = new(6, "blue pack", Use.Packs, 1, default), Short = new(7, "green pack", Use.Packs, 1, default, null, ImmutableSortedDictionary<string, int>.Empty.Add("6", 1));

    private static Cupboard With(params Material[] materials) => new([.. materials]);

    // The cylinder is 31.7 mm across and 57.1 mm deep at its deepest; a ball is small under 44.5 mm.
    [Theory]
    [InlineData(Shape.Ball, 44.4, 0, 0, true)]
    [InlineData(Shape.Ball, 44.5, 0, 0, false)]
    [InlineData(Shape.Round, 31.7, 57.1, 0, true)]
    [InlineData(Shape.Round, 31.8, 57, 0, false)]
    [InlineData(Shape.Round, 30, 58, 0, false)]
    // Discs: lying flat, or not at all.
    [InlineData(Shape.Round, 31, 2, 0, true)]
    [InlineData(Shape.Round, 40, 2, 0, false)]
    [InlineData(Shape.Flat, 16, 16, 16, true)]
    [InlineData(Shape.Flat, 57, 20, 20, true)]
    [InlineData(Shape.Flat, 20, 57, 25, false)]
    [InlineData(Shape.Flat, 82, 41, 1, false)]
    [InlineData(Shape.Flat, 30, 1, 55, true)]
    [InlineData(Shape.Unknown, 0, 0, 0, true)]
    public void A_thing_is_small_where_it_fits_the_cylinder(Shape shape, double a, double b, double c, bool small) => Assert.Equal(small, new Size(shape, a, b, c).IsSmallPart);

    private static string Fetched(Cupboard cupboard, string file) => string.Join("; ", cupboard.Fetch(Catalogue.Of(Read(file)).Needs(Read(file))).Select(f => $"{f.Standing} {f.Need}: {f.Says}"));

    private static Setup Read(string file)
    {
        var reading = Catalogue.Read("""{"format":"allowance-setup/1",""" + file + "}");
        Assert.Empty(reading.Problems);
        return reading.Setup!;
    }

    [Fact]
    public void What_is_there_is_taken_the_smallest_heap_that_is_enough()
    {
        Assert.Equal("There 30 pieces: reels; There a die from 1 to 6: dice", Fetched(With(Tags, Reels, Dice), "\"game\":\"gather\""));
        Assert.Equal("There 50 pieces: tags; There a die from 1 to 6: dice", Fetched(With(Tags, Reels, Dice), """ "game":"gather","table":{"pool":50} """));
        Assert.StartsWith("There 90 pieces: tags and reels together", Fetched(With(Tags, Reels, Dice), """ "game":"gather","table":{"pool":90} """));
        Assert.StartsWith("StandsIn 110 pieces: marks with a pen", Fetched(With(Tags, Reels, Dice, Paper), """ "game":"gather","table":{"pool":110} """));
        Assert.StartsWith("Missing 110 pieces: at most 100 are there", Fetched(With(Tags, Reels, Dice), """ "game":"gather","table":{"pool":110} """));
    }

    [Theory]
    [InlineData("""["d6"]""", "There a die from 1 to 6: dice")]
    [InlineData("""["d6","d6","d6"]""", "StandsIn three dice from 1 to 6: 2 are there; for the rest cards with 1 to 6, drawn and put back; numerals then, instead of dots")]
    [InlineData("""["d4"]""", "StandsIn a die from 1 to 4: dice, rolling again what this die has not")]
    [InlineData("""[[1,1,2,2]]""", "StandsIn a die with 1, 1, 2, 2: dice, rolling again what this die has not")]
    [InlineData("""[[1,1,1,2]]""", "StandsIn a die with 1, 1, 1, 2: cards with 1, 1, 1, 2, drawn and put back; numerals then, instead of dots")]
    [InlineData("""["d10"]""", "StandsIn a die from 1 to 10: cards with 1 to 10, drawn and put back; numerals then, instead of dots")]
    public void A_die_that_is_not_there_is_rolled_again_or_drawn(string dice, string says) =>
        Assert.EndsWith(says, Fetched(With(Tags, Dice, Paper), $$""" "game":"gather","table":{"dice":{{dice}}} """));

    /// <summary>What stands in may show numbers another way: then it is another game, and is told as that.</summary>
    [Theory]
    [InlineData("""{"dice":["d10"]}""", true)]
    [InlineData("""{"dice":["d10"],"faces":"numeral"}""", false)]
    [InlineData("""{"dice":["d10"],"faces":"word"}""", false)]
    [InlineData("""{"dice":["d4"]}""", false)]
    [InlineData("""{"dice":["d6"]}""", false)]
    public void Numerals_in_place_of_dots_are_another_form(string table, bool other) =>
        Assert.Equal(other, With(Tags, Dice, Paper, Full).Fetch(Catalogue.Of(Read($$""" "game":"gather","table":{{table}} """)).Needs(Read($$""" "game":"gather","table":{{table}} """))).Any(f => f.OtherForm));

    [Fact]
    public void What_to_get_out_is_one_sentence()
    {
        Assert.Equal("Get out 30 pieces and a die from 1 to 6.", Sentence(With(Tags, Dice, Paper), """ "game":"gather" """));
        Assert.Equal("Get out 30 pieces; for a die from 1 to 4: dice, rolling again what this die has not.", Sentence(With(Tags, Dice, Paper), """ "game":"gather","table":{"dice":["d4"]} """));
        Assert.Equal("Make 10 slips first; for 5 pieces: marks with a pen, crossed out when they are taken; for 1 box: a bag, or a bowl under a towel.", Sentence(With(Paper), """ "game":"errand" """));
        Assert.Equal("There is nothing to get out.", FetchedWords.Says([]));

        static string Sentence(Cupboard cupboard, string file) => FetchedWords.Says(cupboard.Fetch(Catalogue.Of(Read(file)).Needs(Read(file))));
    }

    /// <summary>A cube with numerals or words is another thing than one with dots.</summary>
    [Theory]
    [InlineData("""{"dice":["d6"],"faces":"numeral"}""", "ToMake a die from 1 to 6, in numerals: stick tape on dice and write 1, 2, 3, 4, 5, 6 on it")]
    [InlineData("""{"dice":["d6"],"faces":"word"}""", "ToMake a die from 1 to 6, in words: stick tape on dice and write one, two, three, four, five, six on it")]
    [InlineData("""{"dice":["d10"],"faces":"word"}""", "ToMake a die from 1 to 10, in words: slips of paper with the words on them, drawn and put back")]
    [InlineData("""{"dice":[[1,1,2,2,3,3]]}""", "ToMake a die with 1, 1, 2, 2, 3, 3: stick tape on dice and draw 1, 2, 3 dots on it")]
    public void Faces_that_are_not_there_are_made(string table, string says) => Assert.EndsWith(says, Fetched(With(Tags, Dice, Paper), $$""" "game":"gather","table":{{table}} """));

    [Fact]
    public void A_blank_cube_becomes_the_die_and_else_slips_do()
    {
        Assert.Contains("ToMake a die from 1 to 3: draw 1, 1, 2, 2, 3, 3 dots on cubes", Fetched(With(Tags, Dice, Cubes, Paper), """ "game":"gather","table":{"dice":["d3"]} """));
        string colours = """ "game":"gather","table":{"colourDie":[["red"],["blue"],["red","blue"]]} """;
        Assert.Contains("ToMake 1 colour die: write red, blue, red or blue on cubes", Fetched(With(Tags, Dice, Cubes), colours));
        Assert.Contains("StandsIn 1 colour die: slips with red, blue, red or blue, drawn and put back", Fetched(With(Tags, Dice, Paper), colours));
        Assert.Contains("Missing 1 colour die", Fetched(With(Tags, Dice), colours));
    }

    private static readonly Material Buttons = new(8, "buttons", Use.Pieces, 40, default, ByColour: ImmutableSortedDictionary<string, int>.Empty.Add("red", 10).Add("green", 9).Add("white", 8)), Shells = new(9, "shells", Use.Pieces, 12, default),
        Wheel = new(10, "spinner", Use.Spinners, 1, default, Die.Of(6));

    [Fact]
    public void Colours_are_matched_to_those_of_the_drawer_else_to_kinds_of_things()
    {
        string colours = """ "game":"gather","level":"colour" """, other = """ "game":"gather","table":{"colourDie":[["red"],["white"]],"pieces":{"red":8,"white":8}} """;
        Assert.StartsWith("There 8 red and 8 white pieces: buttons;", Fetched(With(Buttons, Dice, Cubes), other));
        Assert.StartsWith("StandsIn 8 red, 8 yellow and 8 blue pieces: buttons: green for yellow and white for blue;", Fetched(With(Buttons, Dice, Cubes), colours));
        Assert.StartsWith("StandsIn 8 red, 8 yellow and 8 blue pieces: shells for red, reels for yellow and tags for blue;", Fetched(With(Tags, Reels, Shells, Dice, Cubes), colours));
        Assert.StartsWith("ToMake 8 red, 8 yellow and 8 blue pieces: reels: put a dot of its colour on each, 8 red, 8 yellow and 8 blue;", Fetched(With(Reels, Dice, Cubes), colours));
        Assert.StartsWith("StandsIn 8 red, 8 yellow and 8 blue pieces: marks with a pen", Fetched(With(Dice, Cubes, Paper), colours));
        // What is proposed is said in the drawer's own colours.
        var fitted = Tuning.Drawer.Fit(Read(colours), With(Buttons));
        Assert.Equal("8 red, 8 green and 8 white", fitted.Get<ColoursValue>("pieces").Says());
        Assert.Equal("red, red, green, green, white, white", fitted.Get<ColourDieValue>("colourDie").Says());
        Assert.NotNull(Catalogue.Check(fitted));
        Assert.Same(fitted, Tuning.Drawer.Fit(fitted, With(Buttons)));
    }

    [Fact]
    public void What_is_compared_is_of_one_kind()
    {
        string plates = """ "game":"evenplates","table":{"max":20} """;
        Assert.StartsWith("There 38 pieces of one kind: reels;", Fetched(With(Shells, Reels, Paper), plates));
        Assert.StartsWith("Missing 38 pieces of one kind: at most 12 are there;", Fetched(With(Shells, Shells with { Id = 20 }), plates));
    }

    [Fact]
    public void A_spinner_is_a_die_with_numerals()
    {
        string file = """ "game":"gather","table":{"faces":"numeral"} """;
        Assert.EndsWith("There a die from 1 to 6, in numerals: spinner", Fetched(With(Tags, Wheel, Dice), file));
        Assert.EndsWith("StandsIn a die from 1 to 6: spinner; numerals then, instead of dots", Fetched(With(Tags, Wheel), "\"game\":\"gather\""));
    }

    [Fact]
    public void Whatever_is_made_is_told_how()
    {
        var things = Catalogue.All.SelectMany(f => f.Data.Levels.SelectMany(l => f.Needs(Setup.Default(f.Data, Seat.Child("a", 5)) with { LevelId = l.Id }))).DistinctBy(n => n.Thing);
        Assert.All(With(Paper).Fetch(things).Where(f => f.Standing == Standing.ToMake), f => Assert.Contains(Making.All, m => f.Says.Contains(m.How, StringComparison.Ordinal)));
    }

    [Fact]
    public void The_fullest_packs_are_taken_and_a_gap_is_told_and_counted()
    {
        string one = """ "game":"topper","table":{"deck":{"ranks":{"5":5,"6":6}}},"players":[{}] """, two = one.Replace("\"ranks\"", "\"packs\":2,\"ranks\"");
        Assert.Equal("There 8 cards: blue pack", Fetched(With(Short, Full), one));
        Assert.Equal("There 16 cards: blue pack and green pack; of the sixes one is missing", Fetched(With(Short, Full), two));
        Assert.StartsWith("StandsIn 16 cards: slips of paper with the numbers on them, as there is one pack", Fetched(With(Full, Paper), two));
        Assert.Equal("There 8 cards: green pack; of the sixes one is missing", Fetched(With(Short), one));
        var fitted = Tuning.Drawer.Fit(Read(two), With(Short, Full));
        Assert.Equal(7, fitted.Get<DeckValue>("deck").Deck.Counts[6]);
        Assert.Equal("There 15 cards: blue pack and green pack", string.Join("; ", With(Short, Full).Fetch(Catalogue.Of(fitted).Needs(fitted)).Select(f => $"{f.Standing} {f.Need}: {f.Says}")));
        Assert.Same(fitted, Tuning.Drawer.Fit(fitted, With(Short, Full)));
    }

    [Fact]
    public void Every_need_of_every_game_is_answered_by_an_empty_and_a_full_cupboard()
    {
        var empty = With();
        var full = With(Reels, Tags, Dice, Cubes, Paper, Full, Short);
        foreach (var frame in Catalogue.All)
            foreach (var level in frame.Data.Levels)
            {
                var needs = frame.Needs(Setup.Default(frame.Data, Seat.Child("a", 5)) with { LevelId = level.Id });
                Assert.All(empty.Fetch(needs), f => Assert.NotEqual(Standing.There, f.Standing));
                Assert.All(full.Fetch(needs), f => Assert.NotEqual(Standing.Missing, f.Standing));
                Assert.All(full.Fetch(needs), f => Assert.True(f.Says.Length > 0 && f.Need.Length > 0));
            }
    }

    private static IReadOnlyList<string> About(Cupboard cupboard, bool counts, bool clock, params Near[] near)
    {
        var setup = Read("\"game\":\"gather\"");
        return [.. Cautions.For(cupboard.Fetch(Catalogue.Of(setup).Needs(setup)), near, counts, clock).Select(c => c.About)];
    }

    [Fact]
    public void Cautions_go_by_who_is_near_and_what_is_used()
    {
        Near older = new("Otis", 5.4, false, true), baby = new("Bo", 1, false, false), unknown = new("Kit", null, false, false), mouthing = new("Ada", 4, false, true, true), grownUp = new("Ines", null, true, true);
        Assert.Empty(About(With(Tags, Dice), true, false, older, grownUp));
        // Dice are small; the baby need not play.
        Assert.Equal(["small-parts"], About(With(Tags, Dice), true, false, older, baby));
        Assert.Equal(["small-parts"], About(With(Tags, Dice), true, false, older, unknown));
        Assert.Equal(["small-parts", "food"], About(With(Reels, Dice), true, false, mouthing));
        Assert.Equal(["food"], About(With(Tags, Paper), true, false, new Near("Juno", 3.8, false, true)));
        Assert.Equal(["food", "pressure"], About(With(Tags with { IsFood = true }, Dice), true, true, older));
        Assert.Contains("out of reach of Kit (no age is known", Cautions.For(With(Dice).Fetch([Need.For([new Dice(Die.Of(6))])]), [unknown], false, false)[0].Says);
    }
}
