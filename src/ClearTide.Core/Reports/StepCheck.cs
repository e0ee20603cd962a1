using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>How many significant digits of one compartment's curve a fixed step gives.</summary>
/// <param name="PartId">Id of the compartment.</param>
/// <param name="Symbol">Of the compartment.</param>
/// <param name="AtStep">With the study's step.</param>
/// <param name="AtHalf">With half of it.</param>
public sealed record StepDigits(string PartId, string Symbol, double AtStep, double AtHalf);

/// <summary>
/// What a step of calculation is good for: runs at the step and at half of it against an adaptive reference. Digits are those of the
/// greatest
/// departure along the run against the compartment's greatest amount.
/// </summary>
/// <param name="Step">The study's own step, in its unit of time.</param>
/// <param name="Compartments">One for each.</param>
/// <param name="Wanted">The digits asked for.</param>
/// <param name="LargestStep">The largest step of those tried, halving or doubling the study's own, that gives them for every compartment;
/// or null.</param>
/// <param name="Failure">Why there is no check, or null.</param>
public sealed record StepCheck(double Step, IReadOnlyList<StepDigits> Compartments, int Wanted, double? LargestStep, string? Failure)
{
    /// <summary>More digits than this are those of the reference itself.</summary>
    public const int MostDigits = 10;

    /// <summary>Steps are doubled and halved at most this often.</summary>
    private const int Tries = 12;

    /// <summary>Points at which runs are compared.</summary>
    private const int Points = 100;

    /// <summary>No check, and why.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="wanted">Digits wanted, 1 to 15.</param>
    /// <param name="why">What to do, in one sentence.</param>
    public static StepCheck Without(StudyDocument document, int wanted, string why) => new(document.Solver.Step, [], wanted, null, why);

    /// <summary>How many digits a fixed step gives, and which step would give so many; costs several runs.</summary>
    /// <param name="lowered">The compiled model.</param>
    /// <param name="wanted">Digits wanted, 1 to 15.</param>
    /// <param name="cancel">Stops the computation with an <see cref="OperationCanceledException"/>.</param>
    public static StepCheck Of(LoweredModel lowered, int wanted, CancellationToken cancel = default)
    {
        var document = lowered.Document;
        var own = document.Solver.Step;
        StepCheck Without(string why) => StepCheck.Without(document, wanted, why);
        if (!document.Solver.HasStep)
            return Without("This method chooses its steps itself, to its tolerance.");
        if (document.Solver.IsDiscrete)
            return Without("Discrete steps are the model itself: there is nothing that they come near to.");
        wanted = Math.Clamp(wanted, 1, MostDigits);
        var model = lowered.Compiled;
        var times = OutputTimes.Every(document.Start, document.End, (document.End - document.Start) / Points);
        Trajectory Run(SolverSettings settings)
        {
            var values = lowered.Network.ValueVector();
            return Engines.Run(new(model, values, times) { Settings = settings with { MaximumSteps = 1_000_000 } }, cancel: cancel);
        }
        Trajectory reference;
        try
        {
            reference = Run(SolverSettings.Default with { RelativeTolerance = 1e-12, AbsoluteTolerance = 1e-13 });
        }
        catch (SimulationException failure)
        {
            return Without(RunFailure.Say(failure, lowered));
        }
        double[] Digits(double step)
        {
            try
            {
                var run = Run(document.Solver.Settings with { Step = step });
                return
                [
                    .. Enumerable
                        .Range(0, document.Compartments.Length)
                        .Select(part => Shared(reference.AmountColumn(part), run.AmountColumn(part))),
                ];
            }
            catch (SimulationException)
            {
                // A step so long that the run does not end has no digits.
                return new double[document.Compartments.Length];
            }
        }
        var (atStep, atHalf) = (Digits(own), Digits(own / 2));
        return new(
            own,
            [.. document.Compartments.Select((part, k) => new StepDigits(part.Id, part.Symbol, atStep[k], atHalf[k]))],
            wanted,
            Largest(),
            null
        );

        double? Largest()
        {
            bool Enough(double[] digits) => digits.Length > 0 && digits.Min() >= wanted;
            if (!Enough(atStep))
            {
                for (var (k, step, digits) = (0, own / 2, atHalf); k < Tries; k++, step /= 2, digits = Digits(step))
                {
                    // What the run would refuse is not offered.
                    if (SetSolver.Refusal(document, document.Solver.Method, step) is not null)
                        return null;
                    if (Enough(digits))
                        return step;
                }
                return null;
            }
            var best = own;
            for (
                var step = 2 * own;
                step <= document.End - document.Start && step <= own * Math.Pow(2, Tries) && Enough(Digits(step));
                step *= 2
            )
                best = step;
            return best;
        }
    }

    /// <summary>Significant digits that two curves share, by the greatest departure against the greatest amount.</summary>
    private static double Shared(double[] reference, double[] curve)
    {
        var size = reference.Max(Math.Abs);
        var departure = reference.Zip(curve, (a, b) => Math.Abs(a - b)).Max();
        if (!(departure > 0))
            return MostDigits;
        return size > 0 ? Math.Clamp(-Math.Log10(departure / size), 0, MostDigits) : 0;
    }
}
