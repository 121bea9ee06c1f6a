using Allowance.Store;

namespace Allowance.Web.Demonstration;

/// <summary>Makes the demonstration in an empty household beside its pages, says how far it is, and stops when asked.</summary>
public sealed partial class DemoMaking(Database database, TimeProvider clock, ILogger<DemoMaking> logger)
{
    private readonly Lock beginning = new();
    private Task making = Task.CompletedTask;
    private volatile bool isStopped;
    private volatile int week = None;

    private const int None = -1;

    /// <summary>How many weeks of how many are played; null where nothing is being made.</summary>
    public (int Week, int Of)? Reached => week is var now and not None ? (now, FenwickHalt.Weeks) : null;

    /// <summary>The last one could not be made; nothing was changed by it.</summary>
    public bool HasFailed { get; private set; }

    /// <summary>Begins, unless it is at it already.</summary>
    /// <returns>Ends when it is made, or stopped.</returns>
    public Task Begin()
    {
        lock (beginning)
        {
            if (Reached is not null) return making;
            (week, isStopped, HasFailed) = (0, false, false);
            return making = Task.Run(Make);
        }
    }

    public void Stop() => isStopped = true;

    private void Make()
    {
        try
        {
            DemoHousehold.Fill(database, clock, (reached, _) =>
            {
                week = reached;
                if (isStopped) throw new OperationCanceledException();
            });
        }
        catch (OperationCanceledException)
        {
            // What was made so far lay aside, and is gone.
        }
        catch (Exception e) when (e is IOException or StoreClosedException or Microsoft.Data.Sqlite.SqliteException or UnauthorizedAccessException)
        {
            HasFailed = true;
            LogFailed(e);
        }
        finally
        {
            week = None;
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The demonstration could not be made.")]
    private partial void LogFailed(Exception e);
}
