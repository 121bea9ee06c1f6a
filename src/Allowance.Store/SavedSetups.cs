using System.Text.Json.Nodes;
using Dapper;

namespace Allowance.Store;

public sealed class SavedSetup
{
    public long Id { get; init; }
    public string Name { get; init; } = "";
    public string Json { get; init; } = "";
    public DateTimeOffset SavedAt { get; init; }
}

/// <summary>Setups kept by name.</summary>
public sealed class SavedSetups(Database database)
{
    public IReadOnlyList<SavedSetup> All()
    {
        using var connection = database.Connect();
        return [.. connection.Query<SavedSetup>("select id, name, json, saved_at from saved_setup order by name, id")];
    }

    public SavedSetup? Find(long id)
    {
        using var connection = database.Connect();
        return connection.QueryFirstOrDefault<SavedSetup>("select id, name, json, saved_at from saved_setup where id = @id", new { id });
    }

    /// <summary>Saves under a name; the same name again replaces what was there.</summary>
    public long Save(string name, string json, DateTimeOffset at) => database.Write((connection, transaction) =>
    {
        connection.Execute("delete from saved_setup where name = @name", new { name }, transaction);
        return connection.ExecuteScalar<long>("insert into saved_setup (name, json, saved_at) values (@name, @json, @at) returning id", new { name, json, at }, transaction);
    });

    /// <summary>A setup's file without somebody's name: her place stays.</summary>
    internal static string Without(string name, string json)
    {
        if (JsonNode.Parse(json) is not JsonObject setup) return json;
        foreach (var player in (setup["players"] as JsonArray ?? []).OfType<JsonObject>().Where(p => (string?)p["name"] == name)) player.Remove("name");
        return setup.ToJsonString();
    }

    public void Remove(long id) => database.Write((connection, transaction) =>
        connection.Execute("delete from saved_setup where id = @id", new { id }, transaction));
}
