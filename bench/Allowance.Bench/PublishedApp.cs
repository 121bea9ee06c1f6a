using System.Diagnostics;

namespace Allowance.Bench;

/// <summary>The published application, started as a process of its own, and the times it takes to answer.</summary>
internal sealed class PublishedApp : IDisposable
{
    private const int Port = 5396, Warmup = 30, Seconds = 3;

    private readonly Process server;
    private readonly HttpClient client = new() { BaseAddress = new Uri($"http://localhost:{Port}"), Timeout = TimeSpan.FromMinutes(5) };

    /// <param name="command">demo or serve.</param>
    public PublishedApp(string app, string command, string data)
    {
        var clock = Stopwatch.StartNew();
        server = Process.Start(new ProcessStartInfo("dotnet", [app, command, "--port", Port.ToString(), "--data", data]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        while (server.StandardOutput.ReadLine() is { } line && !line.Contains("Allowance is at", StringComparison.Ordinal)) { }
        StartSeconds = clock.Elapsed.TotalSeconds;
    }

    /// <summary>From the start of the process until it answers.</summary>
    public double StartSeconds { get; }

    /// <summary>The milliseconds one request takes.</summary>
    public async Task<double> Get(string path, bool fragment = false)
    {
        var began = Stopwatch.GetTimestamp();
        using var request = new HttpRequestMessage(HttpMethod.Get, path);
        if (fragment) request.Headers.Add("HX-Request", "true");
        using var response = await client.SendAsync(request);
        response.EnsureSuccessStatusCode();
        await response.Content.ReadAsByteArrayAsync();
        return Stopwatch.GetElapsedTime(began).TotalMilliseconds;
    }

    /// <summary>Milliseconds in the middle and at the slow end, and requests a second, once warm.</summary>
    public async Task<(double P50, double P95, double PerSecond)> Load(string path, bool fragment, int clients)
    {
        for (int i = 0; i < Warmup; i++) await Get(path, fragment);
        var clock = Stopwatch.StartNew();
        var times = await Task.WhenAll(Enumerable.Range(0, clients).Select(async _ =>
        {
            var mine = new List<double>();
            while (clock.Elapsed.TotalSeconds < Seconds) mine.Add(await Get(path, fragment));
            return mine;
        }));
        double seconds = clock.Elapsed.TotalSeconds;
        var all = times.SelectMany(t => t).Order().ToArray();
        return (all[all.Length / 2], all[(int)(all.Length * .95)], all.Length / seconds);
    }

    /// <summary>Runs work over a directory of its own, which is gone afterwards.</summary>
    public static async Task<int> InTemporaryDirectory(string? app, Func<string, string, Task<int>> work)
    {
        if (app is null || !File.Exists(app))
        {
            Console.Error.WriteLine("Run it by ./allowance bench, which publishes the application first.");
            return 2;
        }
        string data = Directory.CreateTempSubdirectory("allowance-bench-").FullName;
        try
        {
            return await work(app, data);
        }
        finally
        {
            Directory.Delete(data, true);
        }
    }

    public void Dispose()
    {
        server.Kill();
        server.WaitForExit();
        server.Dispose();
        client.Dispose();
    }
}
