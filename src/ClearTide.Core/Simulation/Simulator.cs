namespace ClearTide.Core.Simulation;

/// <summary>How to solve: method, step of calculation (fixed-step methods), tolerances (adaptive methods), and the bound on steps.</summary>
public sealed record SolverSettings
{
    public Method Method { get; init; } = Method.Automatic;

    /// <summary>In units of time.</summary>
    public double Step { get; init; } = 0.25;

    public double RelativeTolerance { get; init; } = 1e-8;

    /// <summary>In the units of the states.</summary>
    public double AbsoluteTolerance { get; init; } = 1e-9;

    /// <summary>One absolute tolerance for each state, in place of the one for all; or null.</summary>
    public IReadOnlyList<double>? AbsoluteTolerances { get; init; }

    /// <summary>A run that takes more steps is stopped.</summary>
    public int MaximumSteps { get; init; } = 2_000_000;

    /// <summary>These with an absolute tolerance for amounts of the size that a run starts with, where that is below one: of a millionth part of a mole it is a millionth.</summary>
    public SolverSettings ScaledTo(ReadOnlySpan<double> initial)
    {
        var largest = 0.0;
        foreach (var amount in initial) largest = Math.Max(largest, Math.Abs(amount));
        return largest is > 0 and < 1 && AbsoluteTolerances is null ? this with { AbsoluteTolerance = AbsoluteTolerance * largest } : this;
    }

    /// <summary>Whether the method chooses its steps by their error.</summary>
    public bool IsAdaptive => Method is Method.Automatic or Method.Adaptive or Method.Stiff;

    public static readonly SolverSettings Default = new();
}

/// <summary>The rows of a result.</summary>
public enum Rows
{
    /// <summary>One at each output time, after what jumps there.</summary>
    AtOutputTimes,

    /// <summary>Both sides of each jump besides.</summary>
    WithJumps,

    /// <summary>And the ends of steps that are so short that the output times could not show what happens: for curves.</summary>
    ForCurves,
}

/// <summary>One run that is made once.</summary>
internal interface IRunInTime
{
    /// <exception cref="SimulationException">The run could not go on.</exception>
    Trajectory Run(CancellationToken cancel);

    /// <summary>What there is of a run that could not go on: its rows, and one more where it stopped.</summary>
    Trajectory SoFar(SimulationException failure);
}

/// <summary>Runs a compiled model through a schedule of parameter values and samples it at output times.</summary>
public static class Simulator
{
    /// <summary>The most output times of one run.</summary>
    public const int MostOutputs = 1_000_000;

    /// <param name="state">State at the first of <paramref name="times"/>: the model's <see cref="CompiledModel.InitialState"/> or any
    /// other.</param>
    /// <param name="times">Ascending output times; the run spans from the first to the last.</param>
    /// <param name="rows">Which rows the result has besides the output times.</param>
    /// <param name="replicate">Which draw of the random inputs, under the form's seed.</param>
    /// <param name="observer">What follows the run from step to step, or null.</param>
    /// <exception cref="SimulationException">The run could not go on; it holds what there was before.</exception>
    public static Trajectory Run(CompiledModel model, double[] state, ParameterSchedule schedule, double[] times, SolverSettings settings, CancellationToken cancel = default, Rows rows = Rows.AtOutputTimes, int replicate = 0, IPieceObserver? observer = null)
    {
        if (model.Form.DiscreteStep > 0) settings = settings with { Method = Method.Discrete, Step = model.Form.DiscreteStep };
        else if (settings.Method == Method.Discrete) throw new ArgumentException("This model is written for continuous time.", nameof(settings));
        IRunInTime run = model.Hybrid is null ? new SmoothRun(model, state, schedule, times, settings, rows, observer) : new HybridRun(model, state, schedule, times, settings, rows, replicate, observer);
        try
        {
            return WatchedRanges.Check(run.Run(cancel), schedule);
        }
        catch (SimulationException failure)
        {
            failure.Before ??= run.SoFar(failure);
            throw;
        }
    }

    /// <summary>The stepper that the settings ask for.</summary>
    /// <param name="jacobian">Makes the Jacobian of <paramref name="f"/> for the methods that want it.</param>
    public static Stepper Create(Formulas.VectorFunction f, Func<Jacobian> jacobian, int dimension, int parameterCount, SolverSettings settings)
    {
        Tolerances Tolerances() => new(settings.RelativeTolerance, settings.AbsoluteTolerances ?? [settings.AbsoluteTolerance], dimension);
        return settings.Method switch
        {
            Method.RungeKutta4 => new RungeKutta4(f, dimension, parameterCount, settings.Step),
            Method.Midpoint => new Midpoint(f, dimension, parameterCount, settings.Step),
            Method.Euler => new Euler(f, dimension, parameterCount, settings.Step),
            Method.Discrete => new DiscreteSteps(f, dimension, parameterCount, settings.Step),
            Method.Stiff => new Rosenbrock(f, jacobian(), dimension, parameterCount, Tolerances()),
            Method.Adaptive => new DormandPrince(f, dimension, parameterCount, Tolerances()),
            _ => new Automatic(f, jacobian, dimension, parameterCount, Tolerances()),
        };
    }

    /// <summary>Equally spaced times from start to end; the end is always among them.</summary>
    public static double[] Grid(double start, double end, double every)
    {
        if (!(every > 0)) throw new ArgumentOutOfRangeException(nameof(every), every, "The spacing of output must be positive.");
        if (!(end > start)) throw new ArgumentOutOfRangeException(nameof(end), end, "The end must come after the start.");
        var count = (end - start) / every;
        if (count > MostOutputs) throw new ArgumentOutOfRangeException(nameof(every), every, $"More than {MostOutputs:N0} output times are asked for.");
        // A rounding error must not add a sliver at the end.
        var whole = (int)Math.Floor(count + 1e-9);
        var times = new List<double>(whole + 2);
        for (var k = 0; k <= whole; k++) times.Add(Math.Min(start + k * every, end));
        if (end - times[^1] > 1e-9 * every) times.Add(end);
        else times[^1] = end;
        return [.. times];
    }
}
