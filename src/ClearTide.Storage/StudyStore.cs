using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using Dapper;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>A study as it stands: its document and its place in the history.</summary>
/// <param name="Version">Rises with every change of any kind; an edit names the version it was made on.</param>
/// <param name="Revision">Number of the revision shown.</param>
/// <param name="Undo">What undo would take back, or null.</param>
/// <param name="Redo">What redo would bring back, or null.</param>
public sealed record StudyState(string Id, long Version, long Revision, StudyDocument Document, string? Undo, string? Redo);

public enum SaveOutcome
{
    Saved,
    Refused,
    Stale,
    Missing,
}

/// <summary>What became of an edit. A stale one comes with the study as it is now and what was changed last.</summary>
public sealed record SaveResult(SaveOutcome Outcome, StudyState? State, EditResult? Refusal = null, string? LastChange = null);

/// <summary>Studies and their revisions. The log only grows; undo and redo move the head.</summary>
public sealed class StudyStore(Database database)
{
    /// <summary>Parts of all documents that are kept: those of some hundred studies, with all that is compiled of them.</summary>
    private const int MostParts = 50_000;

    // A revision never changes once it is stored, so what is found here is what the database holds.
    private readonly SizedCache<(string Study, long Number), StudyDocument> _documents = new(MostParts, document =>
        10 + document.Parts.Count()
    );

    /// <summary>Where a study stands, and the revision it stands at.</summary>
    private sealed class HeadRow
    {
        public long Head { get; set; }
        public long Tip { get; set; }
        public long Version { get; set; }
        public long? Parent { get; set; }
        public string? Summary { get; set; }

        /// <summary>The highest number of its revisions.</summary>
        public long Last { get; set; }
    }

    /// <summary>Adds a study with the data it refers to, all of it or nothing; its first revision is the document as given.</summary>
    /// <param name="copyOf">The study that it begins as a copy of; null for none.</param>
    public string Add(StudyDocument document, IEnumerable<DataSet>? dataSets = null, string? copyOf = null)
    {
        var id = Database.NewId();
        return database.Write(
            (connection, transaction) =>
            {
                connection.Execute(
                    "insert into study (id, owner_id, title, question, tags, words, head, tip, version, created, "
                        + "changed, lineage) values (@id, @owner, @title, @question, @tags, @words, 1, 1, 1, @now, @now, "
                        + "coalesce((select lineage from study where id = @copyOf and owner_id = @owner), @id))",
                    new
                    {
                        id,
                        owner = Database.LocalOwner,
                        title = document.Title,
                        question = document.Question,
                        tags = Shelf.Tags(document),
                        words = Shelf.Words(document),
                        copyOf,
                        now = Database.Now,
                    },
                    transaction
                );
                Insert(connection, transaction, id, 1, null, "created", null, RevisionTexts.Alone(document));
                foreach (var data in dataSets ?? [])
                    DataSetStore.Insert(connection, transaction, id, data);
                return id;
            }
        );
    }

