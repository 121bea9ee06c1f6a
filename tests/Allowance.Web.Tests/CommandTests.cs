using System.Text.Json.Nodes;
using Allowance.Core.Games;
using Allowance.Core.Rules;
using Allowance.Store;
using Allowance.Web.Commands;
using NetArchTest.Rules;

namespace Allowance.Web.Tests;

/// <summary>The command line, the store's own refusals, and who may know whom.</summary>
public sealed class CommandTests : IDisposable
{
    private readonly string directory = Directory.CreateTempSubdirectory("allowance-test-").FullName;

    public void Dispose() => Directory.Delete(directory, true);

    private (int Status, string Output) Forecast(string content, bool many = false)
    {
        string file = Path.Combine(directory, "setup.json");
        File.WriteAllText(file, content);
        using var output = new StringWriter();
        int status = ForecastCommand.Run(many ? null : file, many ? file : null, output);
        return (status, output.ToString());
    }

    private const string Good = """{"format":"allowance-setup/1","game":"partners","players":[{"name":"Otis","age":5.3}],"forecast":{"samples":300}}""";

    [Fact]
    public void A_setup_file_gives_one_forecast()
    {
        var (status, output) = Forecast(Good);
        Assert.Equal(0, status);
        var json = JsonNode.Parse(output)!;
        Assert.Equal("Otis", json["players"]![0]!["name"]!.GetValue<string>());
        Assert.Equal(300, json["samples"]!.GetValue<int>());
        Assert.Equal("mixed", json["method"]!.GetValue<string>());
    }

    private (int Status, JsonNode Json) Advise(string csv, int minutes = 10, string[]? with = null, string? drawer = null, bool week = false)
    {
        string file = Path.Combine(directory, "seen.csv");
        File.WriteAllText(file, csv);
        if (drawer is not null) File.WriteAllText(Path.Combine(directory, "drawer.json"), drawer);
        using var output = new StringWriter();
        int status = AdviseCommand.Run(file, new(null, minutes, with ?? [], drawer is null ? null : Path.Combine(directory, "drawer.json"), week), output);
        return (status, JsonNode.Parse(output.ToString())!);
    }

    private const string TwoChildren = """
        player,at,ask,outcome,right,seconds,source
        Otis,2026-03-01,say 5 dice,5,,,typed
        Otis,2026-03-02,part 5 3 numeral,3,,,typed
        Juno,2026-03-02,say 2 objects,2,,,typed
        Juno,2026-03-02,nonsense,2,,,typed

        """;

    [Fact]
    public void A_week_is_planned_for_the_days_after_the_file()
    {
        var (_, json) = Advise(TwoChildren, week: true);
        var week = json["week"]!.AsArray();
        // The file ends on a Monday.
        Assert.Equal(["2026-03-03", "2026-03-04", "2026-03-05", "2026-03-06", "2026-03-09"], week.Select(d => (string?)d!["day"]));
        foreach (var day in week)
        {
            Assert.Equal(["Juno", "Otis"], day!["games"]!.AsArray().SelectMany(g => g!["children"]!.AsArray()).Select(c => (string?)c!["player"]).Order());
            foreach (var game in day["games"]!.AsArray())
            {
                Assert.NotNull(Catalogue.Read(game!["setup"]!.ToJsonString()).Playable);
                Assert.True((double)game["minutes"]!["p10"]! <= (double)game["minutes"]!["p90"]!);
                Assert.All(game["children"]!.AsArray(), c => Assert.EndsWith(".", (string)c!["new"]!, StringComparison.Ordinal));
            }
        }
        Assert.Null(Advise(TwoChildren).Json["week"]);
    }

    [Fact]
    public void Advice_is_printed_from_a_file_of_observations()
    {
        var (status, json) = Advise(TwoChildren);
        Assert.Equal(1, status);
        Assert.Equal("2026-03-02", json["day"]!.GetValue<string>());
        Assert.Equal(["Juno", "Otis"], json["children"]!.AsArray().Select(c => c!["player"]!.GetValue<string>()));
        foreach (var proposal in json["children"]!.AsArray().SelectMany(c => c!["proposals"]!.AsArray()))
        {
            // What it says of being right is what its asks say, and its setup can be played.
            var asks = proposal!["asks"]!.AsArray().Select(a => (Often: a!["perGame"]!.GetValue<double>(), Right: a["right"]!.GetValue<double>())).ToList();
            Assert.Equal(asks.Sum(a => a.Often * a.Right) / asks.Sum(a => a.Often), proposal["success"]!.GetValue<double>(), 2);
            Assert.NotNull(Catalogue.Read(proposal["setup"]!.ToJsonString()).Playable);
            Assert.True(proposal["minutes"]!["p10"]!.GetValue<double>() <= proposal["minutes"]!["p90"]!.GetValue<double>());
            Assert.EndsWith(".", proposal["why"]!.GetValue<string>(), StringComparison.Ordinal);
        }
        Assert.Equal(2, json["together"]!["children"]!.AsArray().Count);
        Assert.Equal(5, json["errors"]![0]!["line"]!.GetValue<int>());
    }

