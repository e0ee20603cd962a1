using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>The run that a study asks for: over its span, by its method, at the spacing of its curves.</summary>
internal static class StudyRequest
{
    /// <summary>A run that is made at each edit gives up sooner than one that was asked for.</summary>
    private const int MostSteps = 300_000;

    /// <summary>Points on each curve: enough for a line on any screen, and whole times fall on points.</summary>
    private const int Points = 240;

    /// <summary>The run of a model at its own values.</summary>
    /// <exception cref="SimulationException">The model cannot be compiled.</exception>
    public static RunRequest Of(LoweredModel lowered)
    {
        var document = lowered.Document;
        return new(lowered.Compiled, lowered.Network.ValueVector(), OutputTimes.Every(document.Start, document.End, Spacing(document)))
        {
            Settings = Settings(document),
            ScaleToStart = true,
            Seed = document.Seed,
        };
    }

    /// <summary>How exactly a study is run.</summary>
    public static SolverSettings Settings(StudyDocument document) => document.Solver.Settings with { MaximumSteps = MostSteps };

    /// <summary>Points of a study's curves: discrete steps are points themselves as long as a screen can tell them apart.</summary>
    public static double Spacing(StudyDocument document)
    {
        var span = document.End - document.Start;
        return document.Solver.IsDiscrete && span / document.Solver.Step <= 10 * Points ? document.Solver.Step : Spacing(span);
    }

    /// <summary>The spacing of points on curves over a span: 1, 2 or 5 times a power of ten.</summary>
    public static double Spacing(double span)
    {
        var ideal = span / Points;
        var power = Math.Pow(10, Math.Floor(Math.Log10(ideal)));
        var lead = ideal / power;
        return (
                lead <= 1 ? 1
                : lead <= 2 ? 2
                : lead <= 5 ? 5
                : 10
            ) * power;
    }
}
