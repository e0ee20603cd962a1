using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Analysis;

/// <summary>One path through the plane of two curves.</summary>
/// <param name="Value">What the varied value is on it; null where none is varied.</param>
/// <param name="Start">0 for the start of the study, else the place of its start in the list, from 1.</param>
/// <param name="X">The level curve along the path.</param>
/// <param name="Y">The upright curve, at the same times.</param>
/// <param name="Failure">Why the run stopped, in a sentence; null for a whole path.</param>
public sealed record PhasePath(double? Value, int Start, double[] X, double[] Y, string? Failure);

/// <summary>The lines on which each of two amounts stands still.</summary>
/// <param name="Value">What the varied value is there; null where none is varied.</param>
/// <param name="X">Where the level amount does not change, in pieces.</param>
/// <param name="Y">Where the upright amount does not change, in pieces.</param>
public sealed record StandStill(double? Value, IReadOnlyList<PlaneSegment> X, IReadOnlyList<PlaneSegment> Y);

/// <summary>A stretch of a nullcline, from one point to another.</summary>
/// <param name="X1">The first point across, in the unit of the horizontal amount.</param>
/// <param name="Y1">The first point upward, in the unit of the vertical amount.</param>
/// <param name="X2">The second point across.</param>
/// <param name="Y2">The second point upward.</param>
public readonly record struct PlaneSegment(double X1, double Y1, double X2, double Y2);

/// <summary>Two curves of a model against each other, from several starts, with the lines on which each of them stands still.</summary>
/// <param name="Paths">One for each start and each varied value.</param>
/// <param name="Still">For each value where they do not change; empty where they are no compartments.</param>
/// <param name="Note">What to know of the picture, in a sentence; null for nothing.</param>
public sealed record PhasePlane(IReadOnlyList<PhasePath> Paths, IReadOnlyList<StandStill> Still, string? Note)
{
    /// <summary>Starts that are followed at most.</summary>
    public const int MostStarts = 40;

    /// <summary>More values than this are more colours than an eye tells apart.</summary>
    public const int MostValues = 10;

