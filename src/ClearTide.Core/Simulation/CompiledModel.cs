using ClearTide.Core.Formulas;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Simulation;

/// <summary>
/// A general form with its compiled functions. Immutable and free of state: any number of threads can share it.
/// </summary>
public sealed unsafe class CompiledModel
{
    private readonly Lazy<VectorFunction> _outputs;
    private readonly Lazy<ChanceRates> _chanceRates;
    private readonly VectorFunction _initial;

    public CompiledModel(GeneralForm form)
    {
        Form = form;
        RightHandSide = GraphCompiler.Compile(form.Graph, form.Derivatives());
        _initial = GraphCompiler.Compile(form.Graph, form.Initial);
        _chanceRates = new(() => ChanceRates.Of(form));
        _outputs = new(() => GraphCompiler.Compile(form.Graph,
            [.. form.Processes.Select(process => process.Rate), .. form.Quantities.Select(quantity => quantity.Node)]));
    }

    public GeneralForm Form { get; }

    public int StateCount => Form.States.Count;

    /// <summary>Derivatives of all states, in amount per unit of time.</summary>
    public VectorFunction RightHandSide { get; }

    /// <summary>Rates of all processes as chance runs need them.</summary>
    public ChanceRates ChanceRates => _chanceRates.Value;

    /// <summary>How many numbers <see cref="Outputs"/> fills: processes, then quantities.</summary>
    public int OutputCount => Form.Processes.Count + Form.Quantities.Count;

    /// <summary>The initial amounts for these parameter values.</summary>
    public double[] InitialState(ReadOnlySpan<double> parameters)
    {
        // An empty array has no address to pass; compiled code never reads it then.
        var state = new double[StateCount];
        fixed (double* p = parameters)
        fixed (double* y = state)
        {
            _initial(0, null, p, y);
        }
        return state;
    }

    /// <summary>Process rates and quantities at one time, written to <paramref name="results"/> (length <see cref="OutputCount"/>).</summary>
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
