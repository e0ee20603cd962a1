using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Reports;

/// <summary>Data as points on a curve of the model, where they have seen that curve itself.</summary>
public static class SeenOnCurve
{
    /// <summary>The rows of a series in the terms of a curve.</summary>
    /// <param name="lowered">The model with the values that the share that was seen is worked out with.</param>
    /// <param name="series">What was counted or measured.</param>
    /// <param name="partId">A compartment, flow, reaction or quantity.</param>
    /// <returns>
    /// Rows at the time they stand for: of what stood at a time that time; of what was seen over an interval its middle, with the mean in
    /// it, or as much earlier as it comes in late. Each is divided by the share that was seen. Empty where the series has seen something
    /// else, or its share cannot be read.
    /// </returns>
    public static IReadOnlyList<DataRow> Of(LoweredModel lowered, Series series, string partId)
    {
        var (observation, document) = (series.Observation, lowered.Document);
        var values = lowered.Network.ValueVector();
        var seen = observation.Seen.HasFormula()
            ? document.PartBySymbol(Symbols.Normalize(observation.Formula.Trim()))?.Id
            : observation.FlowId;
        if (seen != partId || !observation.OtherFlows.IsEmpty)
            return [];
        try
        {
            return [.. series.Data.Rows.Select(Point).Where(row => double.IsFinite(row.Value))];
        }
        catch (ArgumentException)
        {
            return [];
        }

        DataRow Point(DataRow row)
        {
            var time = observation.Seen.HasInterval() ? 0.5 * (row.Start + row.End) : row.End;
            var whole =
                SeenExpression.ShareOver(lowered, observation, observation.Seen.HasInterval() ? row.Start : time, row.End, values)
                * (observation.Seen is ObservedAs.Flowed or ObservedAs.Integral ? row.End - row.Start : 1);
            time -= SeenExpression.MeanDelay(lowered, observation, values);
            return row with { Start = time, End = time, Value = row.Value / whole, Error = row.Error / whole };
        }
    }
}
