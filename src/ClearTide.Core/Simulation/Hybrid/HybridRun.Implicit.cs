namespace ClearTide.Core.Simulation;

/// <summary>Unknowns that equations determine along a run: solved for where something may have jumped, continued in between.</summary>
internal sealed unsafe partial class HybridRun
{
    /// <summary>Solves what equations determine where something may have jumped.</summary>
    private void Search(double time)
    {
        if (_implicit is null)
            return;
        fixed (double* y = _y)
        fixed (double* p = _p)
        {
            _past?.Fill(time, _side * Nudge, y, p);
            _implicit.Search(time, y, p);
        }
        CheckSolved(time);
    }

    /// <summary>
    /// Follows what equations determine along a stretch that the run has passed, in pieces that halve where the way is too far.
    /// </summary>
    private void FollowImplicit(double before, double time)
    {
        _implicit!.BeginStretch();
        var state = new double[_y.Length];
        var (reached, piece) = (before, time - before);
        while (reached < time)
        {
            var next = Math.Min(time, reached + piece);
            _stepper.At(next, state);
            fixed (double* y = state)
            fixed (double* p = _p)
            {
                _past?.Fill(next, -Nudge, y, p);
                var least = piece <= 1e-10 * (_end - _start);
                if (next > reached && _implicit.Follow(next, y, p, gently: !least))
                {
                    (reached, piece) = (next, 2 * piece);
                    continue;
                }
                piece /= 2;
                if (!least)
                    continue;
                state.CopyTo(_y, 0);
                CheckSolved(next);
                return;
            }
        }
    }

    private void CheckSolved(double time)
    {
        if (_implicit is not { Unsolved: >= 0 and var block })
            return;
        throw new SimulationException(FailureReason.NoSolution, time, [.. _y], _p[.._network.ParameterCount])
        {
            PartId = string.Join(", ", _network.Implicit[block].Names),
        };
    }
}
