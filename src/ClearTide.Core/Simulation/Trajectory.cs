namespace ClearTide.Core.Simulation;

/// <summary>What a run has to say about itself.</summary>
public enum RunNoteKind
{
    /// <summary>A limited flow was held back because its compartment was empty.</summary>
    Limited,

    /// <summary>A quantity left the range that a curve was given for.</summary>
    OutOfRange,

    /// <summary>An event was to take more than was there, and took that.</summary>
    RanShort,

    /// <summary>An event set an amount below zero.</summary>
    SetBelowZero,

    /// <summary>Conditions switch back and forth faster than anything else happens; between switches a state is held for a while.</summary>
    Chatter,
}

/// <summary>A note on a part over a stretch of time.</summary>
/// <param name="Kind">What happened.</param>
/// <param name="PartId">Id of the part.</param>
/// <param name="From">When it began, in the unit of the run.</param>
/// <param name="Until">When it ended.</param>
public sealed record RunNote(RunNoteKind Kind, string PartId, double From, double Until)
{
    /// <summary>The compartment that ran empty or short or was set, or empty.</summary>
    public string CompartmentId { get; init; } = "";

    /// <summary>The amount that an event asked for.</summary>
    public double Asked { get; init; }

    /// <summary>The amount that was there, or that an event set.</summary>
    public double Amount { get; init; }
}

/// <summary>
/// One run at its output times: states, then amounts, flows, quantities and ranges. Numbers lie time by time. Where something jumps, a
/// time may
/// stand twice, with the values before and after; if it stands once, they are those after. The arrays of states and outputs may be longer
/// than their
/// rows: a run does not copy them once more to end them.
/// </summary>
/// <param name="network">The network.</param>
/// <param name="times">In order; a time may stand twice where something jumps.</param>
/// <param name="states">One row for each time, one column for each state.</param>
/// <param name="outputs">One row for each time, one column for each output.</param>
/// <param name="steps">How many steps the solver took.</param>
/// <param name="notes">What is to be said of the run.</param>
public sealed class Trajectory(
    ReactionNetwork network,
    double[] times,
    double[] states,
    double[] outputs,
    int steps,
    IReadOnlyList<RunNote> notes
)
{
    /// <summary>The same run with other notes.</summary>
    internal Trajectory(Trajectory run, IReadOnlyList<RunNote> notes)
        : this(run.Network, [.. run.Times], run._states, run._outputs, run.Steps, notes) => (End, Acts) = (run.End, run.Acts);

    /// <summary>Where another run can go on; null for a run by chance, or one that stopped on the way.</summary>
    public RunEnd? End { get; internal init; }

    /// <summary>What events did, in order of time.</summary>
    public IReadOnlyList<EventAct> Acts { get; internal init; } = [];

    /// <summary>The first rows of this run.</summary>
    internal Trajectory First(int rows) =>
        new(Network, [.. Times.Take(rows)], _states, _outputs, Steps, [.. Notes.Where(note => rows > 0 && note.From <= Times[rows - 1])]);

    private readonly double[] _states = states;
    private readonly double[] _outputs = outputs;

    /// <summary>What was run.</summary>
    public ReactionNetwork Network { get; } = network;

    /// <summary>The times at which it was recorded, ascending.</summary>
    public IReadOnlyList<double> Times => times;

    /// <summary>Accepted steps of the solver.</summary>
    public int Steps => steps;

    /// <summary>What happened on the way and should be known.</summary>
    public IReadOnlyList<RunNote> Notes => notes;

    /// <summary>Of a run by chance how often each process has fired since the start, time by time; else empty.</summary>
    internal double[] Firings { get; init; } = [];

    /// <summary>How often a process has fired between two of the times, net of firings backwards.</summary>
    /// <param name="process">Number of the process, from 0.</param>
    /// <param name="from">Number of the earlier time, from 0.</param>
    /// <param name="until">Number of the later time.</param>
    public double Fired(int process, int from, int until) =>
        Firings[until * Network.Processes.Count + process] - Firings[from * Network.Processes.Count + process];

    /// <summary>How many numbers it holds.</summary>
    public long NumberCount => times.LongLength + _states.LongLength + _outputs.LongLength;

    private int Width => Network.Amounts.Count + Network.Flows.Count + Network.Quantities.Count + Network.Ranges.Count;

    /// <summary>One state variable at one time.</summary>
    /// <param name="time">Number of the time, from 0.</param>
    /// <param name="state">Number of the state, from 0.</param>
    public double State(int time, int state) => _states[time * Network.States.Count + state];

    /// <summary>The amount in one compartment at one time.</summary>
    /// <param name="time">Number of the time, from 0.</param>
    /// <param name="compartment">Number of the compartment, from 0.</param>
    public double Amount(int time, int compartment) => _outputs[time * Width + compartment];

    /// <summary>The amount in one compartment over all times.</summary>
    /// <param name="compartment">Number of the compartment, from 0.</param>
    public double[] AmountColumn(int compartment) => Column(compartment);

    /// <summary>The rate of one flow over all times, in amount per unit of time.</summary>
    internal double[] RateColumn(int flow) => Column(Network.Amounts.Count + flow);

    /// <summary>One quantity over all times.</summary>
    /// <param name="quantity">Number of the quantity, from 0.</param>
    public double[] QuantityColumn(int quantity) => Column(Network.Amounts.Count + Network.Flows.Count + quantity);

    /// <summary>One output of the model over all times: amounts, then flows, then quantities.</summary>
    /// <param name="output">Counted from 0: amounts, then flows, then quantities.</param>
    public double[] OutputColumn(int output) => Column(output);

    /// <summary>One watched expression over all times.</summary>
    internal double[] RangeColumn(int range) => Column(Network.Amounts.Count + Network.Flows.Count + Network.Quantities.Count + range);

    /// <summary>Copies one output over all times into a place that is at hand.</summary>
    /// <param name="output">Amounts, then flows, then quantities.</param>
    /// <param name="into">As long as there are times.</param>
    /// <exception cref="ArgumentException">It is not as long as there are times.</exception>
    public void CopyOutput(int output, Span<double> into)
    {
        if (into.Length != times.Length)
            throw new ArgumentException($"There are {times.Length} times.", nameof(into));
        var (width, outputs) = (Width, _outputs);
        for (int k = 0, at = output; k < into.Length; k++, at += width)
            into[k] = outputs[at];
    }

    private double[] Column(int index)
    {
        var column = new double[times.Length];
        CopyOutput(index, column);
        return column;
    }
}
