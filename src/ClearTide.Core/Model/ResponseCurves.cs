using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>What response curves have in common.</summary>
internal static class ResponseCurves
{
    /// <summary>A sentence where a table is too short to say how anything responds.</summary>
    public static string? TooFew(ImmutableArray<CurvePoint> points) =>
        points.Length >= 2
            ? null
            : "A response curve needs at least two points, to say how it responds. Add one; a value that never changes is a parameter.";

    private static readonly (PartField Field, ValueField Value)[] Numbers =
    [
        (PartField.Low, ValueField.Low),
        (PartField.High, ValueField.High),
        (PartField.Half, ValueField.Half),
        (PartField.Slope, ValueField.Slope),
    ];

    /// <summary>How an address names the number in a field of a curve given by a law.</summary>
    public static ValueField ValueOf(PartField field) => Numbers.First(pair => pair.Field == field).Value;

    /// <summary>The field that holds the number which an address names, or null where a curve has no such number.</summary>
    public static PartField? FieldOf(ValueField value) =>
        Numbers.Where(pair => pair.Value == value).Select(pair => (PartField?)pair.Field).FirstOrDefault();

    /// <summary>The curve with one of its lines replaced.</summary>
    public static ResponseCurve WithLine(ResponseCurve curve, PartField field, string line) =>
        field switch
        {
            PartField.Low => curve with { Low = line },
            PartField.High => curve with { High = line },
            PartField.Half => curve with { Half = line },
            PartField.Slope => curve with { Slope = line },
            PartField.From => curve with { From = line },
            PartField.Until => curve with { Until = line },
            _ => throw new ArgumentOutOfRangeException(nameof(field), field, "Not a line of a response curve."),
        };
}
