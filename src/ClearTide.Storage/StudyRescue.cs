using Dapper;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>What can be had of a study whose revision cannot be read.</summary>
/// <param name="Title">As the shelf has it.</param>
/// <param name="Revision">The one that is shown.</param>
/// <param name="Why">Why it cannot be read; null where it can.</param>
/// <param name="Earlier">The last revision before it that can be read, or null.</param>
public sealed record StudyDamage(string Title, long Revision, long Version, string? Why, long? Earlier);

/// <summary>Finds out what is wrong with a study that cannot be read, and what is left of it.</summary>
public sealed class StudyRescue(Database database)
{
    /// <summary>So many revisions are gone back over to find one that can be read.</summary>
    private const int Farthest = 200;

    /// <summary>Null where there is no such study.</summary>
    public StudyDamage? Of(string id)
    {
        using var connection = database.Open();
        if (
            connection.QuerySingleOrDefault<(string Title, long Head, long Version)?>(
                "select title, head, version from study where id = @id and owner_id = @owner",
                new { id, owner = Database.LocalOwner }
            )
            is not { } study
        )
        {
            return null;
        }
        if (Why(connection, id, study.Head) is not { } why)
            return new(study.Title, study.Head, study.Version, null, null);
        var before = connection.Query<long>(
            "select number from revision where study_id = @id and number < @head order by number " + "desc limit @most",
            new
            {
                id,
                head = study.Head,
                most = Farthest,
            }
        );
        var earlier = before.Where(number => Why(connection, id, number) is null).Select(number => (long?)number).FirstOrDefault();
        return new(study.Title, study.Head, study.Version, why, earlier);
    }

    /// <summary>What is stored of the revision that is shown, whatever it is; null where nothing of it can be unpacked.</summary>
    public byte[]? Raw(string id)
    {
        using var connection = database.Open();
        var head = connection.ExecuteScalar<long?>(
            "select head from study where id = @id and owner_id = @owner",
            new { id, owner = Database.LocalOwner }
        );
        return head is { } number ? RevisionTexts.Raw(connection, id, number) : null;
    }

    private static string? Why(SqliteConnection connection, string id, long number)
    {
        try
        {
            return RevisionTexts.Read(connection, id, number) is null ? "Nothing is stored for it." : null;
        }
        catch (UnreadableStudyException broken)
        {
            return broken.Why;
        }
    }
}
