using System.Text.Json;
using System.Text.Json.Nodes;

namespace Allowance.Bench;

/// <summary>
/// How fast the published application answers, with the demonstration's data: every main page, one client and eight,
/// against a plain-text answer of the same process.
/// </summary>
internal static class WebBench
{
    private static readonly (string Path, bool Fragment)[] Pages =
    [
        ("/", false), ("/bench?game=partners&level=spot&s1=2", false), ("/bench?game=partners&level=spot&layout=3x4&s1=2&s2=3", true), ("/table", false),
        ("/growth/2", false), ("/first-look/2", false), ("/logbook", false), ("/house", false), ("/guide", false),
    ];

    public static Task<int> Run(bool json, string? app) => PublishedApp.InTemporaryDirectory(app, async (file, data) =>
    {
        using var server = new PublishedApp(file, "demo", data);
        var rows = new JsonArray();
        var plain = await server.Load("/plaintext", false, 1);
        if (!json) Console.WriteLine($"plain text: {plain.PerSecond:0} a second, p50 {plain.P50:0.00} ms\n\npath                                                     clients  p50 ms  p95 ms  a second  of plain text");
        foreach (var (path, fragment) in Pages)
            foreach (int clients in new[] { 1, 8 })
            {
                var (p50, p95, perSecond) = await server.Load(path, fragment, clients);
                if (json)
                    rows.Add(new JsonObject { ["path"] = path, ["clients"] = clients, ["p50ms"] = p50, ["p95ms"] = p95, ["perSecond"] = perSecond, ["ratioToPlaintext"] = perSecond / plain.PerSecond });
                else Console.WriteLine($"{path,-56} {clients,7} {p50,7:0.0} {p95,7:0.0} {perSecond,9:0} {perSecond / plain.PerSecond,14:0.0000}");
            }
        if (json) Console.WriteLine(new JsonObject { ["plaintextPerSecond"] = plain.PerSecond, ["pages"] = rows }.ToJsonString(new JsonSerializerOptions()));
        return 0;
    });
}
