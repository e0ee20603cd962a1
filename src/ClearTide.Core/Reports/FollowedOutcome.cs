using ClearTide.Core.Expressions;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Reports;

/// <summary>What the curves of a formula come to along one run. It serves one run.</summary>
/// <param name="overStates">The curves over amounts and parameters; null where there are none.</param>
/// <param name="overOutputs">The curves over the outputs that the formula names, and parameters.</param>
/// <param name="curves">How many there are.</param>
/// <param name="tallies">What is asked for of them.</param>
/// <param name="curveOf">For each tally the curve that it is about; -1 for none.</param>
/// <param name="movesWithTime">Whether curves name time itself, so that they go on while amounts stand still.</param>
/// <param name="from">What lies before is not looked at.</param>
internal sealed unsafe class FollowedOutcome(
    VectorFunction? overStates,
    VectorFunction? overOutputs,
    int curves,
    ReductionTally[] tallies,
    int[] curveOf,
    bool movesWithTime,
    double from
) : IPathObserver
{
    /// <summary>The curves just now, and as they were when the tallies were told last.</summary>
    private readonly double[] _now = new double[curves + 1],
        _told = new double[curves + 1];

    /// <summary>Amounts as they were before, where curves go on without them.</summary>
    private double[] _before = [];
    private bool _begun;
    private double _time;

    /// <summary>What each tally has come to.</summary>
    /// <remarks>A value that stays constant to the end of the run is counted up to there.</remarks>
    public ReductionTally[] Tallies
    {
        get
        {
            if (_begun)
                Tell(_time, held: true);
            return tallies;
        }
    }

    /// <inheritdoc/>
    public void Take(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters, bool held)
    {
        if (overStates is null || time < from)
            return;
        if (movesWithTime)
        {
            if (held && _begun)
            {
                // What stood still came with time to what it is just before this.
                Read(overStates, time, _before, parameters);
                Tell(time, held: false);
            }
            _before = state.ToArray();
        }
        Read(overStates, time, state, parameters);
        _time = time;
        // Most transitions change nothing of what is asked for.
        if (!held || movesWithTime || !_begun || !_now.AsSpan().SequenceEqual(_told))
            Tell(time, held);
    }

    /// <summary>The same for outputs that are known: where there is no path, but output times.</summary>
    /// <param name="time">Not before that of the call before.</param>
    /// <param name="outputs">In the order in which the formula names them.</param>
    /// <param name="parameters">All parameters, in the order of the network.</param>
    public void TakeOutputs(double time, ReadOnlySpan<double> outputs, ReadOnlySpan<double> parameters)
    {
        if (overOutputs is null || time < from)
            return;
        Read(overOutputs, time, outputs, parameters);
        _time = time;
        Tell(time, held: false);
    }

    private void Read(VectorFunction function, double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters)
    {
        fixed (
            double* y = state,
                p = parameters,
                into = _now
        )
            function(time, y, p, into);
    }

    private void Tell(double time, bool held)
    {
        for (var k = 0; k < tallies.Length; k++)
        {
            if (curveOf[k] >= 0)
                tallies[k].Take(time, _now[curveOf[k]], held);
        }
        _now.CopyTo(_told, 0);
        _begun = true;
    }
}
