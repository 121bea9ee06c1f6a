using System.Data;
using System.Reflection;
using Dapper;
using DbUp;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;
using static SQLitePCL.raw;

namespace Allowance.Store;

/// <summary>The data directory cannot be used; the message is plain and says what to do.</summary>
public sealed class StoreClosedException(string message, Exception? inner = null) : Exception(message, inner)
{
    internal static StoreClosedException NotUsable(string directory, Exception why) =>
        new($"The data directory {directory} cannot be used: {why.Message.TrimEnd('.')}. Nothing was changed. Choose a directory you may write to with --data DIR.", why);
}

/// <summary>The household's file is no longer where it was: what was to be written may be lost with it, and is not acknowledged.</summary>
public sealed class HouseholdGoneException(string file)
    : Exception($"The household's file {file} was moved, removed or replaced while Allowance was running. Put it back where it was, or stop Allowance and start it anew.");

/// <summary>
/// One SQLite file. Writes are in WAL mode with full synchronisation: when a transaction has been committed it survives
/// the loss of power.
/// </summary>
public sealed class Database
{
    /// <summary>How long another program may hold the file before that is told, in seconds; and how long one waits in line for it.</summary>
    private const int Patience = 2;

    private static readonly TimeSpan LongestLine = TimeSpan.FromSeconds(1.5);

    private const string Name = "allowance.db", CopiesPrefix = "allowance.before-";

    /// <summary>Ids of posts are kept so long: nobody repeats a post after a month.</summary>
    private static readonly TimeSpan PostsKept = TimeSpan.FromDays(31);

    private readonly string connectionString;
    private readonly bool isDurable;

    // Within this process whoever writes waits in line, so that a long row of writes lets others in between.
    private readonly Lock writing = new();

    private readonly FileIdentity? identity;

    static Database()
    {
        SqlMapper.RemoveTypeMap(typeof(DateTimeOffset));
        SqlMapper.RemoveTypeMap(typeof(DateTimeOffset?));
        SqlMapper.AddTypeHandler(new InstantHandler());
        SqlMapper.AddTypeHandler(new DayHandler());
        DefaultTypeMap.MatchNamesWithUnderscores = true;
    }

    private Database(string file, bool isDurable)
    {
        (File, this.isDurable) = (file, isDurable);
        connectionString = ConnectionString(file, SqliteOpenMode.ReadWrite);
        identity = FileIdentity.Of(file);
    }

    public string File { get; }

    public string Directory => Path.GetDirectoryName(File)!;

    private static string ConnectionString(string file, SqliteOpenMode mode) =>
        new SqliteConnectionStringBuilder { DataSource = file, Mode = mode, ForeignKeys = true, DefaultTimeout = Patience, Pooling = mode == SqliteOpenMode.ReadWrite }.ToString();

    /// <summary>Opens the household's file in a directory, makes it if there is none, and brings its tables up to date.</summary>
    /// <param name="isDurable">False for a file that is thrown away when it is done with.</param>
    /// <exception cref="StoreClosedException">The directory or file cannot be used, is damaged, or was made by a newer Allowance; it was not changed.</exception>
    public static Database Open(string directory, bool isDurable = true)
    {
        string file = Path.Combine(directory, Name);
        try
        {
            HouseholdDirectory.Prepare(directory);
            bool isNew = !System.IO.File.Exists(file) || new FileInfo(file).Length == 0;
            if (isNew && HouseholdDirectory.IsMarked(directory))
                throw new StoreClosedException($"A household lived in {directory}, but its file {Name} is {(System.IO.File.Exists(file) ? "empty" : "gone")}. Nothing was changed. Put a copy of the file back; to begin anew, remove the file household.mark, or choose another directory with --data DIR.");
            if (isNew) new FileStream(file, HouseholdDirectory.Owners(FileMode.OpenOrCreate)).Dispose();
            else
            {
                var applied = Inspect(file);
                if (applied.Except(Scripts).FirstOrDefault() is { } unknown)
                    throw new StoreClosedException($"The household's file {file} was made by a newer Allowance ({Short(unknown)} is not known here). Nothing was changed. Use the newer one.");
                if (applied.Count > 0 && applied.Count < Scripts.Count) Copy(file, Scripts.Except(applied).First());
            }
            var database = new Database(file, isDurable);
            using (var connection = database.Connect()) connection.Execute("pragma journal_mode = wal");
            var result = DeployChanges.To.SqliteDatabase(database.connectionString)
                .WithScriptsEmbeddedInAssembly(Assembly.GetExecutingAssembly())
                .WithTransaction().WithVariablesDisabled().LogTo(new NoUpgradeLog()).Build().PerformUpgrade();
            if (!result.Successful) throw result.Error;
            HouseholdDirectory.Mark(directory);
            HouseholdDirectory.Prepare(directory);
            database.Write((connection, transaction) => connection.Execute("delete from post where at < @before", new { before = $"{DateTime.UtcNow - PostsKept:yyyy-MM-dd}" }, transaction));
            return database;
        }
        catch (SqliteException e) when (e.SqliteErrorCode is SQLITE_BUSY or SQLITE_LOCKED)
        {
            throw new StoreClosedException($"Another program holds the household's file {file}. Nothing was changed. Close that program and try again.", e);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException or NotSupportedException)
        {
            throw StoreClosedException.NotUsable(directory, e);
        }
    }

