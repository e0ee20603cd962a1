using System.Globalization;
using System.Text.Json;
using ClearTide.Core.Data;
using ClearTide.Core.Models;
using ClearTide.Formats.Print;

namespace ClearTide.Web.Studies;

/// <summary>A run as the browser's charts read it.</summary>
public static class RunData
{
    private sealed record Curve(string Id, string Kind, string Symbol, string Label, int Colour, bool Provisional, double?[] Values);

    private sealed record Point(double Start, double End, double Value);

    private sealed record ObservedPanel(string Label, double Interval, double[] Times, double?[] Expected, Point[] Points, string? Problem);

    private sealed record Payload(string Unit, double Start, double End, double[] Times, IReadOnlyList<Curve> Curves, string? Failure, ObservedPanel? Observed);

    private static readonly JsonSerializerOptions Options = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase };

    /// <summary>JSON that is safe inside a data block of a page.</summary>
    public static string Json(StudyRun run, DataSet? data)
    {
        var document = run.Lowered.Document;
        var curves = new List<Curve>();
        if (run.Run is { } trajectory)
        {
            bool Provisional(string id) => run.Lowered.Unfinished.Contains(id);
            for (var k = 0; k < document.Compartments.Length; k++)
            {
                var part = document.Compartments[k];
                curves.Add(new(part.Id, "compartment", MathMl.PlainSymbol(part.Symbol), part.Label, Palette.Of(document, part.Id), Provisional(part.Id), Short(trajectory.StateColumn(k))));
            }
            for (var k = 0; k < document.Flows.Length; k++)
            {
                var part = document.Flows[k];
                curves.Add(new(part.Id, "flow", document.Describe(part), part.Label, Palette.Of(document, part.From ?? part.To), Provisional(part.Id), Short(trajectory.RateColumn(k))));
            }
            for (var k = 0; k < run.Lowered.Form.Quantities.Count; k++)
            {
                var quantity = run.Lowered.Form.Quantities[k];
                var part = document.Definitions.First(candidate => candidate.Id == quantity.PartId);
                curves.Add(new(part.Id, "quantity", MathMl.PlainSymbol(part.Symbol), part.Label, 0, Provisional(part.Id), Short(trajectory.QuantityColumn(k))));
            }
        }
        return JsonSerializer.Serialize(new Payload(document.TimeUnit.Singular, document.Start, document.End, run.Run is null ? [] : [.. run.Run.Times], curves, run.Failure, Observed(run, data)), Options);
    }

    private static ObservedPanel? Observed(StudyRun run, DataSet? data)
    {
        if (data is null) return null;
        var last = data.Rows[^1];
        return new(run.Lowered.Document.Observations[0].Label, last.End - last.Start, [.. run.Observed?.Times ?? []], Short([.. run.Observed?.Expected ?? []]),
            [.. data.Rows.Select(row => new Point(row.Start, row.End, row.Value))], run.ObservedFailure);
    }

    /// <summary>Nine digits are more than a screen can show, and half the bytes; infinite values become gaps that the chart leaves out.</summary>
    private static double?[] Short(double[] values) =>
        [.. values.Select(value => double.IsFinite(value) ? double.Parse(value.ToString("G9", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture) : (double?)null)];
}
