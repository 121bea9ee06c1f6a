using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;

namespace Allowance.Web.Tests.Holding;

/// <summary>Malformed requests over every route and every handler: none is an error, none comes back unencoded.</summary>
public sealed class MalformedTests : IAsyncDisposable
{
    private readonly TestHouse house = new(demo: true);

    private readonly Random random = new(11);

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private const string Mark = "<script>mark</script>";

    private static readonly string[] Rubbish =
    [
        "", " ", "0", "-1", "1", "2", "9", "99", "2147483648", "-2147483649", "1e400", "NaN", "Infinity", "true", "null", "é漢字🎲", Mark, "'\"><b>", "%00", "a\u0001b", "\r\nX: y", "../../etc/passwd", new string('x', 5_000),
        "0001-01-01", "9999-12-31", "2026-02-30", "2026-11-28", "d6", "0-5", "d6+d6", "1.2.3", "h:0.7,1.7", "1x4:A,2", "partners", "lift", "spot", "part 10 6 numeral", "say 5 dice", "part -1 99999999 numeral", "screen", "notes", "yes", "s1", "a=1;a=2", "[1]", "{\"a\":1}", "\ud83c\udfb2",
    ];

    private string Any() => Rubbish[random.Next(Rubbish.Length)];

    private sealed record Door(string Route, string Method, string Handler, IReadOnlyList<string> Fields);

    /// <summary>Every handler of every page, with the names of what it takes.</summary>
    private IReadOnlyList<Door> Doors()
    {
        var loader = house.Get<PageLoader>();
        var doors = new List<Door>();
        foreach (var page in house.Get<IActionDescriptorCollectionProvider>().ActionDescriptors.Items.OfType<PageActionDescriptor>())
        {
            var compiled = loader.LoadAsync(page, Microsoft.AspNetCore.Http.EndpointMetadataCollection.Empty).GetAwaiter().GetResult();
            string route = "/" + (page.AttributeRouteInfo?.Template ?? "");
            var bound = compiled.BoundProperties.Select(b => b.Name).ToList();
            foreach (var handler in compiled.HandlerMethods)
                doors.Add(new(route, handler.HttpMethod, handler.Name ?? "", [.. handler.Parameters.Select(p => p.Name), .. bound]));
            if (compiled.HandlerMethods.Count == 0) doors.Add(new(route, "GET", "", bound));
        }
        return doors;
    }

    private static readonly string[] SetupKeys = ["game", "level", "s1", "s1.level", "s2", "deck", "values", "dice", "layout", "target", "bench.open", "bench.was", "bench.group", "layout.rows", "layout.columns", "deck.home", "deck.rank.A", "deck.packs", "bench.name", "bench.way", "link", "back", "sel", "asked", "post", "faces", "missing", "Lines[0].Kind", "Lines[0].Numbers", "Lines[9999999].Kind"];

    private List<KeyValuePair<string, string>> Fields(Door door)
    {
        var fields = door.Fields.Where(_ => random.Next(5) > 0).Select(f => KeyValuePair.Create(f, Any())).ToList();
        for (int n = random.Next(5); n > 0; n--) fields.Add(KeyValuePair.Create(SetupKeys[random.Next(SetupKeys.Length)], Any()));
        if (random.Next(6) == 0) fields.Add(KeyValuePair.Create(Any(), Any()));
        return fields;
    }

    private static string Query(IEnumerable<KeyValuePair<string, string>> fields) => string.Join('&', fields.Select(f => $"{Escape(f.Key)}={Escape(f.Value)}"));

    private static string Escape(string text) => Regex.Replace(text, "[^A-Za-z0-9]", m => string.Concat(Encoding.UTF8.GetBytes(m.Value).Select(b => $"%{b:X2}")));

    [Fact]
    public async Task No_malformed_request_is_an_error()
    {
        long table = house.Get<SittingLog>().Latest(1)[0].Id;
        await house.Post("/?handler=Play", ("link", "game=partners&level=spot&s1=1"), ("way", "screen"));
        await house.Post("/?handler=Play", ("link", "game=partners&level=spot&s1=1"), ("way", "notes"));
        await house.Post("/?handler=Play", ("link", "game=lift&s1=1"), ("way", "refereed"));
        string token = TestHouse.TokenOf(await house.Page("/house"));
        var doors = Doors();
        Assert.True(doors.Count > 40);
        var wrong = new List<string>();
        for (int n = 0; n < Scale.Of(25, 600); n++)
            foreach (var door in doors)
            {
                // Nobody is removed: then nothing would be left to ask for.
                if (door.Handler.Equals("remove", StringComparison.OrdinalIgnoreCase) && door.Route.StartsWith("/house", StringComparison.OrdinalIgnoreCase)) continue;
                string route = Regex.Replace(door.Route, @"\{[^}]*\}", _ => random.Next(3) > 0 ? $"{(door.Route.StartsWith("/table", StringComparison.OrdinalIgnoreCase) ? table + random.Next(4) : 1 + random.Next(6))}" : Escape(Any()));
                bool posts = door.Method != "GET";
                string path = route + "?" + Query([KeyValuePair.Create("handler", random.Next(20) == 0 ? Any() : door.Handler), .. posts ? [] : Fields(door)]);
                using var request = new HttpRequestMessage(new HttpMethod(door.Method), new Uri(path, UriKind.Relative));
                if (random.Next(3) == 0) request.Headers.Add("HX-Request", "true");
                if (random.Next(8) == 0) request.Headers.TryAddWithoutValidation("Referer", Regex.Replace(Any(), "[^ -~]", "?"));
                if (posts) request.Content = new StringContent(Query([.. Fields(door), KeyValuePair.Create("__RequestVerificationToken", token)]), Encoding.ASCII, random.Next(30) == 0 ? "text/plain" : "application/x-www-form-urlencoded");
                using var response = await house.Client.SendAsync(request);
                string body = await response.Content.ReadAsStringAsync();
                if ((int)response.StatusCode >= 500) wrong.Add($"{(int)response.StatusCode} {door.Method} {path[..Math.Min(300, path.Length)]} {(posts ? await request.Content!.ReadAsStringAsync() : "")}");
                if (body.Contains(Mark, StringComparison.Ordinal) && response.Content.Headers.ContentType?.MediaType == "text/html") wrong.Add($"unencoded: {door.Method} {path}");
                if (body.Contains("   at ", StringComparison.Ordinal)) wrong.Add($"a trace: {path}");
            }
        Assert.True(wrong.Count == 0, string.Join("\n", wrong.Select(w => w[..Math.Min(700, w.Length)]).DistinctBy(w => w[..Math.Min(60, w.Length)]).Take(25)));
        Assert.Equal(HttpStatusCode.OK, (await house.Client.GetAsync(new Uri("/", UriKind.Relative))).StatusCode);
    }

    [Fact]
    public async Task Every_change_refuses_a_missing_a_wrong_and_a_foreign_token()
    {
        string foreign;
        await using (var other = new TestHouse(demo: true)) foreign = TestHouse.TokenOf(await other.Page("/house"));
        foreach (var door in Doors().Where(d => d.Method != "GET" && !d.Route.Contains("trouble", StringComparison.OrdinalIgnoreCase)))
            foreach (string token in (string[])["", "rubbish", foreign])
            {
                string route = Regex.Replace(door.Route, @"\{[^}]*\}", "1");
                using var form = new FormUrlEncodedContent(token.Length == 0 ? [] : [KeyValuePair.Create("__RequestVerificationToken", token)]);
                var response = await house.Client.PostAsync(new Uri($"{route}?handler={door.Handler}", UriKind.Relative), form);
                Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
            }
    }
}
