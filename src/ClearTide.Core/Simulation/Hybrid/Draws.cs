using ClearTide.Core.Sampling;

namespace ClearTide.Core.Simulation;

/// <summary>The random inputs of one run: each holds a draw until its interval is over.</summary>
internal sealed class Draws
{
    private readonly ReactionNetwork _network;
    private readonly RandomStream[] _streams;
    private readonly double[][] _arguments;
    private readonly double[] _every;
    private readonly long[] _count;
    private readonly double _start;

    public Draws(ReactionNetwork network, double start, int replicate, double[] parameters)
    {
        (_network, _start) = (network, start);
        _streams = [.. network.Draws.Select(draw => new RandomStream(network.Seed, replicate, "input", draw.PartId))];
        _arguments =
        [
            .. network.Draws.Select(draw => draw.Arguments.Select(node => network.Graph.Evaluate(node, start, [], parameters)).ToArray()),
        ];
        _every = [.. network.Draws.Select(draw => network.Graph.Evaluate(draw.Every, start, [], parameters))];
        _count = new long[network.Draws.Count];
        for (var k = 0; k < _every.Length; k++)
        {
            if (!(_every[k] > 0) || network.Draws[k].Distribution.Refusal(_arguments[k]) is not null)
                throw new SimulationException(FailureReason.BadDraw, start, [], parameters);
        }
    }

    /// <summary>When the next draw is due.</summary>
    public double Next => Enumerable.Range(0, _count.Length).Select(Due).DefaultIfEmpty(double.PositiveInfinity).Min();

    private double Due(int k) => _start + _count[k] * _every[k];

    /// <summary>Makes the draws that are due by a time; true where there were any.</summary>
    public bool Make(double time, double[] parameters)
    {
        var made = false;
        for (var k = 0; k < _count.Length; k++)
        {
            while (Due(k) <= time)
            {
                // The open interval: quantiles at 0 and 1 may be infinite.
                parameters[_network.Draws[k].Slot] = _network
                    .Draws[k]
                    .Distribution.Quantile(_arguments[k], _streams[k].NextUniform() + 0.5 / (1UL << 53));
                _count[k]++;
                made = true;
            }
        }
        return made;
    }
}
