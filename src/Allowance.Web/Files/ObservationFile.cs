using System.Globalization;
using System.Text;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using CsvHelper;
using CsvHelper.Configuration;

namespace Allowance.Web.Files;

/// <summary>A line of a file of observations that could be read.</summary>
public sealed record FileObservation(int Line, string Player, Observation Observation);

/// <summary>A line of a file that could not be read, and why; line 0 speaks of the whole file.</summary>
public sealed record FileProblem(int Line, string Message);

/// <summary>A line that asks what would happen: <c>player,at,ask</c>.</summary>
public sealed record FileAsk(int Line, string Player, DateTimeOffset At, Ask Ask);

/// <summary>What was read of a file: every line is in one of the two lists.</summary>
public sealed record FileReading<T>(IReadOnlyList<T> Lines, IReadOnlyList<FileProblem> Problems);

/// <summary>
/// Observations as CSV in UTF-8: <c>player,at,ask,outcome,right,seconds,source</c>; see docs/formats. A line that cannot be
/// read is named and passed over, never guessed at.
/// </summary>
public static class ObservationFile
{
    public static readonly string[] Columns = ["player", "at", "ask", "outcome", "right", "seconds", "source"];

    /// <summary>The longest field of a sensible file.</summary>
    private const int LongestField = 300;

    private const int MostProblems = 500;

    private static readonly string[] Times =
    [
        "yyyy-MM-dd", "yyyy-MM-ddTHH:mm", "yyyy-MM-ddTHH:mmK", "yyyy-MM-ddTHH:mm:ss", "yyyy-MM-ddTHH:mm:ssK", "yyyy-MM-ddTHH:mm:ss.FFFFFFFK",
        "yyyy-MM-dd HH:mm", "yyyy-MM-dd HH:mm:ss", "yyyy-MM-dd HH:mmK", "yyyy-MM-dd HH:mm:ssK",
    ];

    /// <param name="offset">For times that carry none of their own.</param>
    public static FileReading<FileObservation> Read(Stream stream, TimeSpan offset) =>
        ReadLines(stream, ["player", "at", "ask"], (line, field) =>
        {
            string player = PlayerOf(field);
            var at = TimeOf(field("at"), offset);
            var ask = AskOf(field("ask"));
            var seen = SeenOf(ask, field("outcome"), field("right"));
            return new FileObservation(line, player, new(at, ask, seen, SecondsOf(field("seconds")), SourceOf(field("source"))));
        });

    public static FileReading<FileAsk> ReadAsks(Stream stream, TimeSpan offset) =>
        ReadLines(stream, ["player", "at", "ask"], (line, field) => new FileAsk(line, PlayerOf(field), TimeOf(field("at"), offset), AskOf(field("ask"))));

