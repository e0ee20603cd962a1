using System.Text.Json;
using ClearTide.Core.Data;
using ClearTide.Core.Simulation;
using Dapper;
using Microsoft.Data.Sqlite;
using ZstdSharp;

namespace ClearTide.Storage;

/// <summary>Versions of data sets, beside the documents that refer to them; never changed once stored.</summary>
public sealed class DataSetStore(Database database)
{
    /// <summary>Stores data as a new version, with an id of its own, and returns that.</summary>
    public DataSet AddVersion(string studyId, DataSet data) => Add(studyId, data with { Id = Database.NewId() });

    public DataSet Add(string studyId, DataSet data)
    {
        database.Write((connection, transaction) => Insert(connection, transaction, studyId, data));
        return data;
    }

    internal static int Insert(SqliteConnection connection, SqliteTransaction transaction, string studyId, DataSet data) =>
        connection.Execute(
            "insert into data_set (id, study_id, owner_id, name, rows, subjects, source_id, created) values (@id, @studyId, @owner, "
                + "@name, @rows, @subjects, @source, @now)",
            new
            {
                id = data.Id,
                studyId,
                owner = Database.LocalOwner,
                name = data.Name,
                rows = JsonSerializer.Serialize(data.Rows),
                subjects = JsonSerializer.Serialize(data.Subjects),
                source = data.Source,
                now = Database.Now,
            },
            transaction
        );

    public DataSet? Find(string studyId, string id)
    {
        using var connection = database.Open();
        var row = connection.QuerySingleOrDefault<(string Name, string Rows, string Subjects, string Source)?>(
            "select name, rows, subjects, source_id from data_set where study_id = @studyId and id = @id and owner_id = @owner",
            new
            {
                studyId,
                id,
                owner = Database.LocalOwner,
            }
        );
        // A table without rows is no data.
        return row is { } found && JsonSerializer.Deserialize<List<DataRow>>(found.Rows) is { Count: > 0 } rows
            ? new(id, found.Name, rows)
            {
                Subjects = JsonSerializer.Deserialize<List<Subject>>(found.Subjects) ?? [],
                Source = found.Source,
            }
            : null;
    }

    /// <summary>Keeps a table as it came; returns its id.</summary>
    /// <param name="file">A text in UTF-8, or the file itself.</param>
    public string AddSource(string studyId, string name, byte[] file)
    {
        var id = Database.NewId();
        using var compressor = new Compressor();
        var body = compressor.Wrap(file).ToArray();
        database.Write(
            "insert into data_source (id, study_id, owner_id, name, body, created) values (@id, @studyId, @owner, @name, @body, @now)",
            new
            {
                id,
                studyId,
                owner = Database.LocalOwner,
                name,
                body,
                now = Database.Now,
            }
        );
        return id;
    }

    /// <summary>A table as it came, with its name; null where it is not kept.</summary>
    public (string Name, byte[] File)? FindSource(string studyId, string id)
    {
        using var connection = database.Open();
        var row = connection.QuerySingleOrDefault<(string Name, byte[] Body)?>(
            "select name, body from data_source where study_id = @studyId and id = @id and owner_id = @owner",
            new
            {
                studyId,
                id,
                owner = Database.LocalOwner,
            }
        );
        if (row is not { } found)
            return null;
        using var decompressor = new Decompressor();
        return (found.Name, decompressor.Unwrap(found.Body).ToArray());
    }
}
