using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>What a run has to say about its parts, as findings.</summary>
internal static class RunNotes
{
    public static IEnumerable<Finding> Of(StudyDocument document, Trajectory run)
    {
        foreach (var group in run.Notes.GroupBy(note => (note.Kind, note.PartId, note.CompartmentId)))
        {
            var when = Stretches(document, [.. group]);
            var emptied = document.Compartment(group.Key.CompartmentId)?.Symbol;
            IReadOnlyList<FindingFix> fixes = [];
            if (group.Key.Kind == RunNoteKind.RanShort)
                fixes = [new("Stop the run instead", new SetField(group.Key.PartId, PartField.StopsWhenShort, "true"))];
            var (field, message) = group.Key.Kind switch
            {
                RunNoteKind.Limited => (
                    document.Part(group.Key.PartId) is EventRule ? PartField.Text : PartField.Rate,
                    $"{emptied} was empty {when}, so this took no more than flowed in."
                ),
                RunNoteKind.RanShort => (
                    PartField.Text,
                    $"{emptied} held {NumberWords.Of(group.First().Amount)} {when}, and {NumberWords.Of(group.First().Asked)} was to "
                        + "leave it: all that was there did."
                ),
                RunNoteKind.SetBelowZero => (
                    PartField.Text,
                    $"This sets {emptied} below zero, to {NumberWords.Of(group.First().Amount)}, {when}. To take no more than is "
                        + $"there, move it out, as in “{emptied} -> : 5”."
                ),
                RunNoteKind.OutOfRange when document.Part(group.Key.PartId) is ResponseCurve curve => (
                    PartField.Points,
                    $"{curve.Symbol} was asked for places outside its range {when}; it held the value at its end."
                ),
                _ => (
                    PartField.Text,
                    $"Conditions switch back and forth without end {when}; there each state was held for a moment, so that the run "
                        + "depends a little on how long. A smooth change in place of the jump avoids it."
                ),
            };
            yield return new(document.Part(group.Key.PartId)?.Id, field, Severity.Doubt, null, message, fixes)
            {
                IsNote = group.Key.Kind is RunNoteKind.Limited or RunNoteKind.OutOfRange,
            };
        }
        foreach (var input in document.Inputs)
        {
            if (input.AfterIsChosen || input.Points.IsEmpty || input.Points[^1].X >= document.End)
                continue;
            var end = TypedNumber.Short(input.Points[^1].X);
            yield return new(
                input.Id,
                PartField.After,
                Severity.Doubt,
                null,
                $"The points of {input.Symbol} end at {document.TimeUnit.Singular} {end}, and the span goes on. How does it go on? "
                    + "Until you say, it holds its last value.",
                [
                    new("Hold the last value", new SetField(input.Id, PartField.After, nameof(Beyond.Hold))),
                    new("Continue the trend", new SetField(input.Id, PartField.After, nameof(Beyond.Trend))),
                    new("Repeat", new SetField(input.Id, PartField.After, nameof(Beyond.Repeat))),
                    new("Zero", new SetField(input.Id, PartField.After, nameof(Beyond.Zero))),
                ]
            );
        }
    }

    private static string Stretches(StudyDocument document, IReadOnlyList<RunNote> notes)
    {
        string Number(double time) => TypedNumber.Short(time, 4);
        var first = notes
            .Take(2)
            .Select(note =>
                note.From == note.Until
                    ? $"at {document.TimeUnit.Singular} {Number(note.From)}"
                    : $"from {document.TimeUnit.Singular} {Number(note.From)} to {Number(note.Until)}"
            );
        return string.Join(" and ", first) + (notes.Count > 2 ? $" and {notes.Count - 2} more times" : "");
    }
}
