using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>Data against a model at values that somebody tries, before anything is fitted.</summary>
/// <param name="Means">What is expected of each row that fits use, series by series.</param>
/// <param name="LogLikelihood">Under the most likely spreads of the laws; minus infinity where the data are impossible.</param>
public sealed record Trial(ImmutableArray<double> Means, double LogLikelihood)
{
    /// <param name="document">The study.</param>
    /// <param name="series">The data on the model.</param>
    /// <param name="values">What is tried, by address; all else is as the document says.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="ArgumentException">The series do not fit the model; the message says what to do.</exception>
    /// <exception cref="Simulation.SimulationException">The model cannot be run at these values.</exception>
    public static Trial At(
        StudyDocument document,
        IReadOnlyList<Series> series,
        IReadOnlyDictionary<ValueAddress, double> values,
        CancellationToken cancel = default
    )
    {
        var means = new ObservedModel(Lowering.Lower(FreedValues.Of(TiedModel.Of(document), values.Keys)).With(values), series, [])
            .Predict([], cancel)
            .Mean;
        var (log, at) = (0.0, 0);
        foreach (var one in series)
        {
            var (law, rows) = (SpreadLaw.Of(one.Observation, document.Fit), one.Data.Used);
            double[] expected = [.. means.Skip(at).Take(rows.Count).Select(law.Settle)];
            var spread = law.SpreadFor(rows, expected);
            log += rows.Select((row, k) => row.Weight * law.Log(row, expected[k], spread)).Sum();
            at += rows.Count;
        }
        return new([.. means], log);
    }
}
