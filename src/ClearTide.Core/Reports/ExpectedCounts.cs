using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>What the observed quantity does along a run: at each time, the expected count of the interval that ends there.</summary>
public sealed record ObservedCurve(IReadOnlyList<double> Times, IReadOnlyList<double> Expected);

/// <summary>What an observation expects along a run, summed up while that run is made for its curves.</summary>
internal sealed class ExpectedCounts
{
    /// <summary>Intervals looked at: enough for a line on any screen.</summary>
    private const int MostPoints = 200;

    private readonly LoweredModel _lowered;
    private readonly Observation _observation;
    private readonly double _interval;
    private readonly double[] _ends;
    private readonly double[] _times;
    private readonly RunningTotals _totals;

    private ExpectedCounts(LoweredModel lowered, Observation observation, int output, double interval, double[] ends)
    {
        (_lowered, _observation, _interval, _ends) = (lowered, observation, interval, ends);
        _times = [.. ends.Concat(ends.Select(end => end - interval)).Distinct().Order()];
        _totals = new(lowered.Network, [output], _times);
    }

    /// <summary>Follows the run.</summary>
    public ISegmentObserver Observer => _totals;

    /// <summary>The counts of the data's usual interval along the model's span, or in a sentence why there are none.</summary>
    /// <param name="data">Null where nothing is observed.</param>
    public static (ExpectedCounts? Counts, string? Problem) Of(LoweredModel lowered, DataSet? data)
    {
        var (document, network) = (lowered.Document, lowered.Network);
        if (data is null || document.Observations.IsEmpty)
            return (null, null);
        var observation = document.Observations[0];
        var last = data.Rows[^1];
        var interval = last.End - last.Start;
        var every = Math.Max(StudyRequest.Spacing(document), (document.End - document.Start) / MostPoints);
        double[] ends = [.. OutputTimes.Every(document.Start, document.End, every).Where(time => time - interval >= document.Start)];
        if (ends.Length == 0)
            return (null, "The span is shorter than one interval of the data. Lengthen it to see what the model expects.");
        try
        {
            var output = network.Amounts.Count + Reporting.FlowOf(network, observation);
            Reporting.At(lowered, observation, document.Start, network.ValueVector());
            return (new(lowered, observation, output, interval, ends), null);
        }
        catch (ArgumentException problem)
        {
            return (null, problem.Message);
        }
    }

    /// <summary>The counts of the run that was followed.</summary>
    /// <param name="values">All parameters of that run.</param>
    public ObservedCurve Curve(double[] values)
    {
        var reporting = Reporting.At(_lowered, _observation, _lowered.Document.Start, values);
        var totals = _totals.Column(0);
        double Until(double time) => totals[Array.BinarySearch(_times, time)];
        return new(_ends, [.. _ends.Select(end => reporting * (Until(end) - Until(end - _interval)))]);
    }
}
