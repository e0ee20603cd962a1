using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Takes a note about the imported file off the study, once somebody has read it.</summary>
/// <param name="Note">The note, word by word.</param>
public sealed record DropFileNote(string Note) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        document.FileNotes.Contains(Note)
            ? document with
            {
                FileNotes = document.FileNotes.Remove(Note),
            }
            : EditResult.Refused("This note is no longer there.");

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => "note about the file read";
}
