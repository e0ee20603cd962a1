using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>A point of a search: transformed values, log-likelihood, its gradient and the expected information.</summary>
/// <param name="Mean">What is expected of each row, series by series.</param>
/// <param name="Spreads">The spread of the law of each series.</param>
internal sealed record SearchPoint(
    double[] U,
    double LogLikelihood,
    Vector<double> Gradient,
    Matrix<double> Information,
    double[] Mean,
    double[] Spreads
);

/// <summary>
/// Maximises a likelihood within bounds by Fisher scoring with Levenberg damping (Nocedal and Wright, Numerical Optimization, 2nd ed.,
/// 10.3, with the expected information in place of J'J; McCullagh and Nelder, Generalized Linear Models, 2nd ed., 2.5). Values with a lower
/// bound of zero or more move on a log scale. At a bound, values that would leave it are held. The spreads of the laws are maximised in
/// turn with the rest, each for itself.
/// </summary>
internal sealed class LikelihoodSearch
{
    private const int MostIterations = 200;

    private readonly ObservedModel _model;
    private readonly FitSetup _setup;
    private readonly SpreadLaw[] _laws;
    private readonly IReadOnlyList<DataRow>[] _rows;
    private readonly bool[] _free;

    public LikelihoodSearch(ObservedModel model, FitSetup setup)
    {
        (_model, _setup) = (model, setup);
        _laws = [.. model.Series.Select(series => SpreadLaw.Of(series.Observation.LawIn(setup)))];
        _rows = [.. model.Series.Select(series => series.Data.Used)];
        _free = [.. _laws.Select((law, k) => law.HasSpread(_rows[k]))];
    }

    public int Dimension => _setup.Parameters.Length;

    /// <summary>How many of the laws have a spread that is estimated.</summary>
    public int Spreads => _free.Count(free => free);

    /// <summary>Whether the spread of a series is estimated.</summary>
    public bool HasSpread(int series) => _free[series];

    public bool OnLogScale(int j) => _setup.Parameters[j].Lower >= 0;

    public double Lower(int j) =>
        OnLogScale(j) ? Math.Log(Math.Max(_setup.Parameters[j].Lower, 1e-12 * _setup.Parameters[j].Upper)) : _setup.Parameters[j].Lower;

    public double Upper(int j) => OnLogScale(j) ? Math.Log(_setup.Parameters[j].Upper) : _setup.Parameters[j].Upper;

    public double ToValue(int j, double u) => OnLogScale(j) ? Math.Exp(u) : u;

    public double FromValue(int j, double value) =>
        Math.Clamp(OnLogScale(j) ? Math.Log(Math.Max(value, 1e-300)) : value, Lower(j), Upper(j));

    /// <param name="spreads">One for each series; null for the most likely ones at these means.</param>
    public SearchPoint Evaluate(double[] u, double[]? spreads, CancellationToken cancel)
    {
        var values = new double[Dimension];
        for (var j = 0; j < values.Length; j++)
            values[j] = ToValue(j, u[j]);
        var prediction = _model.Predict(values, cancel);
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
                log += law.Log(row, mean, spread);
                var slope = law.Slope(row, mean, spread);
                var known = law.Information(row, mean, spread);
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
        return new(u, log, gradient, information, prediction.Mean, spreads);
    }

    /// <summary>The most likely spread of each law for these means.</summary>
    private double[] BestSpreads(double[] means)
    {
        var best = new double[_laws.Length];
        var at = 0;
        for (var series = 0; series < _laws.Length; series++)
        {
            var law = _laws[series];
            double[] settled = [.. means.AsSpan(at, _rows[series].Count).ToArray().Select(law.Settle)];
            best[series] = _free[series] ? law.BestSpread(_rows[series], settled) : 1;
            at += settled.Length;
        }
        return best;
    }

    /// <summary>Climbs from a start; values in <paramref name="held"/> stay where they are.</summary>
    public SearchPoint Climb(double[] start, bool[]? held = null, CancellationToken cancel = default)
    {
        var here = Evaluate(start, null, cancel);
        var damping = 1e-3;
        for (var iteration = 0; iteration < MostIterations; iteration++)
        {
            var free = Enumerable.Range(0, Dimension).Where(j => held?[j] != true && !PushesOut(here, j)).ToArray();
            if (free.Length == 0)
                return here;
            var moved = false;
            while (damping < 1e12)
            {
                if (TryStep(here, free, damping, cancel) is { } next && next.LogLikelihood > here.LogLikelihood)
                {
                    var gain = next.LogLikelihood - here.LogLikelihood;
                    var length = free.Max(j => Math.Abs(next.U[j] - here.U[j]));
                    here = next;
                    damping = Math.Max(damping * 0.1, 1e-14);
                    moved = gain > 1e-13 * Math.Abs(here.LogLikelihood) || length > 1e-9;
                    break;
                }
                damping *= 10;
            }
            if (!moved)
                return here;
        }
        return here;
    }

    private bool PushesOut(SearchPoint point, int j) =>
        (point.U[j] <= Lower(j) && point.Gradient[j] <= 0) || (point.U[j] >= Upper(j) && point.Gradient[j] >= 0);

    private SearchPoint? TryStep(SearchPoint here, int[] free, double damping, CancellationToken cancel)
    {
        var matrix = Matrix<double>.Build.Dense(free.Length, free.Length, (a, b) => here.Information[free[a], free[b]]);
        for (var a = 0; a < free.Length; a++)
            matrix[a, a] += damping * Math.Max(matrix[a, a], 1e-12);
        var step = matrix.Solve(Vector<double>.Build.Dense(free.Length, a => here.Gradient[free[a]]));
        var u = (double[])here.U.Clone();
        for (var a = 0; a < free.Length; a++)
        {
            if (!double.IsFinite(step[a]))
                return null;
            // A factor of seven in one step is as far as a local picture can be trusted.
            var longest = OnLogScale(free[a]) ? 2 : Math.Max(1, Math.Abs(here.U[free[a]]));
            u[free[a]] = Math.Clamp(u[free[a]] + Math.Clamp(step[a], -longest, longest), Lower(free[a]), Upper(free[a]));
        }
        try
        {
            // The spread is the best one at each point: what is climbed is the profile of the likelihood over it.
            var next = Evaluate(u, null, cancel);
            return double.IsNaN(next.LogLikelihood) ? null : next;
        }
        catch (SimulationException)
        {
            return null;
        }
    }
}
