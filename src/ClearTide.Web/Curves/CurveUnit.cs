using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Web.Curves;

/// <summary>What curves are counted in, for those who read numbers off them; empty where nobody has said.</summary>
public static class CurveUnit
{
    /// <summary>That of a part: of a flow what moves in a unit of time.</summary>
    public static string Of(LoweredModel lowered, string partId)
    {
        var document = lowered.Document;
        if (FlowOf(lowered, partId) is not { } flow)
            return lowered.Units.Of(partId).Unit?.Text() ?? "";
        return $"{Moved(lowered, flow)} {TimeWords.Each(document.Solver.IsDiscrete ? "step" : document.TimeUnit.Singular)}".Trim();
    }

    /// <summary>The same where it is summed up over intervals: of a flow what moves.</summary>
    public static string OverIntervals(LoweredModel lowered, string partId) =>
        FlowOf(lowered, partId) is { } flow ? Moved(lowered, flow) : Of(lowered, partId);

    /// <summary>That of what a series of data sees; empty where it sees more than one part by itself, or a share of nothing
    /// named.</summary>
    public static string Of(LoweredModel lowered, Observation seen)
    {
        if (seen.Seen == ObservedAs.Flowed)
            return OverIntervals(lowered, seen.FlowId);
        return lowered.Study.PartBySymbol(seen.Formula.Trim()) is { } part ? Of(lowered, part.Id) : "";
    }

    private static Flow? FlowOf(LoweredModel lowered, string partId) => lowered.Document.Flow(partId) ?? lowered.Study.Flow(partId);

    private static string Moved(LoweredModel lowered, Flow flow) => lowered.Units.Of(flow.From ?? flow.Target ?? "").Unit?.Text() ?? "";
}
