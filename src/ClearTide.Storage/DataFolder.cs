using ClearTide.Core.Model;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>Why the data folder cannot be used, in a sentence that says what to do, with the exit code of the application.</summary>
public sealed class DataFolderException(int exitCode, string message, Exception? inner = null) : Exception(message, inner)
{
    public const int CannotBeWritten = 3,
        NoDatabase = 4,
        DiskFull = 5,
        InUse = 6;

    public int ExitCode { get; } = exitCode;

    /// <summary>What a failure of the database means for whoever starts the application; null where it is none of the folder.</summary>
    public static DataFolderException? Of(Exception failure, string folder) =>
        failure switch
        {
            DataFolderException told => told,
            SqliteException { SqliteErrorCode: Sqlite.NotADatabase or Sqlite.Corrupt } => new(
                NoDatabase,
                $"{Database.FileIn(folder)} is no database of Clear Tide, or is damaged. Put a backup in its place, or "
                    + $"move it away to begin with an empty shelf.",
                failure
            ),
            SqliteException { SqliteErrorCode: Sqlite.Full } => new(
                DiskFull,
                $"The disk that holds {folder} is full. Make room, then start Clear Tide again.",
                failure
            ),
            SqliteException { SqliteErrorCode: Sqlite.ReadOnly or Sqlite.CannotOpen or Sqlite.Input }
            or UnauthorizedAccessException
            or IOException => new(
                CannotBeWritten,
                $"The data folder {folder} cannot be written. Give its owner the right to, or name another folder " + $"with --DataFolder.",
                failure
            ),
            { InnerException: { } inner } => Of(inner, folder),
            _ => null,
        };
}

/// <summary>Result codes of SQLite (sqlite.org/rescode.html).</summary>
public static class Sqlite
{
    public const int ReadOnly = 8,
        Input = 10,
        Corrupt = 11,
        Full = 13,
        CannotOpen = 14,
        NotADatabase = 26;
}

/// <summary>The folder of all data: for its owner alone, and for one server at a time.</summary>
public sealed class DataFolder : IDisposable
{
    private readonly FileStream _lock;

    /// <exception cref="DataFolderException">It cannot be written, or another server uses it.</exception>
    public DataFolder(string path)
    {
        Path = System.IO.Path.GetFullPath(path);
        try
        {
            Directory.CreateDirectory(Path);
            ForOwner(Path);
            var name = System.IO.Path.Combine(Path, "in-use");
            try
            {
                _lock = new(name, FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
            }
            catch (IOException taken) when (File.Exists(name))
            {
                throw new DataFolderException(
                    DataFolderException.InUse,
                    $"Another Clear Tide runs with the data folder {Path}. Stop that one first, or name another folder with "
                        + $"--DataFolder.",
                    taken
                );
            }
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            throw DataFolderException.Of(failure, Path)!;
        }
    }

    public string Path { get; }

    public void Dispose() => _lock.Dispose();

    private static void ForOwner(string folder)
    {
        if (OperatingSystem.IsWindows())
            return;
        File.SetUnixFileMode(folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        foreach (var file in Directory.EnumerateFiles(folder))
            File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite);
    }
}
