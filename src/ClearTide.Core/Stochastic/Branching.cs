using ClearTide.Core.Expressions;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// Where each firing of a flow with several ends leads: one uniform number of the flow's second stream against the shares in stored order.
/// </summary>
internal sealed unsafe class Branching
{
    private readonly int[] _targets;
    private readonly int _outside;
    private readonly VectorFunction _function;
    private readonly double[] _shares;
    private readonly string _id;
    private RandomStream _stream;

    /// <param name="network">The model.</param>
    /// <param name="process">Whose ways out are told apart.</param>
    /// <param name="outside">The state that stands for the outside.</param>
    public Branching(ReactionNetwork network, Process process, int outside)
    {
        var ends = process.Changes.Where(change => change.Share >= 0).ToList();
        _targets = [.. ends.Select(end => end.State)];
        _outside = process.SharesSum ? _targets[^1] : outside;
        _function = GraphCompiler.Compile(network.Graph, [.. ends.Select(end => end.Share)]);
        _shares = new double[ends.Count];
        _id = process.Stage > 0 ? $"{process.Id}#{process.Stage}" : process.Id;
    }

    public void Start(long seed, int replicate) => _stream = new(seed, replicate, "target", _id);

    /// <summary>The state that the next unit goes to.</summary>
    public int Choose(double* state, double* parameters)
    {
        fixed (double* shares = _shares)
            _function(0, state, parameters, shares);
        var left = _stream.NextUniform();
        for (var k = 0; k < _shares.Length; k++)
        {
            left -= _shares[k];
            if (left < 0)
                return _targets[k];
        }
        return _outside;
    }
}