    public StudyState? Load(string id)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        return Load(connection, transaction, id);
    }

    /// <summary>What an edit makes of a study, worked out before it is its turn to be written.</summary>
    /// <param name="Before">The study at the version that the edit was made on.</param>
    /// <param name="Parent">The revision that the new one follows.</param>
    /// <param name="Text">What is stored for the new revision.</param>
    private sealed record Draft(StudyState Before, StudyDocument Next, long? Folded, long Parent, string Summary, StoredText Text);

    /// <summary>Applies an edit to the version it was made on and stores the result before it returns.</summary>
    /// <remarks>
    /// One edit is written at a time. All that can be told from the version that the edit was made on is worked out before, beside what
    /// others write; when it is its turn the study has that version still, or the edit is stale.
    /// </remarks>
    /// <param name="ahead">Told the document that comes of it before that is written, so that work on it can begin while the disk is
    /// waited for. It may still not be saved.</param>
    public SaveResult Apply(string id, long version, Edit edit, Action<StudyDocument>? ahead = null)
    {
        Draft draft;
        using (var connection = database.Open())
        {
            using var transaction = connection.BeginTransaction(deferred: true);
            if (Head(connection, transaction, id) is not { } head)
                return new(SaveOutcome.Missing, null);
            var state = Load(connection, transaction, id, head);
            if (head.Version != version)
                return new(SaveOutcome.Stale, state, LastChange: head.Summary ?? "");
            var result = edit.Apply(state.Document);
            if (result.Document is not { } next)
                return new(SaveOutcome.Refused, state, result);
            // What changes nothing is no step.
            if (next.Equals(state.Document))
                return new(SaveOutcome.Saved, state);
            ahead?.Invoke(next);
            draft = Drafted(connection, transaction, state, head, edit, next);
        }
        var saved = Write((connection, transaction) => Apply(connection, transaction, version, edit, draft));
        if (saved is { Outcome: SaveOutcome.Saved, State: { } now })
            _documents.Keep((id, now.Revision), now.Document);
        return saved;
    }

    private Draft Drafted(
        SqliteConnection connection,
        SqliteTransaction transaction,
        StudyState state,
        HeadRow head,
        Edit edit,
        StudyDocument next
    )
    {
        var folded = Folded(connection, transaction, state.Id, head, edit.Topic);
        // Told from before the first of the edits that are folded into one.
        var before = folded is { } from ? Document(connection, transaction, state.Id, from) : state.Document;
        var parent = folded ?? head.Head;
        return new(
            state,
            next,
            folded,
            parent,
            edit.Describe(before),
            RevisionTexts.Prepare(connection, transaction, state.Id, parent, next)
        );
    }

    private SaveResult Apply(SqliteConnection connection, SqliteTransaction transaction, long version, Edit edit, Draft draft)
    {
        var (id, next) = (draft.Before.Id, draft.Next);
        if (Head(connection, transaction, id) is not { } head)
            return new(SaveOutcome.Missing, null);
        if (head.Version != version)
            return new(SaveOutcome.Stale, Load(connection, transaction, id, head), LastChange: head.Summary ?? "");
        // A name that was given meanwhile is no new version, and what has one is not folded.
        if (Folded(connection, transaction, id, head, edit.Topic) != draft.Folded)
            draft = Drafted(connection, transaction, draft.Before, head, edit, next);
        var number = head.Last + 1;
        var summary = Insert(connection, transaction, id, number, draft.Parent, draft.Summary, edit.Topic, draft.Text);
        if (draft.Folded is not null)
            connection.Execute(
                "update revision set folded = 1 where study_id = @id and number = @number",
                new { id, number = head.Head },
                transaction
            );
        connection.Execute(
            "update study set head = @number, tip = @number, version = version + 1, title = @title, question = @question, tags = "
                + "@tags, words = @words, changed = @now where id = @id",
            new
            {
                id,
                number,
                title = next.Title,
                question = next.Question,
                tags = Shelf.Tags(next),
                words = Shelf.Words(next),
                now = Database.Now,
            },
            transaction
        );
        return new(SaveOutcome.Saved, new(id, version + 1, number, next, summary, null));
    }

    /// <summary>
    /// The revision that a new edit follows where it takes the place of the last one: an edit of the same field, made just before, that
    /// nobody has
    /// named, undone or gone back to. Null where it is a step of its own.
    /// </summary>
    private static long? Folded(SqliteConnection connection, SqliteTransaction transaction, string id, HeadRow head, string? topic) =>
        topic is null || head.Head != head.Tip
            ? null
            : connection.ExecuteScalar<long?>(
                """
                select parent from revision where study_id = @id and number = @head and topic = @topic and name is null
                    and not exists (select 1 from revision as later where later.study_id = @id and later.parent = @head)
                """,
                new
                {
                    id,
                    head = head.Head,
                    topic,
                },
                transaction
            );

    /// <summary>Moves the head to the revision before it.</summary>
    public SaveResult Undo(string id, long version) => Move(id, version, (_, _, head) => head.Parent);

    /// <summary>Moves the head one revision towards the tip of the branch it came from.</summary>
    public SaveResult Redo(string id, long version) =>
        Move(id, version, (connection, transaction, head) => Child(connection, transaction, id, head));

    /// <summary>Moves the head to any revision. One that lies aside of the line from the first to the last becomes the end of its own
    /// line.</summary>
    public SaveResult Jump(string id, long version, long number) => Move(id, version, (connection, transaction, head) =>
        {
            if (
                !connection.ExecuteScalar<bool>(
                    "select exists (select 1 from revision where study_id = @id and number = @number)",
                    new { id, number },
                    transaction
                )
            )
                return null;
            var ahead = connection.ExecuteScalar<bool>(
                """
                with recursive way (number, parent) as (
                    select number, parent from revision where study_id = @id and number = @tip
                    union all
                    select revision.number, revision.parent from way
                        cross join revision on revision.study_id = @id and revision.number = way.parent where way.parent >= @number
                )
                select exists (select 1 from way where number = @number)
                """,
                new
                {
                    id,
                    tip = head.Tip,
                    number,
                },
                transaction
            );
            if (!ahead)
                connection.Execute("update study set tip = @number where id = @id", new { id, number }, transaction);
            return number;
        });

    private SaveResult Move(string id, long version, Func<SqliteConnection, SqliteTransaction, HeadRow, long?> target) =>
        Write(
            (connection, transaction) =>
            {
                if (Head(connection, transaction, id) is not { } head)
                    return new(SaveOutcome.Missing, null);
                if (head.Version != version)
                    return new(SaveOutcome.Stale, Load(connection, transaction, id), LastChange: head.Summary ?? "");
                if (target(connection, transaction, head) is { } number)
                {
                    connection.Execute(
                        "update study set head = @number, version = version + 1, changed = @now where id = @id",
                        new
                        {
                            id,
                            number,
                            now = Database.Now,
                        },
                        transaction
                    );
                }
                var state = Load(connection, transaction, id)!;
                connection.Execute(
                    "update study set title = @title, question = @question, tags = @tags, words = @words where id = @id",
                    new
                    {
                        id,
                        title = state.Document.Title,
                        question = state.Document.Question,
                        tags = Shelf.Tags(state.Document),
                        words = Shelf.Words(state.Document),
                    },
                    transaction
                );
                return new(SaveOutcome.Saved, state);
            }
        );

    private SaveResult Write(Func<SqliteConnection, SqliteTransaction, SaveResult> work)
    {
        try
        {
            return database.Write(work);
        }
        catch
        {
            // What others wrote in the same transaction may have been read from it, and is not there now.
            Forget();
            throw;
        }
    }

    /// <summary>Lets go of the documents at hand, so that each is read from the database when it is next asked for.</summary>
    public void Forget() => _documents.Clear();

    private static HeadRow? Head(SqliteConnection connection, SqliteTransaction transaction, string id) =>
        connection.QuerySingleOrDefault<HeadRow>(
            """
            select study.head, study.tip, study.version, at.parent, at.summary,
                (select max(number) from revision where study_id = study.id) as last
            from study left join revision as at on at.study_id = study.id and at.number = study.head
            where study.id = @id and study.owner_id = @owner
            """,
            new { id, owner = Database.LocalOwner },
            transaction
        );

    private StudyState? Load(SqliteConnection connection, SqliteTransaction transaction, string id) =>
        Head(connection, transaction, id) is { } head ? Load(connection, transaction, id, head) : null;

    private StudyState Load(SqliteConnection connection, SqliteTransaction transaction, string id, HeadRow head)
    {
        var undo = head.Parent is null ? null : head.Summary ?? "";
        var redo = Child(connection, transaction, id, head) is { } child ? Summary(connection, transaction, id, child) : null;
        return new(id, head.Version, head.Head, Document(connection, transaction, id, head.Head), undo, redo);
    }

    /// <exception cref="UnreadableStudyException">What is stored is no study.</exception>
    private StudyDocument Document(SqliteConnection connection, SqliteTransaction transaction, string id, long number) =>
        _documents.GetOrRead((id, number), () =>
            RevisionTexts.Read(connection, id, number, transaction)
            ?? throw new UnreadableStudyException(id, number, "nothing is stored for it")
        );

    /// <summary>The revision on the way from the tip down to the head that has the head as its parent.</summary>
    private static long? Child(SqliteConnection connection, SqliteTransaction transaction, string id, HeadRow head) =>
        head.Head == head.Tip
            ? null
            : connection.ExecuteScalar<long?>(
                """
                with recursive way (number, parent) as (
                    select number, parent from revision where study_id = @id and number = @tip
                    union all
                    select revision.number, revision.parent from way
                        cross join revision on revision.study_id = @id and revision.number = way.parent where way.parent > @head
                )
                select number from way where parent = @head
                """,
                new
                {
                    id,
                    tip = head.Tip,
                    head = head.Head,
                },
                transaction
            );

    private static string Summary(SqliteConnection connection, SqliteTransaction transaction, string id, long number) =>
        connection.ExecuteScalar<string>(
            "select summary from revision where study_id = @id and number = @number",
            new { id, number },
            transaction
        ) ?? "";

    /// <returns>The summary as it is stored.</returns>
    private static string Insert(
        SqliteConnection connection,
        SqliteTransaction transaction,
        string id,
        long number,
        long? parent,
        string summary,
        string? topic,
        StoredText text
    )
    {
        if (summary.Length > 300)
            summary = summary[..299] + "…";
        connection.Execute(
            "insert into revision (study_id, owner_id, number, parent, base, summary, topic, document, created) values (@id, @owner, "
                + "@number, @parent, @origin, @summary, @topic, @blob, @now)",
            new
            {
                id,
                owner = Database.LocalOwner,
                number,
                parent,
                origin = text.Base,
                topic,
                summary,
                blob = text.Blob,
                now = Database.Now,
            },
            transaction
        );
        return summary;
    }
}
