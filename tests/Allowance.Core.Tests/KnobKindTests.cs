using System.Text.Json;
using Allowance.Core.Setups;

namespace Allowance.Core.Tests;

/// <summary>Knobs of several numbers, of relations and of memory: read, written, and refused with the nearest that works.</summary>
public class KnobKindTests
{
    private static KnobValue? FromJson(KnobKind kind, string json, List<Problem> problems)
    {
        using var document = JsonDocument.Parse(json);
        return kind.FromJson(document.RootElement, "table.knob", problems);
    }

    private static void ReadsAndGivesBack(KnobKind kind, string json, string link, string words)
    {
        var problems = new List<Problem>();
        var value = FromJson(kind, json, problems);
        Assert.Empty(problems);
        Assert.Equal((link, words), (value!.ToLink(), value.ToString()));
        Assert.Equal(value, kind.FromLink(link, "", problems));
        Assert.Equal(value, FromJson(kind, value.ToJson().ToJsonString(), problems));
        Assert.Empty(problems);
    }

    private static void Refuses(KnobKind kind, string json, string nearest)
    {
        var problems = new List<Problem>();
        Assert.Null(FromJson(kind, json, problems));
        var problem = Assert.Single(problems);
        Assert.Equal(("table.knob", nearest), (problem.Path, problem.Nearest!.ToJsonString()));
        Assert.NotNull(FromJson(kind, nearest, []));
    }

    [Theory]
    [InlineData("[1,6]", "1-6", "1 to 6")]
    [InlineData("[6,1]", "1-6", "1 to 6")]
    [InlineData("[5]", "5-5", "5")]
    [InlineData("[2,4,5]", "2.4.5", "2, 4 and 5")]
    [InlineData("[5,4,3,4]", "3-5", "3 to 5")]
    [InlineData("[0,60]", "0-60", "0 to 60")]
    public void Numbers_are_a_range_or_one_by_one(string json, string link, string words) => ReadsAndGivesBack(new NumbersKind(0, 60), json, link, words);

    [Theory]
    [InlineData("[]", "[1,6]")]
    [InlineData("7", "[1,6]")]
    [InlineData("[1,2.5]", "[1,6]")]
    [InlineData("[1,99]", "[1,60]")]
    [InlineData("[-3,5]", "[0,5]")]
    [InlineData("[1,\"x\"]", "[1,6]")]
    public void Other_numbers_are_refused(string json, string nearest) => Refuses(new NumbersKind(0, 60), json, nearest);

    private static readonly FormsKind Some = new([Forms.Form.Dice, Forms.Form.TenFrame, Forms.Form.Tally]);

    [Theory]
    [InlineData("""["ten-frame","dice"]""", "dice.ten-frame", "dice and ten-frame")]
    [InlineData("""["tally"]""", "tally", "tally")]
    public void Forms_are_a_list(string json, string link, string words)
    {
        ReadsAndGivesBack(Some, json, link, words);
        // Boxes in a form of the same name come with commas.
        Assert.Equal(Some.FromLink("dice.ten-frame", "", []), Some.FromLink("ten-frame,dice", "", []));
        Assert.Equal(Some.FromLink("tally", "", []), FromJson(Some, "\"tally\"", []));
    }

    // One alone gives way to each other one, or the next comes beside it; of several one goes, or the next comes, up to three.
    [Theory]
    [InlineData("tally", "dice|ten-frame|dice.tally")]
    [InlineData("dice.ten-frame", "dice|ten-frame|dice.ten-frame.tally")]
    [InlineData("dice.ten-frame.tally", "dice.ten-frame|ten-frame.tally")]
    public void Forms_change_one_at_a_time(string from, string to) =>
        Assert.Equal(to.Split('|').Select(l => Some.FromLink(l, "", [])), Some.Neighbours(Some.FromLink(from, "", [])!));

    [Theory]
    [InlineData("[]", "[\"dice\"]")]
    [InlineData("7", "[\"dice\"]")]
    [InlineData("""["tenframe"]""", "[\"ten-frame\"]")]
    [InlineData("""["dice","rack"]""", "[\"dice\"]")]
    public void Other_forms_are_refused(string json, string nearest) => Refuses(Some, json, nearest);

    [Theory]
    [InlineData("""["d6"]""", "d6", "a die from 1 to 6")]
    [InlineData("""["d6","d6"]""", "d6+d6", "two dice from 1 to 6")]
    [InlineData("""["0-5"]""", "0-5", "a die from 0 to 5")]
    [InlineData("""[[1,1,2,2,3,3]]""", "1.1.2.2.3.3", "a die with 1, 1, 2, 2, 3, 3")]
    [InlineData("""[[3]]""", "3", "a die with 3")]
    [InlineData("""["d10",[0,5]]""", "d10+0.5", "a die from 1 to 10 and a die with 0, 5")]
    public void Dice_are_written_by_faces(string json, string link, string words) => ReadsAndGivesBack(new DiceKind(), json, link, words);

