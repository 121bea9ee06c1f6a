using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.RegularExpressions;
using Allowance.Web.Commands;

namespace Allowance.Web.Tests.Holding;

/// <summary>How much of the harness is run: a little each time, all of it by <c>./allowance hold</c>.</summary>
internal static class Scale
{
    public static bool IsFull { get; } = Environment.GetEnvironmentVariable("ALLOWANCE_HOLD") == "full";

    public static int Of(int little, int full) => IsFull ? full : little;
}

/// <summary>The application as a process of its own, over a directory that outlives it.</summary>
internal sealed partial class Server : IDisposable
{
    private readonly Process process;
    private readonly CookieContainer cookies = new();

    private Server(Process process, int port)
    {
        (this.process, Port) = (process, port);
        Client = new HttpClient(new HttpClientHandler { CookieContainer = cookies }) { BaseAddress = new Uri($"http://localhost:{port}"), Timeout = TimeSpan.FromMinutes(2) };
    }

    public int Port { get; }

    public HttpClient Client { get; }

    public bool HasEnded => process.HasExited;

    /// <summary>The most memory it has held, in megabytes.</summary>
    public double PeakMegabytes => double.Parse(Peak().Match(File.ReadAllText($"/proc/{process.Id}/status")).Groups[1].Value) / 1024;

    [GeneratedRegex(@"VmHWM:\s+(\d+) kB")]
    private static partial Regex Peak();

    /// <summary>Starts it, and does not wait.</summary>
    /// <param name="command">serve or demo.</param>
    /// <param name="largestFile">The largest file it may write, in kilobytes: a full disk.</param>
    public static Server Launch(string command, string directory, int? largestFile = null)
    {
        int port = FreePort();
        string application = typeof(Serving).Assembly.Location;
        string limit = largestFile is { } most ? $"trap '' XFSZ; ulimit -f {most}; export DOTNET_EnableWriteXorExecute=0; " : "";
        var start = new ProcessStartInfo("bash", ["-c", $"{limit}exec dotnet \"$0\" \"$@\"", application, command, "--port", $"{port}", "--data", directory])
        {
            RedirectStandardOutput = true, RedirectStandardError = true,
        };
        return new(Process.Start(start)!, port);
    }

    /// <summary>Starts it, and waits until it answers.</summary>
    public static async Task<Server> Start(string command, string directory, int? largestFile = null)
    {
        var server = Launch(command, directory, largestFile);
        string errors = "";
        server.process.ErrorDataReceived += (_, line) => errors += line.Data + "\n";
        server.process.BeginErrorReadLine();
        while (await server.process.StandardOutput.ReadLineAsync() is { } line)
            if (line.Contains("Allowance is at", StringComparison.Ordinal)) return server;
        throw new InvalidOperationException($"It did not start: {errors}");
    }

    private static int lastPort = 20_000 + Environment.ProcessId % 10_000;

    /// <summary>
    /// A port nobody listens on. It lies below those the system gives to clients, so that none of the many
    /// connections of the other tests can take it before the application does.
    /// </summary>
    private static int FreePort()
    {
        while (true)
        {
            int port = Interlocked.Increment(ref lastPort);
            try
            {
                using var listener = new TcpListener(IPAddress.Loopback, port);
                listener.Start();
                return port;
            }
            catch (SocketException) { }
        }
    }

    /// <summary>Pulls the plug.</summary>
    public void Kill()
    {
        if (!process.HasExited) process.Kill();
        process.WaitForExit();
    }

    public async Task<string> Token() => TestHouse.TokenOf(await Client.GetStringAsync(new Uri("/house", UriKind.Relative)));

    public Task<HttpResponseMessage> Post(string token, string path, params (string Key, string Value)[] fields) => Client.PostAsync(new Uri(path, UriKind.Relative),
        new FormUrlEncodedContent([.. fields.Select(f => KeyValuePair.Create(f.Key, f.Value)), KeyValuePair.Create("__RequestVerificationToken", token)]));

    public void Dispose()
    {
        Kill();
        process.Dispose();
        Client.Dispose();
    }
}
