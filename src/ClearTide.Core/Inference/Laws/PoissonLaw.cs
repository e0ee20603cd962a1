using ClearTide.Core.Data;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Counts whose variance is their mean (McCullagh and Nelder, Generalized Linear Models, 2nd ed., 6.2).</summary>
internal sealed class PoissonLaw : SpreadLaw
{
    protected override int Unknown(IReadOnlyList<DataRow> rows) => 0;

    protected override double LogSeen(DataRow row, double mean, LawSpread spread) =>
        CountLikelihood.Log(ErrorLaw.Poisson, row.Value, mean, spread.Main);

    protected override double SlopeSeen(DataRow row, double mean, LawSpread spread) =>
        CountLikelihood.Slope(ErrorLaw.Poisson, row.Value, mean, spread.Main);

    protected override double InformationSeen(DataRow row, double mean, LawSpread spread) => 1 / mean;

    protected override LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means) => 1;

    /// <summary>The sum of the probabilities of all counts below the limit.</summary>
    protected override LowerTail Below(DataRow row, double mean, LawSpread spread) =>
        LowerTail.OfCounts(
            row.Value,
            count => CountLikelihood.Log(ErrorLaw.Poisson, count, mean, spread.Main),
            count => CountLikelihood.Slope(ErrorLaw.Poisson, count, mean, spread.Main)
        );

    public override double Variance(DataRow row, double mean, LawSpread spread) => mean;

    public override double Step(DataRow row) => 1;

    public override string? Refusal(DataRow row) => CountRefusal(row);

    /// <summary>Why a row is no count.</summary>
    internal static string? CountRefusal(DataRow row) =>
        row is { Below: true, Value: <= 0 }
            ? $"No count is below {row.Value:0.###}, as the row ending at {row.End:0.###} says. Leave it out."
        : row.Value >= 0 ? null
        : $"A count is zero or more; the row ending at {row.End:0.###} holds {row.Value:0.###}. Choose another law under Data.";
}
