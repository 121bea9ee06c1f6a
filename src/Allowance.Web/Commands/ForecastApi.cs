using System.Text;
using System.Text.Json.Nodes;
using Allowance.Core.Setups;

namespace Allowance.Web.Commands;

/// <summary>The forecast as a web API: a setup file in, a forecast out. It changes nothing, so it needs no antiforgery token.</summary>
public static class ForecastApi
{
    public static void Map(WebApplication app) =>
        app.MapPost("/api/forecast", Forecast)
            .DisableAntiforgery()
            .WithName("Forecast")
            .WithSummary("What playing a setup will be like.")
            .WithDescription("Takes a setup (format allowance-setup/1) and answers with a forecast (allowance-forecast/1), or with status 422 and {\"errors\":[{\"path\",\"message\",\"nearest\"}]}.")
            .Accepts<JsonObject>("application/json")
            .Produces<JsonObject>(StatusCodes.Status200OK)
            .Produces<JsonObject>(StatusCodes.Status422UnprocessableEntity);

    private static async Task<IResult> Forecast(HttpRequest request)
    {
        using var reader = new StreamReader(request.Body, Encoding.UTF8);
        var buffer = new char[SetupFile.MostBytes + 1];
        int length = await reader.ReadBlockAsync(buffer);
        var (forecast, problems) = ForecastCommand.Make(new string(buffer, 0, length));
        return forecast is null
            ? Results.Json(ForecastCommand.Errors(problems), statusCode: StatusCodes.Status422UnprocessableEntity)
            : Results.Json(forecast.ToJson());
    }
}
