using ClearTide.Core.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Inference;

/// <summary>How a search goes up from a start.</summary>
internal sealed partial class LikelihoodSearch
{
    private const int MostIterations = 200;

    /// <summary>Along a valley that data hardly tell apart from its neighbours steps go on for ever and gain next to nothing: a climb ends
    /// where so many of them together gain less than <see cref="Crawl"/>.</summary>
    private const int Looked = 12;

    /// <summary>No interval and no comparison shows a difference in height of this size; on the way to where it matters, a hundred of
    /// it.</summary>
    private const double Crawl = 1e-5;

    private readonly Lock _telling = new();
    private double _best = double.NegativeInfinity;

    /// <summary>Climbs from a start; values in <paramref name="held"/> stay where they are.</summary>
    /// <param name="start">Values on the search scale, in the order of the setup.</param>
    /// <param name="held">For each value whether it stays; null where none does.</param>
    /// <param name="enough">The climb ends where a further step would gain less than this by the local picture; 0 for as far as rounding
    /// lets it.</param>
    /// <param name="coarse">Whether the model is solved to six digits only.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    public SearchPoint Climb(
        double[] start,
        bool[]? held = null,
        double enough = 0,
        bool coarse = false,
        CancellationToken cancel = default
    )
    {
        var here = Evaluate(start, null, cancel, coarse);
        var damping = 1e-3;
        var heights = new Queue<double>();
        for (var iteration = 0; iteration < MostIterations; iteration++)
        {
            heights.Enqueue(here.Height);
            if (heights.Count > Looked && here.Height - heights.Dequeue() < (enough > 0 ? 100 : 1) * Crawl)
                break;
            var free = Free(here, held);
            if (free.Length == 0)
                return here;
            // What a step gains below this is lost in the rounding of the height.
            var least = Math.Max(enough, 1e-14 * Math.Max(1, Math.Abs(here.Height)));
            var moved = false;
            while (damping < 1e12)
            {
                var step = Step(here, free, damping);
                if (damping < 0.1 && 0.5 * Gain(here, free, step) <= least)
                    break;
                if (TryStep(here, free, step, coarse, cancel) is { } next && next.Height > here.Height)
                {
                    here = next;
                    Tell(here);
                    damping = Math.Max(damping * 0.1, 1e-14);
                    moved = true;
                    break;
                }
                damping *= 10;
            }
            if (!moved)
                break;
        }
        return enough > 0 ? here : Refine(here, held, cancel);
    }

    private void Tell(SearchPoint here)
    {
        if (Better is null || !(here.Height > Volatile.Read(ref _best)))
            return;
        lock (_telling)
        {
            if (here.Height <= _best)
                return;
            _best = here.Height;
            Better(here);
        }
    }

    /// <summary>Full steps at the top, where heights are all the same to rounding and gradients are not yet: as long as each takes most
    /// of the
    /// gradient away.</summary>
    private SearchPoint Refine(SearchPoint here, bool[]? held, CancellationToken cancel)
    {
        for (var round = 0; round < 8; round++)
        {
            var free = Free(here, held);
            if (free.Length == 0)
                return here;
            var step = Step(here, free, 0);
            var gain = Gain(here, free, step);
            if (
                !(gain > 0)
                || TryStep(here, free, step, false, cancel) is not { } next
                || next.Height < here.Height - 1e-9 * Math.Max(1, Math.Abs(here.Height))
            )
                return here;
            var left = Gain(next, free, Step(next, free, 0));
            if (!(left < 0.5 * gain))
                return here;
            here = next;
        }
        return here;
    }

    private int[] Free(SearchPoint here, bool[]? held) =>
        [.. Enumerable.Range(0, Dimension).Where(j => held?[j] != true && !PushesOut(here, j))];

    /// <summary>The bound that a value stands at: -1 for the lower one, 1 for the upper one, 0 for none.</summary>
    public int AtBound(SearchPoint point, int j) =>
        point.U[j] <= Lower(j) ? -1
        : point.U[j] >= Upper(j) ? 1
        : 0;

    private bool PushesOut(SearchPoint point, int j) =>
        (point.U[j] <= Lower(j) && point.Gradient[j] <= 0) || (point.U[j] >= Upper(j) && point.Gradient[j] >= 0);

    private static Vector<double> Step(SearchPoint here, int[] free, double damping)
    {
        var matrix = Matrix<double>.Build.Dense(free.Length, free.Length, (a, b) => here.Information[free[a], free[b]]);
        for (var a = 0; a < free.Length; a++)
            matrix[a, a] += damping * Math.Max(matrix[a, a], 1e-12);
        return matrix.Solve(Vector<double>.Build.Dense(free.Length, a => here.Gradient[free[a]]));
    }

    /// <summary>The gradient along a step: twice what the step gains where the picture is right.</summary>
    private static double Gain(SearchPoint here, int[] free, Vector<double> step)
    {
        var sum = 0.0;
        for (var a = 0; a < free.Length; a++)
            sum += step[a] * here.Gradient[free[a]];
        return sum;
    }

    private SearchPoint? TryStep(SearchPoint here, int[] free, Vector<double> step, bool coarse, CancellationToken cancel)
    {
        var u = (double[])here.U.Clone();
        for (var a = 0; a < free.Length; a++)
        {
            if (!double.IsFinite(step[a]))
                return null;
            // A factor of seven in one step is as far as a local picture can be trusted.
            var longest = OnLogScale(free[a]) ? 2 : Math.Max(1, Math.Abs(here.U[free[a]]));
            u[free[a]] = Math.Clamp(u[free[a]] + Math.Clamp(step[a], -longest, longest), Lower(free[a]), Upper(free[a]));
        }
        try
        {
            // The spread is the best one at each point: what is climbed is the profile of the likelihood over it.
            var next = Evaluate(u, null, cancel, coarse);
            return double.IsNaN(next.Height) ? null : next;
        }
        catch (SimulationException)
        {
            return null;
        }
    }
}
