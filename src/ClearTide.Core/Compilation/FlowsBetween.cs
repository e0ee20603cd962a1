using ClearTide.Core.Model;

namespace ClearTide.Core.Compilation;

/// <summary>Finds flows by their ends, as formulas over results name them: <c>flow(S, E)</c>.</summary>
internal static class FlowsBetween
{
    /// <summary>What the outside is called.</summary>
    private const string Outside = "outside";

    /// <summary>The ids of the flows from one compartment to another, under which the network knows them: of a flow that runs member by
    /// member those of all members, unless an end is named with its member.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="from">A compartment's symbol, or “outside”.</param>
    /// <param name="to">The same.</param>
    public static IReadOnlySet<string> Ids(LoweredModel lowered, string from, string to) =>
        In(lowered.Study, from, to).SelectMany(lowered.Network.MembersOf).Concat(In(lowered.Document, from, to)).ToHashSet();

    private static IEnumerable<string> In(StudyDocument document, string from, string to)
    {
        string? End(string name) => name == Outside ? null : document.CompartmentBySymbol(name)?.Id ?? "";
        return document.Flows.Where(flow => flow.From == End(from) && flow.To.Any(target => target.Id == End(to))).Select(flow => flow.Id);
    }
}
