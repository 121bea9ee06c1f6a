using System.Net;
using System.Text.RegularExpressions;
using Allowance.Store;
using Allowance.Web.Commands;
using Allowance.Web.Demonstration;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace Allowance.Web.Tests;

/// <summary>The application over a real file in a directory of its own, spoken to by HTTP as a browser would.</summary>
public sealed partial class TestHouse : IAsyncDisposable
{
    private readonly TimeProvider? clock;
    private WebApplication app;
    private readonly CookieContainer cookies = new();

    /// <param name="before">Puts something into the directory first.</param>
    /// <param name="clock">Another than that of the machine.</param>
    public TestHouse(bool demo = false, Action<string>? before = null, TimeProvider? clock = null)
    {
        this.clock = clock;
        Directory = Path.Combine(Path.GetTempPath(), "allowance-test-" + Guid.NewGuid().ToString("N"));
        before?.Invoke(Directory);
        Database = Database.Open(Directory);
        if (demo) Database.TakeOver(Demonstration.Value);
        app = Start();
    }

    /// <summary>The demonstration, made once for all tests.</summary>
    private static readonly Lazy<string> Demonstration = new(() =>
    {
        string directory = Path.Combine(Path.GetTempPath(), "allowance-test-demo-" + Guid.NewGuid().ToString("N"));
        AppDomain.CurrentDomain.ProcessExit += (_, _) => System.IO.Directory.Delete(directory, true);
        var made = Database.Open(directory, isDurable: false);
        DemoHousehold.Fill(made, TimeProvider.System);
        return made.File;
    });

    public string Directory { get; }

    public Database Database { get; private set; }

    public HttpClient Client { get; private set; } = null!;

    public CookieContainer Cookies => cookies;

    public T Get<T>() where T : notnull => app.Services.GetRequiredService<T>();

    private WebApplication Start()
    {
        var started = Serving.Build(Database, 0, clock);
        started.StartAsync().GetAwaiter().GetResult();
        Client = new HttpClient(new HttpClientHandler { CookieContainer = cookies, AllowAutoRedirect = true }) { BaseAddress = new Uri(started.Urls.First()) };
        return started;
    }

    /// <summary>Ends the application without a word and starts it anew over the same file, as after a power cut.</summary>
    public async Task Restart()
    {
        await app.DisposeAsync();
        Database = Database.Open(Directory);
        app = Start();
    }

    public async Task<string> Page(string path)
    {
        var response = await Client.GetAsync(new Uri(path, UriKind.Relative));
        string body = await response.Content.ReadAsStringAsync();
        Assert.True(response.IsSuccessStatusCode, $"{path}: {response.StatusCode} {body}");
        return body;
    }

    public async Task<string> Fragment(string path)
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, path);
        request.Headers.Add("HX-Request", "true");
        return await (await Client.SendAsync(request)).Content.ReadAsStringAsync();
    }

    /// <summary>Posts a form with the token of some page.</summary>
    public async Task<(HttpStatusCode Status, string Body, Uri At)> Post(string path, params (string Key, string Value)[] fields)
    {
        string token = TokenOf(await Page("/house"));
        using var form = new FormUrlEncodedContent([.. fields.Select(f => KeyValuePair.Create(f.Key, f.Value)), KeyValuePair.Create("__RequestVerificationToken", token)]);
        var response = await Client.PostAsync(new Uri(path, UriKind.Relative), form);
        return (response.StatusCode, await response.Content.ReadAsStringAsync(), response.RequestMessage!.RequestUri!);
    }

    /// <summary>The proof that a form is ours, as a page holds it.</summary>
    public static string TokenOf(string page) => Token().Match(page).Groups[1].Value;

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();

    public async Task<string> PostFile(string path, string content)
    {
        string token = TokenOf(await Page("/house"));
        using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" }, { new StringContent(content), "file", "setup.json" } };
        var response = await Client.PostAsync(new Uri(path, UriKind.Relative), form);
        return await response.Content.ReadAsStringAsync();
    }

    public async ValueTask DisposeAsync()
    {
        await app.DisposeAsync();
        Client.Dispose();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        System.IO.Directory.Delete(Directory, true);
    }
}
