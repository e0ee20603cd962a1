namespace ClearTide.Core.Simulation;

/// <summary>
/// The numbers that equations determine along one run. Each solution is sought from a known one by Newton's method, damped so that the
/// correction that
/// is left shrinks at every step (natural monotonicity test; Deuflhard, Newton Methods for Nonlinear Problems, section 3.3), and is one
/// only when that
/// correction is down to rounding. Along each stretch that a run has passed, the solution is followed in pieces so short that Newton's
/// method needs no
/// damping, so that it stays on its branch (continuation; the same book, chapter 5). Where a run begins, or something has jumped, other
/// places are tried
/// as well. What has no solution is not a number.
/// </summary>
internal sealed unsafe partial class ImplicitValues
{
    /// <summary>A solution is known when the correction left is this share of its size.</summary>
    private const double Converged = 1e-14;

    /// <summary>Where rounding of the equations lets no correction get smaller (roots that meet), this is small enough.</summary>
    private const double Rounded = 1e-7;

    private const int MostSteps = 100;
    private const double LeastDamping = 1e-5;

    private readonly ImplicitEquations _network;
    private readonly Newton[] _blocks;

    public ImplicitValues(ImplicitEquations network)
    {
        _network = network;
        _blocks = [.. network.Blocks.Select((block, k) => new Newton(block, network.Function(k)))];
    }

    /// <summary>The block that has no solution where it was last sought, or -1.</summary>
    public int Unsolved { get; private set; } = -1;

    /// <summary>Puts the guesses for the first search into the parameters.</summary>
    public void Begin(double time, double[] parameters)
    {
        foreach (var block in _network.Blocks)
        {
            for (var k = 0; k < block.Slots.Count; k++)
                parameters[block.Slots[k]] = _network.Graph.Evaluate(block.Guesses[k], time, [], parameters);
        }
        foreach (var block in _blocks)
            block.Begin(time, parameters);
    }

    /// <summary>Writes the solutions at a time and state into the parameters, and remembers nothing.</summary>
    public void Fill(double time, double* y, double* p) => Each(p, block => block.Solve(time, y, p, gently: false));

    /// <summary>Solves where a run begins or something may have jumped; what was known before is a guess only.</summary>
    public void Search(double time, double* y, double* p) => Each(p, block => block.Search(time, y, p));

    /// <summary>A stretch begins where the last one ended.</summary>
    public void BeginStretch()
    {
        foreach (var block in _blocks)
            block.BeginStretch();
    }

    /// <summary>
    /// Follows the solutions to a time and state on the stretch; false where that cannot be done, and nothing is remembered then.
    /// </summary>
    /// <param name="time">Where it goes, in the model's unit of time.</param>
    /// <param name="y">The states, in the order of the network.</param>
    /// <param name="p">All parameters, in the order of the network.</param>
    /// <param name="gently">Whether the way must be so short that no damping is needed.</param>
    public bool Follow(double time, double* y, double* p, bool gently)
    {
        Each(p, block => block.Solve(time, y, p, gently));
        if (Unsolved >= 0)
            return false;
        foreach (var block in _blocks)
            block.Keep(time, p);
        return true;
    }

    private delegate bool Solving(Newton block);

    private void Each(double* p, Solving solve)
    {
        Unsolved = -1;
        for (var k = 0; k < _blocks.Length; k++)
        {
            if (solve(_blocks[k]))
                continue;
            Unsolved = k;
            // What reads it must not go on with an old number.
            foreach (var slot in _network.Blocks[k].Slots)
                p[slot] = double.NaN;
        }
    }
}
