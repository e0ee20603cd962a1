using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using Dapper;

namespace ClearTide.Storage;

/// <summary>One line of the shelf.</summary>
public sealed record StudyListing(string Id, string Title, string Question, IReadOnlyList<string> Tags, DateTime Changed, long Revision);

/// <summary>All studies: found by their words, put away and brought back, deleted for good.</summary>
public sealed class Shelf(Database database)
{
    /// <summary>Room for the names of all parts of a large study; what a description says beyond it is not looked in.</summary>
    private const int LongestWords = 60_000;

    /// <summary>The studies that hold all of these words, the one changed last first.</summary>
    /// <param name="archived">Those that were put away, or those that were not.</param>
    public IReadOnlyList<StudyListing> List(string search = "", bool archived = false)
    {
        using var connection = database.Open();
        var found = connection.Query<(string Id, string Title, string Question, string Tags, string Changed, long Head, string Words)>(
            "select id, title, question, tags, changed, head, words from study where owner_id = @owner and archived = @archived "
                + "order by changed desc, rowid desc",
            new { owner = Database.LocalOwner, archived }
        );
        var wanted = Wanted(search);
        return
        [
            .. found
                .Where(row => Holds(row.Words.Length > 0 ? row.Words : row.Title.ToLower(CultureInfo.InvariantCulture), wanted))
                .Select(row => new StudyListing(
                    row.Id,
                    row.Title,
                    row.Question,
                    row.Tags.Split('\n', StringSplitOptions.RemoveEmptyEntries),
                    DateTime.Parse(row.Changed, null, DateTimeStyles.RoundtripKind),
                    row.Head
                )),
        ];
    }

    /// <summary>The revision that a study shows, whether it can be read or not; null where there is no such study.</summary>
    public long? RevisionOf(string id)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<long?>(
            "select head from study where id = @id and owner_id = @owner",
            new { id, owner = Database.LocalOwner }
        );
    }

    public int Count(bool archived)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<int>(
            "select count(*) from study where owner_id = @owner and archived = @archived",
            new { owner = Database.LocalOwner, archived }
        );
    }

    /// <summary>Puts a study away or brings it back; false where there is none.</summary>
    public bool Archive(string id, bool archived)
    {
        return database.Write(
                "update study set archived = @archived where id = @id and owner_id = @owner",
                new
                {
                    id,
                    owner = Database.LocalOwner,
                    archived,
                }
            ) > 0;
    }

    /// <summary>Deletes a study that was put away, with its history, data and results; false where it is not among those.</summary>
    public bool Delete(string id)
    {
        return database.Write(
                "delete from study where id = @id and owner_id = @owner and archived = 1",
                new { id, owner = Database.LocalOwner }
            ) > 0;
    }

    internal static string Tags(StudyDocument document) => string.Join('\n', document.Tags);

    /// <summary>Whether a document holds all words of a search, as a study on the shelf would.</summary>
    public static bool Holds(StudyDocument document, string search) => Holds(Words(document), Wanted(search));

    private static string[] Wanted(string search) =>
        search.ToLower(CultureInfo.InvariantCulture).Split(' ', StringSplitOptions.RemoveEmptyEntries);

    private static bool Holds(string words, string[] wanted) => wanted.All(word => words.Contains(word, StringComparison.Ordinal));

    /// <summary>What a search looks in: title, question, description, tags, and the names of all parts.</summary>
    internal static string Words(StudyDocument document)
    {
        var words = string.Join(
                '\n',
                new[] { document.Title, document.Question }
                    .Concat(document.Tags)
                    .Concat(document.Parts.Select(part => $"{part.Name} {part.Label}"))
                    .Append(document.Description)
            )
            .ToLower(CultureInfo.InvariantCulture);
        return words.Length <= LongestWords ? words : words[..LongestWords];
    }
}
