using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Noise in rates: over a step of length h the rate of a flow counts as its mean times ΔΓ/h, where ΔΓ is gamma with mean h and
/// variance σ²h. Increments of steps that follow each other add up to a gamma increment again, so that what a step makes of it does not
/// depend on its length (Bretó, He, Ionides and King, Ann. Appl. Stat. 3, 2009, pp. 319–348, section 3; King, Nguyen and Ionides, J. Stat.
/// Softw. 69, 2016, section 4). All stages of a flow have the same.
/// </summary>
internal sealed class RateNoise
{
    private readonly string[] _ids;
    private readonly double[] _intensity;

    /// <summary>For each process its place among the noisy flows; -1 for one without noise.</summary>
    private readonly int[] _of;
    private readonly RandomStream[] _streams;
    private readonly double[] _factors;

    private RateNoise(IReadOnlyList<Process> processes)
    {
        _ids = [.. processes.Where(process => process.Noise > 0).Select(process => process.Id).Distinct()];
        _intensity = [.. _ids.Select(id => processes.First(process => process.Id == id).Noise)];
        _of = [.. processes.Select(process => process.Noise > 0 ? Array.IndexOf(_ids, process.Id) : -1)];
        (_streams, _factors) = (new RandomStream[_ids.Length], new double[_ids.Length]);
    }

    /// <summary>Why the exact law cannot have it, in a sentence.</summary>
    public const string InStepsOnly =
        "This model has noise in a rate, which changes all the time: it runs in steps. Choose leaps or the chain binomial.";

    /// <summary>The noise of a model; null where its rates have none.</summary>
    public static RateNoise? Of(ReactionNetwork network) => IsIn(network) ? new(network.Processes) : null;

    /// <summary>Whether any rate has noise.</summary>
    public static bool IsIn(ReactionNetwork network) => network.Processes.Any(process => process.Noise > 0);

    /// <summary>A run begins.</summary>
    public void Begin(long seed, int replicate)
    {
        for (var k = 0; k < _ids.Length; k++)
            _streams[k] = new(seed, replicate, "noise", _ids[k]);
    }

    /// <summary>Draws the noise of a step and lays it over the rates.</summary>
    /// <param name="length">Of the step, in units of time.</param>
    /// <param name="rates">For each process its rate; changed in place.</param>
    /// <param name="except">Processes that keep their mean; null for none.</param>
    public void Shake(double length, double[] rates, bool[]? except = null)
    {
        for (var k = 0; k < _ids.Length; k++)
        {
            var variance = _intensity[k] * _intensity[k];
            _factors[k] = GammaSampler.Next(ref _streams[k], length / variance) * variance / length;
        }
        for (var k = 0; k < _of.Length; k++)
        {
            if (_of[k] >= 0 && except?[k] != true)
                rates[k] *= _factors[_of[k]];
        }
    }
}
