using ClearTide.Core.Formulas;
using ClearTide.Core.Models;
using ClearTide.Core.Units;

namespace ClearTide.Core.Exploration;

/// <summary>The even times at which a table has its rows.</summary>
public static class TableTimes
{
    /// <summary>More rows than this are refused.</summary>
    public const int Most = 100_000;

    /// <summary>The spacing of rows as typed, a number in the study's unit of time or with a unit of its own; the usual spacing of curves where nothing is. In the study's unit.</summary>
    public static (double Every, string? Problem) Every(StudyDocument document, string text)
    {
        var span = document.End - document.Start;
        var usual = document.Solver.IsDiscrete ? document.Solver.Step : StudyRun.CurveSpacing(span);
        if (text.Trim().Length == 0) return (usual, null);
        var example = $"Type how far apart the rows are, as in 1 or “1 {document.TimeUnit.Singular}”.";
        var read = Formula.Read(text);
        if (read.Problem is { } unread) return (usual, unread.Message);
        if (read.Tree is not { } tree || tree.Names().Any()) return (usual, $"“{text.Trim()}” is no length of time. {example}");
        if (tree.Units().FirstOrDefault(unit => document.UnitTable().Unknown(unit) is not null) is { } unknown) return (usual, $"There is no unit “{document.UnitTable().Unknown(unknown)!.Word}”. {example}");
        if (!FormulaUnits.IsBare(tree) && TimeDimension.Of(tree, document.UnitTable(), _ => null) != 1) return (usual, $"“{text.Trim()}” is no length of time. {example}");
        var every = FormulaBinder.ValueOf(tree, document.UnitTable());
        if (!(every > 0) || !double.IsFinite(every)) return (usual, $"Rows are a time above zero apart, and “{text.Trim()}” is not. {example}");
        if (span / every > Most) return (usual, $"That would be {span / every:N0} rows; {Most:N0} is the limit. Type a longer time.");
        return (every, null);
    }

    /// <summary>The times of the rows, without the rounding that sums leave: 0.3 and not 0.30000000000000004.</summary>
    public static double[] Of(StudyDocument document, double every) =>
        [.. Simulation.Simulator.Grid(document.Start, document.End, every).Select((time, k) => k == 0 ? document.Start : Tidy(time, every))];

    /// <summary>The shortest number within a millionth of a spacing's last digit.</summary>
    private static double Tidy(double time, double every)
    {
        for (var digits = 1; digits <= 15; digits++)
        {
            var rounded = double.Parse(time.ToString($"G{digits}", System.Globalization.CultureInfo.InvariantCulture), System.Globalization.CultureInfo.InvariantCulture);
            if (Math.Abs(rounded - time) <= 4e-16 * Math.Max(Math.Abs(time), every) * 8) return rounded;
        }
        return time;
    }
}
