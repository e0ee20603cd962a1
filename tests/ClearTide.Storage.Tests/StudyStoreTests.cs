using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Storage.Tests;

/// <summary>A database in a folder of its own, gone after the test.</summary>
public sealed class TemporaryFolder : IDisposable
{
    public string Path { get; } = Directory.CreateTempSubdirectory("clear-tide-").FullName;

    public void Dispose()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(Path, recursive: true);
    }
}

public sealed class StudyStoreTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    private StudyStore Open() => new(new Database(_folder.Path));

    private static StudyState Saved(SaveResult result)
    {
        Assert.Equal(SaveOutcome.Saved, result.Outcome);
        return result.State!;
    }

    [Fact]
    public void An_edit_is_there_after_the_store_is_opened_again()
    {
        var id = Open().Add(new StudyDocument { Title = "Estuary" });
        Saved(Open().Apply(id, 1, new AddLines("S -> I : 0.1 * S")));
        var state = Open().Load(id)!;
        Assert.Equal(2, state.Document.Compartments.Length);
        Assert.Equal((2, 2), (state.Version, state.Revision));
    }

    [Fact]
    public void Undo_and_redo_walk_the_branch_that_was_edited_last()
    {
        var store = Open();
        var id = store.Add(new StudyDocument { Title = "Estuary" });
        var one = Saved(store.Apply(id, 1, new AddLines("a = 1")));
        var two = Saved(store.Apply(id, one.Version, new AddLines("b = 2")));
        var back = Saved(store.Undo(id, two.Version));
        Assert.Equal("adds the parameter b", back.Redo);
        var other = Saved(store.Apply(id, back.Version, new AddLines("c = 3")));
        Assert.Null(other.Redo);
        Assert.Equal(["a", "c"], other.Document.Definitions.Select(part => part.Symbol));
        var start = Saved(store.Undo(id, Saved(store.Undo(id, other.Version)).Version));
        Assert.Null(start.Undo);
        Assert.Empty(start.Document.Definitions);
        // Opened anew, redo still leads to the branch of c, not of b.
        store = Open();
        var again = Saved(store.Redo(id, Saved(store.Redo(id, start.Version)).Version));
        Assert.Equal(["a", "c"], again.Document.Definitions.Select(part => part.Symbol));
    }

    [Fact]
    public void Generated_histories_come_back_step_by_step()
    {
        var random = new Random(4);
        var store = Open();
        var id = store.Add(new StudyDocument { Title = "Estuary" });
        var state = store.Load(id)!;
        var seen = new List<string>();
        string? topic = null;
        for (var k = 0; k < 60; k++)
        {
            Edit edit = random.Next(3) switch
            {
                0 => new AddLines($"p{k} = {random.Next(100)}"),
                1 when state.Document.Compartments.Length > 1 => new MoveOnPaper(
                    state.Document.Compartments[0].Id,
                    10 + k,
                    random.Next(300)
                ),
                _ => new AddLines($"C{k} -> D{k} at 0.{1 + random.Next(8)}"),
            };
            // A second move of the same plate right after the first takes its place in the history.
            if (edit.Topic is null || edit.Topic != topic)
                seen.Add(Formats.Studies.StudyFile.WriteDocument(state.Document));
            topic = edit.Topic;
            state = Saved(store.Apply(id, state.Version, edit));
        }
        store = Open();
        for (var k = seen.Count - 1; k >= 0; k--)
        {
            state = Saved(store.Undo(id, state.Version));
            Assert.Equal(seen[k], Formats.Studies.StudyFile.WriteDocument(state.Document));
        }
    }

    [Fact]
    public void A_stale_edit_is_refused_with_what_changed()
    {
        var store = Open();
        var id = store.Add(new StudyDocument { Title = "Estuary" });
        Saved(store.Apply(id, 1, new AddLines("a = 1")));
        var stale = store.Apply(id, 1, new AddLines("b = 2"));
        Assert.Equal(SaveOutcome.Stale, stale.Outcome);
        Assert.Equal("adds the parameter a", stale.LastChange);
        Assert.Single(store.Load(id)!.Document.Definitions);
    }

    [Fact]
    public void A_refused_edit_leaves_the_study_as_it_was()
    {
        var store = Open();
        var id = store.Add(new StudyDocument { Title = "Estuary" });
        Assert.Equal(SaveOutcome.Refused, store.Apply(id, 1, new AddLines("S -> S : 1")).Outcome);
        Assert.Equal(1, store.Load(id)!.Version);
    }

    [Fact]
    public void Of_many_edits_on_one_version_exactly_one_is_made()
    {
        var store = Open();
        var id = store.Add(new StudyDocument { Title = "Estuary" });
        var outcomes = Enumerable
            .Range(0, 16)
            .AsParallel()
            .WithDegreeOfParallelism(8)
            .Select(k => store.Apply(id, 1, new AddLines($"p{k} = 1")).Outcome)
            .ToList();
        Assert.Single(outcomes, SaveOutcome.Saved);
        Assert.Equal(15, outcomes.Count(outcome => outcome == SaveOutcome.Stale));
    }

    [Fact]
    public void A_removed_study_takes_its_data_and_results_with_it()
    {
        var database = new Database(_folder.Path);
        var (studies, data, results) = (new StudyStore(database), new DataSetStore(database), new ResultStore(database));
        var id = studies.Add(new StudyDocument { Title = "Estuary" });
        var stored = data.AddVersion(
            id,
            new("", "counts", [new DataRow(0, 7, 3)])
            {
                Subjects =
                [
                    new("Anse")
                    {
                        Doses = [new(1, 50, 2)],
                        Covariates = new Dictionary<string, double> { ["weight"] = 71 },
                    },
                ],
            }
        );
        var subject = Assert.Single(data.Find(id, stored.Id)!.Subjects);
        Assert.Equal(("Anse", new Dose(1, 50, 2), 71), (subject.Name, Assert.Single(subject.Doses), subject.Covariates["weight"]));
        Assert.Equal([new DataRow(0, 7, 3)], data.Find(id, stored.Id)!.Rows);
        results.Put(id, "fit", "f", "result");
        var shelf = new Shelf(database);
        Assert.False(shelf.Delete(id)); // nothing is deleted that was not put away before
        Assert.True(shelf.Archive(id, archived: true));
        Assert.True(shelf.Delete(id));
        Assert.Null(studies.Load(id));
        Assert.Null(data.Find(id, stored.Id));
        Assert.Null(results.Newest<string>(id, "fit"));
    }
}
