using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Storage.Tests;

/// <summary>Steps of the history: edits of one field fold, names and going back keep them apart, any step can be gone to.</summary>
public sealed class FoldingTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();
    private readonly StudyStore _store;
    private readonly StudyHistory _history;
    private readonly string _id;
    private StudyState _state;

    public FoldingTests()
    {
        var database = new Database(_folder.Path);
        (_store, _history) = (new StudyStore(database), new StudyHistory(database));
        _id = _store.Add(new AddLines("A -> B at k; k = 0.1 per day; m = 5").Apply(new StudyDocument { Title = "Estuary" }).Document!);
        _state = _store.Load(_id)!;
    }

    public void Dispose() => _folder.Dispose();

    private void Make(Edit edit)
    {
        var result = _store.Apply(_id, _state.Version, edit);
        Assert.Equal(SaveOutcome.Saved, result.Outcome);
        _state = result.State!;
    }

    private void Set(string symbol, string text) =>
        Make(new SetField(_state.Document.DefinitionBySymbol(symbol)!.Id, PartField.Text, text));

    private string[] Summaries() => [.. _history.Entries(_id).Select(entry => entry.Summary)];

    private string K => _state.Document.DefinitionBySymbol("k")!.Text;

    [Fact]
    public void Edits_of_one_field_in_a_row_are_one_step_told_from_first_to_last()
    {
        Set("k", "0.2 per day");
        Set("k", "0.3 per day");
        Set("k", "0.4 per day");
        Assert.Equal(["k: 0.1 per day → 0.4 per day", "created"], Summaries());
        _state = _store.Undo(_id, _state.Version).State!;
        Assert.Equal("0.1 per day", K);
        Assert.Null(_state.Undo);
        _state = _store.Redo(_id, _state.Version).State!;
        Assert.Equal("0.4 per day", K);
    }

    [Fact]
    public void Another_field_between_keeps_them_apart()
    {
        Set("k", "0.2 per day");
        Set("m", "6");
        Set("k", "0.3 per day");
        Assert.Equal(["k: 0.2 per day → 0.3 per day", "m: 5 → 6", "k: 0.1 per day → 0.2 per day", "created"], Summaries());
    }

    [Fact]
    public void A_step_with_a_name_stays()
    {
        Set("k", "0.2 per day");
        Assert.Null(_history.Name(_id, _state.Revision, "before the ferry"));
        Set("k", "0.3 per day");
        Assert.Equal(3, Summaries().Length);
        Assert.Equal("before the ferry", _history.Entries(_id)[1].Name);
        Assert.Null(_history.Name(_id, _history.Entries(_id)[1].Number, ""));
        Assert.Null(_history.Entries(_id)[1].Name);
        Assert.NotNull(_history.Name(_id, _state.Revision, new string('n', StudyHistory.LongestName + 1)));
        Assert.NotNull(_history.Name(_id, 999, "none"));
    }

    [Fact]
    public void An_edit_after_undo_is_a_step_of_its_own_and_the_undone_one_lies_aside()
    {
        Set("k", "0.2 per day");
        Set("m", "6");
        _state = _store.Undo(_id, _state.Version).State!;
        Set("k", "0.3 per day");
        var entries = _history.Entries(_id);
        Assert.Equal(
            [RevisionPlace.Shown, RevisionPlace.Aside, RevisionPlace.Before, RevisionPlace.Before],
            entries.Select(entry => entry.Place)
        );
        // Going to the step that lies aside brings it back, and undo leads from there to the start.
        _state = _store.Jump(_id, _state.Version, entries[1].Number).State!;
        Assert.Equal(("0.2 per day", "6"), (K, _state.Document.DefinitionBySymbol("m")!.Text));
        _state = _store.Undo(_id, _state.Version).State!;
        Assert.Equal("0.2 per day", K);
        _state = _store.Undo(_id, _state.Version).State!;
        Assert.Equal("0.1 per day", K);
    }

    [Fact]
    public void Going_back_and_forth_along_the_line_loses_nothing()
    {
        for (var k = 0; k < 12; k++)
            Make(new AddLines($"p{k} = {k}"));
        var all = _history.Entries(_id);
        _state = _store.Jump(_id, _state.Version, all[^3].Number).State!;
        Assert.Equal(2, _state.Document.Definitions.Count(part => part.Symbol.StartsWith('p')));
        Assert.Equal(10, _history.Entries(_id).Count(entry => entry.Place == RevisionPlace.After));
        _state = _store.Jump(_id, _state.Version, all[0].Number).State!;
        Assert.Equal(12, _state.Document.Definitions.Count(part => part.Symbol.StartsWith('p')));
        Assert.Null(_state.Redo);
        Assert.Equal(_state, _store.Jump(_id, _state.Version, 12345).State);
    }

    [Fact]
    public void The_shelf_finds_studies_by_their_words_and_keeps_those_put_away_apart()
    {
        var shelf = new Shelf(new Database(_folder.Path));
        Make(new SetQuestion("Reeds on the bank", "How fast do they grow?", "North of Tesk", "plants, slow"));
        foreach (var words in (string[])["reeds", "GROW fast", "tesk", "slow plants", "k"])
            Assert.Equal(_id, Assert.Single(shelf.List(words)).Id);
        Assert.Empty(shelf.List("reeds owls"));
        Assert.Equal(["plants", "slow"], shelf.List()[0].Tags);
        Assert.True(shelf.Archive(_id, archived: true));
        Assert.Empty(shelf.List());
        Assert.Equal(_id, Assert.Single(shelf.List("reeds", archived: true)).Id);
        Assert.True(shelf.Archive(_id, archived: false));
        Assert.False(shelf.Archive("none", archived: true));
        Assert.Single(shelf.List());
    }

    [Fact]
    public void The_shelf_finds_the_last_part_of_a_large_study()
    {
        Make(new AddLines(string.Join("; ", Enumerable.Range(0, 400).Select(k => $"harbour{k} = {k}"))));
        Assert.Equal(_id, Assert.Single(new Shelf(new Database(_folder.Path)).List("harbour399")).Id);
    }
}
