using ClearTide.Core.Expressions;

namespace ClearTide.Core.Model;

/// <summary>A handle by which a named law is dragged: the field it changes, and where it stands on the curve.</summary>
/// <param name="Field">The number that it changes.</param>
/// <param name="X">Across, in the unit of the argument.</param>
/// <param name="Y">Upward, in the unit of the value.</param>
public sealed record CurveHandle(PartField Field, double X, double Y);

/// <summary>A named law with its numbers: what it gives at a place, and where its handles stand.</summary>
/// <param name="Law">The law.</param>
/// <param name="Low">The least value.</param>
/// <param name="High">The greatest value.</param>
/// <param name="Half">The place where half of the way is gone.</param>
/// <param name="Slope">How steep it is there.</param>
/// <param name="From">The lower end of its range; minus infinity for none.</param>
/// <param name="Until">The upper end; infinity for none.</param>
public sealed record CurveLawValues(CurveLaw Law, double Low, double High, double Half, double Slope, double From, double Until)
{
    /// <summary>The value at a place, held outside the range.</summary>
    /// <param name="x">The place, in the unit of the argument.</param>
    public double At(double x)
    {
        var graph = new ExpressionGraph();
        var node = CurveNodes.Of(graph, Law, graph.Constant(Math.Clamp(x, From, Until)), field => graph.Constant(
                field switch
                {
                    PartField.Low => Low,
                    PartField.High => High,
                    PartField.Half => Half,
                    _ => Slope,
                }
            ));
        return graph.Evaluate(node, 0, [], []);
    }

    /// <summary>A stretch of places on which the law shows what it does.</summary>
    public (double Low, double High) Window()
    {
        var (low, high) = Law switch
        {
            CurveLaw.Hill => (0, 3 * Math.Abs(Half)),
            CurveLaw.Logistic => (Half - 6 / Math.Max(Math.Abs(Slope), 1e-9), Half + 6 / Math.Max(Math.Abs(Slope), 1e-9)),
            CurveLaw.Exponential => (0, 4 / Math.Max(Math.Abs(Slope), 1e-9)),
            _ => (0, Slope == 0 || Low == 0 ? 1 : Math.Abs(2 * Low / Slope)),
        };
        return (double.IsFinite(From) ? From : low, double.IsFinite(Until) ? Until : high);
    }

    /// <summary>The handles: half-point and steepness where the law has them, else where it starts and a point that shows its
    /// slope.</summary>
    public IReadOnlyList<CurveHandle> Handles()
    {
        var (low, high) = Window();
        var quarter = low + 0.75 * (high - low);
        return Law is CurveLaw.Hill or CurveLaw.Logistic
            ? [new(PartField.Half, Half, At(Half)), new(PartField.Slope, SteepPlace(), At(SteepPlace()))]
            : [new(PartField.Low, 0, At(0)), new(PartField.Slope, quarter, At(quarter))];
    }

    /// <summary>Where three quarters of the way are done: the steeper the curve, the nearer to its half-point.</summary>
    private double SteepPlace() => Law == CurveLaw.Hill ? Half * Math.Pow(3, 1 / Slope) : Half + Math.Log(3) / Slope;

    /// <summary>The number that a handle stands for when it is dragged to a place.</summary>
    internal double Dragged(PartField field, double x, double y) =>
        (Law, field) switch
        {
            (_, PartField.Half) => x,
            (_, PartField.Low) => y,
            (CurveLaw.Hill, PartField.Slope) => Math.Log(3) / Math.Log(Math.Max(x / Half, 1.0001)),
            (CurveLaw.Logistic, PartField.Slope) => Math.Log(3) / (x == Half ? 1e-6 : x - Half),
            (CurveLaw.Exponential, PartField.Slope) => x == 0 || y / Low <= 0 ? Slope : Math.Log(y / Low) / x,
            (CurveLaw.Linear, PartField.Slope) => x == 0 ? Slope : (y - Low) / x,
            _ => Slope,
        };
}
