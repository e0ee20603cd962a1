using System.Collections.Concurrent;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Ensembles;

/// <summary>
/// What a projection follows: what is counted of a flow, as data count it or all of it, or how much there is of something.
/// </summary>
internal sealed class Followed
{
    private readonly int[] _processes;
    private readonly Func<(double From, double Until), double> _share;
    private readonly int _output;

    private Followed(string label, int[] processes, Func<(double From, double Until), double> share, int output, bool isOfUnits = false) =>
        (Label, _processes, _share, _output, IsOfUnits) = (label, processes, share, output, isOfUnits);

    /// <summary>Whether a run by chance moves what is followed as whole units.</summary>
    public bool IsOfUnits { get; }

    /// <summary>What it is called on screens.</summary>
    public string Label { get; }

    /// <summary>Whether it says how much there is at a time; else what was counted in an interval.</summary>
    public bool IsAmount => _output >= 0;

    /// <summary>What a series of data counts.</summary>
    /// <exception cref="ProjectionRefusedException">Its flow is gone.</exception>
    /// <exception cref="ArgumentException">Its share cannot be read, or changes with the amounts.</exception>
    public static Followed Of(Series series, LoweredModel lowered, double now, double[] values)
    {
        var observation = series.Observation;
        var processes = new List<int>();
        foreach (var id in observation.OtherFlows.Prepend(observation.FlowId).Distinct())
        {
            if (Exits(lowered.Network, id) is not { Length: > 0 } exits)
                throw new ProjectionRefusedException("The observed flow is no longer in the model. Choose another one under Data.");
            processes.AddRange(exits);
        }
        if (observation.Delay.Length > 0)
            throw new ProjectionRefusedException(
                $"{observation.Label} come in late, and projections count what happens when it does. Follow the flow itself."
            );
        double Over((double From, double Until) row) => SeenExpression.ShareOver(lowered, observation, row.From, row.Until, values);
        var atNow = Over((now, now));
        // Only a share that is an input, or depends on weekdays, changes along the run; all replicates ask for it at the same times.
        var known = new ConcurrentDictionary<(double, double), double>();
        var changes =
            observation.Weekdays.Length > 0
            || Formula.Read(observation.Reporting).Tree!.Names().Any(name => lowered.Network.IndexOf(new(name.Name)) < 0);
        var units = processes.TrueForAll(process => Propensities.ByChance(lowered.Network, lowered.Network.Processes[process]));
        return new(observation.Label, [.. processes], changes ? row => known.GetOrAdd(row, Over) : _ => atNow, -1, units);
    }

    /// <summary>A compartment, flow or quantity of the model.</summary>
    /// <exception cref="ProjectionRefusedException">There is none with this id.</exception>
    public static Followed Of(string partId, LoweredModel lowered)
    {
        var network = lowered.Network;
        if (Exits(network, partId) is { Length: > 0 } processes)
            return new(lowered.Document.Describe(lowered.Part(partId)!), processes, _ => 1, -1);
        var output = network.OutputOf(partId);
        if (output < 0)
            throw new ProjectionRefusedException("What was followed is no longer in the model. Choose another curve.");
        var part = lowered.Part(partId)!;
        return new(
            part.Label.Length > 0 ? $"{lowered.Document.Describe(part)}, {part.Label}" : lowered.Document.Describe(part),
            [],
            _ => 1,
            output
        );
    }

    private static int[] Exits(ReactionNetwork network, string partId) =>
        network.MembersOf(partId) is var ids
            ?
            [
                .. Enumerable
                    .Range(0, network.Processes.Count)
                    .Where(k => network.Processes[k].IsExit && ids.Contains(network.Processes[k].Id)),
            ]
            : [];

    /// <summary>What share of the units of each interval between these times is seen.</summary>
    public double[] Shares(double[] times) => [.. times.Skip(1).Select((until, k) => _share((times[k], until)))];

    /// <summary>It in each interval of a run by chance.</summary>
    public double[] Read(Trajectory run)
    {
        var followed = new double[run.Times.Count - 1];
        var column = IsAmount ? run.OutputColumn(_output) : [];
        for (var k = 0; k < followed.Length; k++)
        {
            var (from, until) = (k, k + 1);
            followed[k] = IsAmount
                ? column[until]
                : _share((run.Times[from], run.Times[until])) * _processes.Sum(process => run.Fired(process, from, until));
        }
        return followed;
    }
}
