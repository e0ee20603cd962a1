using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>A point of a search: transformed values, log-likelihood, its gradient and the expected information.</summary>
internal sealed record SearchPoint(
    double[] U,
    double LogLikelihood,
    Vector<double> Gradient,
    Matrix<double> Information,
    double[] Mean,
    double K
);

/// <summary>
/// Maximises a likelihood of counts within bounds by Fisher scoring with Levenberg damping (Nocedal and Wright, Numerical Optimization,
/// 2nd ed.,
/// 10.3, with the expected information in place of J'J; McCullagh and Nelder, Generalized Linear Models, 2nd ed., 2.5). Values with a lower
/// bound of zero or more move on a log scale. At a bound, values that would leave it are held. The dispersion k is maximised in turn with
/// the
/// rest: their expected information is zero.
/// </summary>
internal sealed class LikelihoodSearch(ObservedModel model, FitSetup setup)
{
    private const int MostIterations = 200;

    public int Dimension => setup.Parameters.Length;

    public bool OnLogScale(int j) => setup.Parameters[j].Lower >= 0;

    public double Lower(int j) =>
        OnLogScale(j) ? Math.Log(Math.Max(setup.Parameters[j].Lower, 1e-12 * setup.Parameters[j].Upper)) : setup.Parameters[j].Lower;

    public double Upper(int j) => OnLogScale(j) ? Math.Log(setup.Parameters[j].Upper) : setup.Parameters[j].Upper;

    public double ToValue(int j, double u) => OnLogScale(j) ? Math.Exp(u) : u;

    public double FromValue(int j, double value) =>
        Math.Clamp(OnLogScale(j) ? Math.Log(Math.Max(value, 1e-300)) : value, Lower(j), Upper(j));

    public SearchPoint Evaluate(double[] u, double k, CancellationToken cancel)
    {
        var values = new double[Dimension];
        for (var j = 0; j < values.Length; j++)
            values[j] = ToValue(j, u[j]);
        var prediction = model.Predict(values, cancel);
        var rows = model.Data.Rows;
        var gradient = Vector<double>.Build.Dense(Dimension);
        var information = Matrix<double>.Build.Dense(Dimension, Dimension);
        var log = 0.0;
        var row = new double[Dimension];
        for (var i = 0; i < rows.Count; i++)
        {
            // An integration error must not make an expectation of nothing negative.
            var mean = Math.Max(prediction.Mean[i], 1e-12);
            log += CountLikelihood.Log(setup.Law, rows[i].Value, mean, k);
            var slope = CountLikelihood.Slope(setup.Law, rows[i].Value, mean, k);
            var variance = CountLikelihood.Variance(setup.Law, mean, k);
            for (var j = 0; j < Dimension; j++)
                row[j] = prediction.Gradient[i, j] * (OnLogScale(j) ? values[j] : 1);
            for (var j = 0; j < Dimension; j++)
            {
                gradient[j] += slope * row[j];
                for (var l = 0; l < Dimension; l++)
                    information[j, l] += row[j] * row[l] / variance;
            }
        }
        return new(u, log, gradient, information, prediction.Mean, k);
    }

    /// <summary>Climbs from a start; values in <paramref name="held"/> stay where they are.</summary>
    public SearchPoint Climb(double[] start, double k, bool[]? held = null, CancellationToken cancel = default)
    {
        var here = Evaluate(start, k, cancel);
        var damping = 1e-3;
        for (var iteration = 0; iteration < MostIterations; iteration++)
        {
            if (setup.Law == ErrorLaw.NegativeBinomial && held is null)
                here = Evaluate(here.U, BestK(here.Mean), cancel);
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
            var next = Evaluate(u, here.K, cancel);
            return double.IsNaN(next.LogLikelihood) ? null : next;
        }
        catch (SimulationException)
        {
            return null;
        }
    }

    /// <summary>The k that is most likely for these expectations, by golden section on its logarithm (Nocedal and Wright, chapter
    /// 3).</summary>
    public double BestK(double[] mean)
    {
        var rows = model.Data.Rows;
        double LogAt(double logK)
        {
            var sum = 0.0;
            for (var i = 0; i < rows.Count; i++)
                sum += CountLikelihood.Log(ErrorLaw.NegativeBinomial, rows[i].Value, Math.Max(mean[i], 1e-12), Math.Exp(logK));
            return sum;
        }
        double low = Math.Log(1e-3),
            high = Math.Log(CountLikelihood.LargestK);
        var golden = (Math.Sqrt(5) - 1) / 2;
        double a = high - golden * (high - low),
            b = low + golden * (high - low);
        double atA = LogAt(a),
            atB = LogAt(b);
        while (high - low > 1e-7)
        {
            if (atA >= atB)
            {
                (high, b, atB) = (b, a, atA);
                a = high - golden * (high - low);
                atA = LogAt(a);
            }
            else
            {
                (low, a, atA) = (a, b, atB);
                b = low + golden * (high - low);
                atB = LogAt(b);
            }
        }
        return Math.Exp(0.5 * (low + high));
    }
}