    [Fact]
    public void Advice_keeps_to_the_drawer_and_refuses_what_it_cannot_read()
    {
        var (_, json) = Advise(TwoChildren, drawer: """{"format":"allowance-drawer/1","things":[{"use":"pieces","count":20,"name":"buttons"}]}""");
        var drawer = Allowance.Web.Files.DrawerFile.Read("""{"format":"allowance-drawer/1","things":[{"use":"pieces","count":20,"name":"buttons"}]}""").Drawer!;
        foreach (var proposal in json["children"]!.AsArray().SelectMany(c => c!["proposals"]!.AsArray()))
        {
            var setup = Catalogue.Read(proposal!["setup"]!.ToJsonString()).Setup!;
            Assert.DoesNotContain(drawer.Fetch(Catalogue.Of(setup).Needs(setup)), f => f.Standing == Core.Materials.Standing.Missing);
        }
        foreach (var (says, asked) in new[]
        {
            ("Nobody in this file is called Mags", Advise(TwoChildren, with: ["Mags"])), ("3 to 120 minutes", Advise(TwoChildren, 1)), ("no observation", Advise("player,at,ask,outcome,right,seconds,source\n")),
            ("begins with", Advise(TwoChildren, drawer: "[]")), ("not JSON", Advise(TwoChildren, drawer: "{")), ("things[0]: \"use\" is one of", Advise(TwoChildren, drawer: """{"format":"allowance-drawer/1","things":[{"use":"toys","count":1}]}""")),
            ("\"sides\" is one of", Advise(TwoChildren, drawer: """{"format":"allowance-drawer/1","things":[{"use":"dice","count":1,"sides":7}]}""")), ("\"count\" is a whole number", Advise(TwoChildren, drawer: """{"format":"allowance-drawer/1","things":[{"use":"dice","count":0}]}""")),
        })
        {
            Assert.Equal(2, asked.Status);
            Assert.Contains(says, asked.Json["errors"]![0]!["message"]!.GetValue<string>(), StringComparison.Ordinal);
        }
    }

    [Fact]
    public void What_cannot_be_read_is_one_line_of_errors()
    {
        var (status, output) = Forecast("{\"format\":1}");
        Assert.Equal(2, status);
        Assert.Single(output.TrimEnd().Split('\n'));
        Assert.NotEmpty(JsonNode.Parse(output)!["errors"]!.AsArray());
        using var missing = new StringWriter();
        Assert.Equal(2, ForecastCommand.Run(Path.Combine(directory, "none.json"), null, missing));
        Assert.Equal("", JsonNode.Parse(missing.ToString())!["errors"]![0]!["path"]!.GetValue<string>());
    }

    [Fact]
    public void Many_setups_go_line_by_line_and_go_on_after_a_bad_one()
    {
        var (status, output) = Forecast(Good + "\n\nnonsense\n" + Good + "\n", many: true);
        Assert.Equal(1, status);
        var lines = output.TrimEnd().Split('\n').Select(l => JsonNode.Parse(l)!).ToList();
        Assert.Equal(3, lines.Count);
        Assert.NotNull(lines[1]["errors"]);
        Assert.Equal("allowance-forecast/1", lines[2]["format"]!.GetValue<string>());
    }

    [Fact]
    public void A_closed_data_directory_is_said_plainly()
    {
        string file = Path.Combine(directory, "a-file");
        File.WriteAllText(file, "");
        var closed = Assert.Throws<StoreClosedException>(() => Database.Open(Path.Combine(file, "data")));
        Assert.Contains("Choose a directory you may write to with --data", closed.Message, StringComparison.Ordinal);
        File.WriteAllText(Path.Combine(directory, "allowance.db"), "this is no database, and it is long enough to be looked at as one, surely");
        Assert.Throws<StoreClosedException>(() => Database.Open(directory));
    }

    [Fact]
    public void The_core_knows_nothing_of_store_or_web()
    {
        var core = Types.InAssembly(typeof(Catalogue).Assembly);
        Assert.True(core.ShouldNot().HaveDependencyOnAny("Allowance.Store", "Allowance.Web", "Dapper", "Microsoft.AspNetCore", "System.IO.File", "Microsoft.Data.Sqlite").GetResult().IsSuccessful);
        Assert.True(Types.InAssembly(typeof(Database).Assembly).ShouldNot().HaveDependencyOn("Allowance.Web").GetResult().IsSuccessful);
    }

    [Fact]
    public void The_published_pages_name_every_game_level_and_knob()
    {
        Assert.Equal(0, DocsCommand.Run(directory));
        string tables = File.ReadAllText(Path.Combine(directory, "tables.md")), schema = File.ReadAllText(Path.Combine(directory, "formats", "setup.schema.json"));
        foreach (var frame in Catalogue.Data)
        {
            string section = tables[tables.IndexOf($"(`{frame.Id}`)", StringComparison.Ordinal)..];
            Assert.All(frame.Levels.Select(l => l.Id).Concat(frame.Knobs.Select(k => k.Id)), id => Assert.Contains($"| `{id}` |", section, StringComparison.Ordinal));
            Assert.Contains($"\"{frame.Id}\"", schema, StringComparison.Ordinal);
        }
    }

    /// <summary>The folders of the core, each resting on those before it only.</summary>
    [Fact]
    public void No_two_folders_of_the_core_use_each_other()
    {
        string[] folders = [.. new[] { "Numbers", "Forms", "Asks", "Stories", "Materials", "Setups", "Tables", "Rules", "Forecasts", "Games", "Sittings", "Learner", "Tuning", "Plans", "Sheets" }.Select(f => $"Allowance.Core.{f}")];
        var core = Types.InAssembly(typeof(Catalogue).Assembly);
        Assert.All(core.GetTypes().Select(t => t.Namespace).Where(n => n?.StartsWith("Allowance.Core", StringComparison.Ordinal) == true).Distinct(), n => Assert.Contains(n, folders));
        for (int i = 0; i < folders.Length - 1; i++)
        {
            var result = core.That().ResideInNamespace(folders[i]).ShouldNot().HaveDependencyOnAny(folders[(i + 1)..]).GetResult();
            Assert.True(result.IsSuccessful, $"{folders[i]} uses what comes after it: {string.Join(", ", result.FailingTypeNames ?? [])}");
        }
    }
}
