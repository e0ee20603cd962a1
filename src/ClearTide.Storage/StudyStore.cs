using ClearTide.Core.Data;
using ClearTide.Core.Models;
using Dapper;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>A study as it stands: its document and its place in the history.</summary>
/// <param name="Version">Rises with every change of any kind; an edit names the version it was made on.</param>
/// <param name="Revision">Number of the revision shown.</param>
/// <param name="Undo">What undo would take back, or null.</param>
/// <param name="Redo">What redo would bring back, or null.</param>
public sealed record StudyState(string Id, long Version, long Revision, StudyDocument Document, string? Undo, string? Redo);

public enum SaveOutcome { Saved, Refused, Stale, Missing }

/// <summary>What became of an edit. A stale one comes with the study as it is now and what was changed last.</summary>
public sealed record SaveResult(SaveOutcome Outcome, StudyState? State, EditResult? Refusal = null, string? LastChange = null);

/// <summary>Studies and their revisions. The log only grows; undo and redo move the head.</summary>
public sealed class StudyStore(Database database)
{
    private readonly DocumentCache _documents = new();

    private sealed class HeadRow
    {
        public long Head { get; set; }
        public long Tip { get; set; }
        public long Version { get; set; }
    }

    /// <summary>Adds a study with the data it refers to, all of it or nothing; its first revision is the document as given.</summary>
    public string Add(StudyDocument document, IEnumerable<DataSet>? dataSets = null)
    {
        var id = Database.NewId();
        return database.Write((connection, transaction) =>
        {
            connection.Execute("insert into study (id, owner_id, title, question, tags, words, head, tip, version, created, "
                + "changed) values (@id, @owner, @title, @question, @tags, @words, 1, 1, 1, @now, @now)",
                new { id, owner = Database.LocalOwner, title = document.Title, question = document.Question, tags = Shelf.Tags(document),
                    words = Shelf.Words(document), now = Database.Now }, transaction);
            Insert(connection, transaction, id, 1, null, "begun", null, document);
            foreach (var data in dataSets ?? []) DataSetStore.Insert(connection, transaction, id, data);
            return id;
        });
    }

