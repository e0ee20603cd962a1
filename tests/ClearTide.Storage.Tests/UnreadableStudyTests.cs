using System.Text;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using Dapper;

namespace ClearTide.Storage.Tests;

/// <summary>What is stored and is no study, as a disk or an older version may have left it, touches nothing else.</summary>
public sealed class UnreadableStudyTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();
    private readonly Database _database;
    private readonly string _id,
        _other;

    public UnreadableStudyTests()
    {
        _database = new(_folder.Path);
        var store = new StudyStore(_database);
        (_id, _other) = (store.Add(new StudyDocument { Title = "Reeds" }), store.Add(new StudyDocument { Title = "Gulls" }));
        store.Apply(_id, 1, new AddLines("A -> B at 0.1"));
    }

    public void Dispose() => _folder.Dispose();

    private void Damage(long revision, byte[] blob)
    {
        using var connection = _database.Open();
        connection.Execute(
            "update revision set document = @blob, base = null where study_id = @id and number = @revision",
            new
            {
                blob,
                id = _id,
                revision,
            }
        );
    }

    private static byte[] Packed(string text)
    {
        using var compressor = new ZstdSharp.Compressor();
        return compressor.Wrap(Encoding.UTF8.GetBytes(text)).ToArray();
    }

    public static TheoryData<byte[]> Damages =>
        [
            Packed("{\"title\":\"Reeds\",\"definitions\":[{\"id\":\"v1\",\"symbol\":\"a\"}]}"),
            Packed("nothing"),
            Packed("{\"title\":\"Reeds\",\"compartments\":[null]}"),
            Packed("{}"),
            new byte[] { 0x28, 0xB5, 0x2F, 0xFD, 9, 9 },
            new byte[] { 1, 2, 3 },
            Array.Empty<byte>(),
        ];

    [Theory]
    [MemberData(nameof(Damages))]
    public void It_is_told_with_its_revision_and_can_be_gone_back_from(byte[] blob)
    {
        Damage(2, blob);
        var store = new StudyStore(_database);
        Assert.Equal(
            (_id, 2),
            Assert.Throws<UnreadableStudyException>(() => store.Load(_id)) is var told ? (told.Study, told.Revision) : default
        );
        Assert.Equal("Gulls", store.Load(_other)!.Document.Title);
        Assert.Equal(2, new Shelf(_database).List().Count);
        var damage = new StudyRescue(_database).Of(_id)!;
        Assert.Equal(("Reeds", 2, 1), (damage.Title, damage.Revision, damage.Earlier));
        Assert.NotEmpty(damage.Why!);
        Assert.Equal(SaveOutcome.Saved, store.Jump(_id, damage.Version, 1).Outcome);
        Assert.Empty(store.Load(_id)!.Document.Flows);
        Assert.Null(new StudyRescue(_database).Of(_id)!.Why);
    }

    [Fact]
    public void What_is_stored_is_given_out_as_it_is()
    {
        Damage(2, Packed("{\"title\":7}"));
        Assert.Equal("{\"title\":7}", Encoding.UTF8.GetString(new StudyRescue(_database).Raw(_id)!));
        Assert.Null(new StudyRescue(_database).Raw("none"));
        Assert.Null(new StudyRescue(_database).Of("none"));
    }

    [Fact]
    public void A_study_comes_with_its_data_or_not_at_all()
    {
        var store = new StudyStore(_database);
        DataSet[] twice = [new("d", "counts", [new(0, 7, 3)]), new("d", "counts", [new(0, 7, 3)])];
        Assert.ThrowsAny<Exception>(() => store.Add(new StudyDocument { Title = "Half" }, twice));
        Assert.DoesNotContain(new Shelf(_database).List(), listing => listing.Title == "Half");
        var whole = store.Add(new StudyDocument { Title = "Whole" }, [twice[0]]);
        Assert.Equal(3, new DataSetStore(_database).Find(whole, "d")!.Rows[0].Value);
    }
}
