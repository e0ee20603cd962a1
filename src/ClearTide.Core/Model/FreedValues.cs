using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>
/// Numbers of a study that are values of its model only while a fit asks for them: the points of its inputs, and the day it starts on.
/// Elsewhere a table is one thing, and a slider for each of its points would be in the way.
/// </summary>
public static class FreedValues
{
    /// <summary>The address of the time that the model starts at, in the study's unit.</summary>
    public static readonly ValueAddress StartDay = new("t", ValueField.Start);

    /// <summary>The address of what an input is at its <paramref name="place"/>th point, counted from 0.</summary>
    /// <param name="input">The input.</param>
    /// <param name="place">Of the point, counted from 0.</param>
    public static ValueAddress Point(Input input, int place) => new(input.Symbol, ValueField.Point, "", place + 1);

    /// <summary>Whether an address is of such a number.</summary>
    /// <param name="address">The value.</param>
    public static bool Holds(ValueAddress address) => address.Field == ValueField.Point || address == StartDay;

    /// <summary>The document with those freed that its fit estimates or holds at a number.</summary>
    /// <param name="document">The study with its fit.</param>
    /// <param name="also">Further ones, that somebody tries.</param>
    public static StudyDocument Of(StudyDocument document, params IEnumerable<ValueAddress> also) =>
        With(document, [.. document.Fit.Parameters.Select(one => one.Address), .. document.Fit.Ties.Select(one => one.Address), .. also]);

    /// <summary>The document with those freed that are among <paramref name="addresses"/>; itself where none are.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="addresses">Of any values.</param>
    public static StudyDocument With(StudyDocument document, IEnumerable<ValueAddress> addresses)
    {
        ImmutableArray<ValueAddress> freed = [.. addresses.Where(Holds).Distinct()];
        return freed.IsEmpty ? document : document with { Freed = freed };
    }

    /// <summary>The document begun on the day that is among <paramref name="values"/>; itself where none is.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="values">Numbers by address.</param>
    public static StudyDocument At(StudyDocument document, IReadOnlyDictionary<ValueAddress, double> values) =>
        values.TryGetValue(StartDay, out var day) ? document with { Start = day } : document;

    /// <summary>The input and the point that an address names; null where there is none.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="address">The value.</param>
    public static (Input Input, int Place)? PointOf(StudyDocument document, ValueAddress address) =>
        address.Field == ValueField.Point
        && document.Inputs.FirstOrDefault(one => one.Symbol == address.Symbol) is { } input
        && address.Twin <= input.Points.Length
            ? (input, address.Twin - 1)
            : null;

    /// <summary>Why a number cannot be freed, in a sentence; null where it can, or where it is none of these.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="address">The value.</param>
    public static string? Refusal(StudyDocument document, ValueAddress address)
    {
        if (address.Field != ValueField.Point)
            return null;
        if (PointOf(document, address) is not (var input, _))
            return $"There is no point “{address}” in the model any more. Take it out of the fit.";
        return input.Between == Between.Smooth
            ? $"{input.Symbol} goes smoothly from point to point, so that each value moves with its neighbours. Let it go in straight "
                + "lines or in steps to estimate its points."
            : null;
    }
}
