using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;
using Dapper;

namespace ClearTide.Storage.Tests;

public sealed class RevisionSizeTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Fact]
    public void A_revision_holds_little_more_than_what_was_changed_and_reads_back_as_it_was()
    {
        var database = new Database(_folder.Path);
        var (store, history) = (new StudyStore(database), new StudyHistory(database));
        var lines = string.Join("; ", Enumerable.Range(0, 60).Select(k => $"C{k} -> C{k + 1} at rate{k}; rate{k} = 0.{k + 10} per day"));
        var id = store.Add(new AddLines(lines).Apply(new StudyDocument { Title = "Estuary" }).Document!);
        var texts = new List<string>();
        for (var k = 0; k < 40; k++)
        {
            var state = store.Load(id)!;
            texts.Add(StudyFile.WriteDocument(state.Document));
            Edit edit = (k % 3) switch
            {
                0 => new AddLines($"D{k} -> E{k} : {k}"),
                1 => new SetField(state.Document.Definitions[k].Id, PartField.Text, $"{k} per week"),
                _ => new RemoveParts(state.Document.Definitions[k].Id),
            };
            Assert.Equal(SaveOutcome.Saved, store.Apply(id, state.Version, edit).Outcome);
        }
        for (var k = 0; k < texts.Count; k++)
            Assert.Equal(texts[k], StudyFile.WriteDocument(history.Document(id, k + 1)!));
        using var connection = database.Open();
        var sizes = connection
            .Query<(long Number, long Length, long? Base)>("select number, length(document), base from revision order by number")
            .ToList();
        Assert.Null(sizes[0].Base);
        // Those that build on another take at most 700 bytes, so that several lie in one page of the database.
        var built = sizes.Where(row => row.Base is not null).ToList();
        Assert.True(built.Average(row => row.Length) < 0.5 * sizes[0].Length, $"{built.Average(row => row.Length)} of {sizes[0].Length}");
        Assert.True(built.Count >= 30);
        Assert.All(built, row => Assert.InRange(row.Length, 1, 700));
    }

    [Fact]
    public void Revisions_of_the_first_format_are_still_read()
    {
        var database = new Database(_folder.Path);
        var store = new StudyStore(database);
        var document = new AddLines("A -> B at 0.1").Apply(new StudyDocument { Title = "Old" }).Document!;
        var id = store.Add(document);
        using var packed = new MemoryStream();
        using (var brotli = new System.IO.Compression.BrotliStream(packed, System.IO.Compression.CompressionLevel.Fastest))
            brotli.Write(System.Text.Encoding.UTF8.GetBytes(StudyFile.WriteDocument(document)));
        using (var connection = database.Open())
            connection.Execute(
                "update revision set document = @blob, base = null where study_id = @id",
                new { id, blob = packed.ToArray() }
            );
        var again = new StudyStore(database);
        Assert.Equal(StudyFile.WriteDocument(document), StudyFile.WriteDocument(again.Load(id)!.Document));
        var edited = again.Apply(id, 1, new AddLines("B -> C at 0.2")).State!;
        Assert.Equal(3, new StudyStore(database).Load(id)!.Document.Compartments.Length);
        Assert.Equal(2, edited.Revision);
    }
}
