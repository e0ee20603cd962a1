using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;
using Dapper;
using Microsoft.Data.Sqlite;
using ZstdSharp;

namespace ClearTide.Storage;

/// <summary>The packed text of a revision.</summary>
/// <param name="Base">The revision whose text it builds on; null where it stands by itself.</param>
internal sealed record StoredText(byte[] Blob, long? Base);

/// <summary>Reads and writes the documents of revisions, most of them as what has changed since an earlier one.</summary>
internal static class RevisionTexts
{
    private sealed class Row
    {
        public byte[] Document { get; set; } = [];
        public long? Base { get; set; }
    }

    /// <summary>The document of a revision; null where there is none.</summary>
    /// <exception cref="UnreadableStudyException">What is stored is no study.</exception>
    public static StudyDocument? Read(SqliteConnection connection, string study, long number, SqliteTransaction? transaction = null)
    {
        try
        {
            return Text(connection, study, number, transaction) is { } text ? DocumentBlob.Read(text) : null;
        }
        catch (Exception broken) when (broken is StudyFileException or ZstdException or InvalidDataException)
        {
            throw new UnreadableStudyException(study, number, broken.Message, broken);
        }
    }

    /// <summary>What is stored for a revision, as bytes that may not be a study; null where there is nothing that can be
    /// unpacked.</summary>
    public static byte[]? Raw(SqliteConnection connection, string study, long number)
    {
        try
        {
            return Text(connection, study, number, null);
        }
        catch (Exception broken) when (broken is ZstdException or InvalidDataException)
        {
            return null;
        }
    }

    /// <summary>What a new revision is stored as: what has changed since an earlier one, where that is little.</summary>
    /// <param name="before">The revision it follows.</param>
    public static StoredText Prepare(
        SqliteConnection connection,
        SqliteTransaction transaction,
        string study,
        long before,
        StudyDocument document
    )
    {
        if (Find(connection, study, before, transaction) is not { } row)
            return Alone(document);
        var origin = row.Base ?? before;
        var blob = DocumentBlob.Pack(DocumentBlob.Text(document), Text(connection, study, origin, transaction));
        return blob.Length <= DocumentBlob.LargestDelta ? new(blob, origin) : Alone(document);
    }

    /// <summary>A document that is stored by itself.</summary>
    public static StoredText Alone(StudyDocument document) => new(DocumentBlob.Pack(DocumentBlob.Text(document), null), null);

    private static byte[]? Text(SqliteConnection connection, string study, long number, SqliteTransaction? transaction)
    {
        if (Find(connection, study, number, transaction) is not { } row)
            return null;
        return DocumentBlob.Unpack(row.Document, row.Base is { } origin ? Text(connection, study, origin, transaction) : null);
    }

    private static Row? Find(SqliteConnection connection, string study, long number, SqliteTransaction? transaction) =>
        connection.QuerySingleOrDefault<Row>(
            "select document, base from revision where study_id = @study and number = @number and owner_id = @owner",
            new
            {
                study,
                number,
                owner = Database.LocalOwner,
            },
            transaction
        );
}
