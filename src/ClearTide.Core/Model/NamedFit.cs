namespace ClearTide.Core.Model;

/// <summary>A fit that somebody has given a name, so that it can be asked for again.</summary>
/// <param name="Name">As typed, with at least one and at most <see cref="LongestName"/> characters; no two fits of a study share
/// one.</param>
/// <param name="Setup">What it estimates, and how.</param>
public sealed record NamedFit(string Name, FitSetup Setup)
{
    /// <summary>Characters of a name at most.</summary>
    public const int LongestName = 60;

    /// <summary>Named fits of a study at most.</summary>
    public const int Most = 50;

    /// <summary>Why a fit cannot be called so, in a sentence; null where it can.</summary>
    /// <param name="name">The name.</param>
    public static string? Refusal(string name) =>
        string.IsNullOrWhiteSpace(name) ? "A fit needs a name to be kept by. Type one."
        : name.Length > LongestName ? $"The name of a fit has up to {LongestName} characters. Take a shorter one."
        : null;
}

/// <summary>The fits of a study: the one that is chosen, and those that have names.</summary>
internal static class FitsOfStudy
{
    /// <summary>The document with each of its fits replaced by what <paramref name="change"/> makes of it.</summary>
    internal static StudyDocument WithFits(this StudyDocument document, Func<FitSetup, FitSetup> change) =>
        document with
        {
            Fit = change(document.Fit),
            Fits = [.. document.Fits.Select(one => one with { Setup = change(one.Setup) })],
        };
}
