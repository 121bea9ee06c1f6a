using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Allowance.Bench;

/// <summary>
/// How fast the published application answers, with the demonstration's data: every main page, one client and eight,
/// against a plain-text answer of the same process.
/// </summary>
internal static class WebBench
{
    private const int Port = 5396, Warmup = 30, Seconds = 3;

    private static readonly (string Path, bool Fragment)[] Pages =
    [
        ("/", false), ("/bench?game=partners&level=spot&s1=2", false), ("/bench?game=partners&level=spot&layout=3x4&s1=2&s2=3", true), ("/table", false), ("/growth/2", false), ("/logbook", false), ("/house", false), ("/guide", false),
    ];

    public static int Run(bool json, string? app)
    {
        if (app is null || !File.Exists(app))
        {
            Console.Error.WriteLine("Run it as ./allowance bench web, which publishes the application first.");
            return 2;
        }
        string data = Directory.CreateTempSubdirectory("allowance-bench-").FullName;
        using var server = Process.Start(new ProcessStartInfo("dotnet", [app, "demo", "--port", Port.ToString(), "--data", data]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        try
        {
            while (server.StandardOutput.ReadLine() is { } line && !line.Contains("Allowance is at", StringComparison.Ordinal)) { }
            return Measure(json).GetAwaiter().GetResult();
        }
        finally
        {
            server.Kill();
            server.WaitForExit();
            Directory.Delete(data, true);
        }
    }

    private static async Task<int> Measure(bool json)
    {
        using var client = new HttpClient { BaseAddress = new Uri($"http://localhost:{Port}") };
        var rows = new JsonArray();
        var plain = await Load(client, "/plaintext", false, 1);
        if (!json) Console.WriteLine($"plain text: {plain.PerSecond:0} a second, p50 {plain.P50:0.00} ms\n\npath                                                     clients  p50 ms  p95 ms  a second  of plain text");
        foreach (var (path, fragment) in Pages)
            foreach (int clients in new[] { 1, 8 })
            {
                var (p50, p95, perSecond) = await Load(client, path, fragment, clients);
                if (json)
                    rows.Add(new JsonObject { ["path"] = path, ["clients"] = clients, ["p50ms"] = p50, ["p95ms"] = p95, ["perSecond"] = perSecond, ["ratioToPlaintext"] = perSecond / plain.PerSecond });
                else Console.WriteLine($"{path,-56} {clients,7} {p50,7:0.0} {p95,7:0.0} {perSecond,9:0} {perSecond / plain.PerSecond,14:0.0000}");
            }
        if (json) Console.WriteLine(new JsonObject { ["plaintextPerSecond"] = plain.PerSecond, ["pages"] = rows }.ToJsonString(new JsonSerializerOptions()));
        return 0;
    }

    private static async Task<(double P50, double P95, double PerSecond)> Load(HttpClient client, string path, bool fragment, int clients)
    {
        for (int i = 0; i < Warmup; i++) await Get();
        var clock = Stopwatch.StartNew();
        var times = await Task.WhenAll(Enumerable.Range(0, clients).Select(async _ =>
        {
            var mine = new List<double>();
            while (clock.Elapsed.TotalSeconds < Seconds) mine.Add(await Get());
            return mine;
        }));
        double seconds = clock.Elapsed.TotalSeconds;
        var all = times.SelectMany(t => t).Order().ToArray();
        return (all[all.Length / 2], all[(int)(all.Length * .95)], all.Length / seconds);

        async Task<double> Get()
        {
            var began = Stopwatch.GetTimestamp();
            using var request = new HttpRequestMessage(HttpMethod.Get, path);
            if (fragment) request.Headers.Add("HX-Request", "true");
            using var response = await client.SendAsync(request);
            response.EnsureSuccessStatusCode();
            await response.Content.ReadAsByteArrayAsync();
            return Stopwatch.GetElapsedTime(began).TotalMilliseconds;
        }
    }
}
