using ClearTide.Core.Data;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Counts of mean m and variance m + m²/k, where k is the spread (McCullagh and Nelder, Generalized Linear Models, 2nd ed.,
/// 6.2.3).</summary>
internal sealed class NegativeBinomialLaw : SpreadLaw
{
    protected override int Unknown(IReadOnlyList<DataRow> rows) => 1;

    protected override double LogSeen(DataRow row, double mean, LawSpread spread) =>
        CountLikelihood.Log(ErrorLaw.NegativeBinomial, row.Value, mean, spread.Main);

    protected override double SlopeSeen(DataRow row, double mean, LawSpread spread) =>
        CountLikelihood.Slope(ErrorLaw.NegativeBinomial, row.Value, mean, spread.Main);

    protected override double InformationSeen(DataRow row, double mean, LawSpread spread) =>
        1 / CountLikelihood.Variance(ErrorLaw.NegativeBinomial, mean, spread.Main);

    protected override LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means)
    {
        var settled = means.ToArray();
        return MostLikely(k => rows.Select((row, i) => row.Weight * LogSeen(row, settled[i], k)).Sum(), 1e-3, CountLikelihood.LargestK);
    }

    /// <summary>The sum of the probabilities of all counts below the limit.</summary>
    protected override LowerTail Below(DataRow row, double mean, LawSpread spread) =>
        LowerTail.OfCounts(
            row.Value,
            count => CountLikelihood.Log(ErrorLaw.NegativeBinomial, count, mean, spread.Main),
            count => CountLikelihood.Slope(ErrorLaw.NegativeBinomial, count, mean, spread.Main)
        );

    public override double Variance(DataRow row, double mean, LawSpread spread) =>
        CountLikelihood.Variance(ErrorLaw.NegativeBinomial, mean, spread.Main);

    public override double Step(DataRow row) => 1;

    public override string? Refusal(DataRow row) => PoissonLaw.CountRefusal(row);
}
