namespace ClearTide.Storage;

/// <summary>A revision of a study that is stored and cannot be read; no other study is touched by it.</summary>
public sealed class UnreadableStudyException(string study, long revision, string why, Exception? inner = null)
    : Exception($"Revision {revision} of the study {study} cannot be read: {why}", inner)
{
    public string Study { get; } = study;

    public long Revision { get; } = revision;

    public string Why { get; } = why;
}
