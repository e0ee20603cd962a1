using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>
/// A reaction network with its compiled functions. Immutable and free of state: any number of threads can share it.
/// </summary>
public sealed unsafe class CompiledModel
{
    private readonly Lazy<VectorFunction> _outputs;
    private readonly Lazy<ExactJacobian.Source> _jacobian;
    private readonly VectorFunction _initial;
    private readonly EquilibriumSolver? _equilibrium;
    private readonly ImplicitEquations? _atStart;

    /// <summary>Compiles the functions of a network; costs a few milliseconds for a large one.</summary>
    /// <param name="network">The network.</param>
    public CompiledModel(ReactionNetwork network)
    {
        Network = network;
        // From here on other threads may read it: all that derives from it later does so on a fork.
        var derivatives = network.Derivatives();
        network.Graph.Freeze();
        Hybrid = HybridModel.Of(network);
        RightHandSide = Hybrid?.RightHandSide ?? GraphCompiler.Compile(network.Graph, derivatives);
        _equilibrium = network.Equilibria.Count == 0 ? null : new(network);
        _atStart = ImplicitEquations.Of(network.Graph, network.ImplicitAtStart);
        _initial = GraphCompiler.Compile(network.Graph, network.Initial);
        _jacobian = new(() => Hybrid is null ? new(network.Graph.Fork(), derivatives) : new(Hybrid.Switches.Graph.Fork(), Hybrid.Smooth));
        _outputs = new(() => GraphCompiler.Compile(network.Graph, OutputNodes(network)));
    }

    /// <summary>What was compiled.</summary>
    public ReactionNetwork Network { get; }

    /// <summary>Length of the state vector.</summary>
    public int StateCount => Network.States.Count;

    /// <summary>Derivatives of all states, in amount per unit of time. For a model with jumps, those of the branch that a run is
    /// in.</summary>
    public VectorFunction RightHandSide { get; }

    /// <summary>A Jacobian of <see cref="RightHandSide"/>, for one thread.</summary>
    internal Jacobian Jacobian() => _jacobian.Value.Make();

    /// <summary>What makes the model more than one smooth law: switches, limits, delays, draws and events; null where there is nothing of
    /// it.</summary>
    internal HybridModel? Hybrid { get; }

    /// <summary>What <see cref="Outputs"/> calls; for a model with jumps, use those of its hybrid side.</summary>
    internal VectorFunction OutputFunction => _outputs.Value;

    /// <summary>How many numbers <see cref="Outputs"/> fills: amounts, flows, quantities, watched ranges.</summary>
    public int OutputCount => Network.Amounts.Count + Network.Flows.Count + Network.Quantities.Count + Network.Ranges.Count;

    internal static int[] OutputNodes(ReactionNetwork network) =>
        [
            .. network.Amounts.Select(amount => amount.Node),
            .. network.Flows.Select(flow => flow.Node),
            .. network.Quantities.Select(quantity => quantity.Node),
            .. network.Ranges.Select(range => range.Node),
        ];

    /// <summary>The initial amounts for these parameter values; where they read random inputs, with what these are at the start.</summary>
    /// <param name="parameters">All parameters of the network: values, then slots.</param>
    /// <param name="time">When the run starts.</param>
    /// <param name="replicate">Which draw of the random inputs, as for the run.</param>
    /// <exception cref="SimulationException">No equilibrium was found for the states that start at one, equations of the start have no
    /// solution, or a random input cannot be drawn.</exception>
    public double[] InitialState(ReadOnlySpan<double> parameters, double time = 0, int replicate = 0)
    {
        if (parameters.Length < Network.ParameterCount)
            throw new ArgumentException(
                $"The model has {Network.ParameterCount} parameters, and {parameters.Length} are given.",
                nameof(parameters)
            );
        if (_equilibrium is not null || _atStart is not null || Network.Draws.Count > 0)
            parameters = ParametersAtStart(parameters, time, replicate);
        // An empty array has no address to pass; compiled code never reads it then.
        var state = new double[StateCount];
        fixed (double* p = parameters)
        fixed (double* y = state)
        {
            _initial(time, null, p, y);
        }
        return state;
    }

    /// <summary>
    /// The parameters with all that is filled in where a run starts: random inputs, what equations determine, amounts at equilibrium.
    /// </summary>
    /// <inheritdoc cref="InitialState"/>
    internal double[] ParametersAtStart(ReadOnlySpan<double> parameters, double time = 0, int replicate = 0)
    {
        var found = parameters.ToArray();
        if (Network.Draws.Count > 0)
            new Draws(Network, time, replicate, found).Make(time, found);
        SolveStart(time, found);
        _equilibrium?.Solve(time, found);
        return found;
    }

    /// <summary>Writes the numbers that equations determine at the start into the parameters.</summary>
    /// <exception cref="SimulationException">They have no solution.</exception>
    internal void SolveStart(double time, double[] parameters)
    {
        if (_atStart is null)
            return;
        var values = new ImplicitValues(_atStart);
        values.Begin(time, parameters);
        fixed (double* p = parameters)
            values.Search(time, null, p);
        if (values.Unsolved >= 0)
            throw new SimulationException(FailureReason.NoSolution, time, [], parameters)
            {
                PartId = string.Join(", ", Network.ImplicitAtStart[values.Unsolved].Names),
            };
    }

    /// <summary>Amounts, flows, quantities and ranges at one time, written to <paramref name="results"/> (length
    /// <see cref="OutputCount"/>).</summary>
    /// <param name="time">In the unit of the run.</param>
    /// <param name="state">One value for each state of the network.</param>
    /// <param name="parameters">One value for each parameter.</param>
    /// <param name="results">Takes one value for each output.</param>
    public void Outputs(double time, ReadOnlySpan<double> state, ReadOnlySpan<double> parameters, Span<double> results)
    {
        fixed (double* y = state)
        fixed (double* p = parameters)
        fixed (double* r = results)
        {
            _outputs.Value(time, y, p, r);
        }
    }
}
