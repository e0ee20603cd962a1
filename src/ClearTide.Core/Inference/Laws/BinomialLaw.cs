using ClearTide.Core.Data;
using MathNet.Numerics;

namespace ClearTide.Core.Inference.Laws;

/// <summary>So many out of a known number: a row holds the share, the number is its <see cref="DataRow.OutOf"/>, and what is expected is
/// the chance of each (McCullagh and Nelder, Generalized Linear Models, 2nd ed., 4.2).</summary>
internal sealed class BinomialLaw : SpreadLaw
{
    protected override int Unknown(IReadOnlyList<DataRow> rows) => 0;

    protected override double LogSeen(DataRow row, double mean, LawSpread spread) => Log(Number(row), Counted(row), mean);

    protected override double SlopeSeen(DataRow row, double mean, LawSpread spread) => Slope(Number(row), Counted(row), mean);

    protected override double InformationSeen(DataRow row, double mean, LawSpread spread) => Number(row) / (mean * (1 - mean));

    protected override LawSpread BestSpreadSeen(IReadOnlyList<DataRow> rows, ReadOnlySpan<double> means) => 1;

    /// <summary>The sum of the probabilities of all counts below the limit.</summary>
    protected override LowerTail Below(DataRow row, double mean, LawSpread spread) =>
        LowerTail.OfCounts(
            // A share of a hundredth more than k of n is rounding, not a count.
            Math.Min(Number(row) + 1, Math.Ceiling(Number(row) * row.Value - 1e-9)),
            count => Log(Number(row), count, mean),
            count => Slope(Number(row), count, mean)
        );

    public override double Variance(DataRow row, double mean, LawSpread spread) => mean * (1 - mean) / Number(row);

    public override double Step(DataRow row) => 1 / Number(row);

    public override double Most => 1;

    public override string? Refusal(DataRow row) =>
        row.OutOf is not { } number
            ? $"A binomial law has to know of how many: the row at {row.End:0.###} does not say. Bring a column of the numbers looked "
                + "at, or choose another law under Data."
        : !(number >= 1) ? $"The row at {row.End:0.###} is out of {number:0.###}. It is to be out of at least one."
        : row.Value is < 0 or > 1
            ? $"A share is from 0 to 1; the row at {row.End:0.###} holds {row.Value:0.###}. Choose another law under Data."
        : null;

    /// <summary>A chance of nothing or of one would make the other impossible: it is kept off both by the error of an
    /// integration.</summary>
    public override double Settle(double mean) => Math.Clamp(mean, LeastMean, 1 - LeastMean);

    private static double Number(DataRow row) => row.OutOf ?? 1;

    /// <summary>How many were counted: whole, but for rounding of a share that was written with few digits.</summary>
    private static double Counted(DataRow row)
    {
        var counted = Number(row) * row.Value;
        var whole = Math.Round(counted);
        return Math.Abs(counted - whole) < 1e-6 * Math.Max(1, whole) ? whole : counted;
    }

    private static double Log(double number, double counted, double chance) =>
        SpecialFunctions.GammaLn(number + 1)
        - SpecialFunctions.GammaLn(counted + 1)
        - SpecialFunctions.GammaLn(number - counted + 1)
        + (counted > 0 ? counted * Math.Log(chance) : 0)
        + (number > counted ? (number - counted) * double.LogP1(-chance) : 0);

    private static double Slope(double number, double counted, double chance) => (counted - number * chance) / (chance * (1 - chance));
}
