using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Studies;
using Dapper;

namespace ClearTide.Storage;

/// <summary>A run that is kept to compare: everything it takes to make it again.</summary>
/// <param name="Colour">Number of a colour of the palette.</param>
/// <param name="Document">The study as it was, with the values that sliders had moved.</param>
public sealed record KeptRun(string Id, string Name, int Colour, bool Hidden, StudyDocument Document);

/// <summary>Runs kept with a study. They stay when the model is edited.</summary>
public sealed class KeptRunStore(Database database)
{
    public const int Most = 12;

    private const int Colours = 10;

    private sealed class Row
    {
        public string Id { get; set; } = "";
        public string Name { get; set; } = "";
        public long Colour { get; set; }
        public long Hidden { get; set; }
        public string Document { get; set; } = "";
    }

    /// <summary>In the order in which they were kept.</summary>
    public IReadOnlyList<KeptRun> All(string study)
    {
        using var connection = database.Open();
        return
        [
            .. connection
                .Query<Row>(
                    "select id, name, colour, hidden, document from kept_run where study_id = @study and owner_id = @owner order by "
                        + "created, id",
                    new { study, owner = Database.LocalOwner }
                )
                .Select(Read)
                .OfType<KeptRun>(),
        ];
    }

    /// <summary>One that cannot be read any more is passed over: the study and the other runs are there without it.</summary>
    private static KeptRun? Read(Row row)
    {
        try
        {
            return new(row.Id, row.Name, (int)row.Colour, row.Hidden != 0, StudyFile.ReadDocument(row.Document));
        }
        catch (StudyFileException)
        {
            return null;
        }
    }

    /// <returns>A sentence where it cannot be kept; null where it was.</returns>
    public string? Keep(string study, StudyDocument document) =>
        database.Write<string?>(
            (connection, transaction) =>
            {
                var taken = connection
                    .Query<(string Name, long Colour)>(
                        "select name, colour from kept_run where study_id = @study",
                        new { study },
                        transaction
                    )
                    .ToList();
                if (taken.Count >= Most)
                    return $"At most {Most} runs are kept. Remove one first.";
                var number = Enumerable.Range(1, Most + 1).First(number => taken.All(one => one.Name != $"Run {number}"));
                var colour = Enumerable.Range(1, Colours).OrderBy(colour => taken.Count(one => one.Colour == colour)).First();
                connection.Execute(
                    "insert into kept_run (study_id, owner_id, id, name, colour, document, created) values (@study, @owner, @id, "
                        + "@name, @colour, @document, @now)",
                    new
                    {
                        study,
                        owner = Database.LocalOwner,
                        id = Database.NewId(),
                        name = $"Run {number}",
                        colour,
                        document = StudyFile.WriteDocument(document),
                        now = Database.Now,
                    },
                    transaction
                );
                return null;
            }
        );

    public bool Change(string study, string id, string name, int colour, bool hidden)
    {
        return database.Write(
                "update kept_run set name = @name, colour = @colour, hidden = @hidden where study_id = @study and id "
                    + "= @id and owner_id = @owner",
                new
                {
                    study,
                    id,
                    name = name.Trim() is { Length: > 0 } said ? said[..Math.Min(40, said.Length)] : "Run",
                    colour = Math.Clamp(colour, 1, Colours),
                    hidden = hidden ? 1 : 0,
                    owner = Database.LocalOwner,
                }
            ) > 0;
    }

    public bool Remove(string study, string id)
    {
        return database.Write(
                "delete from kept_run where study_id = @study and id = @id and owner_id = @owner",
                new
                {
                    study,
                    id,
                    owner = Database.LocalOwner,
                }
            ) > 0;
    }
}