    /// <summary>Writes observations, oldest first, as a file that <see cref="Read"/> takes: nothing of them is lost on the way.</summary>
    /// <param name="withHeader">False where the lines go on from others.</param>
    public static void Write(TextWriter writer, IEnumerable<(string Player, Observation Observation)> observations, bool withHeader = true)
    {
        using var csv = new CsvWriter(writer, new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            // A name that begins like a formula is written with an apostrophe before it, so that no spreadsheet works it out.
            InjectionOptions = InjectionOptions.Escape, NewLine = "\n",
        }, leaveOpen: true);
        if (withHeader)
        {
            foreach (string column in Columns) csv.WriteField(column);
            csv.NextRecord();
        }
        foreach (var (player, o) in observations)
        {
            csv.WriteField(player);
            csv.WriteField(o.At.ToString("yyyy-MM-ddTHH:mm:ss.FFFFFFFzzz", CultureInfo.InvariantCulture));
            csv.WriteField(o.Ask.ToString());
            csv.WriteField(o.Seen.Outcome is { } outcome ? ((int)outcome).ToString(CultureInfo.InvariantCulture) : "");
            csv.WriteField(o.Seen.Outcome is null ? (o.Seen.Right ? "true" : "false") : "");
            csv.WriteField(o.Seconds?.ToString("0.#######", CultureInfo.InvariantCulture) ?? "");
            csv.WriteField(o.Source.ToString().ToLowerInvariant());
            csv.NextRecord();
        }
    }

    private sealed class BadFieldException(string message) : Exception(message);

    private static FileReading<T> ReadLines<T>(Stream stream, string[] needed, Func<int, Func<string, string>, T> read)
    {
        var lines = new List<T>();
        var problems = new List<FileProblem>();
        using var reader = new StreamReader(stream, new UTF8Encoding(false), detectEncodingFromByteOrderMarks: true);
        using var csv = new CsvReader(reader, new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            BadDataFound = null, MissingFieldFound = null, DetectDelimiter = true, DetectDelimiterValues = [",", ";", "\t"], MaxFieldSize = 1_000_000, TrimOptions = TrimOptions.Trim,
            PrepareHeaderForMatch = args => args.Header.Trim().ToLowerInvariant(), HeaderValidated = null, IgnoreBlankLines = true,
        });
        try
        {
            if (!csv.Read() || !csv.ReadHeader()) return new([], [new(0, "The file is empty. Its first line must read " + string.Join(",", Columns) + ".")]);
            var missing = needed.Where(c => !(csv.HeaderRecord ?? []).Any(h => h.Trim().Equals(c, StringComparison.OrdinalIgnoreCase))).ToList();
            if (missing.Count > 0)
                return new([], [new(0, $"The first line has no column \"{missing[0]}\". It must read {string.Join(",", Columns)}, and the file must be CSV in UTF-8.")]);
            while (csv.Read() && problems.Count < MostProblems)
            {
                int line = csv.Parser.RawRow;
                try
                {
                    lines.Add(read(line, name => Field(csv, name)));
                }
                catch (BadFieldException e)
                {
                    problems.Add(new(line, e.Message));
                }
            }
        }
        catch (Exception e) when (e is CsvHelperException or DecoderFallbackException)
        {
            problems.Add(new(csv.Parser.RawRow, "Reading stopped here: a field is far too long, or a quotation mark is never closed."));
        }
        if (problems.Count >= MostProblems) problems.Add(new(0, $"Reading stopped after {MostProblems} lines that could not be read; is this a file of observations?"));
        return new(lines, problems);
    }

    private static string Field(CsvReader csv, string name)
    {
        string field = csv.TryGetField<string>(name, out var found) ? found ?? "" : "";
        if (field.Length > LongestField) throw new BadFieldException($"The field \"{name}\" has {field.Length} characters; a quotation mark may be missing before it.");
        if (field.Contains('\0')) throw new BadFieldException($"The field \"{name}\" holds a null character.");
        if (field.Contains('\uFFFD')) throw new BadFieldException($"The field \"{name}\" is not UTF-8; save the file as CSV UTF-8.");
        return field;
    }

    private static string PlayerOf(Func<string, string> field)
    {
        string player = field("player").TrimStart('\'');
        if (player.Length == 0) throw new BadFieldException("No player is named.");
        return player.Length <= 60 ? player : throw new BadFieldException("The player's name is longer than 60 characters.");
    }

    private static DateTimeOffset TimeOf(string text, TimeSpan offset)
    {
        if (!DateTime.TryParseExact(text, Times, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind | DateTimeStyles.AllowWhiteSpaces, out var plain))
            throw new BadFieldException($"\"{Shown(text)}\" is no time; write it like 2026-03-01T16:30.");
        if (plain.Year is < 1990 or > 2200) throw new BadFieldException($"The year {plain.Year} cannot be right.");
        bool hasOffset = text.Length > 11 && (text.EndsWith('Z') || text[10..].IndexOfAny(['+', '-']) >= 0);
        return hasOffset ? DateTimeOffset.Parse(text, CultureInfo.InvariantCulture) : new(DateTime.SpecifyKind(plain, DateTimeKind.Unspecified), offset);
    }

    private static Ask AskOf(string text) => Ask.Parse(text, out string problem) ?? throw new BadFieldException(problem);

    private static Seen SeenOf(Ask ask, string outcome, string right)
    {
        bool? said = right.ToLowerInvariant() switch
        {
            "" => null, "true" or "1" or "yes" => true, "false" or "0" or "no" => false,
            _ => throw new BadFieldException($"\"{Shown(right)}\" is neither true nor false."),
        };
        if (outcome.Length == 0)
            return said is { } known ? Seen.NotWatched(known) : throw new BadFieldException("Neither an outcome nor right or not is given.");
        if (!int.TryParse(outcome, NumberStyles.None, CultureInfo.InvariantCulture, out int n) || n > 5)
            throw new BadFieldException($"The outcome \"{Shown(outcome)}\" is none of 0 to 5.");
        var how = (Outcome)n;
        if (!Outcomes.Of(ask).Contains(how)) throw new BadFieldException($"\"{ask}\" is told, not counted: its outcome is 0, 1 or 5, not {n}.");
        if (said is { } both && both != (how >= Outcome.CountedAll)) throw new BadFieldException($"The outcome {n} and right = {right} contradict each other.");
        return Seen.How(how);
    }

    private static double? SecondsOf(string text)
    {
        if (text.Length == 0) return null;
        return double.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out double seconds) && seconds <= 3600
            ? seconds
            : throw new BadFieldException($"\"{Shown(text)}\" are no seconds; write them like 4.5.");
    }

    private static Source SourceOf(string text) => text.Length == 0 ? Source.Import
        : Enum.TryParse<Source>(text, true, out var source) && !char.IsAsciiDigit(text[0]) ? source
        : throw new BadFieldException($"\"{Shown(text)}\" is no source; the sources are {string.Join(", ", Enum.GetNames<Source>().Select(s => s.ToLowerInvariant()))}.");

    private static string Shown(string text) => text.Length <= 40 ? text : text[..40] + "…";
}
