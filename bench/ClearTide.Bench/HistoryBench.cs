using BenchmarkDotNet.Attributes;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;
using ClearTide.Storage;

namespace ClearTide.Bench;

/// <summary>A study of twenty parts with five thousand revisions: going back, going far, and what an edit adds to the database.</summary>
public class HistoryBench
{
    private const int Revisions = 5000;
    private readonly string _folder = Directory.CreateTempSubdirectory("clear-tide-history-").FullName;
    private StudyStore _store = null!;
    private string _id = "";
    private long _version;

    [GlobalSetup]
    public void Write()
    {
        var database = new Database(_folder);
        _store = new StudyStore(database);
        var study = StudyFile.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "demo", "marram-fever.study.json"))).Document;
        _id = _store.Add(study);
        var (first, second) = (study.DefinitionBySymbol("beta")!.Id, study.DefinitionBySymbol("illness")!.Id);
        _version = 1;
        long before = 0;
        for (var k = 0; k < Revisions; k++)
        {
            // By turns, so that no two edits in a row are of one field and fold into one.
            var state = _store
                .Apply(
                    _id,
                    _version,
                    k % 2 == 0
                        ? new SetField(first, PartField.Text, $"0.{1000 + k} per day")
                        : new SetField(second, PartField.Text, $"{4 + 0.001 * k} days")
                )
                .State!;
            _version = state.Version;
            if (k == 999)
                before = Size();
        }
        Console.WriteLine($"{study.Parts.Count()} parts: {(Size() - before) / (double)(Revisions - 1000):0} bytes an edit");
    }

    private long Size()
    {
        using var connection = new Database(_folder).Open();
        using var command = connection.CreateCommand();
        command.CommandText = "pragma wal_checkpoint(truncate)";
        command.ExecuteNonQuery();
        return new FileInfo(Path.Combine(_folder, "cleartide.db")).Length;
    }

    [GlobalCleanup]
    public void Remove()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    /// <summary>One step back and one forward.</summary>
    [Benchmark]
    public void UndoAndRedo()
    {
        _version = _store.Undo(_id, _version).State!.Version;
        _version = _store.Redo(_id, _version).State!.Version;
    }

    /// <summary>To the first revision and back to the last.</summary>
    [Benchmark]
    public void JumpToTheFirstAndBack()
    {
        _version = _store.Jump(_id, _version, 2).State!.Version;
        _version = _store.Jump(_id, _version, Revisions).State!.Version;
    }

    /// <summary>The whole list in words.</summary>
    [Benchmark]
    public int List() => new StudyHistory(new Database(_folder)).Entries(_id).Count;
}
