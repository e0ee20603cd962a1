using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Sampling;

namespace ClearTide.Core.Simulation;

/// <summary>A state variable: its symbol and the part it stands for.</summary>
/// <param name="Symbol">For messages; of a stage with its number.</param>
/// <param name="PartId">Id of the part.</param>
/// <param name="IsAmount">Whether it is an amount that processes move; else it only follows another quantity (smoothing).</param>
public sealed record StateVariable(string Symbol, string PartId, bool IsAmount = true)
{
    /// <summary>Whether falling below zero stops a run.</summary>
    public bool NeverBelowZero { get; init; }

    /// <summary>Whether chance moves whole units of it.</summary>
    public bool WholeUnits { get; init; } = true;
}

/// <summary>A plain number of the model, by address, in the study's units.</summary>
/// <param name="Address">The value it is of.</param>
/// <param name="Value">In the unit of the study.</param>
/// <param name="PartId">Id of the part.</param>
public sealed record ModelValue(ValueAddress Address, double Value, string PartId);

/// <summary>How one state changes for each unit that a process moves.</summary>
/// <param name="State">Index of the state.</param>
/// <param name="Coefficient">Units gained (or lost, if negative).</param>
/// <param name="Share">Node of the share of the process that makes this change, or -1 for all of it.</param>
public readonly record struct StateChange(int State, int Coefficient, int Share = -1)
{
    /// <summary>Node of a further factor that need not be whole nor stay the same, or -1.</summary>
    public int Factor { get; init; } = -1;
}

/// <summary>What happens at a rate: each unit of it changes states by the coefficients given.</summary>
/// <param name="Id">The flow it stands for; names its random stream.</param>
/// <param name="Name">For messages.</param>
/// <param name="Rate">Node of the rate, in amount per unit of time.</param>
/// <param name="Changes">Of states, for each unit.</param>
public sealed record Process(string Id, string Name, int Rate, IReadOnlyList<StateChange> Changes)
{
    /// <summary>Which stage of the compartment it leaves, counted from 0.</summary>
    public int Stage { get; init; }

    /// <summary>Whether a unit leaves its compartment by it, and does not only pass on to the next stage.</summary>
    public bool IsExit { get; init; } = true;

    /// <summary>Whether the changes with shares are all the ends there are; else some of it leads outside.</summary>
    public bool SharesSum { get; init; } = true;

    /// <summary>Parameter index of the factor by which it is held back when its compartment is empty; -1 for a free process.</summary>
    public int Limit { get; init; } = -1;

    /// <summary>Node of its rate were it not held back.</summary>
    public int Demand { get; init; } = -1;

    /// <summary>Whether it is an action that goes on for a while: chance moves its units evenly, as many as it says, and not by a law of
    /// waiting times.</summary>
    public bool IsPlanned { get; init; }

    /// <summary>Whether a run by chance stops where it finds nothing to take.</summary>
    public bool StopsWhenShort { get; init; }

    /// <summary>How much its rate varies from moment to moment in runs by chance that go in steps, in the root of the study's unit of time;
    /// 0 for a rate that is what it says.</summary>
    public double Noise { get; init; }
}

/// <summary>A named expression that is computed along a run.</summary>
/// <param name="Symbol">The name in formulas.</param>
/// <param name="PartId">Id of the part.</param>
/// <param name="Node">The node of its value.</param>
public sealed record NamedExpression(string Symbol, string PartId, int Node);

/// <summary>An expression at an earlier time, read from a parameter that every solver fills from the run's past.</summary>
/// <param name="Slot">Index of the parameter that holds its value.</param>
/// <param name="Expression">Node of what is delayed.</param>
/// <param name="Lag">Node of the delay; where it is of more than parameters it may vary along the run.</param>
/// <param name="History">Node of its value before the start, or -1 for the value at the start.</param>
public sealed record Delay(int Slot, int Expression, int Lag, int History);

