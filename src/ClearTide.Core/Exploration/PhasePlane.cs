using ClearTide.Core.Models;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Exploration;

/// <summary>One path through the plane of two curves.</summary>
public sealed record PhasePath(double[] X, double[] Y, string? Failure);

/// <summary>A stretch of a nullcline, from one point to another.</summary>
public readonly record struct PlaneSegment(double X1, double Y1, double X2, double Y2);

/// <summary>Two curves of a model against each other, from several starts, with the lines on which each of them stands still.</summary>
/// <param name="XStill">Where the first of them does not change; empty where they are no compartments.</param>
public sealed record PhasePlane(IReadOnlyList<PhasePath> Paths, IReadOnlyList<PlaneSegment> XStill, IReadOnlyList<PlaneSegment> YStill, string? Note)
{
    public const int MostStarts = 40;

    private const int Cells = 48;

    /// <param name="xId">A compartment or quantity.</param>
    /// <param name="starts">Initial amounts of the two, where both are compartments without stages; the run of the study comes first in any case.</param>
    /// <exception cref="ArgumentException">One of the two is not in the model.</exception>
    public static PhasePlane Of(LoweredModel lowered, string xId, string yId, IReadOnlyList<(double X, double Y)> starts, CancellationToken cancel = default)
    {
        var (document, form) = (lowered.Document, lowered.Form);
        var outputs = form.Amounts.Concat(form.Flows).Concat(form.Quantities).ToList();
        int Output(string id) => outputs.FindIndex(one => one.PartId == id) is var k and >= 0 ? k : throw new ArgumentException("One of the two axes is no longer in the model. Choose another curve for it.");
        var (x, y) = (Output(xId), Output(yId));
        var model = new CompiledModel(form);
        var values = form.ValueVector();
        int State(string id) => form.States.Count(state => state.PartId == id) == 1 ? form.States.ToList().FindIndex(state => state.PartId == id && state.IsAmount) : -1;
        var (xState, yState) = (State(xId), State(yId));
        var movable = xState >= 0 && yState >= 0 && xId != yId;
        var paths = new List<PhasePath>();
        double[]? initial = null;
        foreach (var start in starts.Take(MostStarts).Select(start => ((double X, double Y)?)start).Prepend(null))
        {
            try
            {
                var state = model.InitialState(values, document.Start);
                initial ??= (double[])state.Clone();
                if (start is { } given)
                {
                    if (!movable) continue;
                    (state[xState], state[yState]) = (given.X, given.Y);
                }
                var run = Simulator.Run(model, state, ParameterSchedule.Constant(values), Simulator.Grid(document.Start, document.End, StudyRun.Spacing(document)), StudyRun.Settings(document).ScaledTo(state), cancel, rows: Rows.ForCurves);
                paths.Add(new(run.OutputColumn(x), run.OutputColumn(y), null));
            }
            catch (SimulationException failure)
            {
                paths.Add(new([], [], RunFailure.Say(failure, lowered)));
            }
        }
        if (!movable || initial is null || form.Delays.Count > 0) return new(paths, [], [], movable ? null : "Starts of one's own and lines of standstill are for two compartments without stages.");
        double Most(Func<PhasePath, double[]> side, double least) => paths.SelectMany(side).Where(double.IsFinite).DefaultIfEmpty(least).Max();
        var (width, height) = (1.05 * Most(path => path.X, 1), 1.05 * Most(path => path.Y, 1));
        var derivatives = form.Derivatives();
        var others = form.States.Count > 2 ? "Lines of standstill hold for the other amounts as they are at the start." : null;
        IReadOnlyList<PlaneSegment> Still(int state) => Contour((a, b) =>
        {
            var at = (double[])initial.Clone();
            (at[xState], at[yState]) = (a, b);
            return form.Graph.Evaluate(derivatives[state], document.Start, at, values);
        }, width, height);
        return new(paths, Still(xState), Still(yState), others);
    }

    /// <summary>Where a function of the plane is zero: straight stretches through the cells of a grid whose corners differ in sign (marching squares).</summary>
    internal static List<PlaneSegment> Contour(Func<double, double, double> function, double width, double height)
    {
        var corner = new double[Cells + 1, Cells + 1];
        // A hair off the axes, on which much stands still that is no line of interest.
        double X(int i) => width * (i + 1e-6) / Cells;
        double Y(int j) => height * (j + 1e-6) / Cells;
        for (var i = 0; i <= Cells; i++) for (var j = 0; j <= Cells; j++) corner[i, j] = function(X(i), Y(j));
        var segments = new List<PlaneSegment>();
        for (var i = 0; i < Cells; i++)
        {
            for (var j = 0; j < Cells; j++)
            {
                var points = new List<(double X, double Y)>();
                void Edge(int i1, int j1, int i2, int j2)
                {
                    var (a, b) = (corner[i1, j1], corner[i2, j2]);
                    if (!(a < 0 != b < 0) || !double.IsFinite(a) || !double.IsFinite(b)) return;
                    var share = a / (a - b);
                    points.Add((X(i1) + share * (X(i2) - X(i1)), Y(j1) + share * (Y(j2) - Y(j1))));
                }
                Edge(i, j, i + 1, j);
                Edge(i + 1, j, i + 1, j + 1);
                Edge(i + 1, j + 1, i, j + 1);
                Edge(i, j + 1, i, j);
                for (var k = 0; k + 1 < points.Count; k += 2) segments.Add(new(points[k].X, points[k].Y, points[k + 1].X, points[k + 1].Y));
            }
        }
        return segments;
    }
}
