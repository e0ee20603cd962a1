using ClearTide.Core.Language;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Ensembles;

/// <summary>By which method a projection moves units.</summary>
public sealed partial class Projection
{
    /// <summary>Firings of all replicates that the exact method makes in some ten seconds.</summary>
    private const double Quick = 3e8;

    /// <summary>Steps of one replicate at most.</summary>
    private const double MostSteps = 1_000_000;

    /// <summary>The method that is taken, and why where it was not asked for by name.</summary>
    /// <exception cref="ProjectionRefusedException">The one that was asked for cannot be taken.</exception>
    private (ProjectionChance, string) Chosen()
    {
        if (_request.Chance == ProjectionChance.None)
            return (ProjectionChance.None, "");
        if (_request.Chance == ProjectionChance.Leap)
            return (ProjectionChance.Leap, "");
        if (_request.Chance == ProjectionChance.ChainBinomial)
        {
            if (!(_request.Step > 0) || !double.IsFinite(_request.Step))
                throw new ProjectionRefusedException("A step of the chain binomial is a time above zero, as in 1.");
            if ((Times[^1] - Now) / _request.Step > MostSteps)
                throw new ProjectionRefusedException(
                    $"The future holds more than {MostSteps:N0} steps of {_request.Step:G6}. Take longer ones, or shorten the span."
                );
            return (ProjectionChance.ChainBinomial, "");
        }
        var noisy = _scenarios.Any(one => RateNoise.IsIn(one.Lowered.Network));
        if (noisy && _request.Chance == ProjectionChance.Exact)
            throw new ProjectionRefusedException(RateNoise.InStepsOnly);
        if (noisy)
            return (ProjectionChance.Leap, "Units move many at a time: there is noise in a rate.");
        var endless = ExpectedTransitions.Refusal(_model, _beginning.Values, _beginning.State, Now, Times[^1]);
        if (_request.Chance == ProjectionChance.Exact)
            return endless is null ? (ProjectionChance.Exact, "") : throw new ProjectionRefusedException(endless);
        var each = ExpectedTransitions.Of(_model, _beginning.Values, _beginning.State, Now, Times[^1]) ?? 0;
        var all = each * _request.Replicates * _scenarios.Length;
        var words = NumberWords.About(all);
        return all <= Quick && endless is null
            ? (ProjectionChance.Exact, $"Units move one by one: about {words} transitions in all.")
            : (ProjectionChance.Leap, $"Units move many at a time: one by one it would be about {words} transitions.");
    }

    /// <summary>An engine for a scenario; it serves one thread.</summary>
    private IEngine Engine(int scenario) =>
        Method switch
        {
            ProjectionChance.None => new MeanFieldEngine(_scenarios[scenario].Lowered.Compiled),
            ProjectionChance.Leap => new TauLeapEngine(_scenarios[scenario].Lowered.Compiled),
            ProjectionChance.ChainBinomial => new ChainBinomialEngine(_scenarios[scenario].Lowered.Compiled, _steps),
            _ => new ExactEngine(),
        };
}
