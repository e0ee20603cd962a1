using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Takes parts out of the study; a compartment takes its flows with it. What used them is marked, not changed.</summary>
public sealed record RemoveParts(ImmutableArray<string> PartIds) : Edit
{
    public RemoveParts(string partId)
        : this([partId]) { }

    public override EditResult Apply(StudyDocument document)
    {
        var gone = PartIds.Where(id => document.Part(id) is not null).ToHashSet();
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
            Compartments = document.Compartments.RemoveAll(part => gone.Contains(part.Id)),
            Flows = flows,
            Reactions = document.Reactions.RemoveAll(part => gone.Contains(part.Id)),
            Definitions = document.Definitions.RemoveAll(part => gone.Contains(part.Id)),
            Inputs = document.Inputs.RemoveAll(part => gone.Contains(part.Id)),
            Curves = document.Curves.RemoveAll(part => gone.Contains(part.Id)),
            RandomInputs = document.RandomInputs.RemoveAll(part => gone.Contains(part.Id)),
            Events = document.Events.RemoveAll(part => gone.Contains(part.Id)),
            Assumptions =
            [
                .. document
                    .Assumptions.RemoveAll(part => gone.Contains(part.Id))
                    .Select(part => part.Parts.Any(gone.Contains) ? part with { Parts = part.Parts.RemoveAll(gone.Contains) } : part),
            ],
            Expectations = document.Expectations.RemoveAll(part => gone.Contains(part.Id)),
        };
    }

    public override string Describe(StudyDocument before) =>
        "removed " + string.Join(", ", PartIds.Select(before.Part).OfType<IPart>().Select(before.Describe));
}

/// <summary>Puts a part before another of its kind in the ledger, or last.</summary>
/// <param name="BeforeId">The part it comes before; null for the end.</param>
public sealed record MoveInLedger(string PartId, string? BeforeId) : Edit
{
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Part(PartId) is null)
            return EditResult.Refused("This part is no longer in the study.");
        return document with
        {
            Compartments = Moved(document.Compartments),
            Flows = Moved(document.Flows),
            Reactions = Moved(document.Reactions),
            Definitions = Moved(document.Definitions),
            Inputs = Moved(document.Inputs),
            Curves = Moved(document.Curves),
            RandomInputs = Moved(document.RandomInputs),
            Events = Moved(document.Events),
            Assumptions = Moved(document.Assumptions),
            Expectations = Moved(document.Expectations),
        };
    }

    private ImmutableArray<T> Moved<T>(ImmutableArray<T> parts)
        where T : class, IPart
    {
        if (parts.FirstOrDefault(part => part.Id == PartId) is not { } part || PartId == BeforeId)
            return parts;
        var without = parts.Remove(part);
        var at = BeforeId is null ? without.Length : without.ToList().FindIndex(other => other.Id == BeforeId);
        return at < 0 ? parts : without.Insert(at, part);
    }

    public override string Describe(StudyDocument before) =>
        before.Part(PartId) is { } part ? $"{before.Describe(part)}: moved in the ledger" : "moved in the ledger";
}
