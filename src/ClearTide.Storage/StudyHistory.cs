using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using Dapper;

namespace ClearTide.Storage;

/// <summary>Where a revision lies, seen from the one that is shown.</summary>
public enum RevisionPlace
{
    Before,
    Shown,
    After,
    Aside,
}

/// <summary>One step of a study's history.</summary>
/// <param name="Name">The name it was given, or null.</param>
public sealed record RevisionEntry(long Number, string Summary, string? Name, DateTime Created, RevisionPlace Place);

/// <summary>The history of a study: its steps in words, with names where they were given.</summary>
public sealed class StudyHistory(Database database)
{
    public const int LongestName = 80;

    private sealed class Row
    {
        public long Number { get; set; }
        public long? Parent { get; set; }
        public string Summary { get; set; } = "";
        public string? Name { get; set; }
        public string Created { get; set; } = "";
    }

    /// <summary>The steps, last first: those on the line through the revision shown, and those that were left aside.</summary>
    /// <param name="most">At most so many.</param>
    public IReadOnlyList<RevisionEntry> Entries(string id, int most = int.MaxValue)
    {
        using var connection = database.Open();
        var (head, tip) = connection.QuerySingleOrDefault<(long, long)>(
            "select head, tip from study where id = @id and owner_id = @owner",
            new { id, owner = Database.LocalOwner }
        );
        var rows = connection
            .Query<Row>(
                "select number, parent, summary, name, created from revision where study_id = @id and folded = 0 order by number desc",
                new { id }
            )
            .ToList();
        var parents = rows.ToDictionary(row => row.Number, row => row.Parent);
        var line = new HashSet<long>();
        for (long? number = tip; number is { } known && line.Add(known); )
            number = parents.GetValueOrDefault(known);
        return
        [
            .. rows.Take(most)
                .Select(row => new RevisionEntry(
                    row.Number,
                    row.Summary,
                    row.Name,
                    DateTime.Parse(row.Created, null, DateTimeStyles.RoundtripKind),
                    row.Number == head ? RevisionPlace.Shown
                        : !line.Contains(row.Number) ? RevisionPlace.Aside
                        : row.Number < head ? RevisionPlace.Before
                        : RevisionPlace.After
                )),
        ];
    }

    /// <summary>Names a revision, or takes its name away when empty; a sentence where that cannot be.</summary>
    public string? Name(string id, long number, string name)
    {
        var trimmed = name.Trim();
        if (trimmed.Length > LongestName)
            return $"The name of a revision has at most {LongestName} characters.";
        var named = database.Write(
            "update revision set name = @name where study_id = @id and number = @number and owner_id = @owner",
            new
            {
                id,
                number,
                owner = Database.LocalOwner,
                name = trimmed.Length == 0 ? null : trimmed,
            }
        );
        return named > 0 ? null : "This revision is not in the history.";
    }

    /// <summary>The document of one revision, or null.</summary>
    public StudyDocument? Document(string id, long number)
    {
        using var connection = database.Open();
        return RevisionTexts.Read(connection, id, number);
    }
}
