using System.Collections.Immutable;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Takes parts out of the study; a compartment takes its flows with it. What used them is marked, not changed.</summary>
/// <param name="PartIds">Ids of the parts.</param>
public sealed record RemoveParts(ImmutableArray<string> PartIds) : Edit
{
    /// <summary>Takes one part out.</summary>
    /// <param name="partId">Id of the part.</param>
    public RemoveParts(string partId)
        : this([partId]) { }

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var before = document;
        foreach (var group in document.Groups.Where(group => PartIds.Contains(group.Id)).ToList())
            document = new RemoveGroup(group.Id).Apply(document).Document!;
        var gone = PartIds.Where(id => document.Part(id) is not null).ToHashSet();
        if (gone.Count == 0 && PartIds.Length > 0 && !ReferenceEquals(document, before))
            return document;
        if (gone.Count == 0)
            return EditResult.Refused("This part is no longer in the study.");
        var flows = document.Flows.RemoveAll(flow => gone.Contains(flow.Id) || (flow.From is not null && gone.Contains(flow.From)));
        // One of several ends is taken off; a flow whose last end goes, goes with it.
        flows =
        [
            .. flows
                .Select(flow => flow with { To = flow.To.RemoveAll(target => target.Id is not null && gone.Contains(target.Id)) })
                .Where(flow => !flow.To.IsEmpty),
        ];
        foreach (var flow in document.Flows.Where(flow => flows.All(kept => kept.Id != flow.Id)))
            gone.Add(flow.Id);
        foreach (var kind in PartKinds.All)
            document = kind.Without(document, gone.Contains);
        return document with
        {
            Regions =
            [
                .. document
                    .Regions.Select(region => region with { Members = region.Members.RemoveAll(gone.Contains) })
                    .Where(region => !region.Members.IsEmpty),
            ],
            References = document.References.RemoveAll(reference => gone.Contains(reference.Of)),
            Texts = document.Texts.RemoveAll(text => text.Of is not null && gone.Contains(text.Of)),
            Flows = flows,
            Splits = document.Splits.RemoveAll(split => gone.Contains(split.PartId)),
            Assumptions =
            [
                .. document.Assumptions.Select(part =>
                    part.Parts.Any(gone.Contains) ? part with { Parts = part.Parts.RemoveAll(gone.Contains) } : part
                ),
            ],
        };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        "removed " + string.Join(", ", PartIds.Select(before.Part).OfType<IPart>().Select(before.Describe));
}

/// <summary>Puts a part before another of its kind in the ledger, or last.</summary>
/// <param name="PartId">The part that is moved.</param>
/// <param name="BeforeId">The part it comes before; null for the end.</param>
public sealed record MoveInLedger(string PartId, string? BeforeId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        return document.Part(PartId) is { } part
            ? PartKinds.Of(part).Moved(document, PartId, BeforeId)
            : EditResult.Refused("This part is no longer in the study.");
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        before.Part(PartId) is { } part ? $"{before.Describe(part)}: moved in the ledger" : "moved in the ledger";
}
