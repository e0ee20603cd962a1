using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>What a projection takes from data and from a fit to them.</summary>
public static class ProjectionSources
{
    /// <summary>The series that a projection goes on from; -1 where none counts a flow.</summary>
    /// <param name="series">The observations with their rows.</param>
    public static int Counted(IReadOnlyList<Series> series)
    {
        for (var k = 0; k < series.Count; k++)
        {
            if (series[k].Observation.Seen == ObservedAs.Flowed)
                return k;
        }
        return -1;
    }

    /// <summary>The request with the values of a fit, and with what is asked for of what it leaves uncertain.</summary>
    /// <param name="request">What is asked for without a fit.</param>
    /// <param name="document">The study.</param>
    /// <param name="series">Those that the fit was made of.</param>
    /// <param name="fit">Of the series; null for the model's own values.</param>
    /// <param name="spread">Whether replicates differ by what the fit left uncertain.</param>
    /// <param name="error">Whether the error of observation is in them, where what data count is followed.</param>
    public static ProjectionRequest With(
        ProjectionRequest request,
        StudyDocument document,
        IReadOnlyList<Series> series,
        FitResult? fit,
        bool spread,
        bool error
    ) =>
        request with
        {
            Estimates = fit?.Estimates.ToDictionary(one => one.Address, one => one.Value) ?? [],
            Spread = spread && fit is not null ? EstimateSpread.Of(fit, document.Fit) : null,
            Error =
                error && request.Of.Length == 0 && Counted(series) is >= 0 and var place
                    ? ObservationError.Of(document, series[place], fit, place)
                    : null,
        };

    /// <summary>The series as they were at an earlier now: of each the rows that had come in by then; those that had none are left
    /// out.</summary>
    /// <param name="series">The observations with their rows.</param>
    /// <param name="now">In the unit of the study.</param>
    public static IReadOnlyList<Series> AsOf(IReadOnlyList<Series> series, double now) =>
        [
            .. series
                .Select(one => one with { Data = one.Data with { Rows = [.. one.Data.Rows.Where(row => row.End <= now + Slack)] } })
                .Where(one => one.Data.Rows.Count > 0),
        ];

    /// <summary>Rounding of times.</summary>
    private const double Slack = 1e-9;
}
