using System.Text.Json;
using Dapper;

namespace ClearTide.Storage;

/// <summary>Results by fingerprint; they can be thrown away at any time and computed again.</summary>
public sealed class ResultStore(Database database)
{
    private static readonly JsonSerializerOptions Options = new()
    {
        NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.AllowNamedFloatingPointLiterals,
    };

    public void Put<T>(string studyId, string kind, string fingerprint, T result)
    {
        database.Write(
            "insert or replace into result (fingerprint, kind, study_id, owner_id, body, created) values (@fingerprint, "
                + "@kind, @studyId, @owner, @body, @now)",
            new
            {
                fingerprint,
                kind,
                studyId,
                owner = Database.LocalOwner,
                body = JsonSerializer.Serialize(result, Options),
                now = Database.Now,
            }
        );
    }

    /// <summary>Puts another text in the place of a result, which stays as old as it is.</summary>
    public void Replace<T>(string studyId, string kind, string fingerprint, T result) =>
        database.Write(
            "update result set body = @body "
                + "where fingerprint = @fingerprint and kind = @kind and study_id = @studyId and owner_id = @owner",
            new
            {
                fingerprint,
                kind,
                studyId,
                owner = Database.LocalOwner,
                body = JsonSerializer.Serialize(result, Options),
            }
        );

    public T? Find<T>(string studyId, string kind, string fingerprint)
        where T : class
    {
        using var connection = database.Open();
        var body = connection.ExecuteScalar<string?>(
            "select body from result where fingerprint = @fingerprint and kind = @kind and study_id = @studyId and owner_id = @owner",
            new
            {
                fingerprint,
                kind,
                studyId,
                owner = Database.LocalOwner,
            }
        );
        return body is null ? null : JsonSerializer.Deserialize<T>(body, Options);
    }

    /// <summary>Results of a kind, whatever content made them, the newest first.</summary>
    /// <param name="most">How many at most.</param>
    public IReadOnlyList<T> All<T>(string studyId, string kind, int most)
        where T : class
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<string>(
                    "select body from result where kind = @kind and study_id = @studyId and owner_id = @owner order by created desc "
                        + "limit @most",
                    new
                    {
                        kind,
                        studyId,
                        owner = Database.LocalOwner,
                        most,
                    }
                )
                .Select(body => JsonSerializer.Deserialize<T>(body, Options)!),
        ];
    }

    /// <summary>Results of a kind in studies that this one is a copy of, or that are copies of it, the newest first.</summary>
    /// <param name="most">How many at most.</param>
    public IReadOnlyList<(string StudyId, string Title, T Result)> OfRelatives<T>(string studyId, string kind, int most)
        where T : class
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<(string StudyId, string Title, string Body)>(
                    "select study.id, study.title, result.body from study join result on result.study_id = study.id "
                        + "where study.owner_id = @owner and study.archived = 0 and study.id <> @studyId and result.kind = @kind "
                        + "and study.lineage = (select lineage from study where id = @studyId) order by result.created desc limit @most",
                    new
                    {
                        kind,
                        studyId,
                        owner = Database.LocalOwner,
                        most,
                    }
                )
                .Select(row => (row.StudyId, row.Title, JsonSerializer.Deserialize<T>(row.Body, Options)!)),
        ];
    }

    /// <summary>Throws a result away.</summary>
    public void Remove(string studyId, string kind, string fingerprint) =>
        database.Write(
            "delete from result where fingerprint = @fingerprint and kind = @kind and study_id = @studyId and owner_id = @owner",
            new
            {
                fingerprint,
                kind,
                studyId,
                owner = Database.LocalOwner,
            }
        );

    /// <summary>The newest result of a kind, whatever content made it.</summary>
    public T? Newest<T>(string studyId, string kind)
        where T : class
    {
        using var connection = database.Open();
        var body = connection.QueryFirstOrDefault<string?>(
            "select body from result where kind = @kind and study_id = @studyId and owner_id = @owner order by created desc limit 1",
            new
            {
                kind,
                studyId,
                owner = Database.LocalOwner,
            }
        );
        return body is null ? null : JsonSerializer.Deserialize<T>(body, Options);
    }
}