    /// <summary>The migrations this version knows, in order.</summary>
    private static IReadOnlyList<string> Scripts { get; } = [.. Assembly.GetExecutingAssembly().GetManifestResourceNames().Where(n => n.EndsWith(".sql", StringComparison.Ordinal)).Order(StringComparer.Ordinal)];

    /// <summary>A migration's name without where it is kept.</summary>
    private static string Short(string script) => script.Split('.') is [.., var name, _] ? name : script;

    /// <summary>Reads through the file without writing a byte of it.</summary>
    /// <returns>The migrations it has had.</returns>
    private static List<string> Inspect(string file)
    {
        try
        {
            using var connection = new SqliteConnection(ConnectionString(file, SqliteOpenMode.ReadOnly));
            connection.Open();
            if (connection.Query<string>("pragma quick_check(1)").ToList() is not ["ok"]) throw Damaged(null);
            bool hasJournal = connection.ExecuteScalar<int>("select count(*) from sqlite_schema where name = 'SchemaVersions'") > 0;
            return hasJournal ? [.. connection.Query<string>("select ScriptName from SchemaVersions")] : [];
        }
        catch (SqliteException e) when (e.SqliteErrorCode is SQLITE_CORRUPT or SQLITE_NOTADB or SQLITE_FORMAT)
        {
            throw Damaged(e);
        }

        StoreClosedException Damaged(Exception? why) =>
            new($"The household's file {file} is damaged. It was left exactly as it is. Keep it, and put a copy from before in its place; or begin anew in another directory with --data DIR.", why);
    }

    /// <summary>Before its tables are changed, the file is copied beside itself.</summary>
    private static void Copy(string file, string script)
    {
        string copy = Path.Combine(Path.GetDirectoryName(file)!, $"{CopiesPrefix}{Short(script)}.db");
        new FileStream(copy, HouseholdDirectory.Owners(FileMode.Create)).Dispose();
        using var from = new SqliteConnection(ConnectionString(file, SqliteOpenMode.ReadOnly));
        using var to = new SqliteConnection(ConnectionString(copy, SqliteOpenMode.ReadWriteCreate));
        from.Open();
        to.Open();
        from.BackupDatabase(to);
    }

    /// <exception cref="HouseholdGoneException">The file is no longer where it was.</exception>
    public SqliteConnection Connect()
    {
        Stand();
        var connection = new SqliteConnection(connectionString);
        connection.Open();
        connection.Execute(isDurable ? "pragma synchronous = full; pragma secure_delete = on" : "pragma synchronous = off");
        return connection;
    }

    /// <summary>Lets go of the file.</summary>
    public void Close()
    {
        using var connection = new SqliteConnection(connectionString);
        SqliteConnection.ClearPool(connection);
    }

    private void Stand()
    {
        if (identity is { } mine && FileIdentity.Of(File) != mine) throw new HouseholdGoneException(File);
    }

    /// <summary>Runs in one transaction; what it wrote is durable when this returns.</summary>
    /// <exception cref="HouseholdGoneException">The file is no longer where it was: what was written may be lost.</exception>
    public T Write<T>(Func<SqliteConnection, IDbTransaction, T> work) => Alone(connection =>
    {
        using var transaction = connection.BeginTransaction();
        var result = work(connection, transaction);
        transaction.Commit();
        return result;
    });

