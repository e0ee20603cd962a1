using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Core.Model;

/// <summary>The table of an input as a function of time.</summary>
public static class InputTables
{
    /// <summary>Its values are read in the input's own unit, like any number with a unit.</summary>
    /// <param name="input">The input.</param>
    /// <param name="units">The units of the study.</param>
    public static TableFunction Of(Input input, UnitTable units) =>
        new(Scaled(input, units), input.Between, input.Before, input.After, Period(input, units) ?? 0);

    private static ImmutableArray<CurvePoint> Scaled(Input input, UnitTable units)
    {
        var scale = units.ReadAlone(input.Unit).Unit?.Scale ?? 1;
        return scale == 1 ? input.Points : [.. input.Points.Select(point => point with { Y = point.Y * scale })];
    }

    /// <summary>The period it repeats with, as it is typed or else as its points suggest, in the study's unit of time.</summary>
    /// <param name="input">The input.</param>
    /// <param name="units">The units of the study.</param>
    public static double PeriodInForce(Input input, UnitTable units) =>
        Period(input, units) ?? TableFunction.UsualPeriod(input.Points, input.Between);

    /// <summary>The period that is typed, in the study's unit of time; null where none is typed or it cannot be read.</summary>
    /// <param name="input">The input.</param>
    /// <param name="units">The units of the study.</param>
    public static double? Period(Input input, UnitTable units) =>
        input.Period.Length > 0
        && Formula.Read(input.Period) is { HasNames: false, Tree: { } tree }
        && FormulaBinder.ValueOf(tree, units) is var period and > 0
            ? period
            : null;
}