    private const int Cells = 48;

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="xId">A compartment or quantity.</param>
    /// <param name="yId">Another compartment or quantity.</param>
    /// <param name="starts">Initial amounts of the two, where both are compartments without stages; the run of the study comes first in
    /// any case.</param>
    /// <param name="cancel">Stops the work, with an <see cref="OperationCanceledException"/>.</param>
    /// <param name="address">The value that is varied, with what it becomes; all starts are followed for each.</param>
    /// <param name="varied">What the value becomes, one after another.</param>
    /// <exception cref="ArgumentException">One of the two, or the value, is not in the model, or there are too many values.</exception>
    public static PhasePlane Of(
        LoweredModel lowered,
        string xId,
        string yId,
        IReadOnlyList<(double X, double Y)> starts,
        CancellationToken cancel = default,
        ValueAddress? address = null,
        IReadOnlyList<double>? varied = null
    )
    {
        var (document, network) = (lowered.Document, lowered.Network);
        int Output(string id) =>
            network.OutputOf(id) is var k and >= 0
                ? k
                : throw new ArgumentException("One of the two axes is no longer in the model. Choose another curve for it.");
        var (x, y) = (Output(xId), Output(yId));
        var model = lowered.Compiled;
        var place =
            address is null ? -1
            : network.IndexOf(address) is var found and >= 0 ? found
            : throw new ArgumentException($"There is no value “{address}” in the model any more. Choose another one.");
        if (varied?.Count > MostValues)
            throw new ArgumentException($"A phase plane shows at most {MostValues} values at once. Take fewer.");
        int State(string id) =>
            network.States.Count(state => state.PartId == id) == 1
                ? network.States.ToList().FindIndex(state => state.PartId == id && state.IsAmount)
                : -1;
        var (xState, yState) = (State(xId), State(yId));
        var movable = xState >= 0 && yState >= 0 && xId != yId;
        var paths = new List<PhasePath>();
        var cases = (place < 0 ? [null] : varied!.Select(value => (double?)value))
            .Select(value => (Value: value, Values: With(network.ValueVector(), place, value)))
            .ToList();
        var initial = new double[cases.Count][];
        for (var k = 0; k < cases.Count; k++)
        {
            var (value, values) = cases[k];
            for (var start = 0; start <= Math.Min(starts.Count, MostStarts); start++)
            {
                if (start > 0 && !movable)
                    break;
                try
                {
                    var state = model.InitialState(values, document.Start);
                    initial[k] ??= (double[])state.Clone();
                    if (start > 0)
                        (state[xState], state[yState]) = starts[start - 1];
                    var run = Engines.Run(
                        StudyRequest.Of(lowered) with
                        {
                            Values = values,
                            Start = state,
                            Rows = Rows.ForCurves,
                        },
                        cancel: cancel
                    );
                    paths.Add(new(value, start, run.OutputColumn(x), run.OutputColumn(y), null));
                }
                catch (SimulationException failure)
                {
                    var before = FailureCause.Readable(failure, network);
                    paths.Add(
                        new(value, start, before?.OutputColumn(x) ?? [], before?.OutputColumn(y) ?? [], RunFailure.Say(failure, lowered))
                    );
                }
            }
        }
        if (!movable || network.Delays.Count > 0)
            return new(paths, [], movable ? null : "Starts of one's own and lines of standstill are for two compartments without stages.");
        double Most(Func<PhasePath, double[]> side, double least) =>
            paths.SelectMany(side).Where(double.IsFinite).DefaultIfEmpty(least).Max();
        var (width, height) = (1.05 * Most(path => path.X, 1), 1.05 * Most(path => path.Y, 1));
        var derivatives = network.Derivatives();
        var held = new List<string>();
        if (network.States.Count > 2)
            held.Add("the other amounts");
        if (network.Draws.Count > 0)
            held.Add("random inputs");
        var others = held.Count == 0 ? null : $"Lines of standstill hold for {string.Join(" and ", held)} as they are at the start.";
        var fixedAt = cases
            .Select((one, k) => initial[k] is null ? one.Values : model.ParametersAtStart(one.Values, document.Start))
            .ToList();
        IReadOnlyList<PlaneSegment> Still(int k, int state) =>
            Contour(
                (a, b) =>
                {
                    var at = (double[])initial[k].Clone();
                    (at[xState], at[yState]) = (a, b);
                    return network.Graph.Evaluate(derivatives[state], document.Start, at, fixedAt[k]);
                },
                width,
                height
            );
        return new(
            paths,
            [
                .. cases
                    .Select((one, k) => (one, k))
                    .Where(pair => initial[pair.k] is not null)
                    .Select(pair => new StandStill(pair.one.Value, Still(pair.k, xState), Still(pair.k, yState))),
            ],
            others
        );
    }

    private static double[] With(double[] values, int place, double? value)
    {
        if (value is { } given)
            values[place] = given;
        return values;
    }

    /// <summary>Where a function of the plane is zero: straight stretches through the cells of a grid whose corners differ in sign
    /// (marching squares).</summary>
    internal static List<PlaneSegment> Contour(Func<double, double, double> function, double width, double height)
    {
        var corner = new double[Cells + 1, Cells + 1];
        // A hair off the axes, on which much stands still that is no line of interest.
        double X(int i) => width * (i + 1e-6) / Cells;
        double Y(int j) => height * (j + 1e-6) / Cells;
        for (var i = 0; i <= Cells; i++)
        for (var j = 0; j <= Cells; j++)
            corner[i, j] = function(X(i), Y(j));
        var segments = new List<PlaneSegment>();
        for (var i = 0; i < Cells; i++)
        {
            for (var j = 0; j < Cells; j++)
            {
                var points = new List<(double X, double Y)>();
                void Edge(int i1, int j1, int i2, int j2)
                {
                    var (a, b) = (corner[i1, j1], corner[i2, j2]);
                    if (!(a < 0 != b < 0) || !double.IsFinite(a) || !double.IsFinite(b))
                        return;
                    var share = a / (a - b);
                    points.Add((X(i1) + share * (X(i2) - X(i1)), Y(j1) + share * (Y(j2) - Y(j1))));
                }
                Edge(i, j, i + 1, j);
                Edge(i + 1, j, i + 1, j + 1);
                Edge(i + 1, j + 1, i, j + 1);
                Edge(i, j + 1, i, j);
                for (var k = 0; k + 1 < points.Count; k += 2)
                    segments.Add(new(points[k].X, points[k].Y, points[k + 1].X, points[k + 1].Y));
            }
        }
        return segments;
    }
}
