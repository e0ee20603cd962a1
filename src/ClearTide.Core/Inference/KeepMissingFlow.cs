using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>
/// What data have that the model has not, as a flow: of counts in an interval what is over, per unit of time and whole, reported or not; of
/// what stood at a time, what has to come in between two rows so that the difference is what it is at both. Births and deaths against a
/// census leave migration.
/// </summary>
public static class MissingFlow
{
    /// <summary>Whether a series tells of one: counts of flows that come in at once, and what stood at a time, of one
    /// body.</summary>
    /// <param name="series">The observation with its rows.</param>
    public static bool CanBe(Series series) =>
        series.Observation.Seen is ObservedAs.Flowed or ObservedAs.Standing
        && series.Observation.Delay.Length == 0
        && series.Data.Rows.All(row => row.Subject is null);

    /// <summary>Points of a step function of time, zero from its last point on.</summary>
    /// <param name="lowered">The model, lowered.</param>
    /// <param name="series">What was counted or measured.</param>
    /// <param name="means">What is expected of each row that fits use.</param>
    /// <param name="values">All parameters of the model, for the share that was seen.</param>
    /// <exception cref="ArgumentException">The share that was seen cannot be worked out; the message says why.</exception>
    public static ImmutableArray<CurvePoint> Of(LoweredModel lowered, Series series, IReadOnlyList<double> means, double[] values)
    {
        var points = new List<CurvePoint>();
        var (before, since) = (0.0, lowered.Document.Start);
        foreach (var (row, mean) in series.Data.Used.Zip(means))
        {
            // Below a limit nothing is known of what is over.
            if (row.Below)
                continue;
            var isFlow = series.Observation.Seen == ObservedAs.Flowed;
            var over =
                (row.Value - mean) / SeenExpression.ShareOver(lowered, series.Observation, isFlow ? row.Start : row.End, row.End, values);
            var (from, amount) = isFlow ? (row.Start, over) : (since, over - before);
            if (!(row.End > from))
                continue;
            if (points.Count > 0 && points[^1].X == from)
                points.RemoveAt(points.Count - 1);
            points.Add(new(from, amount / (row.End - from)));
            points.Add(new(row.End, 0));
            (before, since) = (over, row.End);
        }
        return [.. points];
    }
}

/// <summary>Keeps a missing flow as an input of the model, to be looked at, explained or let flow.</summary>
/// <param name="Points">Ascending in time.</param>
/// <param name="Label">What the data count or measure.</param>
public sealed record KeepMissingFlow(ImmutableArray<CurvePoint> Points, string Label) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (Points.Length < 2)
            return EditResult.Refused("There are too few rows to tell a flow from. Bring more, or fit first.");
        var symbol = Symbol(document);
        var result = new AddLines($"{symbol} = {PointsLine.Write(Points, Between.Step, Beyond.Zero, Beyond.Zero, "")}").Apply(document);
        if (result.Document is not { } added)
            return result;
        var part = added.PartBySymbol(symbol)!;
        var named = new SetField(part.Id, PartField.Label, Short($"{Label}: missing in the model")).Apply(added);
        return named.Document is null
            ? named
            : new SetField(part.Id, PartField.Note, "Observed minus expected, when it was kept. A flow “-> N : missing” lets it in.").Apply(
                named.Document
            );
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{Symbol(before)}: what {Label} have that the model has not";

    private static string Symbol(StudyDocument document)
    {
        var symbol = "missing";
        for (var k = 2; document.PartBySymbol(symbol) is not null; k++)
            symbol = $"missing{k}";
        return symbol;
    }

    private static string Short(string label) => label.Length <= SetField.LongestLabel ? label : label[..SetField.LongestLabel];
}
