using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>What the model expects of one subject along time, with what was given to it and what is known of it.</summary>
/// <param name="ObservationId">Of which series.</param>
/// <param name="Subject">The name that rows have for it; empty where they name nobody.</param>
/// <param name="Times">Even ones, and both sides of each dose.</param>
/// <param name="Expected">What is expected at those times.</param>
public sealed record SubjectCurve(string ObservationId, string Subject, IReadOnlyList<double> Times, IReadOnlyList<double> Expected);

/// <summary>Curves of subjects between their rows.</summary>
public static class SubjectCurves
{
    /// <summary>Places of a curve: as many as a small picture can show.</summary>
    private const int Places = 120;

    /// <summary>Most subjects whose curves are drawn: nobody looks at more side by side.</summary>
    public const int Most = 40;

    /// <param name="document">The study.</param>
    /// <param name="series">Those that stand at one time each and are of subjects get curves; others none.</param>
    /// <param name="values">Estimates, or values that are tried, by address; all else is as the document says.</param>
    /// <param name="own">What subjects have of their own; empty where nothing.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="ArgumentException">The series do not fit the model; the message says what to do.</exception>
    /// <exception cref="Simulation.SimulationException">The model cannot be run at these values.</exception>
    public static IReadOnlyList<SubjectCurve> Of(
        StudyDocument document,
        IReadOnlyList<Series> series,
        IReadOnlyDictionary<ValueAddress, double> values,
        IReadOnlyList<SubjectEstimate> own,
        CancellationToken cancel = default
    )
    {
        var dense = series.Where(one => !one.Observation.Seen.HasInterval()).Select(Dense).Where(one => one.Data.Rows.Count > 0).ToList();
        if (dense.Count == 0)
            return [];
        ValueAddress[] addresses = [.. document.Fit.Parameters.Where(one => one.Own).Select(one => one.Address)];
        var model = new ObservedModel(
            Lowering.Lower(document).With(values),
            dense,
            [.. own.SelectMany(_ => addresses)],
            owners: [.. own.SelectMany(one => addresses.Select(_ => one.Subject))]
        );
        var mean = model.Means([.. own.SelectMany(one => one.Values)], cancel);
        var curves = new List<SubjectCurve>();
        var at = 0;
        foreach (var one in dense)
        {
            var rows = one.Data.Rows.Select((row, k) => (row, Mean: mean[at + k])).ToList();
            at += rows.Count;
            curves.AddRange(
                rows.GroupBy(row => row.row.Subject!)
                    .Select(group => new SubjectCurve(
                        one.Observation.Id,
                        group.Key,
                        [.. group.Select(row => row.row.End)],
                        [.. group.Select(row => row.Mean)]
                    ))
            );
        }
        return curves;

        Series Dense(Series one)
        {
            var names = one.Data.Rows.Select(row => row.Subject).OfType<string>().Distinct().Take(Most).ToList();
            var last = one.Data.Rows.Count == 0 ? document.Start : one.Data.Rows[^1].End;
            var length = last - document.Start;
            var rows = names.SelectMany(name =>
            {
                var doses = one.Data.Subjects.FirstOrDefault(subject => subject.Name == name)?.Doses ?? [];
                return Enumerable
                    .Range(0, Places + 1)
                    .Select(k => document.Start + length * k / Places)
                    // The row at a dose stands before it.
                    .Concat(doses.Where(dose => dose.Time < last).SelectMany(dose => new[] { dose.Time, dose.Time + 1e-6 * length }))
                    .Distinct()
                    .Order()
                    .Select(time => new DataRow(time, time, 0) { Subject = name });
            });
            return one with { Data = one.Data with { Rows = length > 0 ? [.. rows] : [] } };
        }
    }
}
