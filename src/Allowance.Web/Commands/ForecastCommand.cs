using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Forecasts;
using Allowance.Core.Games;
using Allowance.Core.Learner;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Web.Commands;

/// <summary>Forecasts setup files, on the command line and for the web API.</summary>
public static class ForecastCommand
{
    /// <summary>Files know no household: every child is an average one of her age. The day does not matter to such a child.</summary>
    private static readonly DateOnly AnyDay = new(2026, 1, 1);

    private static readonly JsonSerializerOptions Readable = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
    private static readonly JsonSerializerOptions OneLine = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <returns>0; 2 where the file cannot be read or played; 1 where some lines of <paramref name="many"/> could not.</returns>
    public static int Run(string? file, string? many, TextWriter output)
    {
        if (many is null && file is null) return Refuse([new("", "Name a setup file, - for standard input, or --many FILE.")], output);
        string text;
        try
        {
            text = (many ?? file) == "-" ? Console.In.ReadToEnd() : File.ReadAllText((many ?? file)!);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException or NotSupportedException)
        {
            return Refuse([new("", $"The file {many ?? file} cannot be read: {e.Message.TrimEnd('.')}.")], output);
        }
        if (many is not null) return Many(text, output);
        var reading = Read(text);
        if (reading.Playable is null) return Refuse(reading.Problems, output);
        output.WriteLine(Make(reading, Budget()).ToJson().ToJsonString(Readable));
        return 0;
    }

    private static int Many(string text, TextWriter output)
    {
        int status = 0;
        foreach (string line in text.Split('\n').Where(l => !string.IsNullOrWhiteSpace(l)))
        {
            var reading = Read(line);
            bool goes = reading.Playable is not null;
            if (!goes) status = 1;
            output.WriteLine((goes ? Make(reading, Budget()).ToJson() : Errors(reading.Problems)).ToJsonString(OneLine));
        }
        return status;
    }

    private static Budget Budget() => new(Limits.Command, TimeProvider.System);

    public static CheckedReading Read(string json) => Catalogue.Read(json);

    /// <param name="reading">A setup that goes.</param>
    public static Forecast Make(CheckedReading reading, Budget budget)
    {
        var forecast = Forecaster.Make(reading.Playable!, new LearnerAnswers(reading.Playable!.Setup, AnyDay), reading.Options, budget: budget);
        return reading.Position is { } position ? forecast.With(position) : forecast;
    }

    private static int Refuse(IReadOnlyList<Problem> problems, TextWriter output)
    {
        output.WriteLine(Errors(problems).ToJsonString(OneLine));
        return 2;
    }

    public static JsonObject Errors(IReadOnlyList<Problem> problems) => new()
    {
        ["errors"] = new JsonArray([.. problems.Select(p => new JsonObject { ["path"] = p.Path, ["message"] = p.Message, ["nearest"] = p.Nearest?.DeepClone() })]),
    };
}
