using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>A fit close to its best values: expectations move in proportion to the values there, by as much as these are
/// uncertain.</summary>
internal sealed class Neighbourhood
{
    /// <summary>The 97.5% quantile of the standard normal law: 95% lie within this many standard errors.</summary>
    public const double Quantile975 = 1.959963984540054;

    private readonly double[] _turns;

    public Neighbourhood(LikelihoodSearch search, SearchPoint best, CancellationToken cancel)
    {
        (Search, Best) = (search, best);
        Values = [.. Enumerable.Range(0, search.Dimension).Select(j => search.ToValue(j, best.U[j]))];
        _turns = [.. Enumerable.Range(0, search.Dimension).Select(j => search.OnLogScale(j) ? Values[j] : 1)];
        Prediction = search.Model.Predict(Values, cancel);
        Covariance = Covariances.WithinBounds(search, best.Information);
    }

    public LikelihoodSearch Search { get; }

    public SearchPoint Best { get; }

    public double[] Values { get; }

    /// <summary>Of the rows of the data.</summary>
    public Prediction Prediction { get; }

    /// <summary>Of the values on the search scale.</summary>
    public Matrix<double> Covariance { get; }

    /// <summary>How the expectation of a row moves with each value on the search scale.</summary>
    public Vector<double> Slopes(Prediction prediction, int row) =>
        Vector<double>.Build.Dense(_turns.Length, j => prediction.Gradient[row, j] * _turns[j]);

    /// <summary>The standard error of what is expected of a row.</summary>
    public double ErrorOfMean(int row) => ErrorOfMean(Prediction, row);

    /// <summary>The same for rows of another prediction.</summary>
    public double ErrorOfMean(Prediction prediction, int row)
    {
        var slopes = Slopes(prediction, row);
        return Math.Sqrt(Math.Max(0, slopes * Covariance * slopes));
    }
}
