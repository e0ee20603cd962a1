using System.Text.Json;
using ClearTide.Core.Editing;
using Dapper;

namespace ClearTide.Storage;

/// <summary>Somebody's own settings for new studies.</summary>
public sealed class SettingsStore(Database database)
{
    public StudyDefaults Load()
    {
        using var connection = database.Open();
        var body = connection.ExecuteScalar<string?>(
            "select body from settings where owner_id = @owner",
            new { owner = Database.LocalOwner }
        );
        return body is null ? StudyDefaults.Plain : JsonSerializer.Deserialize<StudyDefaults>(body)!;
    }

    public void Save(StudyDefaults settings)
    {
        database.Write(
            "insert or replace into settings (owner_id, body, changed) values (@owner, @body, @now)",
            new
            {
                owner = Database.LocalOwner,
                body = JsonSerializer.Serialize(settings),
                now = Database.Now,
            }
        );
    }
}
