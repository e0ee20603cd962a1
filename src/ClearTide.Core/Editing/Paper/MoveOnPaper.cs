using System.Collections.Immutable;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>A plate, a reference or a text, and the place of its upper left corner in paper units.</summary>
/// <param name="Id">Of the plate, the reference or the text.</param>
/// <param name="X">Left edge, in paper units.</param>
/// <param name="Y">Upper edge, in paper units.</param>
public sealed record PaperPlace(string Id, double X, double Y);

/// <summary>Puts plates, references and texts somewhere else on the paper.</summary>
/// <param name="Places">What is moved, and where to.</param>
/// <param name="How">What was done, for the history: moved, aligned, spread, arranged.</param>
public sealed record MoveOnPaper(ImmutableArray<PaperPlace> Places, string How = "moved") : Edit
{
    /// <summary>Everything stays within this distance of the paper's origin, so that a wild gesture cannot lose it.</summary>
    public const double Reach = 6000;

    /// <summary>Moves one plate or text.</summary>
    /// <param name="id">Of the plate or text.</param>
    /// <param name="x">Left edge, in paper units.</param>
    /// <param name="y">Upper edge, in paper units.</param>
    public MoveOnPaper(string id, double x, double y)
        : this([new(id, x, y)]) { }

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (Places.Any(place => !double.IsFinite(place.X) || !double.IsFinite(place.Y)))
            return EditResult.Refused("A place on the paper is two numbers.");
        var moved = Places.GroupBy(place => place.Id).ToDictionary(group => group.Key, group => group.Last());
        if (!moved.Keys.Any(id => Holds(document, id)))
            return EditResult.Refused("What was to be moved is no longer in the study.");
        double X(string id, double x) => moved.TryGetValue(id, out var place) ? Within(place.X) : x;
        double Y(string id, double y) => moved.TryGetValue(id, out var place) ? Within(place.Y) : y;
        return document with
        {
            Compartments = [.. document.Compartments.Select(part => part with { X = X(part.Id, part.X), Y = Y(part.Id, part.Y) })],
            References = [.. document.References.Select(mark => mark with { X = X(mark.Id, mark.X), Y = Y(mark.Id, mark.Y) })],
            Texts = [.. document.Texts.Select(mark => mark with { X = X(mark.Id, mark.X), Y = Y(mark.Id, mark.Y) })],
        };
    }

    /// <summary>A coordinate on whole units, no farther out than the paper reaches.</summary>
    internal static double Within(double place) => Math.Clamp(Math.Round(place), -Reach, Reach);

    private static bool Holds(StudyDocument document, string id) =>
        document.Compartment(id) is not null || document.References.Any(mark => mark.Id == id) || document.Texts.Any(mark => mark.Id == id);

    /// <inheritdoc/>
    public override string? Topic =>
        How == "moved" ? "place " + string.Join(' ', Places.Select(place => place.Id).Order(StringComparer.Ordinal)) : null;

    /// <inheritdoc/>
    public override string Describe(StudyDocument before)
    {
        var names = Places
            .Select(place =>
                before.Compartment(place.Id)?.Symbol ?? (before.Texts.Any(text => text.Id == place.Id) ? "a text" : "a reference")
            )
            .Distinct()
            .ToList();
        return $"{(names.Count <= 4 ? string.Join(", ", names) : $"{names.Count} plates")}: {How}";
    }
}

/// <summary>Pins plates to where they are, or lets automatic arranging move them again.</summary>
/// <param name="PartIds">Ids of the compartments.</param>
/// <param name="Pinned">Whether they stay where they are.</param>
public sealed record PinPlates(ImmutableArray<string> PartIds, bool Pinned) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (!PartIds.Any(id => document.Compartment(id) is not null))
            return EditResult.Refused("Choose one or more compartments to pin.");
        return document with
        {
            Compartments = [.. document.Compartments.Select(part => PartIds.Contains(part.Id) ? part with { Pinned = Pinned } : part)],
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"{string.Join(", ", PartIds.Select(before.Compartment).OfType<Compartment>().Select(part => part.Symbol))}: "
        + $"{(Pinned ? "pinned" : "no longer pinned")}";
}
