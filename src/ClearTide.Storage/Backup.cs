using Dapper;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>Copies of the whole database, made while the application runs, by SQLite's online backup (sqlite.org/backup.html).</summary>
public static class Backup
{
    /// <summary>Copies the database of a data folder to a file, and reads the copy once to see that it is whole.</summary>
    /// <returns>How many studies it holds.</returns>
    /// <exception cref="DataFolderException">There is no database, it is damaged, or the copy cannot be written.</exception>
    /// <exception cref="IOException">The file is there already.</exception>
    public static long Make(string folder, string file)
    {
        var source = Database.FileIn(folder);
        if (!File.Exists(source))
        {
            throw new DataFolderException(
                DataFolderException.NoDatabase,
                $"There is no database in {folder}. Name the data folder with --data."
            );
        }
        if (File.Exists(file))
            throw new IOException($"{file} is there already. Choose another name, or move it away first.");
        try
        {
            using (var to = new SqliteConnection(For(file)))
            {
                using var from = new SqliteConnection(For(source));
                from.Open();
                to.Open();
                from.BackupDatabase(to);
                // One file by itself, without a log beside it.
                to.Execute("pragma journal_mode = delete");
            }
            if (!OperatingSystem.IsWindows())
                File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite);
            using var copy = new SqliteConnection(For(file));
            copy.Open();
            if (copy.ExecuteScalar<string>("pragma integrity_check") is var found and not "ok")
            {
                throw new DataFolderException(DataFolderException.NoDatabase, $"The database is damaged: {found}");
            }
            return copy.ExecuteScalar<long>("select count(*) from study");
        }
        catch (SqliteException failure)
        {
            File.Delete(file);
            throw DataFolderException.Of(failure, folder)
                ?? new DataFolderException(DataFolderException.NoDatabase, failure.Message, failure);
        }
    }

    private static string For(string file) =>
        new SqliteConnectionStringBuilder
        {
            DataSource = file,
            Pooling = false,
            DefaultTimeout = 30,
        }.ToString();
}
