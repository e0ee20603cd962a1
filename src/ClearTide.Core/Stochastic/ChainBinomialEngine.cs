using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Stochastic;

/// <summary>
/// The chain binomial at a fixed step, the standard of epidemic models in discrete time: of the units of a compartment each leaves within a
/// step of length h with probability 1 − exp(−Λh), for the sum Λ of the rates per head of all its exits, and exits share them in
/// proportion,
/// by conditional binomials (Bailey, The Mathematical Theory of Infectious Diseases, 2nd ed., 1975, chapter 14; King, Nguyen and Ionides,
/// J. Stat. Softw. 69, 2016, section 4, for competing exits). What enters from outside is Poisson. Rates are those at the beginning of the
/// step: where they change within it means are off by a part in proportion to h, and a unit passes at most one compartment in a step. Steps
/// are cut at output times and events.
/// </summary>
/// <param name="model">The compiled model.</param>
/// <param name="step">Above zero.</param>
internal sealed class ChainBinomialEngine(CompiledModel model, double step) : SteppedChance(model)
{
    private readonly double[] _total = new double[model.StateCount + 1],
        _left = new double[model.StateCount + 1],
        _gone = new double[model.StateCount + 1],
        _passed = new double[model.StateCount + 1];

    protected override double Advance(double t, double limit)
    {
        // A last step that rounding has left is part of the one before.
        var until = limit - t <= step * (1 + 1e-9) ? limit : t + step;
        var h = until - t;
        WorkOutRates(t);
        Shake(h);
        Array.Clear(_total);
        var still = !DependOnTime && !HasFlow;
        for (var k = 0; k < Processes; k++)
        {
            if (Rates[k] == 0)
                continue;
            still = false;
            if (!IsPlanned(k))
                _total[Source(k)] += Math.Abs(Rates[k]) * TakenBy(k);
        }
        // What stands still does so until something else happens.
        if (still)
            return limit;
        for (var state = 0; state < States; state++)
        {
            (_left[state], _passed[state]) = (State[state], 0);
            _gone[state] = State[state] > 0 && _total[state] > 0 ? Gone(_total[state] * h / State[state]) : 0;
        }
        for (var k = 0; k < Processes; k++)
        {
            var (source, rate) = (Source(k), Math.Abs(Rates[k]));
            Numbers[k] =
                IsPlanned(k) ? Planned(k, h)
                : rate == 0 ? 0
                : source == States ? CountSampler.Poisson(ref Streams[k], rate * h)
                : Leaving(k, source, rate);
        }
        Move();
        Flow(t, until);
        return until;
    }

    /// <summary>1 − exp(−x), by the hyperbolic tangent, which keeps its digits near zero: 2 t/(1 + t) for t = tanh(x/2).</summary>
    private static double Gone(double x)
    {
        var half = Math.Tanh(0.5 * x);
        return 2 * half / (1 + half);
    }

    /// <summary>How many leave by one exit, of those that have left by none before it.</summary>
    private double Leaving(int k, int source, double rate)
    {
        var taken = TakenBy(k);
        var share = _gone[source] * rate * taken / _total[source];
        var number = CountSampler.Binomial(ref Streams[k], Math.Floor(_left[source] / taken), share / (1 - _passed[source]));
        _passed[source] += share;
        _left[source] -= number * taken;
        return number;
    }
}
