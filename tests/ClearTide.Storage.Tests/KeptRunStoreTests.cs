using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Storage.Tests;

public sealed class KeptRunStoreTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Fact]
    public void A_kept_run_stays_what_it_was_and_goes_with_its_study()
    {
        var database = new Database(_folder.Path);
        var (studies, kept) = (new StudyStore(database), new KeptRunStore(database));
        var document = new AddLines("A(0) = 5; A -> at 0.1").Apply(new StudyDocument { Title = "Estuary" }).Document!;
        var id = studies.Add(document);
        Assert.Null(kept.Keep(id, document));
        Assert.Null(kept.Keep(id, document with { End = 7 }));
        studies.Apply(id, 1, new AddLines("B(0) = 1"));
        var runs = kept.All(id);
        Assert.Equal(["Run 1", "Run 2"], runs.Select(run => run.Name));
        Assert.NotEqual(runs[0].Colour, runs[1].Colour);
        Assert.Equal(document.Compartments.Single(), runs[0].Document.Compartments.Single());
        Assert.Equal(7, runs[1].Document.End);
        Assert.True(kept.Change(id, runs[0].Id, "  Ferry as it was ", 4, hidden: true));
        Assert.Equal(("Ferry as it was", 4, true), (kept.All(id)[0].Name, kept.All(id)[0].Colour, kept.All(id)[0].Hidden));
        Assert.True(kept.Remove(id, runs[1].Id));
        Assert.False(kept.Remove(id, runs[1].Id));
        for (var k = 1; k < KeptRunStore.Most; k++)
            Assert.Null(kept.Keep(id, document));
        Assert.Contains("At most", kept.Keep(id, document));
    }
}
