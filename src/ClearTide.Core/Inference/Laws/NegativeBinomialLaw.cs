using ClearTide.Core.Data;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Counts of mean m and variance m + m²/k, where k is the spread (McCullagh and Nelder, Generalized Linear Models, 2nd ed.,
/// 6.2.3).</summary>
internal sealed class NegativeBinomialLaw : SpreadLaw
{
    public override bool HasSpread(IReadOnlyList<DataRow> rows) => true;

    public override double Log(DataRow row, double mean, double spread) =>
        CountLikelihood.Log(ErrorLaw.NegativeBinomial, row.Value, mean, spread);

    public override double Slope(DataRow row, double mean, double spread) =>
        CountLikelihood.Slope(ErrorLaw.NegativeBinomial, row.Value, mean, spread);

    public override double Information(DataRow row, double mean, double spread) =>
        1 / CountLikelihood.Variance(ErrorLaw.NegativeBinomial, mean, spread);

    /// <summary>By golden section on the logarithm of k (Nocedal and Wright, Numerical Optimization, 2nd ed., chapter 3).</summary>
    public override double BestSpread(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var settled = means.ToArray();
        double LogAt(double logK)
        {
            var sum = 0.0;
            for (var i = 0; i < rows.Count; i++)
                sum += CountLikelihood.Log(ErrorLaw.NegativeBinomial, rows[i].Value, settled[i], Math.Exp(logK));
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

    public override string? Refusal(DataRow row) => PoissonLaw.CountRefusal(row);
}
