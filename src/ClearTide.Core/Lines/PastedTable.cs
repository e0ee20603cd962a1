using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;
using ClearTide.Core.Expressions;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Lines;

/// <summary>
/// A table of two columns as it comes from a spreadsheet, a CSV file or the keyboard: one point a line or separated by commas, numbers
/// separated by tabs, semicolons or spaces. The first line may be a heading; that of the second column gives label and unit:
/// <c>Vaccinated (people)</c>.
/// </summary>
/// <param name="Points">Ascending in the first column; empty where there is a problem.</param>
/// <param name="Label">From the heading; null where there is none.</param>
/// <param name="Unit">From the heading; null where there is none.</param>
/// <param name="Problem">A sentence about the first thing that is wrong, else null.</param>
internal sealed partial record PastedTable(ImmutableArray<CurvePoint> Points, string? Label, string? Unit, string? Problem)
{
    [GeneratedRegex(@"^(.*?)\s*[\(\[]\s*([^)\]]+?)\s*[\)\]]\s*$")]
    private static partial Regex LabelWithUnit();

    public static PastedTable Read(string text, UnitTable units)
    {
        // Line by line if there are lines; on a single line points are separated by commas or semicolons.
        var lines = text.Contains('\n', StringComparison.Ordinal) ? text.Split('\n') : text.Split([',', ';']);
        var points = ImmutableArray.CreateBuilder<CurvePoint>();
        string? label = null,
            unit = null;
        for (var k = 0; k < lines.Length; k++)
        {
            var line = lines[k].Trim().TrimStart('\uFEFF');
            if (line.Length == 0)
                continue;
            var cells = Cells(line);
            if (cells.Count == 2 && Number(cells[0]) is { } x && Number(cells[1]) is { } y)
            {
                points.Add(new(x, y));
                if (points.Count > Input.MostPoints)
                    return Bad($"A table has at most {Input.MostPoints:N0} points. Leave some out.");
                continue;
            }
            if (points.Count == 0 && label is null && cells.Count == 2 && Number(cells[0]) is null && Number(cells[1]) is null)
            {
                (label, unit) = Heading(cells[1], units);
                continue;
            }
            return Bad(
                $"Line {k + 1}, “{(line.Length > 40 ? line[..39] + "…" : line)}”, is not two numbers. Give a time and a value on each line."
            );
        }
        var made = points.ToImmutable();
        return PointTables.Problem(made) is { } problem ? Bad(problem) : new(made, label, unit, null);
    }

    private static PastedTable Bad(string problem) => new([], null, null, problem);

    private static List<string> Cells(string line)
    {
        foreach (var separator in new[] { '\t', ';', ',' })
        {
            if (line.Contains(separator, StringComparison.Ordinal))
                return
                [
                    .. line.Split(separator, StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                        .Select(cell => cell.Trim('"')),
                ];
        }
        return [.. line.Split(' ', StringSplitOptions.RemoveEmptyEntries)];
    }

    private static double? Number(string cell) =>
        double.TryParse(
            cell.Replace("\u2009", "", StringComparison.Ordinal).Replace('−', '-'),
            NumberStyles.Float,
            CultureInfo.InvariantCulture,
            out var value
        ) && double.IsFinite(value)
            ? value
            : null;

    private static (string Label, string? Unit) Heading(string cell, UnitTable units)
    {
        if (cell.Length > 200)
            cell = cell[..200];
        var match = LabelWithUnit().Match(cell);
        if (!match.Success)
            return (cell, null);
        var unit = match.Groups[2].Value;
        return units.ReadAlone(unit).Unit is null ? (cell, null) : (match.Groups[1].Value, unit);
    }
}
