using System.Data;
using System.Reflection;
using Dapper;
using DbUp;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace Allowance.Store;

/// <summary>The data directory cannot be used; the message is plain and says what to do.</summary>
public sealed class StoreClosedException(string message, Exception inner) : Exception(message, inner);

/// <summary>
/// One SQLite file. Writes are in WAL mode with full synchronisation: when a transaction has been committed it survives
/// the loss of power.
/// </summary>
public sealed class Database
{
    private readonly string connectionString;

    static Database()
    {
        SqlMapper.RemoveTypeMap(typeof(DateTimeOffset));
        SqlMapper.RemoveTypeMap(typeof(DateTimeOffset?));
        SqlMapper.AddTypeHandler(new InstantHandler());
        SqlMapper.AddTypeHandler(new DayHandler());
        DefaultTypeMap.MatchNamesWithUnderscores = true;
    }

    private Database(string file)
    {
        File = file;
        connectionString = new SqliteConnectionStringBuilder { DataSource = file, ForeignKeys = true, DefaultTimeout = 10 }.ToString();
    }

    public string File { get; }

    /// <summary>Opens the household's file in a directory, makes it if there is none, and brings its tables up to date.</summary>
    /// <exception cref="StoreClosedException">The directory or file cannot be used.</exception>
    public static Database Open(string directory)
    {
        string file = Path.Combine(directory, "allowance.db");
        try
        {
            Directory.CreateDirectory(directory);
            var database = new Database(file);
            using (var connection = database.Connect()) connection.Execute("pragma journal_mode = wal");
            var result = DeployChanges.To.SqliteDatabase(database.connectionString)
                .WithScriptsEmbeddedInAssembly(Assembly.GetExecutingAssembly())
                .WithTransaction().WithVariablesDisabled().LogTo(new NoUpgradeLog()).Build().PerformUpgrade();
            if (!result.Successful) throw result.Error;
            return database;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException or NotSupportedException)
        {
            throw new StoreClosedException($"The data directory {directory} cannot be used: {e.Message.TrimEnd('.')}. Nothing was changed. Choose a directory you may write to with --data DIR.", e);
        }
    }

    public SqliteConnection Connect()
    {
        var connection = new SqliteConnection(connectionString);
        connection.Open();
        connection.Execute("pragma synchronous = full; pragma secure_delete = on");
        return connection;
    }

    /// <summary>Runs in one transaction; what it wrote is durable when this returns.</summary>
    public T Write<T>(Func<SqliteConnection, IDbTransaction, T> work)
    {
        using var connection = Connect();
        using var transaction = connection.BeginTransaction();
        var result = work(connection, transaction);
        transaction.Commit();
        return result;
    }

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
