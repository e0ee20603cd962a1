using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// A reaction network whose jumps and kinks are taken out of its formulas: each comparison, rounding and piece of a table that can change
/// along a
/// run is read from a parameter of its own. Between two changes the right-hand side is smooth, so that error control and continuous output
/// hold, and a change can be located on the continuous output (Hairer, Nørsett, Wanner, Solving Ordinary Differential Equations I, 2nd ed.,
/// II.6, "Discontinuous equations").
/// </summary>
internal sealed class HybridModel
{
    private HybridModel(ReactionNetwork shared)
    {
        // Limits and equations bring nodes of their own.
        var network = Network = shared.Fork();
        Switches = new SwitchRewriting(network);
        Limits = LimitedFlows.Of(network, Switches);
        var nodes = network.Derivatives();
        // Derivatives may have added nodes to the graph: they are mapped like the rest.
        RightHandSide = Switches.Compile(nodes);
        Smooth = [.. nodes.Select(Switches.Map)];
        Outputs = Switches.Compile(CompiledModel.OutputNodes(network));
        Conditions = Switches.Compile([.. network.Events.Where(rule => rule.Condition >= 0).Select(rule => rule.Condition)]);
        Values = Switches.CompileValues();
        Implicit = ImplicitEquations.Of(network.Graph, network.Implicit);
        Delayed = GraphCompiler.Compile(network.Graph, [.. network.Delays.Select(delay => delay.Expression)]);
        network.Graph.Freeze();
        Switches.Graph.Freeze();
    }

    /// <summary>The network's hybrid side, or null where its law is one smooth formula without events, delays, draws and limits.</summary>
    public static HybridModel? Of(ReactionNetwork network)
    {
        if (
            network.Events.Count > 0
            || network.Implicit.Count > 0
            || network.Delays.Count > 0
            || network.Draws.Count > 0
            || network.Processes.Any(process => process.Limit >= 0)
        )
            return new(network);
        return network.LocatesOutputs || SwitchRewriting.IsNeeded(network) ? new(network) : null;
    }

    public ReactionNetwork Network { get; }

    public SwitchRewriting Switches { get; }

    public LimitedFlows? Limits { get; }

    /// <summary>Equations that hold at every time, with their jumps in place.</summary>
    public ImplicitEquations? Implicit { get; }

    /// <summary>The right-hand side of the branch that the switch parameters say.</summary>
    public VectorFunction RightHandSide { get; }

    /// <summary>Its nodes in the rewritten graph.</summary>
    public IReadOnlyList<int> Smooth { get; }

    public VectorFunction Outputs { get; }

    /// <summary>The conditions of events, from the switch parameters.</summary>
    public VectorFunction Conditions { get; }

    /// <summary>What each switch parameter should be.</summary>
    public VectorFunction Values { get; }

    /// <summary>The delayed expressions, with their jumps in place.</summary>
    public VectorFunction Delayed { get; }

    /// <summary>Length of the parameter vector with the switches behind the network's own.</summary>
    public int ParameterCount => Network.ParameterCount + Switches.Count;
}
