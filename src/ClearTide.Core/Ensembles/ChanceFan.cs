using ClearTide.Core.Compilation;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Ensembles;

/// <summary>The bands of one curve over many runs by chance.</summary>
/// <param name="PartId">The compartment or quantity.</param>
/// <param name="Bands">For each time.</param>
public sealed record FanCurve(string PartId, IReadOnlyList<Band> Bands);

/// <summary>What chance makes of a model's curves.</summary>
/// <param name="Times">Evenly spaced over the span.</param>
/// <param name="Curves">One for each compartment, with its bands.</param>
/// <param name="Runs">The first few runs themselves: for each, and each curve, its amounts.</param>
/// <param name="Words">How many runs, by which method, and where their mean parts from the run without chance; or why there are
/// none.</param>
public sealed record ChanceFan(
    IReadOnlyList<double> Times,
    IReadOnlyList<FanCurve> Curves,
    IReadOnlyList<IReadOnlyList<double[]>> Runs,
    string Words
)
{
    private const int Points = 101;

    /// <summary>Runs that are shown one by one.</summary>
    private const int Shown = 5;

    /// <summary>A mean that is this share of the peak away from the run without chance is worth a sentence.</summary>
    private const double Parting = 0.1;

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="replicates">How many runs.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <exception cref="SimulationException">A run stopped on the way.</exception>
    public static ChanceFan Of(LoweredModel lowered, int replicates, CancellationToken cancel = default)
    {
        var (document, network) = (lowered.Document, lowered.Network);
        if (lowered.IsProvisional)
            return Without("Chance is shown when no part of the model is unfinished.");
        if (ChanceRefusal.Of(lowered) is { } refusal)
            return Without(refusal);
        double[] times = [.. Enumerable.Range(0, Points).Select(k => document.Start + (document.End - document.Start) * k / (Points - 1))];
        var request = new EnsembleRequest(lowered.Compiled, network.ValueVector(), times, replicates, document.Seed);
        request = request with { Method = Ensemble.Choose(request).Method };
        // Amounts, and what is computed of them; what flows at an instant is a rate, which chance moves by no more than amounts.
        List<NamedExpression> shown = [.. network.Amounts, .. network.Quantities];
        int[] columns = [.. shown.Select(one => network.OutputOf(one.PartId))];
        var count = shown.Count;
        IReadOnlyList<double[]> Read(Trajectory run) => [.. columns.Select(run.OutputColumn)];
        Tally[][] tallies;
        try
        {
            tallies = Ensemble.Run(request, count, Read, cancel);
        }
        catch (EnsembleRefusedException refused)
        {
            return Without(refused.Message);
        }
        return new(
            times,
            [
                .. shown.Select(
                    (one, k) =>
                        new FanCurve(
                            one.PartId,
                            [
                                .. tallies[k]
                                    .Select(tally => tally.Quantiles(0.05, 0.25, 0.5, 0.75, 0.95))
                                    .Select(q => new Band(q[0], q[1], q[2], q[3], q[4])),
                            ]
                        )
                ),
            ],
            [.. Enumerable.Range(0, Math.Min(Shown, replicates)).Select(r => Read(Ensemble.RunOne(request, r, cancel)))],
            Say(lowered, request, tallies)
        );
    }

    private static ChanceFan Without(string words) => new([], [], [], words);

    private static string Say(LoweredModel lowered, EnsembleRequest request, Tally[][] tallies)
    {
        var how = request.Method == ChanceMethod.Leap ? ", many units at a time" : "";
        var words = $"{request.Replicates:N0} runs by chance{how}: half of them in the inner bands, 90 % in the outer.";
        Trajectory plain;
        try
        {
            plain = Engines.Run(new(request.Model, request.Values, request.Times) { ScaleToStart = true });
        }
        catch (SimulationException)
        {
            return words;
        }
        var (most, symbol, goneAt) = (Parting, "", 0.0);
        for (var k = 0; k < lowered.Network.Amounts.Count; k++)
        {
            var curve = plain.OutputColumn(k);
            var peak = curve.Max(Math.Abs);
            for (var row = 0; row < curve.Length && peak > 0; row++)
            {
                var apart = Math.Abs(tallies[k][row].Mean - curve[row]) / peak;
                if (apart > most)
                    (most, symbol, goneAt) = (apart, lowered.Network.Amounts[k].Symbol, tallies[k][row].Quantiles(0.25)[0]);
            }
        }
        return symbol.Length == 0
            ? words
            : $"{words} Their mean parts from the curve of {symbol} by up to {100 * most:0} % of its peak"
                + (
                    goneAt == 0
                        ? ": where few are left chance can end it, which a run without chance never does."
                        : ": what is not in proportion to amounts has another mean than at the mean amounts."
                );
    }
}
