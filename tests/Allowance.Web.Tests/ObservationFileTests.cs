using System.Text;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Forms;
using Allowance.Core.Learner;
using Allowance.Web.Commands;
using Allowance.Web.Files;

namespace Allowance.Web.Tests;

/// <summary>Observations as a file: what was written is read again, and what cannot be read is named line by line.</summary>
public class ObservationFileTests
{
    private const string Header = "player,at,ask,outcome,right,seconds,source\n";

    private static FileReading<FileObservation> Read(string text) => ObservationFile.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), TimeSpan.FromHours(2));

    [Fact]
    public void What_was_written_is_read_again()
    {
        var at = new DateTimeOffset(2026, 3, 1, 16, 30, 5, TimeSpan.FromHours(1));
        (string, Observation)[] written =
        [
            ("Otis", new(at, new Ask(AskKind.Part, 10, 6, Form.Numeral), Seen.How(Outcome.CountedOn), 4.5)),
            ("Juno, the small one", new(at.AddDays(1), new Ask(AskKind.Say, 5, Form.Dice), Seen.NotWatched(true), null, Source.Typed)),
            ("=SUM(A1)", new(at.AddDays(2), new Ask(AskKind.Match, 4, Form.Dice, Form.Numeral), Seen.NotWatched(false), null, Source.Glimpse)),
            ("\"Mags\"", new(at.AddDays(3), new Ask(AskKind.Join, [3, 2, 1], Form.Dice, Form.None, Support.Line), Seen.How(Outcome.NotYet), null, Source.FirstLook)),
        ];
        var text = new StringWriter();
        ObservationFile.Write(text, written);
        Assert.StartsWith("player,at,ask,outcome,right,seconds,source\n", text.ToString(), StringComparison.Ordinal);
        Assert.Contains("'=SUM(A1)", text.ToString(), StringComparison.Ordinal);
        var reading = Read(text.ToString());
        Assert.Empty(reading.Problems);
        Assert.Equal(written, reading.Lines.Select(l => (l.Player, l.Observation)));
        Assert.Equal([2, 3, 4, 5], reading.Lines.Select(l => l.Line));
    }

    [Theory]
    [InlineData("Otis,2026-03-40,say 5 dice,5,,,", "is no time; write it like 2026-03-01T16:30")]
    [InlineData("Otis,03/01/2026,say 5 dice,5,,,", "is no time")]
    [InlineData("Otis,0026-03-01,say 5 dice,5,,,", "year 26 cannot be right")]
    [InlineData(",2026-03-01,say 5 dice,5,,,", "No player is named")]
    [InlineData("Otis,2026-03-01,sing 5 dice,5,,,", "is no kind of ask")]
    [InlineData("Otis,2026-03-01,say 5 dominoes,5,,,", "nor a form")]
    [InlineData("Otis,2026-03-01,say 5 dice,7,,,", "none of 0 to 5")]
    [InlineData("Otis,2026-03-01,say 5 dice,,,,", "Neither an outcome nor right or not")]
    [InlineData("Otis,2026-03-01,say 5 dice,,maybe,,", "neither true nor false")]
    [InlineData("Otis,2026-03-01,say 5 dice,5,false,,", "contradict each other")]
    [InlineData("Otis,2026-03-01,take 4 spoken,3,,,", "0, 1 or 5, not 3")]
    [InlineData("Otis,2026-03-01,say 5 dice,5,,soon,", "are no seconds")]
    [InlineData("Otis,2026-03-01,say 5 dice,5,,-3,", "are no seconds")]
    [InlineData("Otis,2026-03-01,say 5 dice,5,,,dream", "is no source")]
    [InlineData("Ot\0is,2026-03-01,say 5 dice,5,,,", "null character")]
    public void A_line_that_cannot_be_read_is_named_and_the_others_are_taken(string line, string why)
    {
        var reading = Read($"{Header}Otis,2026-03-01,say 4 dice,5,,,\n{line}\nOtis,2026-03-02,say 3 dice,,true,,\n");
        var problem = Assert.Single(reading.Problems);
        Assert.Equal(3, problem.Line);
        Assert.Contains(why, problem.Message, StringComparison.Ordinal);
        Assert.Equal([4, 3], reading.Lines.Select(l => l.Observation.Ask[0]));
    }

    [Fact]
    public void Times_without_an_offset_are_the_households_own()
    {
        var lines = Read(Header + "A,2026-03-01,say 5 dice,5,,,\nA,2026-03-01T16:30,say 5 dice,5,,,\nA,2026-03-01T16:30Z,say 5 dice,5,,,\nA,2026-03-01T16:30:10-05:00,say 5 dice,5,,,\n").Lines;
        Assert.Equal([TimeSpan.FromHours(2), TimeSpan.FromHours(2), TimeSpan.Zero, TimeSpan.FromHours(-5)], lines.Select(l => l.Observation.At.Offset));
        Assert.Equal(new TimeOnly(16, 30, 10), TimeOnly.FromDateTime(lines[3].Observation.At.DateTime));
    }

    [Theory]
    [InlineData("", "is empty")]
    [InlineData("name,when\nOtis,2026\n", "has no column \"player\"")]
    [InlineData("%PDF-1.4 something else entirely", "has no column")]
    public void A_file_that_is_no_file_of_observations_is_refused_as_a_whole(string text, string why)
    {
        var reading = Read(text);
        Assert.Empty(reading.Lines);
        Assert.Contains(why, Assert.Single(reading.Problems).Message, StringComparison.Ordinal);
        Assert.Equal(0, reading.Problems[0].Line);
    }

    [Fact]
    public void Semicolons_a_byte_order_mark_and_other_line_ends_are_read_too()
    {
        var bytes = Encoding.UTF8.GetPreamble().Concat(Encoding.UTF8.GetBytes("player;at;ask;outcome;right;seconds;source\r\nOtis;2026-03-01;say 5 dice;5;;;\r\n")).ToArray();
        var reading = ObservationFile.Read(new MemoryStream(bytes), TimeSpan.Zero);
        Assert.Empty(reading.Problems);
        Assert.Equal("Otis", Assert.Single(reading.Lines).Player);
    }

    [Fact]
    public void Another_encoding_is_named_by_line()
    {
        var bytes = Encoding.UTF8.GetBytes(Header).Concat(Encoding.Latin1.GetBytes("Zoë,2026-03-01,say 5 dice,5,,,\nOtis,2026-03-01,say 5 dice,5,,,\n")).ToArray();
        var reading = ObservationFile.Read(new MemoryStream(bytes), TimeSpan.Zero);
        Assert.Contains("not UTF-8", Assert.Single(reading.Problems).Message, StringComparison.Ordinal);
        Assert.Single(reading.Lines);
    }

    [Fact]
    public void A_line_of_ten_megabytes_and_an_open_quotation_mark_end_in_words()
    {
        var reading = Read($"{Header}Otis,2026-03-01,say 5 dice,5,,,\n{new string('x', 10_000_000)},2026-03-01,say 5 dice,5,,,\n");
        Assert.Single(reading.Lines);
        Assert.Single(reading.Problems);
        var open = Read($"{Header}Otis,2026-03-01,say 5 dice,5,,,\n\"Otis,2026-03-01,say 5 dice,5,,,\n{string.Concat(Enumerable.Repeat("Otis,2026-03-01,say 5 dice,5,,,\n", 50))}");
        Assert.Single(open.Lines);
        Assert.NotEmpty(open.Problems);
    }

    [Fact]
    public void Nonsense_in_great_number_is_given_up()
    {
        var reading = Read(Header + string.Concat(Enumerable.Repeat("Otis,never,say 5 dice,5,,,\n", 2_000)));
        Assert.Empty(reading.Lines);
        Assert.Equal(501, reading.Problems.Count);
        Assert.Contains("Reading stopped", reading.Problems[^1].Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_learn_command_tells_the_words_and_foretells_by_what_was_before()
    {
        string seen = Path.GetTempFileName(), asked = Path.GetTempFileName();
        File.WriteAllText(seen, Header + string.Concat(Enumerable.Range(1, 9).Select(d => $"Otis,2026-03-0{d}T16:00Z,part 10 6 numeral,5,,,\n")) + "Otis,2026-03-04,nonsense,5,,,\n");
        File.WriteAllText(asked, "player,at,ask\nOtis,2026-03-20T10:00Z,part 10 6 numeral\nOtis,2026-03-03T16:00Z,part 10 6 numeral\nNobody,2026-03-03,part 10 6 numeral\n");
        var output = new StringWriter();
        Assert.Equal(1, LearnCommand.Run(seen, asked, 5.3, output));
        var answer = JsonNode.Parse(output.ToString())!;
        var otis = answer["players"]!["Otis"]!;
        Assert.Equal(9, (int)otis["observations"]!);
        Assert.Equal(Feeding.Bands.Count, otis["skills"]!.AsArray().Count);
        var partners = otis["skills"]!.AsArray().Single(s => (string)s!["skill"]! == "partners" && (int)s["band"]! == 10)!;
        Assert.Equal(9, (int)partners["observations"]!);
        Assert.Equal("growing", (string)partners["word"]!);
        var predictions = answer["predictions"]!.AsArray();
        Assert.Equal([9, 2, 0], predictions.Select(p => (int)p!["before"]!));
        double[] right = [.. predictions.Select(p => (double)p!["right"]!)];
        Assert.True(right[0] > right[1] && right[1] > right[2]);
        Assert.All(predictions, p => Assert.Equal(1, p!["chances"]!.AsArray().Sum(c => (double)c!), 3));
        var error = Assert.Single(answer["errors"]!.AsArray())!;
        Assert.Equal(11, (int)error["line"]!);
        Assert.Equal(2, LearnCommand.Run("/no/such/file.csv", null, null, new StringWriter()));
        Assert.Equal(2, LearnCommand.Run(seen, null, 99, new StringWriter()));
        File.WriteAllText(seen, Header);
        Assert.Equal(0, LearnCommand.Run(seen, null, null, new StringWriter()));
        File.Delete(seen);
        File.Delete(asked);
    }
}
