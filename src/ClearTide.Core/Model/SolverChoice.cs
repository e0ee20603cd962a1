using ClearTide.Core.Simulation;

namespace ClearTide.Core.Model;

/// <summary>How a study's run is computed: by which method, at which step of calculation, to which accuracy.</summary>
/// <param name="Method">By which steps are made.</param>
/// <param name="Step">The step of calculation, in the study's time unit; fixed-step methods and discrete steps use it.</param>
/// <param name="Tolerance">The relative tolerance of a step of the adaptive methods.</param>
public sealed record SolverChoice(Method Method, double Step, double Tolerance) : Stored
{
    /// <summary>The smallest and largest tolerance that can be chosen, as shares.</summary>
    public const double Finest = 1e-13,
        Coarsest = 0.01;

    /// <summary>What a study begins with.</summary>
    public static readonly SolverChoice Usual = new(Method.Automatic, 0.25, SolverSettings.Default.RelativeTolerance);

    /// <summary>Whether a run can be made with it: a known method, a step above zero, a tolerance within its bounds.</summary>
    public bool IsSound => Enum.IsDefined(Method) && Step > 0 && double.IsFinite(Step) && Tolerance is >= Finest and <= Coarsest;

    /// <summary>Whether time goes in whole steps.</summary>
    public bool IsDiscrete => Method == Method.Discrete;

    /// <summary>Whether the step of calculation is the user's and not the method's.</summary>
    public bool HasStep => Method is Method.RungeKutta4 or Method.Midpoint or Method.Euler or Method.Discrete;

    /// <summary>These as settings of a solver; amounts near zero are held to a tenth of the tolerance.</summary>
    public SolverSettings Settings =>
        SolverSettings.Default with
        {
            Method = Method,
            Step = Step,
            RelativeTolerance = Tolerance,
            AbsoluteTolerance = Tolerance / 10,
        };
}
