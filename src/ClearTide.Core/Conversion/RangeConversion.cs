using System.Globalization;
using ClearTide.Core.Analysis;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Conversion;

/// <summary>
/// Ranges of values are plain numbers in the model's units: bounds of a fit, ends of sliders, ranges of sweeps, what measures set. When
/// the unit of time changes they go with the values they belong to.
/// </summary>
internal static class RangeConversion
{
    /// <summary>The document after the change, its ranges scaled as its values were; a value of zero tells no scale and keeps its
    /// range.</summary>
    /// <param name="before">The document before the change.</param>
    /// <param name="after">The same with its values changed.</param>
    /// <param name="ratio">The old unit of time in new ones.</param>
    public static StudyDocument Scale(StudyDocument before, StudyDocument after, double ratio)
    {
        var (old, now) = (Lowering.Lower(FreedValues.Of(before)).Network, Lowering.Lower(FreedValues.Of(after)).Network);
        double Of(ValueAddress address)
        {
            if (address == FreedValues.StartDay)
                return ratio;
            var (a, b) = (old.IndexOf(address), now.IndexOf(address));
            return a < 0 || b < 0 || old.Values[a].Value == 0 ? 1 : now.Values[b].Value / old.Values[a].Value;
        }
        return after.WithFits(fit =>
            fit with
            {
                // What follows from other values goes with them; a number is one of the old unit.
                Ties =
                [
                    .. fit.Ties.Select(one =>
                        TypedNumber.Read(one.Formula) is { } number
                            ? one with
                            {
                                Formula = TypedNumber.Exact(Digits(number * Of(one.Address))),
                            }
                            : one
                    ),
                ],
                Parameters =
                [
                    .. fit.Parameters.Select(one =>
                        one with
                        {
                            Lower = Digits(one.Lower * Of(one.Address)),
                            Upper = Digits(one.Upper * Of(one.Address)),
                            Prior = one.Prior is { } prior
                                ? prior with
                                {
                                    Mean = Digits(prior.Mean * Of(one.Address)),
                                    Spread = Digits(prior.Spread * Of(one.Address)),
                                }
                                : null,
                        }
                    ),
                ],
            }
        ) with
        {
            Subjects = after.Subjects is { } group
                ? group with
                {
                    Varying =
                    [
                        .. group.Varying.Select(one =>
                            one with
                            {
                                Spread = one.Law == VariationLaw.Normal ? Digits(one.Spread * Of(one.Address)) : one.Spread,
                                Low = one.Low is { } low ? Digits(low * Of(one.Address)) : null,
                                High = one.High is { } high ? Digits(high * Of(one.Address)) : null,
                            }
                        ),
                    ],
                }
                : null,
            Sliders =
            [
                .. after.Sliders.Select(one =>
                    one with
                    {
                        Low = Digits(one.Low * Of(one.Address)),
                        High = Digits(one.High * Of(one.Address)),
                        Step = Digits(one.Step * Of(one.Address)),
                    }
                ),
            ],
            Scenarios =
            [
                .. after.Scenarios.Select(scenario =>
                    scenario with
                    {
                        Measures =
                        [
                            // What a value is set to or shifted by is counted as the value is; a factor is a factor.
                            .. scenario.Measures.Select(one =>
                                one.Kind == MeasureKind.Scale ? one : one with { Factor = Digits(one.Factor * Of(one.Address)) }
                            ),
                        ],
                    }
                ),
            ],
            Panels = [.. after.Panels.Select(panel => Scaled(panel, Of(panel.Address), Of(panel.SecondAddress), ratio))],
        };
    }

    private static Panel Scaled(Panel panel, double first, double second, double ratio) =>
        panel with
        {
            From = Number(panel.From, first),
            To = Number(panel.To, first),
            List =
                first != 1 && NumberList.Read(panel.List).Values is { Length: > 0 } values
                    ? string.Join(", ", values.Select(value => Text(value * first)))
                    : panel.List,
            SecondFrom = Number(panel.SecondFrom, second),
            SecondTo = Number(panel.SecondTo, second),
            Every = Number(panel.Every, ratio),
        };

    /// <summary>A typed number scaled; what has a unit, or cannot be read, stays as it was typed.</summary>
    private static string Number(string typed, double scale) =>
        scale != 1 && TypedNumber.Read(typed) is { } value ? Text(value * scale) : typed;

    private static double Digits(double value) => double.Parse(Text(value), CultureInfo.InvariantCulture);

    /// <summary>Twelve digits hide the rounding of the scale and keep what was typed.</summary>
    private static string Text(double value) => TypedNumber.Short(value, 12);
}
