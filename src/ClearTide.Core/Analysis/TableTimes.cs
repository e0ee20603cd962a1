using System.Globalization;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;

namespace ClearTide.Core.Analysis;

/// <summary>The even times at which a table has its rows.</summary>
public static class TableTimes
{
    /// <summary>More rows than this are refused.</summary>
    public const int Most = 100_000;

    /// <summary>
    /// The spacing of rows as typed, a number in the study's unit of time or with a unit of its own; the usual spacing of curves where
    /// nothing is.
    /// In the study's unit.
    /// </summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="text">As typed; empty for the usual spacing.</param>
    public static (double Every, string? Problem) Every(StudyDocument document, string text)
    {
        var span = document.End - document.Start;
        var usual = document.Solver.IsDiscrete ? document.Solver.Step : StudyRequest.Spacing(span);
        if (text.Trim().Length == 0)
            return (usual, null);
        var example = $"Type how far apart the rows are, as in 1 or “1 {document.TimeUnit.Singular}”.";
        var read = Formula.Read(text);
        if (read.Problem is { } unread)
            return (usual, unread.Message);
        if (read.Tree is not { } tree || tree.Names().Any())
            return (usual, $"“{text.Trim()}” is no length of time. {example}");
        var table = document.UnitTable();
        if (tree.Units().Select(table.Unknown).FirstOrDefault(unknown => unknown is not null) is { } word)
            return (usual, $"There is no unit “{word.Word}”. {example}");
        if (!FormulaUnits.IsBare(tree) && TimeDimension.Of(tree, table, _ => null) != 1)
            return (usual, $"“{text.Trim()}” is no length of time. {example}");
        var every = FormulaBinder.ValueOf(tree, table);
        if (!(every > 0) || !double.IsFinite(every))
            return (usual, $"Rows are a time above zero apart, and “{text.Trim()}” is not. {example}");
        return span / every > Most
            ? (usual, $"That would be {span / every:N0} rows; {Most:N0} is the limit. Type a longer time.")
            : (every, null);
    }

    /// <summary>The times of the rows, without the rounding that sums leave: 0.3 and not 0.30000000000000004.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="every">The spacing in the unit of the study, above zero.</param>
    public static double[] Of(StudyDocument document, double every) =>
        [.. Simulation.OutputTimes.Every(document.Start, document.End, every).Select((time, k) => k == 0 ? document.Start : Tidy(time))];

    /// <summary>The number of twelve digits that a sum of steps came near to; a third of a day stays what it is.</summary>
    private static double Tidy(double time)
    {
        var rounded = double.Parse(TypedNumber.Short(time, 12), CultureInfo.InvariantCulture);
        // A product of a whole number and a step is off by a rounding or two.
        return Math.Abs(rounded - time) <= 1e-15 * Math.Abs(time) ? rounded : time;
    }
}
