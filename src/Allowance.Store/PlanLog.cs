using Allowance.Core.Plans;
using Dapper;

namespace Allowance.Store;

/// <summary>What the grown-ups said about their weeks, in order. What was added is durable when the call returns.</summary>
public sealed class PlanLog(Database database)
{
    private readonly Kept<PlanBook> kept = new(database, () =>
    {
        using var connection = database.Connect();
        return new(connection.Query<string>("select body from plan_event order by id").Select(PlanEvent.FromJson));
    });

    public PlanBook Book => kept.Value;

    /// <summary>Adds what was said, in one transaction; once for each post.</summary>
    public void Add(DateTimeOffset at, IReadOnlyList<PlanEvent> events, string? post = null) => kept.After(() => database.WriteOnce(post, (connection, transaction) =>
    {
        foreach (var e in events) connection.Execute("insert into plan_event (at, body) values (@at, @body)", new { at, body = e.ToJson() }, transaction);
        return events.Count;
    }));
}
