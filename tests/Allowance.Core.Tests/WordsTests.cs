using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Forecasts;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Rules;
using Allowance.Core.Tuning;

namespace Allowance.Core.Tests;

/// <summary>Words on screens, hints, and the household's approach.</summary>
public class WordsTests
{
    [Theory]
    [InlineData(40, "40 seconds")]
    [InlineData(60, "1 minute")]
    [InlineData(90, "90 seconds")]
    [InlineData(180, "3 minutes")]
    public void A_time_is_told_in_minutes_where_it_is_whole_ones(int seconds, string says) => Assert.Equal(says, Words.Lasting(seconds));

    [Fact]
    public void Lists_counts_and_sentences_read_as_people_write_them()
    {
        Assert.Equal("", Words.List([]));
        Assert.Equal("Otis", Words.List(["Otis"]));
        Assert.Equal("Otis and Mags", Words.List(["Otis", "Mags"]));
        Assert.Equal("Otis, Mags and Juno", Words.List(["Otis", "Mags", "Juno"]));
        Assert.Equal("1 card", Words.Count(1, "card"));
        Assert.Equal("0 cards", Words.Count(0, "card"));
        Assert.Equal("about 9 rolls", Words.About(9.04, "roll"));
        Assert.Equal("about 1 roll", Words.About(.5, "roll"));
        Assert.Equal("less than 1 roll", Words.About(.49, "roll"));
        Assert.Equal(["", "3", "1 and 2", "1 to 3", "1, 2 and 4", "3, 2 and 1"], new int[][] { [], [3], [1, 2], [1, 2, 3], [1, 2, 4], [3, 2, 1] }.Select(Words.Numbers));
        Assert.Equal("1 to 5", new NumberRange(1, 5).ToString());
        Assert.Equal("4", new NumberRange(4, 4).ToString());
        Assert.Equal("Queens count as 0.", Words.Sentence("queens count as 0"));
        Assert.Equal("", Words.Sentence(""));
        Assert.Equal(["aces", "sixes", "tens", "jokers"], new[] { "A", "6", "10", "joker" }.Select(Deck.RankWords));
    }

    [Theory]
    [InlineData("join 5 3 dice", "5 + 3 = 8", "five and three make eight")]
    [InlineData("join 4 4 4 objects", "4 + 4 + 4 = 12", "four and four and four make twelve")]
    [InlineData("gone 8 3 objects", "8 − 3 = 5", "eight take away three leaves five")]
    [InlineData("part 10 6 numeral", "6 + 4 = 10", "six and four make ten")]
    [InlineData("gap 9 6 numeral", "9 − 6 = 3", "nine is three more than six")]
    [InlineData("on 7 3 line", "7 + 3 = 10", "three on from seven is ten")]
    [InlineData("double 6 numeral", "6 + 6 = 12", "twice six is twelve")]
    [InlineData("share 12 3 objects", "12 ÷ 3 = 4", "twelve among three is four each")]
    [InlineData("share 13 3 objects", "", "")]
    [InlineData("more 6 9 numeral", "9 > 6", "nine is more than six")]
    [InlineData("say 5 dice", "", "")]
    [InlineData("join * numeral to 20", "", "")]
    public void An_ask_is_written_and_said_with_its_answer(string ask, string written, string said)
    {
        var read = Ask.Parse(ask, out _)!.Value;
        Assert.Equal((written, said), (read.Equation(), read.Sentence()));
    }

    [Theory]
    // What lies there is named as long as that tells nothing else of the same turn.
    [InlineData("part 10 6 numeral", "", "6 and what make 10?")]
    [InlineData("even 6 4 objects", "say 6 objects; say 4 objects", "Make them the same.")]
    [InlineData("on 7 5 line", "say 5 dice", "Counting on: where does it end?")]
    [InlineData("on 7 5 line", "", "5 on from 7?")]
    [InlineData("trace 5 numeral", "", "Write the number.")]
    [InlineData("share 6 2 objects", "say 6 objects", "Share them fairly.")]
    [InlineData("join 5 3 objects", "gone 8 3 objects", "How many together?")]
    public void A_title_gives_no_answer_of_its_turn_away(string ask, string others, string title)
    {
        var turn = others.Split("; ", StringSplitOptions.RemoveEmptyEntries).Select(o => Ask.Parse(o, out _)!.Value);
        Assert.Equal(title, Ask.Parse(ask, out _)!.Value.QuestionAtTable(turn));
    }

    [Theory]
    [InlineData("more 6 9 numeral", "9 > 6")]
    [InlineData("more 4 4 dice", "the same")]
    [InlineData("order 7 3 9 numeral", "3, 7, 9")]
    [InlineData("share 12 3 objects", "4")]
    [InlineData("share 14 3 objects", "4, and 2 left over")]
    [InlineData("part 10 6 numeral", "4")]
    [InlineData("words 1 10", "")]
    public void The_answer_is_held_ready_for_whichever_way_it_is_asked(string ask, string answer) => Assert.Equal(answer, Ask.Parse(ask, out _)!.Value.AnswerWords());