    /// <summary>Nobody else of this process writes meanwhile. Where the line does not move, another program holds up whoever stands at its head.</summary>
    private T Alone<T>(Func<SqliteConnection, T> work)
    {
        if (!writing.TryEnter(LongestLine)) throw new SqliteException("The file is held.", SQLITE_BUSY);
        T result;
        try
        {
            using var connection = Connect();
            result = work(connection);
        }
        finally
        {
            writing.Exit();
        }
        Stand();
        return result;
    }

    /// <summary>The same once for each post: one that was taken before changes nothing.</summary>
    /// <param name="post">The post's id; null where it has none, and is taken for a new one.</param>
    /// <param name="work">Gives what it made, or null to leave all as it was: then the post may come again.</param>
    /// <returns>What the post made when it was taken first, and whether that was now; null where nothing was done.</returns>
    public (long Made, bool Now)? WriteOnce(string? post, Func<SqliteConnection, IDbTransaction, long?> work) => Write<(long, bool)?>((connection, transaction) =>
    {
        if (post is not null && connection.QueryFirstOrDefault<long?>("select result from post where id = @post", new { post }, transaction) is { } before) return (before, false);
        if (work(connection, transaction) is not { } made) return null;
        if (post is not null) connection.Execute("insert into post (id, at, result) values (@post, @at, @made)", new { post, at = $"{DateTime.UtcNow:yyyy-MM-ddTHH:mm:ss}", made }, transaction);
        return (made, true);
    });

    /// <summary>After something was erased: nothing of it stays in free pages, in the log beside the file, or in copies of it.</summary>
    public void Scour()
    {
        foreach (string copy in System.IO.Directory.GetFiles(Directory, CopiesPrefix + "*")) System.IO.File.Delete(copy);
        Alone(connection =>
        {
            connection.Execute("vacuum");
            // Whoever still reads is done within a moment.
            for (int tries = 0; tries < 50 && connection.QueryFirst<(long Busy, long, long)>("pragma wal_checkpoint(truncate)").Busy != 0; tries++) Thread.Sleep(20);
            return 0;
        });
    }

    /// <summary>The tables of a household: those that others point to first, and last those that triggers fill.</summary>
    internal static readonly string[] HouseholdTables =
    [
        "player", "aim_wish", "plan_event", "setting", "saved_setup", "thing", "sitting", "entry", "sitting_seat", "sitting_event", "entry_player", "observation", "estimate", "asked", "log_state", "met",
    ];

    /// <summary>Takes over all of a household that was made in another file, in one transaction; nothing where somebody lives here already.</summary>
    public void TakeOver(string other) => Alone(connection =>
    {
        connection.Execute("attach @other as made", new { other });
        try
        {
            using var transaction = connection.BeginTransaction();
            connection.Execute("pragma defer_foreign_keys = on", transaction: transaction);
            if (connection.ExecuteScalar<int>("select count(*) from player", transaction: transaction) > 0) return 0;
            // Names of tables cannot be parameters.
            foreach (string table in HouseholdTables) connection.Execute($"delete from main.{table}; insert into main.{table} select * from made.{table}", transaction: transaction);
            transaction.Commit();
            return HouseholdTables.Length;
        }
        finally
        {
            connection.Execute("detach made");
            Interlocked.Increment(ref takenOver);
        }
    });

    private int takenOver;

    /// <summary>How often a whole household was taken over: what was read before does not hold any more.</summary>
    internal int TakenOver => takenOver;

    private sealed class InstantHandler : SqlMapper.TypeHandler<DateTimeOffset>
    {
        public override void SetValue(IDbDataParameter parameter, DateTimeOffset value) => parameter.Value = value.ToString("O");

        public override DateTimeOffset Parse(object value) => DateTimeOffset.Parse((string)value);
    }

    private sealed class DayHandler : SqlMapper.TypeHandler<DateOnly>
    {
        public override void SetValue(IDbDataParameter parameter, DateOnly value) => parameter.Value = value.ToString("yyyy-MM-dd");

        public override DateOnly Parse(object value) => DateOnly.ParseExact((string)value, "yyyy-MM-dd");
    }

    private sealed class NoUpgradeLog : IUpgradeLog
    {
        public void LogTrace(string format, params object[] args) { }

        public void LogDebug(string format, params object[] args) { }

        public void LogInformation(string format, params object[] args) { }

        public void LogWarning(string format, params object[] args) { }

        public void LogError(string format, params object[] args) { }

        public void LogError(Exception ex, string format, params object[] args) { }
    }
}
