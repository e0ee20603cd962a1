using System.Text.Json;
using ClearTide.Core.Data;
using ClearTide.Core.Simulation;
using Dapper;
using Microsoft.Data.Sqlite;

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
            "insert into data_set (id, study_id, owner_id, name, rows, subjects, created) values (@id, @studyId, @owner, @name, @rows, "
                + "@subjects, @now)",
            new
            {
                id = data.Id,
                studyId,
                owner = Database.LocalOwner,
                name = data.Name,
                rows = JsonSerializer.Serialize(data.Rows),
                subjects = JsonSerializer.Serialize(data.Subjects),
                now = Database.Now,
            },
            transaction
        );

    public DataSet? Find(string studyId, string id)
    {
        using var connection = database.Open();
        var row = connection.QuerySingleOrDefault<(string Name, string Rows, string Subjects)?>(
            "select name, rows, subjects from data_set where study_id = @studyId and id = @id and owner_id = @owner",
            new
            {
                studyId,
                id,
                owner = Database.LocalOwner,
            }
        );
        // A table without rows is no data.
        return row is { } found && JsonSerializer.Deserialize<List<DataRow>>(found.Rows) is { Count: > 0 } rows
            ? new(id, found.Name, rows) { Subjects = JsonSerializer.Deserialize<List<Subject>>(found.Subjects) ?? [] }
            : null;
    }
}
