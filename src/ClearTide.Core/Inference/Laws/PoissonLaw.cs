using ClearTide.Core.Data;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference.Laws;

/// <summary>Counts whose variance is their mean (McCullagh and Nelder, Generalized Linear Models, 2nd ed., 6.2).</summary>
internal sealed class PoissonLaw : SpreadLaw
{
    public override bool HasSpread(IReadOnlyList<DataRow> rows) => false;

    public override double Log(DataRow row, double mean, double spread) => CountLikelihood.Log(ErrorLaw.Poisson, row.Value, mean, spread);

    public override double Slope(DataRow row, double mean, double spread) =>
        CountLikelihood.Slope(ErrorLaw.Poisson, row.Value, mean, spread);

    public override double Information(DataRow row, double mean, double spread) => 1 / mean;

    public override double BestSpread(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means) => 1;

    public override string? Refusal(DataRow row) => CountRefusal(row);

    /// <summary>Why a row is no count.</summary>
    internal static string? CountRefusal(DataRow row) =>
        row.Value >= 0
            ? null
            : $"A count is zero or more; the row ending at {row.End:0.###} holds {row.Value:0.###}. Choose another law under Data.";
}
