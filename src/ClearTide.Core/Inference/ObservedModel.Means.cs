using ClearTide.Core.Data;
using ClearTide.Core.Expressions;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Inference;

internal sealed partial class ObservedModel
{
    /// <summary>The times of a run, which begins where its values say.</summary>
    private double[] TimesFrom(double[] values, double[] times) =>
        _startsAt < 0 || values[_startsAt] == times[0] ? times : [values[_startsAt], .. times.Where(time => time > values[_startsAt])];

    /// <summary>What is expected of each row of a body; where there are tangents, its derivatives too.</summary>
    private void Means(int body, Trajectory run, double[] values, double[] mean, double[,] gradient)
    {
        var state = new double[_block * (_byTangents ? _moved.Length + 1 : 1)];
        var seen = new double[_moved.Length + 1];
        var places = _bodies[body].Places;
        foreach (var k in _bodies[body].Rows)
        {
            var (reader, row, _) = _rows[k];
            if (reader.Read is { } read)
                Read(read, row.End, StateAt(run, row.End, state), values, seen);
            else
            {
                var over = Over(reader, row);
                for (var j = 0; j < (_byTangents ? seen.Length : 1); j++)
                    seen[j] = Moved(run, reader, row, j) / over;
            }
            mean[k] = seen[0];
            for (var j = 0; j < _chosen.Length && _byTangents; j++)
                gradient[k, j] = places[j] < 0 ? 0 : seen[places[j] + 1];
        }
    }

    private static unsafe void Read(VectorFunction read, double time, double[] state, double[] values, double[] into)
    {
        fixed (
            double* y = state,
                p = values,
                f = into
        )
            read(time, y, p, f);
    }

    private static double[] StateAt(Trajectory run, double time, double[] state)
    {
        var row = At(run, time);
        for (var k = 0; k < state.Length; k++)
            state[k] = run.State(row, k);
        return state;
    }

    /// <summary>What a running total, or its tangent by one value, gains over a row's interval.</summary>
    private double Moved(Trajectory run, Reader reader, DataRow row, int block)
    {
        var state = block * _block + reader.Total;
        return run.State(At(run, row.End), state) - run.State(At(run, row.Start), state);
    }

    /// <summary>The first row at a time, which is the side before what jumps there.</summary>
    private static int At(Trajectory run, double time)
    {
        var (low, high) = (0, run.Times.Count - 1);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (run.Times[middle] < time)
                low = middle + 1;
            else
                high = middle;
        }
        return low;
    }

    private void Differences(int body, double[] values, double[,] gradient, CancellationToken cancel)
    {
        var places = _bodies[body].Places;
        double[] above = new double[_rows.Count],
            below = new double[_rows.Count];
        for (var j = 0; j < _chosen.Length; j++)
        {
            if (places[j] < 0)
                continue;
            var isStart = _chosen[j] == _startsAt;
            // A day is as far from 0 as a calendar says: what counts is the length of the run.
            var step = DifferenceStep * (isStart ? _span : Math.Max(Math.Abs(values[_chosen[j]]), 1e-3));
            // No run begins after its first row.
            var back = isStart ? Math.Max(0, values[_chosen[j]] + step - _bodies[body].FirstRow) : 0;
            void Shifted(double by, double[] means)
            {
                var shifted = (double[])values.Clone();
                shifted[_chosen[j]] += by;
                Means(body, Run(body, shifted, cancel), shifted, means, gradient);
            }
            Shifted(step - back, above);
            Shifted(-step - back, below);
            foreach (var row in _bodies[body].Rows)
                gradient[row, j] = (above[row] - below[row]) / (2 * step);
        }
    }
}
