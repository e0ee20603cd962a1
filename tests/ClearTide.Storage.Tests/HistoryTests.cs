using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Studies;
using CsCheck;

namespace ClearTide.Storage.Tests;

/// <summary>Store, restart, reload, undo: on generated histories the document is always the one that was there.</summary>
public sealed class HistoryTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    private static readonly string[] Lines =
    [
        "A -> B at 0.1",
        "B -> C 40%, D the rest after 3 days in 2 stages",
        "C -> : 2 limited",
        "k = 0.3 per day",
        "q = k * A",
        "f = points 0 1, 9 2 smooth then repeat 30",
        "g(x) = hill(0, 1, 2, 3)",
        "luck = normal(1, 0.2) every 7 days",
        "at 3: A = 5",
        "while A > 3: k = 0.1 per day",
        "assume: nobody comes",
        "expect: D never falls",
        "A(0) = 30 people",
        "unit tablet = 200 mg",
    ];

    /// <summary>One of the edits of a history, by numbers, so that it can be made whatever the study holds.</summary>
    private static Edit Of(StudyDocument document, int kind, int which)
    {
        var part = document.Parts.ElementAtOrDefault(which % Math.Max(1, document.Parts.Count()));
        return (kind % 9) switch
        {
            0 or 1 or 2 => new AddLines(Lines[which % Lines.Length]),
            3 when part is not null => new SetField(part.Id, PartField.Note, $"note {which}"),
            4 when part is ISymbolPart named => new SetField(named.Id, PartField.Symbol, $"s{which}"),
            5 when part is not null => new RemoveParts(part.Id),
            6 when part is not null => new AddCopies(PartSelection.Of(document, [part.Id])),
            7 => new SetTimeUnit(which % 2 == 0 ? TimeUnit.Week : TimeUnit.Day, which % 3 == 0),
            8 => new SetSeed(which),
            _ => new SetSpan(0, 100 + which),
        };
    }

    private static int Steps(string folder, string id) => new StudyHistory(new Database(folder)).Entries(id).Count;

    [Fact]
    public void Every_step_of_a_history_comes_back_after_a_restart()
    {
        Gen.Select(Gen.Int[0, 8], Gen.Int[0, 40])
            .Array[4, 14]
            .Sample(
                steps =>
                {
                    var folder = Path.Combine(_folder.Path, Guid.NewGuid().ToString("n"));
                    var store = new StudyStore(new Database(folder));
                    var id = store.Add(new StudyDocument { Title = "History" });
                    var texts = new List<string> { StudyFile.WriteDocument(store.Load(id)!.Document) };
                    foreach (var (kind, which) in steps)
                    {
                        var state = store.Load(id)!;
                        var before = Steps(folder, id);
                        var result = store.Apply(id, state.Version, Of(state.Document, kind, which));
                        if (result.Outcome != SaveOutcome.Saved)
                            continue;
                        var text = StudyFile.WriteDocument(result.State!.Document);
                        // An edit of the same field right after another takes its place.
                        if (Steps(folder, id) > before)
                            texts.Add(text);
                        else
                            texts[^1] = text;
                        // As after a restart: another connection reads what was kept.
                        Assert.Equal(text, StudyFile.WriteDocument(new StudyStore(new Database(folder)).Load(id)!.Document));
                    }
                    var again = new StudyStore(new Database(folder));
                    for (var k = texts.Count - 1; k >= 0; k--)
                    {
                        Assert.Equal(texts[k], StudyFile.WriteDocument(again.Load(id)!.Document));
                        if (k > 0)
                            again.Undo(id, again.Load(id)!.Version);
                    }
                    var redone = again.Load(id)!;
                    while (redone.Redo is not null)
                        redone = again.Redo(id, redone.Version).State!;
                    Assert.Equal(texts[^1], StudyFile.WriteDocument(redone.Document));
                },
                iter: 12,
                threads: 1
            );
    }
}
