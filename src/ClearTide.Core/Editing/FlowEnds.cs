using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

/// <summary>Changes where a flow begins and where it leads.</summary>
internal static class FlowEnds
{
    /// <param name="document">The study.</param>
    /// <param name="flow">The flow whose end is changed.</param>
    /// <param name="at">Which of its ends: -1 for where it begins, one past the last to add another.</param>
    /// <param name="symbol">A compartment's symbol, “outside”, or empty to take the end away.</param>
    public static EditResult Change(StudyDocument document, Flow flow, int at, string symbol)
    {
        if (at > flow.To.Length || at < -1)
            return EditResult.Refused("This flow has no such end.");
        var name = Symbols.Normalize(symbol);
        if (name.Length == 0 && at >= 0 && at < flow.To.Length)
        {
            if (flow.To.Length == 1)
                return EditResult.Refused("A flow leads somewhere: choose another compartment, or outside.");
            return document.With(flow with { To = flow.To.RemoveAt(at) });
        }
        string? id = null;
        if (name != "outside")
        {
            if (document.CompartmentBySymbol(name) is not { } end)
                return EditResult.Refused($"There is no compartment “{name}”. Add it first, or write “outside”.");
            id = end.Id;
        }
        var changed =
            at == -1 ? flow with { From = id }
            : at == flow.To.Length
                ? flow with
                {
                    To = flow.To.Add(new(id, flow.To.Length == 1 && flow.To[0].Share.Length == 0 ? "50%" : "")),
                }
            : flow with { To = flow.To.SetItem(at, flow.To[at] with { Id = id }) };
        return Checked(document, changed);
    }

    /// <summary>The document with the changed flow, unless its ends do not make a flow.</summary>
    internal static EditResult Checked(StudyDocument document, Flow flow)
    {
        if (flow.From is null && flow.To.All(target => target.Id is null))
            return EditResult.Refused("A flow needs a compartment at one end at least. Choose one before you open this end.");
        if (flow.From is not null && flow.To.Any(target => target.Id == flow.From))
            return EditResult.Refused(
                $"A flow from {document.Compartment(flow.From)?.Symbol} to itself moves nothing. Choose another compartment."
            );
        if (flow.To.GroupBy(target => target.Id).Any(group => group.Count() > 1))
            return EditResult.Refused("Two ends of this flow lead to the same place. Add their shares up, and take one away.");
        if (flow.To.Length > Flow.MostTargets)
            return EditResult.Refused($"A flow leads to at most {Flow.MostTargets} ends.");
        return document.With(flow);
    }
}

/// <summary>Turns a flow round: what it led to is where it begins.</summary>
/// <param name="PartId">Id of the flow.</param>
public sealed record ReverseFlow(string PartId) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Flow(PartId) is not { } flow)
            return EditResult.Refused("This flow is no longer in the study.");
        if (flow.FansOut)
            return EditResult.Refused("A flow with several ends cannot be turned round. Take away all ends but one first.");
        if (flow.Target is null && flow.Kind != RateKind.Whole)
            return EditResult.Refused(
                "Turned round, this flow would come from outside, where there is nothing to be per head of. Give its rate as a whole "
                    + "formula first."
            );
        return document.With(flow with { From = flow.Target, To = [new(flow.From)] });
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        before.Flow(PartId) is { } flow ? $"{before.Describe(flow)}: turned round" : "flow turned round";
}