    [Theory]
    [InlineData(7, "a 7")]
    [InlineData(8, "an 8")]
    [InlineData(11, "an 11")]
    [InlineData(18, "an 18")]
    [InlineData(80, "an 80")]
    [InlineData(108, "a 108")]
    public void A_number_has_the_article_it_is_said_with(int n, string said) => Assert.Equal(said, Words.A(n));

    private static IEnumerable<string> Notes(string text)
    {
        var ask = Ask.Parse(text, out _)!.Value;
        return Outcomes.NotesOf(ask).Select(seen => seen.Says(ask));
    }

    [Fact]
    public void The_words_for_firmness_certainty_and_outcomes_are_the_houses_own()
    {
        Assert.Equal(["a stretch", "just right", "nearly always", "knows it"], Enum.GetValues<Firmness>().Select(f => f.Says()));
        Assert.Equal(["a guess", "some evidence", "well known"], new[] { 0, 3, 10 }.Select(n => Sureness.Of(n).Says()));
        Assert.Equal(["saw it", "used the structure", "counted on", "counted all", "with help", "not yet", "right, not watched"], Notes("say 5 dice"));
        Assert.Equal(["right", "with help", "not yet"], Notes("say 5 numeral"));
        Assert.Equal(["near", "with help", "not yet"], Notes("guess 12 scatter"));
        Assert.Equal("not yet", Seen.NotWatched(false).Says(new Ask(AskKind.Say, 5, Form.Dice)));
        Assert.Equal("right", Seen.NotWatched(true).Says(new Ask(AskKind.Take, 4, Form.Spoken)));
        Assert.All(Enumerable.Range(0, 7), key => Assert.Equal(key, Seen.Of(key).Key));
        Assert.False(Seen.How(Outcome.WithHelp).Right);
        Assert.True(Seen.How(Outcome.CountedAll).Right);
        Assert.Equal([Outcome.NotYet, Outcome.WithHelp, Outcome.SawIt], Outcomes.Of(new Ask(AskKind.Take, 4, Form.Spoken)));
        Assert.Equal(6, Outcomes.Of(new Ask(AskKind.Part, 5, 2, Form.Numeral)).Count);
        // An amount can be counted; a figure is only read.
        Assert.Equal(6, Outcomes.Of(new Ask(AskKind.Say, 5, Form.Dice)).Count);
        Assert.Equal(3, Outcomes.Of(new Ask(AskKind.Say, 5, Form.Numeral)).Count);
        Assert.Equal("Which number is this?", new Ask(AskKind.Say, 5, Form.Numeral).Question());
    }

    [Fact]
    public void No_word_on_a_childs_page_judges()
    {
        string[] never = ["fail", "wrong", "weak", "behind", "test"];
        var words = Outcomes.Words.Concat(Enum.GetValues<Firmness>().Select(f => f.Says())).Concat(Enum.GetNames<SkillWord>()).Concat(Skills.All.Select(s => s.Says)).Concat(Approach.Schools.SelectMany(s => s.Options.Select(o => $"{o.Says} {o.Why}")));
        Assert.All(words, w => Assert.DoesNotContain(w.Split(' ', ',', ';', '.').Select(x => x.ToLowerInvariant()), never.Contains));
    }

    [Fact]
    public void Every_ask_has_a_question_and_three_hints_in_either_approach()
    {
        foreach (var kind in AskKinds.All)
        {
            var ask = Ask.Parse(kind.Example, out _)!.Value;
            Assert.NotEmpty(ask.Question());
            foreach (string school in new[] { "structure", "counting" })
                for (int step = 1; step <= 3; step++)
                {
                    var hint = Hints.Of(ask, step, Approach.Default.With("answers", school));
                    Assert.Equal(step, hint.Step);
                    Assert.NotEmpty(hint.Says);
                    if (step == 1) Assert.DoesNotContain(hint.Says, char.IsDigit);
                    if (hint.Picture != Form.None) Assert.True(Pictures.CanDraw(hint.Picture, hint.Shown));
                }
        }
    }

    [Fact]
    public void The_second_hint_shows_five_and_some_or_a_row_to_touch()
    {
        var ask = new Ask(AskKind.Part, 10, 6, Form.Numeral);
        Assert.Equal((Form.TenFrame, 6), (Hints.Of(ask, 2, Approach.Default).Picture, Hints.Of(ask, 2, Approach.Default).Shown));
        Assert.Equal(Form.Row, Hints.Of(ask, 2, Approach.Default.With("answers", "counting")).Picture);
        Assert.Equal(Form.DoubleTenFrame, Hints.Of(new Ask(AskKind.Part, 15, 12, Form.Numeral), 2, Approach.Default).Picture);
    }

