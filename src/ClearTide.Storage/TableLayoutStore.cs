using System.Security.Cryptography;
using System.Text;
using Dapper;

namespace ClearTide.Storage;

/// <summary>What was said of tables of a study, by their headings.</summary>
public sealed class TableLayoutStore(Database database)
{
    /// <summary>What was said of the last table with these headings; null where none was used yet.</summary>
    public string? Find(string study, IEnumerable<string> headings)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<string?>(
            "select body from table_layout where study_id = @study and owner_id = @owner and headings = @key",
            new
            {
                study,
                owner = Database.LocalOwner,
                key = Key(headings),
            }
        );
    }

    public void Keep(string study, IEnumerable<string> headings, string body) =>
        database.Write(
            "insert or replace into table_layout (study_id, owner_id, headings, body, changed) values (@study, @owner, @key, @body, @now)",
            new
            {
                study,
                owner = Database.LocalOwner,
                key = Key(headings),
                body,
                now = Database.Now,
            }
        );

    /// <summary>Headings may be long, and many; case and blanks around them say nothing.</summary>
    private static string Key(IEnumerable<string> headings) =>
        Convert.ToHexStringLower(
            SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', headings.Select(one => one.Trim().ToLowerInvariant()))))
        );
}
