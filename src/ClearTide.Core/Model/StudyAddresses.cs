using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>Everything in a study that names a number of the model.</summary>
internal static class StudyAddresses
{
    /// <summary>The document with each address in fits, subjects, measures, sliders and panels replaced by what <paramref name="change"/>
    /// makes of it.</summary>
    public static StudyDocument WithAddresses(this StudyDocument document, Func<ValueAddress, ValueAddress> change) =>
        document.WithFits(fit =>
            fit with
            {
                Parameters = [.. fit.Parameters.Select(one => one with { Address = change(one.Address) })],
                Ties = [.. fit.Ties.Select(one => one with { Address = change(one.Address) })],
            }
        ) with
        {
            Subjects = document.Subjects is { } group
                ? group with
                {
                    Varying = [.. group.Varying.Select(one => one with { Address = change(one.Address) })],
                    Correlations =
                    [
                        .. group.Correlations.Select(one => one with { First = change(one.First), Second = change(one.Second) }),
                    ],
                }
                : null,
            Scenarios =
            [
                .. document.Scenarios.Select(scenario =>
                    scenario with
                    {
                        Measures = [.. scenario.Measures.Select(measure => measure with { Address = change(measure.Address) })],
                    }
                ),
            ],
            Sliders = [.. document.Sliders.Select(slider => slider with { Address = change(slider.Address) })],
            Panels =
            [
                .. document.Panels.Select(panel =>
                    panel with
                    {
                        Address = change(panel.Address),
                        SecondAddress = change(panel.SecondAddress),
                    }
                ),
            ],
        };
}
