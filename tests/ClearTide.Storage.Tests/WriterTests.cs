using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using Dapper;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage.Tests;

/// <summary>Many who write at once: each of them is served, and one that fails takes nobody along.</summary>
public sealed class WriterTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();
    private readonly Database _database;
    private readonly StudyStore _store;

    public WriterTests()
    {
        _database = new(_folder.Path);
        _store = new(_database);
    }

    public void Dispose() => _folder.Dispose();

    /// <summary>Runs pieces of work at the same moment, each on a thread of its own.</summary>
    private static void Together(int count, Action<int> work)
    {
        using var begin = new Barrier(count);
        var threads = Enumerable
            .Range(0, count)
            .Select(k => new Thread(() =>
            {
                begin.SignalAndWait();
                work(k);
            }))
            .ToList();
        threads.ForEach(thread => thread.Start());
        threads.ForEach(thread => thread.Join());
    }

    [Fact]
    public void Edits_of_many_studies_at_once_are_all_there()
    {
        const int people = 24,
            edits = 15;
        var ids = Enumerable.Range(0, people).Select(k => _store.Add(new StudyDocument { Title = $"Reeds {k}" })).ToArray();
        Together(people, k =>
        {
            for (var n = 0; n < edits; n++)
                Assert.Equal(SaveOutcome.Saved, _store.Apply(ids[k], n + 1, new AddLines($"a{n} = {k}")).Outcome);
        });
        var again = new StudyStore(new Database(_folder.Path));
        for (var k = 0; k < people; k++)
        {
            var document = again.Load(ids[k])!.Document;
            Assert.Equal(
                Enumerable.Range(0, edits).Select(n => ($"a{n}", $"{k}")),
                document.Definitions.Select(part => (part.Symbol, part.Text))
            );
        }
    }

    [Fact]
    public void Of_edits_of_one_version_at_once_one_is_made_and_the_others_are_told()
    {
        var id = _store.Add(new StudyDocument { Title = "Reeds" });
        var outcomes = new SaveOutcome[12];
        Together(outcomes.Length, k => outcomes[k] = _store.Apply(id, 1, new AddLines($"a{k} = 1")).Outcome);
        Assert.Single(outcomes, SaveOutcome.Saved);
        Assert.Equal(outcomes.Length - 1, outcomes.Count(outcome => outcome == SaveOutcome.Stale));
        Assert.Single(new StudyStore(new Database(_folder.Path)).Load(id)!.Document.Definitions);
    }

    [Fact]
    public void One_that_fails_takes_back_its_own_and_nothing_else()
    {
        using (var connection = _database.Open())
            connection.Execute("create table tally (who integer)");
        var failed = 0;
        Together(20, k =>
        {
            try
            {
                _database.Write(
                    (connection, transaction) =>
                    {
                        connection.Execute("insert into tally values (@k)", new { k }, transaction);
                        return k % 4 == 0 ? throw new InvalidOperationException("on purpose") : k;
                    }
                );
            }
            catch (InvalidOperationException)
            {
                Interlocked.Increment(ref failed);
            }
        });
        using var look = _database.Open();
        Assert.Equal(5, failed);
        Assert.Equal(Enumerable.Range(0, 20).Where(k => k % 4 != 0), look.Query<int>("select who from tally order by who"));
    }

    [Fact]
    public void What_could_not_be_written_is_not_shown_as_if_it_were()
    {
        var id = _store.Add(new StudyDocument { Title = "Reeds" });
        Edit edit = new AddLines("a = 1");
        using (var other = _database.Open())
        {
            // Another program holds the database for longer than anybody waits for it.
            other.Execute("pragma busy_timeout = 0");
            using var hold = other.BeginTransaction(deferred: false);
            Assert.ThrowsAny<SqliteException>(() => _store.Apply(id, 1, edit));
        }
        Assert.Equal((1, 0), _store.Load(id) is { } state ? (state.Version, state.Document.Definitions.Length) : default);
        Assert.Equal(SaveOutcome.Saved, _store.Apply(id, 1, edit).Outcome);
    }

    [Fact]
    public void A_full_disk_refuses_an_edit_and_takes_it_once_there_is_room()
    {
        var id = _store.Add(new StudyDocument { Title = "Reeds" });
        var edit = new AddLines("a = 1");
        var large = new AddLines(string.Join("; ", Enumerable.Range(0, 400).Select(k => $"b{k} = {k * 7919 % 10_007}.{k}")));
        // The file may not grow by a page: SQLite answers as it does where the disk is full. The limit is that of the connection by which
        // all writes go, and goes with it when a write has failed.
        Limit(1);
        var full = Assert.ThrowsAny<SqliteException>(() => _store.Apply(id, 1, large));
        Assert.Equal(Sqlite.Full, full.SqliteErrorCode);
        Assert.Equal(DataFolderException.DiskFull, DataFolderException.Of(full, _folder.Path)!.ExitCode);
        Assert.Equal((1, 0), _store.Load(id) is { } state ? (state.Version, state.Document.Definitions.Length) : default);
        Assert.Equal(SaveOutcome.Saved, _store.Apply(id, 1, large).Outcome);
        Assert.Equal(SaveOutcome.Saved, _store.Apply(id, 2, edit).Outcome);

        void Limit(int pages) =>
            _database.Write(
                (connection, transaction) => connection.ExecuteScalar<int>($"pragma max_page_count = {pages}", null, transaction)
            );
    }
}