    [Theory]
    [InlineData("[]", "[\"d6\"]")]
    [InlineData("6", "[\"d6\"]")]
    [InlineData("""["w6"]""", "[\"d6\"]")]
    [InlineData("""["d101"]""", "[\"d6\"]")]
    [InlineData("""["5-2"]""", "[\"d6\"]")]
    [InlineData("""[[1,-2]]""", "[\"d6\"]")]
    [InlineData("""[[]]""", "[\"d6\"]")]
    [InlineData("""["d6","d6","d6","d6","d6"]""", "[\"d6\",\"d6\",\"d6\",\"d6\"]")]
    public void Other_dice_are_refused(string json, string nearest) => Refuses(new DiceKind(), json, nearest);

    [Fact]
    public void Smaller_and_larger_dice_are_offered_beside_a_die()
    {
        var kind = new DiceKind();
        // No step brings in nothing, which is a number of its own.
        Assert.Equal(["1.1.2.2.3.3", "d3", "d4", "d6"], kind.Neighbours(kind.FromLink("0-5", "", [])!).Select(d => d.ToLink()));
        Assert.Equal(["1.1.2.2.3.3", "d3", "d4", "d8"], kind.Neighbours(kind.FromLink("d6", "", [])!).Select(d => d.ToLink()));
        Assert.All(new DiceKind(1).Neighbours(kind.FromLink("d12", "", [])!), d => Assert.Single(((DiceValue)d).Dice.All));
    }

    [Fact]
    public void Neighbours_may_be_a_factor_apart()
    {
        var kind = new WholeKind(350, 5000, 1.25);
        Assert.Equal([new WholeValue(800), new WholeValue(1250)], kind.Neighbours(new WholeValue(1000)));
        Assert.Equal([new WholeValue(438)], kind.Neighbours(new WholeValue(350)));
    }

    [Theory]
    [InlineData("1-2-3")]
    [InlineData("")]
    [InlineData("a.b")]
    [InlineData("1..")]
    public void Links_of_numbers_never_throw(string link)
    {
        var problems = new List<Problem>();
        Assert.Equal(new NumbersKind(0, 60).FromLink(link, "", problems) is null, problems.Count == 1);
    }

    [Fact]
    public void Numbers_grow_and_shrink_at_their_upper_end()
    {
        string[] Around(params int[] numbers) => [.. new NumbersKind(0, 10).Neighbours(new NumbersValue(numbers)).Select(v => v.ToLink())];
        Assert.Equal(["1-4", "1-6"], Around(1, 2, 3, 4, 5));
        Assert.Equal(["0-9"], Around(0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10));
        Assert.Equal(["2.4.7.8"], Around(2, 4, 7));
        Assert.Equal(["2.4.7", "2.4.7.8.9"], Around(2, 4, 7, 8));
    }

    [Theory]
    [InlineData("\"same\"", "same", "the same number")]
    [InlineData("\"plus:2\"", "plus:2", "2 more")]
    [InlineData("\"minus:1\"", "minus:1", "1 fewer")]
    [InlineData("\"partner:12\"", "partner:12", "the partner to 12")]
    [InlineData("\"double\"", "double", "the double")]
    public void Relations_are_named(string json, string link, string words) => ReadsAndGivesBack(new RelationKind(), json, link, words);

    [Theory]
    [InlineData("\"pluss:2\"", "\"plus:1\"")]
    [InlineData("\"plus\"", "\"plus:1\"")]
    [InlineData("\"partner:x\"", "\"partner:10\"")]
    [InlineData("\"partner:0\"", "\"partner:1\"")]
    [InlineData("\"minus:500\"", "\"minus:100\"")]
    [InlineData("\"same:3\"", "\"same\"")]
    [InlineData("3", "\"same\"")]
    public void Other_relations_are_refused(string json, string nearest) => Refuses(new RelationKind(), json, nearest);

    /// <summary>Which number is answered by 6: itself, 4 and two more, 7 and one fewer, 4 to make 10, 3 doubled.</summary>
    [Theory]
    [InlineData(Relation.Same, 0, 6)]
    [InlineData(Relation.Plus, 2, 4)]
    [InlineData(Relation.Minus, 1, 7)]
    [InlineData(Relation.Partner, 10, 4)]
    [InlineData(Relation.Double, 0, 3)]
    [InlineData(Relation.Plus, 7, null)]
    [InlineData(Relation.Partner, 5, null)]
    public void A_relation_knows_what_its_answer_was_called_by(Relation relation, int by, int? called) => Assert.Equal(called, new RelationValue(relation, by).CalledBy(6));

    [Fact]
    public void An_odd_number_is_no_double() => Assert.Null(new RelationValue(Relation.Double).CalledBy(7));

    [Theory]
    [InlineData("\"none\"", "none", "nothing")]
    [InlineData("\"perfect\"", "perfect", "everything")]
    [InlineData("1", "1", "the card seen last")]
    [InlineData("\"6\"", "6", "the 6 cards seen last")]
    public void Memory_is_nothing_everything_or_a_span(string json, string link, string words) => ReadsAndGivesBack(new MemoryKind(), json, link, words);

    [Theory]
    [InlineData("0")]
    [InlineData("61")]
    [InlineData("\"elephant\"")]
    [InlineData("[4]")]
    public void Another_memory_is_refused(string json) => Refuses(new MemoryKind(), json, "4");
}
