using Dapper;
using DbUp;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>The one SQLite file in the data folder, in WAL mode, brought up to date by migrations when it is opened.</summary>
public sealed class Database
{
    /// <summary>The one owner until there are accounts.</summary>
    public const long LocalOwner = 1;

    private readonly string _connectionString;
    private readonly Writer _writer;

    public Database(string folder)
    {
        Directory.CreateDirectory(folder);
        // Made for its owner alone; what SQLite puts beside it gets the same rights.
        if (!File.Exists(FileIn(folder)) && !OperatingSystem.IsWindows())
        {
            using (
                new FileStream(
                    FileIn(folder),
                    new FileStreamOptions
                    {
                        Mode = FileMode.CreateNew,
                        Access = FileAccess.Write,
                        UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite,
                    }
                )
            ) { }
        }
        _connectionString = new SqliteConnectionStringBuilder
        {
            DataSource = FileIn(folder),
            ForeignKeys = true,
            DefaultTimeout = 10,
        }.ToString();
        using (var connection = Open())
            connection.Execute("pragma journal_mode = wal");
        var outcome = DeployChanges
            .To.SqliteDatabase(_connectionString)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly)
            .LogToNowhere()
            .Build()
            .PerformUpgrade();
        _writer = new(OpenToWrite);
        if (!outcome.Successful)
            throw new InvalidOperationException("The database could not be brought up to date.", outcome.Error);
    }

    /// <summary>The file that holds all studies of a data folder.</summary>
    public static string FileIn(string folder) => Path.Combine(folder, "cleartide.db");

    /// <summary>A connection to read by; what is written goes through <see cref="Write{T}"/>.</summary>
    public SqliteConnection Open() => Open(_connectionString);

    private static SqliteConnection Open(string connectionString)
    {
        var connection = new SqliteConnection(connectionString);
        connection.Open();
        return connection;
    }

    /// <summary>A connection that nobody else gets when it is closed.</summary>
    private SqliteConnection OpenToWrite()
    {
        var connection = Open(_connectionString + ";Pooling=False");
        // A commit returns when it is on the disk: what was acknowledged survives a killed process and a power cut.
        connection.Execute("pragma synchronous = full");
        return connection;
    }

    /// <summary>Does work that writes, in a transaction: all of it is on the disk when this returns, or nothing.</summary>
    public T Write<T>(Func<SqliteConnection, SqliteTransaction, T> work) => _writer.Do(work);

    /// <summary>One statement that writes; returns how many rows it has changed.</summary>
    internal int Write(string statement, object values) =>
        Write((connection, transaction) => connection.Execute(statement, values, transaction));

    internal static string Now => DateTime.UtcNow.ToString("O");

    internal static string NewId() => Guid.CreateVersion7().ToString("N");
}
