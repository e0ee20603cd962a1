using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

/// <summary>Expectations at many sets of values at once, without derivatives: four solves go in step with one another.</summary>
internal sealed partial class ObservedModel
{
    /// <summary>The model with its running totals and no tangents, whose outputs are what each series has seen.</summary>
    private readonly Lazy<CompiledModel> _plain;

    /// <summary>Whether all sets have the same times and jumps, so that they can go in step.</summary>
    private bool GoTogether =>
        _byTangents && _startsAt < 0 && _block > 0 && _bodies is [{ Subject: null, Plan: null }] && _plain.Value.Hybrid is null;

    private ReactionNetwork Plain(ReactionNetwork network, IReadOnlyList<int> rates, int[] seen)
    {
        var plain = SensitivityNetwork.WithTotals(network, rates);
        return plain with
        {
            States = [.. plain.States.Select(state => state with { NeverBelowZero = false })],
            Quantities =
            [
                .. _readers.Select(
                    (reader, k) => new NamedExpression($"seen {k}", "", reader.Total < 0 ? seen[k] : _graph.State(reader.Total))
                ),
            ],
        };
    }

    /// <summary>Expected values at each of many sets of the chosen values, to six digits.</summary>
    /// <param name="sets">Each in the order of the addresses.</param>
    /// <param name="threads">How many work at once; the result does not depend on it.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <returns>For each set its means; null where the model cannot be run there.</returns>
    internal double[]?[] MeansOfMany(IReadOnlyList<double[]> sets, int threads, CancellationToken cancel)
    {
        var means = new double[]?[sets.Count];
        if (!GoTogether)
        {
            Workers.For(sets.Count, threads, cancel, k => means[k] = MeansOrNull(sets[k], cancel));
            return means;
        }
        var body = _bodies[0];
        double[][] values = [.. sets.Select(set => ValuesOf(0, set))];
        var sweep = new Sweep(
            _plain.Value,
            body.Times,
            _coarse with
            {
                AbsoluteTolerances = null,
            },
            [.. Enumerable.Range(0, _readers.Count)]
        );
        var runs = new SweepRun[sets.Count];
        Workers.For(Sweep.Blocks(sets.Count), threads, cancel, block => sweep.RunBlock(block, values, runs, cancel: cancel));
        for (var k = 0; k < means.Length; k++)
            means[k] = runs[k].Rows is { } rows ? MeansIn(rows, body.Times) : null;
        return means;
    }

    private double[]? MeansOrNull(double[] set, CancellationToken cancel)
    {
        try
        {
            return Predict(set, cancel, coarse: true).Mean;
        }
        catch (SimulationException)
        {
            return null;
        }
    }

    /// <summary>What is expected of each row, read from the outputs at the times of a run.</summary>
    private double[] MeansIn(double[] rows, double[] times)
    {
        double At(double time, int reader) => rows[Array.BinarySearch(times, time) * _readers.Count + reader];
        var mean = new double[_rows.Count];
        for (var k = 0; k < mean.Length; k++)
        {
            var (reader, row, _) = _rows[k];
            var place = _readers.IndexOf(reader);
            mean[k] = reader.Total < 0 ? At(row.End, place) : (At(row.End, place) - At(row.Start, place)) / Over(reader, row);
        }
        return mean;
    }

    /// <summary>What a running total over a row's interval is divided by.</summary>
    private static double Over(Reader reader, Data.DataRow row) =>
        reader.Series.Observation.Seen == Model.ObservedAs.Mean ? row.End - row.Start : 1;
}
