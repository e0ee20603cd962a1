using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>Damped Newton steps for one block of equations.</summary>
internal sealed unsafe partial class ImplicitValues
{
    /// <summary>One block's search.</summary>
    private sealed class Newton(ImplicitBlock block, VectorFunction function)
    {
        private readonly int _size = block.Slots.Count;
        private readonly double[] _values = new double[block.Slots.Count * (block.Slots.Count + 1)];
        private readonly double[] _step = new double[block.Slots.Count];
        private readonly double[] _next = new double[block.Slots.Count];
        private readonly double[] _scale = new double[block.Slots.Count];
        private readonly List<(double Time, double[] Numbers)> _known = [];
        private readonly LinearSystem _system = new DenseFactors(
            [.. Enumerable.Range(0, block.Slots.Count * block.Slots.Count).Select(k => (k / block.Slots.Count, k % block.Slots.Count))],
            block.Slots.Count
        );

        public void Begin(double time, double[] parameters)
        {
            _known.Clear();
            _known.Add((time, [.. block.Slots.Select(slot => parameters[slot])]));
            for (var i = 0; i < _size; i++)
                _scale[i] = Math.Abs(parameters[block.Slots[i]]);
        }

        public void BeginStretch() => _known.RemoveRange(0, _known.Count - 1);

        public void Keep(double time, double* p)
        {
            var numbers = new double[_size];
            for (var i = 0; i < _size; i++)
            {
                numbers[i] = p[block.Slots[i]];
                _scale[i] = Math.Max(_scale[i], Math.Abs(numbers[i]));
            }
            _known.Add((time, numbers));
        }

        public bool Solve(double time, double* y, double* p, bool gently) => From(Nearest(time), time, y, p, gently);

        public bool Search(double time, double* y, double* p)
        {
            var last = Nearest(time);
            if (!From(last, time, y, p) && !Bracketed(last[0], time, y, p) && !Starts(last).Any(start => From(start, time, y, p)))
                return false;
            _known.Clear();
            Keep(time, p);
            return true;
        }

        /// <summary>The last solution that is known at or before a time on the stretch.</summary>
        private double[] Nearest(double time)
        {
            var (low, high) = (0, _known.Count - 1);
            while (low < high)
            {
                var middle = (low + high + 1) / 2;
                if (_known[middle].Time <= time)
                    low = middle;
                else
                    high = middle - 1;
            }
            return _known[low].Numbers;
        }

        /// <summary>
        /// Places to begin from besides the last solution: its multiples, then all sizes from a thousandth to a million, with both
        /// signs.
        /// </summary>
        private static IEnumerable<double[]> Starts(double[] last)
        {
            foreach (var factor in new[] { 0.5, 2, 0.1, 10, -1, 0 })
                yield return [.. last.Select(value => factor * value)];
            for (var k = 0; k < 40; k++)
                yield return [.. last.Select((_, i) => (((k + i) & 1) == 0 ? 1 : -1) * Math.Pow(10, (7 * k + 3 * i) % 10 - 3))];
        }

        /// <summary>Newton's method from a place; the parameters hold the solution where it ends at one.</summary>
        private bool From(double[] start, double time, double* y, double* p, bool gently = false)
        {
            for (var i = 0; i < _size; i++)
                p[block.Slots[i]] = start[i];
            if (!Correction(time, y, p, _step))
                return false;
            for (var count = 0; count < MostSteps; count++)
            {
                if (IsSmall(_step, p, Converged))
                    return Move(p, _step, 1);
                var left = Norm(_step, p);
                var damping = 1.0;
                while (true)
                {
                    Move(p, _step, damping);
                    // The old derivatives measure what is left; new ones follow from where the step has led.
                    if (Residual(time, y, p, _next) && Norm(_next, p) <= (1 - damping / 4) * left)
                        break;
                    Move(p, _step, -damping);
                    damping /= 2;
                    if (gently || damping < LeastDamping)
                        return IsSmall(_step, p, Rounded);
                }
                if (!Correction(time, y, p, _step))
                    return IsSmall(_next, p, Rounded);
            }
            return IsSmall(_step, p, Rounded);
        }

        private bool Move(double* p, double[] step, double share)
        {
            for (var i = 0; i < _size; i++)
                p[block.Slots[i]] += share * step[i];
            return true;
        }

        private double Size(int i, double* p) => Math.Max(Math.Abs(p[block.Slots[i]]), _scale[i]) + 1e-300;

        private bool IsSmall(double[] step, double* p, double share)
        {
            for (var i = 0; i < _size; i++)
            {
                if (!(Math.Abs(step[i]) <= share * Size(i, p)))
                    return false;
            }
            return true;
        }

        private double Norm(double[] step, double* p)
        {
            var sum = 0.0;
            for (var i = 0; i < _size; i++)
                sum += step[i] / Size(i, p) * (step[i] / Size(i, p));
            return Math.Sqrt(sum);
        }

        /// <summary>Newton's correction with derivatives of where the parameters stand; false where it cannot be had.</summary>
        private bool Correction(double time, double* y, double* p, double[] step)
        {
            fixed (double* values = _values)
            {
                function(time, y, p, values);
                if (!_values.All(double.IsFinite) || !_system.Factor(0, values + _size))
                    return false;
                return Solved(values, step);
            }
        }

        /// <summary>The correction with the derivatives that were factored last.</summary>
        private bool Residual(double time, double* y, double* p, double[] step)
        {
            fixed (double* values = _values)
            {
                function(time, y, p, values);
                return Solved(values, step);
            }
        }

        private bool Solved(double* residual, double[] step)
        {
            fixed (double* x = step)
            {
                for (var i = 0; i < _size; i++)
                    x[i] = residual[i];
                _system.Solve(x);
            }
            return Array.TrueForAll(step, double.IsFinite);
        }

        /// <summary>One equation for one number: a change of sign near the last solution, halved until nothing lies between.</summary>
        private bool Bracketed(double center, double time, double* y, double* p)
        {
            if (_size != 1)
                return false;
            var size = Math.Max(Math.Abs(center), 1e-3);
            double At(double place)
            {
                p[block.Slots[0]] = place;
                fixed (double* values = _values)
                    function(time, y, p, values);
                return _values[0];
            }
            var around = Enumerable
                .Range(-30, 61)
                .SelectMany(k => new[] { center + size * Math.Pow(2, k), center - size * Math.Pow(2, k) })
                .Append(center)
                .Order()
                .ToArray();
            var signs = around.Select(At).ToArray();
            foreach (
                var k in Enumerable
                    .Range(1, around.Length - 1)
                    .OrderBy(k => Math.Min(Math.Abs(around[k] - center), Math.Abs(around[k - 1] - center)))
            )
            {
                if (!(signs[k - 1] * signs[k] <= 0))
                    continue;
                var (low, high, most) = (around[k - 1], around[k], Math.Max(Math.Abs(signs[k - 1]), Math.Abs(signs[k])));
                while (true)
                {
                    var middle = 0.5 * (low + high);
                    if (middle <= low || middle >= high)
                        break;
                    if (At(middle) is var value && value * signs[k - 1] > 0)
                        low = middle;
                    else
                        high = middle;
                }
                // At a pole the sign changes too, but there the equation is far from zero.
                if (Math.Abs(At(high)) <= most && From([high], time, y, p))
                    return true;
            }
            return false;
        }
    }
}
