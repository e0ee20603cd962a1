using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>A point of a search: transformed values, log-likelihood, and of what is climbed (the log-likelihood, and the logarithm of the
/// priors) the gradient and the expected information.</summary>
/// <param name="U">Values on the search scale.</param>
/// <param name="LogLikelihood">Of all rows, constants included.</param>
/// <param name="LogPrior">The logarithm of the density of all priors.</param>
/// <param name="Gradient">By the values on the search scale.</param>
/// <param name="Information">Of the same, expected rather than observed.</param>
/// <param name="Mean">What is expected of each row, series by series.</param>
/// <param name="Spreads">The spread of the law of each series.</param>
internal sealed record SearchPoint(
    double[] U,
    double LogLikelihood,
    double LogPrior,
    Vector<double> Gradient,
    Matrix<double> Information,
    double[] Mean,
    LawSpread[] Spreads
)
{
    /// <summary>What is climbed.</summary>
    public double Height => LogLikelihood + LogPrior;
}

/// <summary>
/// Maximises a likelihood within bounds by Fisher scoring with Levenberg damping (Nocedal and Wright, Numerical Optimization, 2nd ed.,
/// 10.3, with the expected information in place of J'J; McCullagh and Nelder, Generalized Linear Models, 2nd ed., 2.5). Values with a lower
/// bound of zero or more move on a log scale. At a bound, values that would leave it are held. The spreads of the laws are maximised in
/// turn with the rest, each for itself. Where values have priors, their densities (over the values themselves) count with the likelihood.
/// Searches from several starts may go on at once.
/// </summary>
internal sealed partial class LikelihoodSearch
{
    private readonly ObservedModel _model;
    private readonly FitSetup _setup;
    private readonly SpreadLaw[] _laws;
    private readonly IReadOnlyList<DataRow>[] _rows;
    private readonly bool[] _free;
    private int _evaluations;

    /// <param name="model">Expected values with derivatives.</param>
    /// <param name="setup">What is estimated, under which law.</param>
    /// <param name="rows">Other rows of the same times in the place of those of the model's series; null for these.</param>
    public LikelihoodSearch(ObservedModel model, FitSetup setup, IReadOnlyList<DataRow>[]? rows = null)
    {
        (_model, _setup) = (model, setup);
        _laws = [.. model.Series.Select(series => SpreadLaw.Of(series.Observation, setup))];
        _rows = rows ?? [.. model.Series.Select(series => series.Data.Used)];
        _free = [.. _laws.Select((law, k) => law.HasSpread(_rows[k]))];
    }

    public ObservedModel Model => _model;

    /// <summary>Told each time a climb reaches what is better than all before; null for nobody.</summary>
    public Action<SearchPoint>? Better { get; init; }

    /// <summary>The searched values, one for each coordinate.</summary>
    public FitSetup Setup => _setup;

    /// <summary>How often the likelihood was worked out.</summary>
    public int Evaluations => _evaluations;

    /// <summary>The law of each series, with the rows it is for.</summary>
    public IEnumerable<(SpreadLaw Law, IReadOnlyList<DataRow> Rows)> Laws => _laws.Zip(_rows);

    public int Dimension => _setup.Parameters.Length;

    /// <summary>How many numbers of laws are estimated.</summary>
    public int Spreads => _laws.Zip(_rows, (law, rows) => law.Numbers(rows)).Sum();

    /// <summary>Whether the spread of a series is estimated.</summary>
    public bool HasSpread(int series) => _free[series];

    public bool OnLogScale(int j) => _setup.Parameters[j].OnLogScale;

    public double Lower(int j) =>
        OnLogScale(j) ? Math.Log(Math.Max(_setup.Parameters[j].Lower, 1e-12 * _setup.Parameters[j].Upper)) : _setup.Parameters[j].Lower;

    public double Upper(int j) => OnLogScale(j) ? Math.Log(_setup.Parameters[j].Upper) : _setup.Parameters[j].Upper;

    public double ToValue(int j, double u) => OnLogScale(j) ? Math.Exp(u) : u;

    public double FromValue(int j, double value) =>
        Math.Clamp(OnLogScale(j) ? Math.Log(Math.Max(value, 1e-300)) : value, Lower(j), Upper(j));

    /// <param name="u">Values on the search scale, in the order of the setup.</param>
    /// <param name="spreads">One for each series; null for the most likely ones at these means.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="coarse">Whether the model is solved to six digits only.</param>
    public SearchPoint Evaluate(double[] u, LawSpread[]? spreads, CancellationToken cancel, bool coarse = false)
    {
        var values = new double[Dimension];
        for (var j = 0; j < values.Length; j++)
            values[j] = ToValue(j, u[j]);
        Interlocked.Increment(ref _evaluations);
        var prediction = _model.Predict(values, cancel, coarse);
        spreads ??= BestSpreads(prediction.Mean);
        var gradient = Vector<double>.Build.Dense(Dimension);
        var information = Matrix<double>.Build.Dense(Dimension, Dimension);
        var log = 0.0;
        var slopes = new double[Dimension];
        var at = 0;
        for (var series = 0; series < _laws.Length; series++)
        {
            var (law, spread) = (_laws[series], spreads[series]);
            foreach (var row in _rows[series])
            {
                var mean = law.Settle(prediction.Mean[at]);
                log += row.Weight * law.Log(row, mean, spread);
                var slope = row.Weight * law.Slope(row, mean, spread);
                var known = row.Weight * law.Information(row, mean, spread);
                for (var j = 0; j < Dimension; j++)
                    slopes[j] = prediction.Gradient[at, j] * (OnLogScale(j) ? values[j] : 1);
                for (var j = 0; j < Dimension; j++)
                {
                    gradient[j] += slope * slopes[j];
                    for (var l = 0; l < Dimension; l++)
                        information[j, l] += slopes[j] * slopes[l] * known;
                }
                at++;
            }
        }
        return new(u, log, AddPriors(values, gradient, information), gradient, information, prediction.Mean, spreads);
    }

    /// <summary>The log-likelihood with the priors at each of many places, under the most likely spreads there, from solves to six digits;
    /// minus infinity where the model cannot be run.</summary>
    public double[] Heights(IReadOnlyList<double[]> places, int threads, CancellationToken cancel)
    {
        double[][] sets = [.. places.Select(u => u.Select((one, j) => ToValue(j, one)).ToArray())];
        Interlocked.Add(ref _evaluations, sets.Length);
        return
        [
            .. _model
                .MeansOfMany(sets, threads, cancel)
                .Select((means, k) => means is null ? double.NegativeInfinity : Height(sets[k], means)),
        ];
    }

    private double Height(double[] values, double[] means)
    {
        var (spreads, log, at) = (BestSpreads(means), 0.0, 0);
        for (var series = 0; series < _laws.Length; series++)
        {
            foreach (var row in _rows[series])
                log += row.Weight * _laws[series].Log(row, _laws[series].Settle(means[at++]), spreads[series]);
        }
        return log + values.Select((value, j) => _setup.Parameters[j].Prior?.At(value).Log ?? 0).Sum();
    }

    /// <summary>Adds what priors say to gradient and information.</summary>
    /// <returns>The logarithm of their density.</returns>
    private double AddPriors(double[] values, Vector<double> gradient, Matrix<double> information)
    {
        var sum = 0.0;
        for (var j = 0; j < values.Length; j++)
        {
            if (_setup.Parameters[j].Prior is not { } prior)
                continue;
            var (log, slope, curvature) = prior.At(values[j]);
            sum += log;
            var turn = OnLogScale(j) ? values[j] : 1;
            gradient[j] += slope * turn;
            // A density that is curved upwards here tells nothing about the width of the peak.
            information[j, j] += Math.Max(0, -(curvature * turn * turn + (OnLogScale(j) ? slope * turn : 0)));
        }
        return sum;
    }

    /// <summary>The most likely spread of each law for these means.</summary>
    private LawSpread[] BestSpreads(double[] means)
    {
        var best = new LawSpread[_laws.Length];
        var at = 0;
        for (var series = 0; series < _laws.Length; series++)
        {
            var law = _laws[series];
            double[] settled = [.. means.AsSpan(at, _rows[series].Count).ToArray().Select(law.Settle)];
            best[series] = law.SpreadFor(_rows[series], settled);
            at += settled.Length;
        }
        return best;
    }
}
