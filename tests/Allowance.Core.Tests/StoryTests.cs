using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Core.Setups;
using Allowance.Core.Stories;
using Allowance.Core.Tables;

namespace Allowance.Core.Tests;

/// <summary>Number stories: every sentence with none, one and many, and the game that tells them.</summary>
public partial class StoryTests
{
    private static readonly Noun Shells = Noun.FromSeveral("shells");

    public static TheoryData<StoryKind, Unknown> All => [.. from kind in Enum.GetValues<StoryKind>() from unknown in Enum.GetValues<Unknown>() select (kind, unknown)];

    [GeneratedRegex(@"\bone (\w+ )?(shells)\b|\b(no|two|three|five|seven|some) (more )?shell\b|[{}]|  |\bone of them (are|have|go|fall|were)\b")]
    private static partial Regex Wrong();

    [Theory, MemberData(nameof(All))]
    public void Forty_scenes_are_told_right_with_none_one_and_many(StoryKind kind, Unknown unknown)
    {
        Assert.True(Story.ScenesOf(kind) >= 40);
        var told = new HashSet<string>();
        for (int scene = 0; scene < Story.ScenesOf(kind); scene++)
            foreach (var (a, b) in ((int, int)[])[(0, 0), (1, 0), (1, 1), (5, 0), (5, 1), (5, 5), (5, 2)])
            {
                var story = Story.Tell(kind, unknown, a, b, Shells, "Juno", "Otis", scene);
                Assert.All(story.Sentences, s => Assert.Matches("^[A-Z].*[.?]$", s));
                Assert.EndsWith("?", story.Sentences[^1], StringComparison.Ordinal);
                Assert.All(story.Sentences, s => Assert.False(Wrong().IsMatch(s), s));
                Assert.Contains("Juno", string.Join(' ', story.Sentences), StringComparison.Ordinal);
                if (a == 5 && b == 2) Assert.True(told.Add(string.Join(' ', story.Sentences)), "Two scenes are told alike.");
            }
    }

    /// <summary>Of the three numbers two are told, and never the one that is asked for.</summary>
    [Theory, MemberData(nameof(All))]
    public void What_is_asked_for_is_not_told(StoryKind kind, Unknown unknown)
    {
        bool fromWhole = kind is StoryKind.Taking or StoryKind.Comparing;
        // 7, 2 and 5, or 5, 2 and 7.
        var (a, b) = fromWhole ? (7, 2) : (5, 2);
        string[] numbers = fromWhole ? ["five", "two", "seven"] : ["seven", "two", "five"];
        for (int scene = 0; scene < Story.ScenesOf(kind); scene++)
        {
            string all = string.Join(' ', Story.Tell(kind, unknown, a, b, Shells, "Juno", "Otis", scene).Sentences);
            for (int i = 0; i < 3; i++) Assert.True(Regex.IsMatch(all, $@"\b{numbers[i]}\b") == (i != (int)unknown), $"{unknown}: {all}");
        }
    }

    [Theory]
    [InlineData("berries", "berry")]
    [InlineData("boxes", "box")]
    [InlineData("brushes", "brush")]
    [InlineData("wooden buttons", "wooden button")]
    [InlineData("sheep", "sheep")]
    [InlineData("ties", "tie")]
    [InlineData("glass", "glass")]
    public void One_of_several(string several, string one) => Assert.Equal(one, Noun.FromSeveral(several).One);

    private static CheckedReading Read(string table, string players = "[{}]", string level = "listen") =>
        Catalogue.Read($$"""{"format":"allowance-setup/1","game":"tellit","level":"{{level}}","table":{{table}},"players":{{players}}}""");

    [Fact]
    public void The_people_of_the_table_and_its_things_are_in_the_story_and_every_two_numbers_come_once()
    {
        var reading = Read("""{"whole":[4,4],"kind":"any","unknown":"any","nouns":["conkers"],"rounds":5}""", """[{"name":"Juno"},{"name":"Otis"}]""");
        Assert.Empty(reading.Problems);
        var run = reading.Playable!.Compile().Start(0);
        Assert.Equal(5, run.Possibilities.Count);
        var numbers = new HashSet<string>();
        for (int turn = 0; run.Next.Kind != StepKind.Over; turn++)
        {
            var possible = run.Possibilities[turn / 2];
            run.Deal(possible.Outcome);
            string story = run.Zones.OfType<StoryCard>().Single().Items[0].Words!;
            Assert.Matches("Juno|Otis", story);
            Assert.Contains("conker", story, StringComparison.Ordinal);
            var ask = Assert.Single(run.Asks(run.Moves[0])).Ask;
            Assert.Equal(AskKind.Story, ask.Kind);
            if (run.Next.Seat == 0) Assert.True(numbers.Add($"{ask}"));
            run.Apply(run.Moves[0], true);
        }
        Assert.Equal(10, run.Turns);
    }

    /// <summary>With 0 as what is asked for "some" would be untrue: such a story asks for what it comes to, or is not told.</summary>
    [Theory]
    [InlineData("result", "0 and 5, 1 and 4, 2 and 3, 3 and 2, 4 and 1, 5 and 0")]
    [InlineData("change", "0 and 5, 1 and 4, 2 and 3, 3 and 2, 4 and 1")]
    [InlineData("start", "1 and 4, 2 and 3, 3 and 2, 4 and 1, 5 and 0")]
    public void Nobody_says_some_of_none(string unknown, string told)
    {
        var reading = Read($$"""{"whole":[5,5],"kind":"joining","unknown":"{{unknown}}","rounds":5}""");
        Assert.Empty(reading.Problems);
        Assert.Equal(told.Split(", ").Select(t => $"joining: {t}"), reading.Playable!.Compile().Start(0).Possibilities.Select(p => p.Label).Order());
    }

    [Fact]
    public void Nothing_is_told_of_the_largest_whole_only_and_the_grown_up_may_see_the_sentence()
    {
        var run = Read("""{"whole":[3,5],"kind":"taking","unknown":"result"}""").Playable!.Compile().Start(0);
        Assert.Equal(["3 and 1", "3 and 2", "4 and 1", "4 and 2", "4 and 3", "5 and 0", "5 and 1", "5 and 2", "5 and 3", "5 and 4", "5 and 5"], run.Possibilities.Select(p => p.Label["taking away: ".Length..]).Order());
        Assert.Empty(run.Helps);
        run.Deal(run.Possibilities.Single(p => p.Label == "taking away: 5 and 2").Outcome);
        Assert.Equal(["5 − 2 = 3"], run.Helps);
    }

    [Fact]
    public void Told_by_the_child_only_the_numbers_lie_there()
    {
        var run = Read("""{"whole":5}""", level: "tell").Playable!.Compile().Start(0);
        run.Deal(run.Possibilities[0].Outcome);
        Assert.Equal("Tell a story: something comes to it.", run.Says);
        Assert.Empty(run.Zones.OfType<StoryCard>());
        Assert.Equal(["+"], run.Zones.OfType<Stage>().Single().Between);
    }

    [Theory]
    [InlineData("""{"nouns":[]}""")]
    [InlineData("""{"nouns":["<b>"]}""")]
    [InlineData("""{"nouns":["a very long word that nobody would ever say"]}""")]
    [InlineData("""{"nouns":"shells"}""")]
    public void Words_that_are_none_are_refused(string table) => Assert.Equal(("table.nouns", """["shells","buttons","pebbles"]"""), Assert.Single(Read(table).Problems) is var problem ? (problem.Path, problem.Nearest!.ToJsonString()) : default);
}
