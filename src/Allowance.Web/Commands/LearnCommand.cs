using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Web.Files;

namespace Allowance.Web.Commands;

/// <summary>Reads a file of observations, without a household, and says what it tells of its children.</summary>
public static class LearnCommand
{
    private static readonly JsonSerializerOptions Readable = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <returns>0; 1 where some lines could not be read; 2 where nothing could.</returns>
    public static int Run(string file, string? predict, double? age, TextWriter output)
    {
        if (age is { } years && years is not (>= 1 and <= 18)) return Refuse("An age lies between 1 and 18 years.", output);
        FileReading<FileObservation> seen;
        FileReading<FileAsk> asked = new([], []);
        try
        {
            using (var stream = file == "-" ? Console.OpenStandardInput() : File.OpenRead(file)) seen = ObservationFile.Read(stream, TimeSpan.Zero);
            if (predict is not null)
                using (var stream = File.OpenRead(predict)) asked = ObservationFile.ReadAsks(stream, TimeSpan.Zero);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException or NotSupportedException)
        {
            return Refuse($"The file cannot be read: {e.Message.TrimEnd('.')}.", output);
        }
        var children = seen.Lines.GroupBy(l => l.Player).ToDictionary(g => g.Key, g => g.OrderBy(l => l.Observation.At).Select(l => l.Observation).ToList());
        var answer = new JsonObject
        {
            ["players"] = new JsonObject(children.OrderBy(c => c.Key, StringComparer.Ordinal).Select(c => KeyValuePair.Create(c.Key, (JsonNode?)Told(c.Value, age)))),
        };
        if (predict is not null) answer["predictions"] = new JsonArray([.. Foretold(children, asked.Lines, age)]);
        answer["errors"] = new JsonArray([.. Errors(file, seen.Problems), .. Errors(predict ?? "", asked.Problems)]);
        output.WriteLine(answer.ToJsonString(Readable));
        int problems = seen.Problems.Count + asked.Problems.Count;
        return problems == 0 ? 0 : seen.Lines.Count == 0 ? 2 : 1;
    }

    private static JsonObject Told(IReadOnlyList<Observation> seen, double? age)
    {
        var model = ChildModel.Of(age ?? LearnerAnswers.AgeWhereUnknown, seen);
        var day = seen[^1].Day;
        var bands = Enumerable.Range(0, Feeding.Bands.Count).Select(b => model.Standing(b, day));
        return new()
        {
            ["observations"] = seen.Count,
            ["from"] = $"{seen[0].Day:yyyy-MM-dd}",
            ["to"] = $"{day:yyyy-MM-dd}",
            ["skills"] = new JsonArray([.. bands.Select(b => (JsonNode)new JsonObject
            {
                ["skill"] = b.SkillBand.Skill.Id,
                ["band"] = b.SkillBand.Band,
                ["word"] = b.Word.ToString().ToLowerInvariant(),
                ["right"] = Math.Round(b.Right, 4),
                ["careful"] = Math.Round(b.Careful, 4),
                ["sure"] = b.Certainty.Says(),
                ["observations"] = b.Seen,
                ["daysRight"] = b.RightDays,
            })]),
        };
    }

    /// <summary>For each ask the chances of its outcomes by what was seen before it, in the order of the file.</summary>
    private static IEnumerable<JsonNode> Foretold(Dictionary<string, List<Observation>> children, IReadOnlyList<FileAsk> asks, double? age)
    {
        var answers = new Dictionary<int, JsonNode>();
        foreach (var mine in asks.GroupBy(a => a.Player))
        {
            var seen = children.GetValueOrDefault(mine.Key, []);
            var model = new ChildModel(age ?? LearnerAnswers.AgeWhereUnknown);
            int next = 0;
            foreach (var ask in mine.OrderBy(a => a.At))
            {
                for (; next < seen.Count && seen[next].At < ask.At; next++) model.Observe(seen[next]);
                var chances = new double[6];
                model.Chances(ask.Ask, DateOnly.FromDateTime(ask.At.DateTime), chances, now: true);
                answers[ask.Line] = new JsonObject
                {
                    ["player"] = ask.Player,
                    ["at"] = ask.At.ToString("yyyy-MM-ddTHH:mm:sszzz"),
                    ["ask"] = ask.Ask.ToString(),
                    ["before"] = next,
                    ["right"] = Math.Round(chances[2..].Sum(), 5),
                    ["chances"] = new JsonArray([.. chances.Select(c => (JsonNode)Math.Round(c, 5))]),
                };
            }
        }
        return asks.Select(a => answers[a.Line]);
    }

    private static IEnumerable<JsonNode> Errors(string file, IReadOnlyList<FileProblem> problems) =>
        problems.Select(p => (JsonNode)new JsonObject { ["file"] = Path.GetFileName(file), ["line"] = p.Line, ["message"] = p.Message });

    private static int Refuse(string message, TextWriter output)
    {
        output.WriteLine(new JsonObject { ["errors"] = new JsonArray([new JsonObject { ["line"] = 0, ["message"] = message }]) }.ToJsonString(Readable));
        return 2;
    }
}
