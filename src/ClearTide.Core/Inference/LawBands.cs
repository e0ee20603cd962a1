using ClearTide.Core.Data;
using ClearTide.Core.Inference.Laws;
using ClearTide.Core.Model;

namespace ClearTide.Core.Inference;

/// <summary>What a law says of the spread of rows, at low expectations and at high ones.</summary>
/// <param name="Means">Expectations from the low end of the rows to their high end.</param>
/// <param name="Low">Below which 5% of what may be seen lies, at each.</param>
/// <param name="High">Above which 5% lies.</param>
/// <param name="Spread">The law's own numbers.</param>
/// <param name="IsGuess">Whether they are no fit's, but those that the rows tell against their neighbours.</param>
public sealed record LawBands(
    IReadOnlyList<double> Means,
    IReadOnlyList<double> Low,
    IReadOnlyList<double> High,
    LawSpread Spread,
    bool IsGuess
)
{
    /// <summary>Expectations that are looked at.</summary>
    private const int Places = 25;

    /// <summary>Rows that are looked at most.</summary>
    private const int MostRows = 600;

    /// <summary>Stretches of a long series that they are taken from.</summary>
    private const int Stretches = 6;

    /// <summary>Why rows cannot be of a law, in a sentence; null where they can.</summary>
    /// <param name="law">The law of error.</param>
    /// <param name="rows">The rows.</param>
    public static string? Refusal(ErrorLaw law, IReadOnlyList<DataRow> rows) =>
        rows.Where(row => !row.LeftOut).Select(SpreadLaw.Of(law).Refusal).FirstOrDefault(refusal => refusal is not null);

    /// <summary>The bands of a law around what rows hold.</summary>
    /// <param name="law">The law that counts are under.</param>
    /// <param name="rows">The rows that the bands are laid around.</param>
    /// <param name="fitted">The numbers that a fit has found; null where none has.</param>
    /// <returns>Null where the rows cannot be of this law, or are too few to say anything.</returns>
    public static LawBands? Of(ErrorLaw law, IReadOnlyList<DataRow> rows, LawSpread? fitted)
    {
        var one = SpreadLaw.Of(law);
        List<DataRow> all = [.. rows.Where(row => !row.Below && !row.LeftOut)];
        if (all.Count == 0 || Refusal(law, rows) is not null)
            return null;
        // Of a long series so many rows one after another at each of a few places: neighbours stay neighbours.
        List<DataRow> seen =
            all.Count <= MostRows
                ? all
                :
                [
                    .. Enumerable
                        .Range(0, Stretches)
                        .SelectMany(k => all.Skip(k * (all.Count - MostRows / Stretches) / (Stretches - 1)).Take(MostRows / Stretches)),
                ];
        var (low, high) = (all.Min(row => row.Value), all.Max(row => row.Value));
        if (one.IsPositive || one.Step(seen[0]) > 0)
            low = Math.Max(low, high / 1000);
        if (!(high > low))
            (low, high) = high > 0 ? (0.5 * high, 1.5 * high) : (high - 1, high + 1);
        var spread = fitted ?? (one.HasSpread(seen) ? Guess(one, seen) : new LawSpread(1));
        if (spread is not { } known)
            return null;
        // As exact as the row in the middle.
        var like = seen.OrderBy(row => row.Value).ElementAt(seen.Count / 2);
        double[] means = [.. Enumerable.Range(0, Places).Select(k => one.Settle(low + (high - low) * k / (Places - 1)))];
        var bands = means.Select(mean => new Predictive(one, like, mean, 0, known).Quantiles([0.05, 0.95])).ToList();
        return new(
            means,
            [.. bands.Select(band => band[0])],
            [.. bands.Select(band => band[1])],
            known,
            fitted is null && one.HasSpread(seen)
        );
    }

    /// <summary>How rows lie around the mean of their neighbours, whose own error is a half of theirs in variance (pseudo-residuals:
    /// Gasser, Sroka and Jennen-Steinmetz, Biometrika 73, 1986, pp. 625–633).</summary>
    private static LawSpread? Guess(SpreadLaw law, List<DataRow> rows)
    {
        var (inner, means) = (new List<DataRow>(), new List<double>());
        foreach (var body in rows.GroupBy(row => row.Subject))
        {
            List<DataRow> along = [.. body.OrderBy(row => row.End)];
            for (var k = 1; k + 1 < along.Count; k++)
            {
                var mean = law.Settle(0.5 * (along[k - 1].Value + along[k + 1].Value));
                if (law.IsPositive && mean <= SpreadLaw.LeastMean)
                    continue;
                inner.Add(along[k]);
                means.Add(mean);
            }
        }
        if (inner.Count < 3)
            return null;
        var found = law.BestSpread(inner, means.ToArray());
        // k of counts is no deviation.
        var scale = law is NegativeBinomialLaw ? 1 : Math.Sqrt(1.5);
        return new(found.Main / scale, found.Added / scale);
    }
}