    [Theory]
    [InlineData("say 3 dice")]
    [InlineData("say 7 numeral")]
    [InlineData("say 34 numeral")]
    [InlineData("guess 12 scatter")]
    [InlineData("guess 5 scatter")]
    [InlineData("match 6 dice numeral")]
    [InlineData("join 7 6 numeral")]
    [InlineData("join 62 30 numeral")]
    [InlineData("join 8 5 3 numeral")]
    [InlineData("gone 13 4 objects")]
    [InlineData("gone 60 2 numeral")]
    [InlineData("gone 60 48 numeral")]
    [InlineData("part 10 6 numeral")]
    [InlineData("part 45 41 numeral")]
    [InlineData("gap 9 4 numeral")]
    [InlineData("double 7 numeral")]
    [InlineData("double 14 numeral")]
    [InlineData("on 6 1 line")]
    [InlineData("back 6 1 line")]
    [InlineData("times 4 3 numeral")]
    public void No_hint_tells_the_answer_and_none_needs_numbers_that_nobody_told(string code)
    {
        var ask = Ask.Parse(code, out _)!.Value;
        var given = ask.Kind is AskKind.Say or AskKind.Guess or AskKind.Match ? [] : Enumerable.Range(0, ask.Count).Select(i => ask[i]).Append(10).ToHashSet();
        foreach (string school in new[] { "structure", "counting" })
            foreach (string larger in new[] { "larger", "dealt" })
                for (int step = 1; step <= 3; step++)
                {
                    var approach = Approach.Default.With("answers", school).With("larger", larger);
                    var hint = Hints.Of(ask, step, approach);
                    Assert.All(Regex.Matches(hint.Says, @"\d+"), n => Assert.Contains(int.Parse(n.Value), given));
                    // How many there are is shown in another picture where it is seen; else only what was given.
                    if (given.Count > 0 && hint.Picture != Form.None) Assert.Contains(hint.Shown, given);
                    if (ask.Kind == AskKind.Guess) Assert.NotEqual(ask[0], hint.Shown);
                    Assert.DoesNotContain(" 1 steps", hint.Says);
                    var untold = Hints.Of(ask.WithoutNumbers(20), step, approach);
                    Assert.Equal(Form.None, untold.Picture);
                    Assert.DoesNotContain(untold.Says, char.IsDigit);
                }
    }

    [Fact]
    public void An_approach_has_a_default_for_every_question_and_keeps_only_answers_it_knows()
    {
        Assert.Equal(10, Approach.Schools.Count);
        Assert.All(Approach.Schools, s => Assert.Equal(s.Options[0].Id, Approach.Default[s.Id]));
        Assert.All(Approach.Schools, s => Assert.True(s.Options.Count >= 2 && s.Options.All(o => o.Why.Length > 0)));
        Assert.Equal("structure", Approach.Default.With("answers", "nonsense")["answers"]);
        Assert.Equal("counting", Approach.Default.With("answers", "counting").With("clock", "own")["answers"]);
    }

    [Fact]
    public void Every_kind_of_ask_has_three_hints_of_its_own_and_none_tells_the_answer()
    {
        var together = new HashSet<string>();
        foreach (var kind in AskKinds.All)
        {
            var ask = Ask.Parse(kind.Example, out _)!.Value;
            foreach (string school in new[] { "structure", "counting" })
            {
                var hints = Enumerable.Range(1, 3).Select(step => Hints.Of(ask, step, Approach.Default.With("answers", school))).ToList();
                Assert.Equal([1, 2, 3], hints.Select(h => h.Step));
                Assert.Equal(3, hints.DistinctBy(h => h.Says).Count());
                Assert.DoesNotContain(hints[0].Says, char.IsDigit);
                // A picture is one that can be drawn.
                Assert.All(hints.Where(h => h.Picture != Form.None), h => Assert.True(Pictures.CanDraw(h.Picture, h.Shown), $"{ask}: {h}"));
            }
            together.Add(Hints.Of(ask, 3, Approach.Default).Says);
        }
        Assert.True(together.Count >= AskKinds.All.Count - 1, $"{together.Count} of {AskKinds.All.Count}");
    }

    [Theory]
    [InlineData(0, "in no game")]
    [InlineData(.00001, "in hardly any of 10,000 games")]
    [InlineData(.0003, "in 3 of 10,000 games")]
    [InlineData(.001, "in 1 of 1,000 games")]
    [InlineData(.0049, "in 5 of 1,000 games")]
    [InlineData(.01, "in 1 of 100 games")]
    [InlineData(.42, "in 42 of 100 games")]
    [InlineData(1, "in every game")]
    public void A_chance_is_said_as_people_say_it(double chance, string says) => Assert.Equal(says, Materials.Words.Share(chance));
}