    public StudyState? Load(string id)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        return Load(connection, transaction, id);
    }

    /// <summary>Applies an edit to the version it was made on and stores the result before it returns.</summary>
    /// <param name="ahead">Told the document that comes of it before that is written, so that work on it can begin while the disk is waited for. It may still not be saved.</param>
    public SaveResult Apply(string id, long version, Edit edit, Action<StudyDocument>? ahead = null)
    {
        var result = Write((connection, transaction) => Apply(connection, transaction, id, version, edit, ahead));
        if (result is { Outcome: SaveOutcome.Saved, State: { } state }) _documents.Keep(id, state.Revision, state.Document);
        return result;
    }

    private SaveResult Apply(SqliteConnection connection, SqliteTransaction transaction, string id, long version, Edit edit,
        Action<StudyDocument>? ahead)
    {
        if (Head(connection, transaction, id) is not { } head) return new(SaveOutcome.Missing, null);
        var state = Load(connection, transaction, id)!;
        if (head.Version != version) return new(SaveOutcome.Stale, state, LastChange: Summary(connection, transaction, id, head.Head));
        var result = edit.Apply(state.Document);
        if (result.Document is not { } next) return new(SaveOutcome.Refused, state, result);
        // What changes nothing is no step.
        if (next.Equals(state.Document)) return new(SaveOutcome.Saved, state);
        ahead?.Invoke(next);
        var number = connection.ExecuteScalar<long>("select max(number) from revision where study_id = @id", new { id }, transaction) + 1;
        var folded = Folded(connection, transaction, id, head, edit.Topic);
        // Told from before the first of the edits that are folded into one.
        var before = folded is { } from ? Document(connection, transaction, id, from) : state.Document;
        Insert(connection, transaction, id, number, folded ?? head.Head, edit.Describe(before), edit.Topic, next);
        if (folded is not null) connection.Execute("update revision set folded = 1 where study_id = @id and number = @number", new { id, number = head.Head }, transaction);
        connection.Execute("update study set head = @number, tip = @number, version = version + 1, title = @title, question = @question, tags = @tags, words = @words, changed = @now where id = @id",
            new { id, number, title = next.Title, question = next.Question, tags = Shelf.Tags(next), words = Shelf.Words(next), now = Database.Now }, transaction);
        return new(SaveOutcome.Saved, Load(connection, transaction, id, next));
    }

    /// <summary>
    /// The revision that a new edit follows where it takes the place of the last one: an edit of the same field, made just before, that nobody has
    /// named, undone or gone back to. Null where it is a step of its own.
    /// </summary>
    private static long? Folded(SqliteConnection connection, SqliteTransaction transaction, string id, HeadRow head, string? topic) => topic is null || head.Head != head.Tip ? null : connection.ExecuteScalar<long?>(
        """
        select parent from revision where study_id = @id and number = @head and topic = @topic and name is null
            and not exists (select 1 from revision as later where later.study_id = @id and later.parent = @head)
        """, new { id, head = head.Head, topic }, transaction);

    /// <summary>Moves the head to the revision before it.</summary>
    public SaveResult Undo(string id, long version) => Move(id, version, (connection, transaction, head) => Parent(connection, transaction, id, head.Head));

    /// <summary>Moves the head one revision towards the tip of the branch it came from.</summary>
    public SaveResult Redo(string id, long version) => Move(id, version, (connection, transaction, head) => Child(connection, transaction, id, head));

    /// <summary>Moves the head to any revision. One that lies aside of the line from the first to the last becomes the end of its own line.</summary>
    public SaveResult Jump(string id, long version, long number) => Move(id, version, (connection, transaction, head) =>
    {
        if (!connection.ExecuteScalar<bool>("select exists (select 1 from revision where study_id = @id and number = @number)", new { id, number }, transaction)) return null;
        var ahead = connection.ExecuteScalar<bool>(
            """
            with recursive way (number, parent) as (
                select number, parent from revision where study_id = @id and number = @tip
                union all
                select revision.number, revision.parent from way cross join revision on revision.study_id = @id and revision.number = way.parent where way.parent >= @number
            )
            select exists (select 1 from way where number = @number)
            """, new { id, tip = head.Tip, number }, transaction);
        if (!ahead) connection.Execute("update study set tip = @number where id = @id", new { id, number }, transaction);
        return number;
    });

    private SaveResult Move(string id, long version, Func<SqliteConnection, SqliteTransaction, HeadRow,
        long?> target) => Write((connection, transaction) =>
    {
        if (Head(connection, transaction, id) is not { } head) return new(SaveOutcome.Missing, null);
        if (head.Version != version) return new(SaveOutcome.Stale, Load(connection, transaction, id), LastChange: Summary(connection, transaction, id, head.Head));
        if (target(connection, transaction, head) is { } number)
        {
            connection.Execute("update study set head = @number, version = version + 1, changed = @now where id = @id", new { id, number, now = Database.Now }, transaction);
        }
        var state = Load(connection, transaction, id)!;
        connection.Execute("update study set title = @title, question = @question, tags = @tags, words = @words where id = @id",
            new { id, title = state.Document.Title, question = state.Document.Question, tags = Shelf.Tags(state.Document), words = Shelf.Words(state.Document) }, transaction);
        return new(SaveOutcome.Saved, state);
    });

    private SaveResult Write(Func<SqliteConnection, SqliteTransaction, SaveResult> work)
    {
        try
        {
            return database.Write(work);
        }
        catch
        {
            // What others wrote in the same transaction may have been read from it, and is not there now.
            _documents.Clear();
            throw;
        }
    }

    private static HeadRow? Head(SqliteConnection connection, SqliteTransaction transaction, string id) =>
        connection.QuerySingleOrDefault<HeadRow>("select head, tip, version from study where id = @id and owner_id = @owner", new { id, owner = Database.LocalOwner }, transaction);

    /// <param name="known">The document at the head, where it is at hand.</param>
    private StudyState? Load(SqliteConnection connection, SqliteTransaction transaction, string id, StudyDocument? known = null)
    {
        if (Head(connection, transaction, id) is not { } head) return null;
        var undo = Parent(connection, transaction, id, head.Head) is null ? null : Summary(connection, transaction, id, head.Head);
        var redo = Child(connection, transaction, id, head) is { } child ? Summary(connection, transaction, id, child) : null;
        return new(id, head.Version, head.Head, known ?? Document(connection, transaction, id, head.Head), undo, redo);
    }

    /// <exception cref="UnreadableStudyException">What is stored is no study.</exception>
    private StudyDocument Document(SqliteConnection connection, SqliteTransaction transaction, string id, long number) =>
        _documents.GetOrRead(id, number, () =>
            RevisionTexts.Read(connection, id, number, transaction)
                ?? throw new UnreadableStudyException(id, number, "nothing is stored for it"));

    private static long? Parent(SqliteConnection connection, SqliteTransaction transaction, string id, long number) =>
        connection.ExecuteScalar<long?>("select parent from revision where study_id = @id and number = @number", new { id, number }, transaction);

    /// <summary>The revision on the way from the tip down to the head that has the head as its parent.</summary>
    private static long? Child(SqliteConnection connection, SqliteTransaction transaction, string id, HeadRow head) => head.Head == head.Tip ? null : connection.ExecuteScalar<long?>(
        """
        with recursive way (number, parent) as (
            select number, parent from revision where study_id = @id and number = @tip
            union all
            select revision.number, revision.parent from way cross join revision on revision.study_id = @id and revision.number = way.parent where way.parent > @head
        )
        select number from way where parent = @head
        """, new { id, tip = head.Tip, head = head.Head }, transaction);

    private static string Summary(SqliteConnection connection, SqliteTransaction transaction, string id, long number) =>
        connection.ExecuteScalar<string>("select summary from revision where study_id = @id and number = @number", new { id, number }, transaction) ?? "";

    private static void Insert(SqliteConnection connection, SqliteTransaction transaction, string id, long number, long? parent, string summary, string? topic, StudyDocument document)
    {
        var (blob, origin) = RevisionTexts.Write(connection, transaction, id, parent, document);
        connection.Execute("insert into revision (study_id, owner_id, number, parent, base, summary, topic, document, created) values (@id, @owner, @number, @parent, @origin, @summary, @topic, @blob, @now)",
            new { id, owner = Database.LocalOwner, number, parent, origin, topic, summary = summary.Length <= 300 ? summary : summary[..299] + "…", blob, now = Database.Now }, transaction);
    }
}
