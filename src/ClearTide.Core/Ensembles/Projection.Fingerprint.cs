using System.Globalization;
using System.Text;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Ensembles;

/// <summary>What the numbers of a projection depend on.</summary>
public sealed partial class Projection
{
    /// <summary>The content that a projection's numbers depend on.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="series">The series that it goes on from, or null where none does.</param>
    /// <param name="request">What was asked for.</param>
    public static string Fingerprint(StudyDocument document, Series? series, ProjectionRequest request)
    {
        var text = new StringBuilder(Fingerprints.OfContent(document, series is null ? [] : [series]));
        text.Append(CultureInfo.InvariantCulture, $"{document.End:R} {request.Replicates} {request.Seed}\n");
        if (request.Of.Length > 0 || request.FromStart)
            text.Append(CultureInfo.InvariantCulture, $"{request.Of} {request.FromStart}\n");
        if (request.Spread is { } spread)
        {
            foreach (var value in spread.Values)
                text.Append(
                    CultureInfo.InvariantCulture,
                    $"{value.Address} ~ {value.Centre:R} {value.OnLog} {value.Lower:R} {value.Upper:R}\n"
                );
            foreach (var number in spread.Root.Concat(spread.Draws.SelectMany(draw => draw)))
                text.Append(CultureInfo.InvariantCulture, $"{number:R}\n");
        }
        if (request.Subjects is { Varying.IsEmpty: false } subjects)
        {
            foreach (var one in subjects.Varying)
                text.Append(CultureInfo.InvariantCulture, $"{one.Address} differs {one.Law} {one.Spread:R} {one.Low:R} {one.High:R}\n");
            foreach (var pair in subjects.Correlations)
                text.Append(CultureInfo.InvariantCulture, $"{pair.First} {pair.Second} {pair.Correlation:R}\n");
        }
        if (request.Chance != ProjectionChance.Automatic)
            text.Append(CultureInfo.InvariantCulture, $"{request.Chance} {request.Step:R}\n");
        if (request.Level is { } level)
            text.Append(CultureInfo.InvariantCulture, $"level {level:R}\n");
        foreach (var formula in request.Formulas)
            text.Append(CultureInfo.InvariantCulture, $"formula along runs {formula.Length} {formula}\n");
        if (request is { Error: { } error, Of.Length: 0 })
            text.Append(CultureInfo.InvariantCulture, $"units seen {error.Law} {error.Spread:R}\n");
        foreach (var (address, value) in request.Estimates.OrderBy(pair => pair.Key.ToString(), StringComparer.Ordinal))
            text.Append(CultureInfo.InvariantCulture, $"{address} {value:R}\n");
        foreach (var scenario in document.ActiveScenarios)
        {
            text.Append(scenario.Id).Append('\n');
            foreach (var rule in scenario.Rules)
                text.Append(CultureInfo.InvariantCulture, $"{rule.Id} {rule.Text.Length} {rule.Text}\n");
            foreach (var cost in scenario.Costs)
                text.Append(CultureInfo.InvariantCulture, $"{cost.MeasureId} costs {cost.Text.Length} {cost.Text}\n");
            foreach (var measure in scenario.Measures)
            {
                var kind = measure.Kind == MeasureKind.Scale ? "" : $"{measure.Kind} ";
                text.Append(
                    CultureInfo.InvariantCulture,
                    $"{measure.Address} {kind}{measure.Factor:R} {measure.From:R} {measure.Until:R}\n"
                );
            }
        }
        return Fingerprints.Hash(text.ToString());
    }
}