/// <summary>A value drawn anew at a stated interval.</summary>
/// <param name="Slot">Index of the parameter that holds its value.</param>
/// <param name="PartId">Id of the random input.</param>
/// <param name="Distribution">What is drawn from.</param>
/// <param name="Arguments">Nodes of the distribution's arguments, over parameters alone.</param>
/// <param name="Every">Node of the interval, over parameters alone.</param>
public sealed record RandomDraw(int Slot, string PartId, Distribution Distribution, IReadOnlyList<int> Arguments, int Every);

/// <summary>A range that an expression should stay in; leaving it is reported with the results.</summary>
/// <param name="PartId">Id of the part.</param>
/// <param name="Node">The node of the watched value.</param>
/// <param name="Low">The least that is expected; minus infinity for no limit.</param>
/// <param name="High">The greatest that is expected; infinity for no limit.</param>
public sealed record WatchedRange(string PartId, int Node, double Low, double High)
{
    /// <summary>Whether leaving it stops the run, as for a share.</summary>
    public bool Stops { get; init; }
}

/// <summary>
/// The reaction network that solvers know: states moved by processes at rates, initial amounts as expressions of the values, delays,
/// events and limits.
/// Any model lowers into it.
/// </summary>
public sealed record ReactionNetwork
{
    /// <summary>The expressions that all nodes below belong to.</summary>
    public required ExpressionGraph Graph { get; init; }

    /// <summary>The entries of the state vector.</summary>
    public required IReadOnlyList<StateVariable> States { get; init; }

    /// <summary>The plain numbers of the model: the first part of the parameter vector, in the order of the graph's parameter
    /// indices.</summary>
    public required IReadOnlyList<ModelValue> Values { get; init; }

    /// <summary>Further parameters that runs fill in themselves, with what they hold at first: limits, delayed values, draws,
    /// overrides.</summary>
    public IReadOnlyList<double> Slots { get; init; } = [];

    /// <summary>What each slot stands for, by which slots of one model are found in another that has more parts; several of one name stand
    /// in the same order in both. Empty where nobody asks.</summary>
    public IReadOnlyList<string> SlotNames { get; init; } = [];

    /// <summary>For each state the node of its initial amount, over parameters alone.</summary>
    public required IReadOnlyList<int> Initial { get; init; }

    /// <summary>What happens at a rate.</summary>
    public required IReadOnlyList<Process> Processes { get; init; }

    /// <summary>Right-hand sides of states that no process moves, as pairs of state and node.</summary>
    public IReadOnlyList<(int State, int Node)> Rules { get; init; } = [];

    /// <summary>The amount in each compartment.</summary>
    public required IReadOnlyList<NamedExpression> Amounts { get; init; }

    /// <summary>The rate of each flow, as it leaves its compartment.</summary>
    public required IReadOnlyList<NamedExpression> Flows { get; init; }

    /// <summary>Whether jumps of outputs are located as those of the law are, though nothing else depends on them: comparisons in them turn
    /// at ends of steps then.</summary>
    public bool LocatesOutputs { get; init; }

    /// <summary>Quantities, inputs and random inputs.</summary>
    public required IReadOnlyList<NamedExpression> Quantities { get; init; }

    /// <summary>All that a run has a column for, in the order of the columns: amounts, flows, quantities.</summary>
    public IEnumerable<NamedExpression> Outputs => Amounts.Concat(Flows).Concat(Quantities);

    /// <summary>The column of a part; -1 where it has none.</summary>
    internal int OutputOf(string partId)
    {
        var place = 0;
        foreach (var one in Outputs)
        {
            if (one.PartId == partId)
                return place;
            place++;
        }
        return -1;
    }

    /// <summary>Whether a column is that of a flow.</summary>
    /// <param name="output">Counted from 0: amounts, then flows, then quantities.</param>
    public bool IsFlow(int output) => output >= Amounts.Count && output < Amounts.Count + Flows.Count;

    /// <summary>Of flows that run member by member the flows of all members, by the id of the one they belong to.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> Members { get; init; } = NoMembers;

    private static readonly Dictionary<string, IReadOnlyList<string>> NoMembers = [];

