using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Web.Curves;

/// <summary>What the small chart of an input or a response curve draws: its points or handles, and the curve sampled.</summary>
public static class CurvePicture
{
    private const int Samples = 160;

    /// <summary>An input over the span and a little beyond its points, with where the given points end.</summary>
    public static string Json(StudyDocument document, Input input)
    {
        var table = new TableFunction(
            input.Points,
            input.Between,
            input.Before,
            input.After,
            InputTables.Period(input, document.UnitTable()) ?? 0
        );
        var (low, high) = (Math.Min(document.Start, input.Points[0].X), Math.Max(document.End, input.Points[^1].X));
        return JsonSerializer.Serialize(
            new
            {
                points = input.Points.Select(point => new[] { point.X, point.Y }),
                step = input.Between == Between.Step,
                ends = input.Points[^1].X,
                xUnit = document.TimeUnit.Plural,
                samples = Sampled(table.At, low, high, input.Points),
                handles = Array.Empty<object>(),
            }
        );
    }

    /// <summary>A response curve over its range; a named law has handles for half-point and slope instead of points.</summary>
    public static string Json(LoweredModel lowered, ResponseCurve curve)
    {
        var units = lowered.Document.UnitTable();
        if (curve.Law == CurveLaw.Points)
        {
            var table = new TableFunction(curve.Points, curve.Between);
            var margin = 0.1 * (curve.Points[^1].X - curve.Points[0].X);
            return JsonSerializer.Serialize(
                new
                {
                    points = curve.Points.Select(point => new[] { point.X, point.Y }),
                    step = curve.Between == Between.Step,
                    ends = (double?)null,
                    xUnit = curve.ArgumentUnit,
                    samples = Sampled(table.At, curve.Points[0].X - margin, curve.Points[^1].X + margin, curve.Points),
                    handles = Array.Empty<object>(),
                }
            );
        }
        double Value(string line, double otherwise) =>
            Formula.Read(line) is { HasNames: false, Tree: { } tree } ? FormulaBinder.ValueOf(tree, units)
            : lowered.Network.IndexOf(line.Trim()) is var index && index >= 0 ? lowered.Network.Values[index].Value
            : otherwise;
        var law = new CurveLawValues(
            curve.Law,
            Value(curve.Low, 1),
            Value(curve.High, 0),
            Value(curve.Half, 0.5),
            Value(curve.Slope, 1),
            Value(curve.From, double.NegativeInfinity),
            Value(curve.Until, double.PositiveInfinity)
        );
        var (low, high) = law.Window();
        return JsonSerializer.Serialize(
            new
            {
                points = Array.Empty<double[]>(),
                step = false,
                ends = (double?)null,
                xUnit = curve.ArgumentUnit,
                samples = Sampled(law.At, low, high, []),
                handles = law.Handles()
                    .Select(handle => new
                    {
                        field = handle.Field.ToString(),
                        x = handle.X,
                        y = handle.Y,
                        isPlain = Formula.Read(curve.Line(handle.Field)) is { HasNames: false, Tree: not null },
                    }),
            }
        );
    }

    private static IEnumerable<double[]> Sampled(Func<double, double> at, double low, double high, IEnumerable<CurvePoint> corners)
    {
        if (!(high > low))
            high = low + 1;
        // Corners are drawn where they are, and a step as the step it is.
        var places = Enumerable
            .Range(0, Samples + 1)
            .Select(k => low + k * (high - low) / Samples)
            .Concat(corners.SelectMany(point => new[] { point.X, point.X - 1e-9 * (high - low) }))
            .Where(x => x >= low && x <= high)
            .Order();
        return places.Select(x => new[] { x, at(x) }).Where(pair => double.IsFinite(pair[1]));
    }
}
