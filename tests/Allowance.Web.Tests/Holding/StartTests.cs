using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Allowance.Web.Commands;

namespace Allowance.Web.Tests.Holding;

/// <summary>How the published program begins, and refuses to.</summary>
public sealed class StartTests : IDisposable
{
    private readonly string directory = Directory.CreateTempSubdirectory("allowance-start-").FullName;

    public void Dispose() => Directory.Delete(directory, true);

    private static async Task<(int Status, string Output, string Errors)> Run(params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("dotnet", [typeof(Serving).Assembly.Location, .. arguments]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var errors = process.StandardError.ReadToEndAsync();
        string output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, output, await errors);
    }

    [Theory]
    [InlineData("serv")]
    [InlineData("nonsense")]
    [InlineData("--nonsense")]
    public async Task An_unknown_command_serves_nobody(string command)
    {
        var (status, output, errors) = await Run(command);
        Assert.NotEqual(0, status);
        Assert.DoesNotContain("Allowance is at", output, StringComparison.Ordinal);
        Assert.Contains(command, errors, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_port_that_is_taken_is_told_before_anything_is_touched()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        string house = Path.Combine(directory, "house");
        var (status, _, errors) = await Run("demo", "--port", $"{((IPEndPoint)listener.LocalEndpoint).Port}", "--data", house);
        Assert.Equal(2, status);
        Assert.Contains("is in use", errors, StringComparison.Ordinal);
        Assert.False(Directory.Exists(house));
    }

    [Fact]
    public async Task A_directory_that_is_in_use_is_told_and_a_rubbish_key_is_set_aside()
    {
        string keys = Path.Combine(directory, "keys");
        Directory.CreateDirectory(keys);
        await File.WriteAllTextAsync(Path.Combine(keys, "key-rubbish.xml"), "this is no key");
        using var server = await Server.Start("serve", directory);
        Assert.Equal(HttpStatusCode.OK, (await server.Client.GetAsync(new Uri("/house", UriKind.Relative))).StatusCode);
        Assert.True(File.Exists(Path.Combine(keys, "key-rubbish.xml.unreadable")));
        foreach (string file in Directory.EnumerateFiles(directory, "*", SearchOption.AllDirectories)) Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(file));
        var (status, _, errors) = await Run("demo", "--port", "1023", "--data", directory);
        Assert.Equal(2, status);
        Assert.Contains("Another Allowance is using", errors, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await server.Client.GetAsync(new Uri("/house", UriKind.Relative))).StatusCode);
    }

    [Fact]
    public async Task An_age_that_is_no_number_is_refused_without_a_trace()
    {
        string file = Path.Combine(directory, "notes.csv");
        await File.WriteAllTextAsync(file, "player,at,ask,outcome\nOtis,2026-03-01,part 10 6 numeral,5\n");
        var (status, output, errors) = await Run("learn", file, "--age", "NaN");
        Assert.Equal(2, status);
        Assert.Contains("An age lies between", output, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", output + errors, StringComparison.Ordinal);
    }

    /// <summary>A recursion ended the process; as a file on the command line, too.</summary>
    [Fact]
    public async Task A_large_setup_is_forecast_on_the_command_line()
    {
        string file = Path.Combine(directory, "setup.json");
        string deck = string.Join(',', Enumerable.Range(0, 61).Select(n => $"\"{n}\":7"));
        await File.WriteAllTextAsync(file, """{"format":"allowance-setup/1","game":"topper","level":"sum","table":{"cardsEach":4,"deck":{"counts":{""" + deck + """}}},"players":[{},{},{}],"forecast":{"samples":1000}}""");
        var (status, output, _) = await Run("forecast", file);
        Assert.Equal(0, status);
        Assert.Contains("tieChance", output, StringComparison.Ordinal);
    }
}