    /// <summary>The ids under which its processes and flows stand for what is asked for by this one.</summary>
    internal IReadOnlyList<string> MembersOf(string id) => Members.GetValueOrDefault(id) ?? [id];

    /// <summary>A formula over the model as one over what this network names: sums over members written out.</summary>
    public Func<Syntax, Syntax> Spell { get; init; } = tree => tree;

    /// <summary>The states that start at equilibrium.</summary>
    public IReadOnlyList<EquilibriumStart> Equilibria { get; init; } = [];

    /// <summary>Values that are looked up in the past.</summary>
    public IReadOnlyList<Delay> Delays { get; init; } = [];

    /// <summary>
    /// Equations that hold at every time along a run, in an order in which each may read the numbers of those before it.
    /// </summary>
    public IReadOnlyList<ImplicitBlock> Implicit { get; init; } = [];

    /// <summary>
    /// Equations over parameters alone that hold where a run starts; initial amounts may read their numbers, and keep them.
    /// </summary>
    public IReadOnlyList<ImplicitBlock> ImplicitAtStart { get; init; } = [];

    /// <summary>Values that are drawn anew at intervals.</summary>
    public IReadOnlyList<RandomDraw> Draws { get; init; } = [];

    /// <summary>What happens at times or on conditions.</summary>
    public IReadOnlyList<ModelEvent> Events { get; init; } = [];

    /// <summary>What of its events was said as doses; to be read only, since the events do what it says.</summary>
    public IReadOnlyList<DoseSeries> Doses { get; init; } = [];

    /// <summary>Ranges outside which a note is made.</summary>
    public IReadOnlyList<WatchedRange> Ranges { get; init; } = [];

    /// <summary>Length of a step where processes and rules give changes over a step (a difference equation); 0 where they give
    /// rates.</summary>
    public double DiscreteStep { get; init; }

    /// <summary>The seed of its draws.</summary>
    public long Seed { get; init; }

    /// <summary>Length of the parameter vector.</summary>
    public int ParameterCount => Values.Count + Slots.Count;

    /// <summary>Index of the value with this address, or -1.</summary>
    /// <param name="address">The value.</param>
    public int IndexOf(ValueAddress address)
    {
        for (var k = 0; k < Values.Count; k++)
        {
            if (Values[k].Address == address)
                return k;
        }
        return -1;
    }

    /// <summary>The same network with other numbers for some of its values, by address; the graph is shared.</summary>
    /// <param name="values">New values by address; those not named stay.</param>
    public ReactionNetwork With(IReadOnlyDictionary<ValueAddress, double> values) =>
        this with
        {
            Values = [.. Values.Select(value => values.TryGetValue(value.Address, out var other) ? value with { Value = other } : value)],
        };

    /// <summary>The same network over a graph of its own, for those who add nodes to it.</summary>
    internal ReactionNetwork Fork() => this with { Graph = Graph.Fork() };

    /// <summary>The parameter vector: all values, then the slots.</summary>
    public double[] ValueVector() => [.. Values.Select(value => value.Value), .. Slots];

    /// <summary>The nodes of the right-hand side: for each state the sum of what its processes bring and take.</summary>
    internal int[] Derivatives()
    {
        var nodes = Enumerable.Repeat(Graph.Constant(0), States.Count).ToArray();
        foreach (var process in Processes)
        {
            foreach (var change in process.Changes)
            {
                var rate = change.Share < 0 ? process.Rate : Graph.Multiply(change.Share, process.Rate);
                if (change.Factor >= 0)
                    rate = Graph.Multiply(change.Factor, rate);
                nodes[change.State] = change.Coefficient switch
                {
                    1 => Graph.Add(nodes[change.State], rate),
                    -1 => Graph.Subtract(nodes[change.State], rate),
                    _ => Graph.Add(nodes[change.State], Graph.Multiply(Graph.Constant(change.Coefficient), rate)),
                };
            }
        }
        foreach (var (state, node) in Rules)
            nodes[state] = node;
        return nodes;
    }
}
