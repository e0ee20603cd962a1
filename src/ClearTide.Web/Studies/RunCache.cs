using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>The versions shown last, by study and version: an answer to an edit holds only what is not as it was before.</summary>
public sealed class RunCache() : SizedCache<(string Study, long Version), StudyView>(MostBytes, Bytes)
{
    private const long MostBytes = 256_000_000;

    /// <summary>What a ledger and a diagram take besides a run's numbers, about, for each part.</summary>
    private const long BytesPerPart = 2_000;

    private static long Bytes(StudyView view) =>
        8 * (view.Run.Run?.NumberCount ?? 0) + BytesPerPart * (10 + view.Run.Lowered.Document.Parts.Count());
}
