using System.Text;
using System.Text.Json.Nodes;
using Allowance.Core.Rules;
using Allowance.Core.Setups;

namespace Allowance.Web.Commands;

/// <summary>The forecast as a web API: a setup file in, a forecast out. It changes nothing, so it needs no antiforgery token.</summary>
public static class ForecastApi
{
    private const string Json = "application/json";

    public static void Map(WebApplication app) =>
        app.MapPost("/api/forecast", Forecast)
            .DisableAntiforgery()
            .WithName("Forecast")
            .WithSummary("What playing a setup will be like.")
            .WithDescription("Takes a setup (format allowance-setup/1) as application/json and answers with a forecast (allowance-forecast/1). What cannot be taken is answered with {\"errors\":[{\"path\",\"message\",\"nearest\"}]}: 400 where it is no JSON, 413 where it is too large, 415 where it is called something else, 422 where it cannot be played, 429 where two forecasts are being made already and no turn came in ten seconds.")
            .Accepts<JsonObject>(Json)
            .Produces<JsonObject>(StatusCodes.Status200OK)
            .Produces<JsonObject>(StatusCodes.Status400BadRequest)
            .Produces<JsonObject>(StatusCodes.Status413PayloadTooLarge)
            .Produces<JsonObject>(StatusCodes.Status415UnsupportedMediaType)
            .Produces<JsonObject>(StatusCodes.Status422UnprocessableEntity)
            .Produces<JsonObject>(StatusCodes.Status429TooManyRequests);

    private static async Task<IResult> Forecast(HttpRequest request, Computing computing, TimeProvider clock)
    {
        var left = request.HttpContext.RequestAborted;
        if (!IsJson(request)) return Refused(StatusCodes.Status415UnsupportedMediaType, $"Send a setup as {Json} in UTF-8.");
        string text;
        try
        {
            if (await Read(request) is not { } read) return Refused(StatusCodes.Status413PayloadTooLarge, $"This is larger than {SetupFile.MostBytes / 1024} KB; a setup is a page of text.");
            text = read;
        }
        catch (BadHttpRequestException e)
        {
            return Refused(e.StatusCode, "What was sent did not arrive whole.");
        }
        catch (DecoderFallbackException)
        {
            return Refused(StatusCodes.Status400BadRequest, "This is not UTF-8.");
        }
        var reading = ForecastCommand.Read(text);
        if (reading.Playable is null)
            return Results.Json(ForecastCommand.Errors(reading.Problems), statusCode: reading.IsJson ? StatusCodes.Status422UnprocessableEntity : StatusCodes.Status400BadRequest);
        using var place = await computing.Enter(left);
        if (place is null) return Refused(StatusCodes.Status429TooManyRequests, "Two forecasts are being made already; try again in a few seconds.");
        return Results.Json(ForecastCommand.Make(reading, new Budget(Limits.Api, clock, stop: left)).ToJson());
    }

    private static bool IsJson(HttpRequest request) =>
        Microsoft.Net.Http.Headers.MediaTypeHeaderValue.TryParse(request.ContentType, out var type) && type.MediaType.Equals(Json, StringComparison.OrdinalIgnoreCase)
            && (type.Charset.Length == 0 || type.Charset.Equals("utf-8", StringComparison.OrdinalIgnoreCase) || type.Charset.Equals("\"utf-8\"", StringComparison.OrdinalIgnoreCase));

    /// <returns>The body; null where it is too large.</returns>
    private static async Task<string?> Read(HttpRequest request)
    {
        var buffer = new byte[SetupFile.MostBytes + 1];
        int length = await request.Body.ReadAtLeastAsync(buffer, buffer.Length, throwOnEndOfStream: false, request.HttpContext.RequestAborted);
        if (length > SetupFile.MostBytes) return null;
        var body = buffer.AsSpan(0, length);
        return new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(body.StartsWith(Encoding.UTF8.Preamble) ? body[Encoding.UTF8.Preamble.Length..] : body);
    }

    private static IResult Refused(int status, string message) => Results.Json(ForecastCommand.Errors([new Problem("", message)]), statusCode: status);
}
