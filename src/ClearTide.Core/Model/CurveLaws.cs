using System.Globalization;

namespace ClearTide.Core.Model;

/// <summary>Changing how a response curve is given, keeping as much of its shape as the other way can say.</summary>
internal static class CurveLaws
{
    public static ResponseCurve Change(ResponseCurve curve, CurveLaw law)
    {
        if (law == curve.Law)
            return curve;
        if (law == CurveLaw.Points)
            return curve with { Law = law, Points = curve.Points.Length >= 2 ? curve.Points : [new(0, 1), new(1, 0)] };
        var (low, high, half, from) = (1.0, 0.0, 0.5, 0.0);
        if (curve.Points.Length >= 2)
        {
            (low, high) = (curve.Points[0].Y, curve.Points[^1].Y);
            half = (curve.Points[0].X + curve.Points[^1].X) / 2;
            from = curve.Points[^1].X - curve.Points[0].X;
        }
        string Line(string known, double value) =>
            known.Length > 0 ? known : Math.Round(value, 6).ToString("R", CultureInfo.InvariantCulture);
        var slope = law switch
        {
            CurveLaw.Linear => from > 0 ? (high - low) / from : -1,
            CurveLaw.Exponential => low * high > 0 && from > 0 ? Math.Log(high / low) / from : -1,
            CurveLaw.Hill => 4,
            _ => from > 0 ? 10 / from : 10,
        };
        // A slope means something else under each law.
        return curve with
        {
            Law = law,
            Low = Line(curve.Low, low),
            High = Line(curve.High, high),
            Half = Line(curve.Half, half),
            Slope = Line("", slope),
        };
    }
}
