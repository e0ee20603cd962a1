using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>What a run expects of one series of data.</summary>
/// <param name="Series">The data.</param>
/// <param name="Times">Of what is seen over intervals, ends of such as are as long as the last of the data; of what stood at a time, the
/// times of the run.</param>
/// <param name="Expected">What is expected there; empty where there is nothing, or <paramref name="Problem"/> says why not.</param>
/// <param name="Problem">In a sentence; null where there is none.</param>
public sealed record ObservedCurve(Series Series, IReadOnlyList<double> Times, IReadOnlyList<double> Expected, string? Problem);

/// <summary>What the series of data on a model are expected to be along a run, worked out while that run is made for its curves.</summary>
internal sealed class ExpectedValues
{
    /// <summary>Intervals looked at: enough for a line on any screen.</summary>
    private const int MostPoints = 200;

    private readonly LoweredModel _lowered;
    private readonly List<Series> _series;
    private readonly List<Counted> _counted = [];
    private readonly Dictionary<Series, string> _problems = [];

    /// <summary>Series that come in late or by weekdays have runs of their own, in which they are states.</summary>
    private readonly Dictionary<Series, ObservedCurve> _timed = [];
    private readonly double[] _times;
    private readonly RunningTotals? _totals;

    /// <summary>A series that is seen over intervals of one length.</summary>
    private sealed record Counted(Series Series, Integrand Integrand, double Interval, double[] Ends);

    /// <param name="lowered">The model, lowered.</param>
    /// <param name="series">May be empty.</param>
    /// <param name="values">All parameters of the run.</param>
    public ExpectedValues(LoweredModel lowered, IReadOnlyList<Series> series, double[] values)
    {
        (_lowered, _series) = (lowered, [.. series]);
        foreach (var one in _series)
        {
            try
            {
                if (one.Observation is { Seen: ObservedAs.Flowed, IsTimed: true })
                    _timed.Add(one, Timed(one, values));
                else if (one.Observation.Seen.HasInterval())
                    _counted.Add(Count(one));
            }
            catch (ArgumentException problem)
            {
                _problems[one] = problem.Message;
            }
        }
        _times = [.. _counted.SelectMany(one => one.Ends.Concat(one.Ends.Select(end => end - one.Interval))).Distinct().Order()];
        if (_counted.Count > 0)
            _totals = new(lowered.Network, [.. _counted.Select(one => one.Integrand)], _times, values);
    }

    /// <summary>Follows the run; null where there is nothing to follow.</summary>
    public ISegmentObserver? Observer => _totals;

    /// <summary>What the run that was followed expects of each series.</summary>
    /// <param name="run">The run that was followed.</param>
    /// <param name="values">All parameters of that run.</param>
    public IReadOnlyList<ObservedCurve> Curves(Trajectory run, double[] values) => [.. _series.Select(one => Curve(one, run, values))];

    /// <summary>The series of a run that could not be made.</summary>
    public static IReadOnlyList<ObservedCurve> None(IReadOnlyList<Series> series) =>
        [.. series.Select(one => new ObservedCurve(one, [], [], null))];

    private Counted Count(Series series)
    {
        var (interval, ends) = Ends(series);
        var (graph, node) = SeenExpression.OverOutputs(_lowered.Network, _lowered.Document, series.Observation);
        return new(series, new(graph, node, !series.Observation.Seen.HasFormula()), interval, ends);
    }

    /// <summary>Where curves of a series have points, and how long the intervals are that end there.</summary>
    private (double Interval, double[] Ends) Ends(Series series)
    {
        var document = _lowered.Document;
        var last = series.Data.Rows[^1];
        var interval = last.End - last.Start;
        if (interval <= 0)
            throw new ArgumentException(
                $"The rows of {series.Observation.Label} stand at one time each, and {What(series.Observation.Seen)} in an interval. Bring "
                    + "the table again under Data, and say how long each row counted."
            );
        var every = Math.Max(StudyRequest.Spacing(document), (document.End - document.Start) / MostPoints);
        double[] ends = [.. OutputTimes.Every(document.Start, document.End, every).Where(time => time - interval >= document.Start)];
        if (ends.Length == 0)
            throw new ArgumentException("The span is shorter than one interval of the data. Lengthen it to see what the model expects.");
        return (interval, ends);
    }

    private ObservedCurve Timed(Series series, double[] values)
    {
        var (interval, ends) = Ends(series);
        if (_lowered.Network.DiscreteStep > 0)
            throw new ArgumentException("In discrete steps nothing comes in late or by weekdays. Choose another method under the curves.");
        var (network, node) = SeenExpression.In(_lowered.Network.Fork(), _lowered.Document, series.Observation);
        var total = network.States.Count;
        double[] times = [.. ends.Concat(ends.Select(end => end - interval)).Append(_lowered.Document.Start).Distinct().Order()];
        try
        {
            var request = new RunRequest(new(network.WithStates("total", [node])), values, times)
            {
                Settings = StudyRequest.Settings(_lowered.Document),
                ScaleToStart = true,
                Seed = _lowered.Document.Seed,
            };
            var run = Engines.Run(request);
            double Until(double time) => run.State(Array.BinarySearch(times, time), total);
            return new(series, ends, [.. ends.Select(end => Until(end) - Until(end - interval))], null);
        }
        catch (SimulationException)
        {
            // Why it cannot be run is said of the model's own run.
            return new(series, [], [], null);
        }
    }

    private static string What(ObservedAs seen) =>
        seen switch
        {
            ObservedAs.Flowed => "a flow is counted",
            ObservedAs.Mean => "a mean is taken",
            _ => "an integral is taken",
        };

    private ObservedCurve Curve(Series series, Trajectory run, double[] values)
    {
        if (_problems.TryGetValue(series, out var problem))
            return new(series, [], [], problem);
        if (_timed.TryGetValue(series, out var timed))
            return timed;
        try
        {
            return series.Observation.Seen.HasInterval()
                ? InIntervals(_counted.FindIndex(one => ReferenceEquals(one.Series, series)))
                : Standing(series, run, values);
        }
        catch (ArgumentException refused)
        {
            return new(series, [], [], refused.Message);
        }
    }

    private ObservedCurve InIntervals(int place)
    {
        var counted = _counted[place];
        var totals = _totals!.Column(place);
        var over = counted.Series.Observation.Seen == ObservedAs.Mean ? counted.Interval : 1;
        double Until(double time) => totals[Array.BinarySearch(_times, time)];
        return new(
            counted.Series,
            counted.Ends,
            [.. counted.Ends.Select(end => (Until(end) - Until(end - counted.Interval)) / over)],
            null
        );
    }

    private ObservedCurve Standing(Series series, Trajectory run, double[] values)
    {
        var network = _lowered.Network.Fork();
        var node = SeenExpression.In(network, _lowered.Document, series.Observation).Node;
        var state = new double[network.States.Count];
        var expected = new double[run.Times.Count];
        for (var row = 0; row < expected.Length; row++)
        {
            for (var k = 0; k < state.Length; k++)
                state[k] = run.State(row, k);
            expected[row] = network.Graph.Evaluate(node, run.Times[row], state, values);
        }
        return new(series, run.Times, expected, null);
    }
}
