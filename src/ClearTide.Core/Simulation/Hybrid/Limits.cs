using MathNet.Numerics.LinearAlgebra;

namespace ClearTide.Core.Simulation;

/// <summary>
/// The limited flows of one run. Out of an empty compartment free exits leave first; limited ones share in proportion what still flows in.
/// Chains and circles of empty compartments take the least fixed point from zero, so that nothing flows that nothing feeds.
/// </summary>
internal sealed unsafe class Limits
{
    private enum Status
    {
        /// <summary>The compartment holds something: all exits flow in full.</summary>
        Full,

        /// <summary>It is empty and held at exactly zero.</summary>
        Empty,

        /// <summary>Free exits have taken it below zero: limited ones give nothing until it is back.</summary>
        Below,
    }

    /// <summary>Beyond this many rounds the fixed point is finished by solving for what is not at its bound.</summary>
    private const int Rounds = 60;

    private readonly LimitedFlows _network;
    private readonly Status[] _status;
    private readonly double[] _flows;
    private readonly double[] _factor;

    /// <summary>Since when its limited exits are held back, or not a number.</summary>
    private readonly double[] _since;

    public Limits(LimitedFlows network)
    {
        _network = network;
        _status = new Status[network.States.Length];
        _flows = new double[3 * network.States.Length + network.Between.Length];
        _factor = new double[network.States.Length];
        _since = new double[network.States.Length];
        Array.Fill(_since, double.NaN);
    }

    /// <summary>Stretches of time over which limited exits were held back.</summary>
    public List<RunNote> Notes { get; } = [];

    private bool AnyHeld => Array.Exists(_status, status => status != Status.Full);

    private double Arrives(int k) => _flows[3 * k];

    private double Leaves(int k) => _flows[3 * k + 1];

    private double Demand(int k) => _flows[3 * k + 2];

    /// <summary>Writes the factors that hold back limited exits into the parameters.</summary>
    public void Fill(double time, double* y, double* p)
    {
        if (!AnyHeld)
        {
            foreach (var slot in _network.Slots)
                p[slot] = 1;
            return;
        }
        Solve(time, y, p);
        for (var k = 0; k < _factor.Length; k++)
            p[_network.Slots[k]] = _factor[k];
    }

    /// <summary>What flows into a compartment with the factors as they are.</summary>
    private double Inflow(int k)
    {
        var sum = Arrives(k);
        for (var pair = 0; pair < _network.Between.Length; pair++)
        {
            if (_network.Between[pair].To == k)
                sum += _factor[_network.Between[pair].From] * _flows[3 * _status.Length + pair];
        }
        return sum;
    }

    private void Solve(double time, double* y, double* p)
    {
        fixed (double* flows = _flows)
            _network.Flows(time, y, p, flows);
        for (var k = 0; k < _factor.Length; k++)
            _factor[k] = _status[k] == Status.Full ? 1 : 0;
        for (var round = 0; round < Rounds; round++)
        {
            var moved = 0.0;
            for (var k = 0; k < _factor.Length; k++)
            {
                if (_status[k] != Status.Empty)
                    continue;
                var next = FactorOf(k);
                moved = Math.Max(moved, Math.Abs(next - _factor[k]));
                _factor[k] = next;
            }
            if (moved <= 1e-15)
                return;
        }
        Finish();
    }

    private double FactorOf(int k) => Demand(k) > 0 ? Math.Clamp((Inflow(k) - Leaves(k)) / Demand(k), 0, 1) : 1;

    /// <summary>The factors strictly between their bounds solve a linear system; each solution may bring others to their bound.</summary>
    private void Finish()
    {
        for (var attempt = 0; attempt <= _factor.Length; attempt++)
        {
            var open = Enumerable.Range(0, _factor.Length).Where(k => _status[k] == Status.Empty && _factor[k] is > 0 and < 1).ToList();
            if (open.Count == 0)
                return;
            var matrix = Matrix<double>.Build.DenseIdentity(open.Count);
            var right = Vector<double>.Build.Dense(open.Count);
            for (var row = 0; row < open.Count; row++)
            {
                var k = open[row];
                right[row] = (Arrives(k) - Leaves(k)) / Demand(k);
                for (var pair = 0; pair < _network.Between.Length; pair++)
                {
                    if (_network.Between[pair].To != k)
                        continue;
                    var (from, share) = (_network.Between[pair].From, _flows[3 * _status.Length + pair] / Demand(k));
                    if (open.IndexOf(from) is var column && column >= 0)
                        matrix[row, column] -= share;
                    else
                        right[row] += _factor[from] * share;
                }
            }
            var solved = matrix.Solve(right);
            var settled = true;
            for (var row = 0; row < open.Count; row++)
            {
                // A circle that feeds itself without bound runs up to its demand.
                var next = double.IsFinite(solved[row]) && solved[row] >= _factor[open[row]] - 1e-9 ? Math.Min(solved[row], 1) : 1;
                if (next >= 1 && _factor[open[row]] < 1)
                    settled = false;
                _factor[open[row]] = next;
            }
            if (settled)
                return;
        }
    }

    /// <summary>Whether a compartment runs empty, fills again, or goes below zero at this time and state.</summary>
    public bool Changes(double time, double* y, double* p)
    {
        var solved = false;
        for (var k = 0; k < _status.Length; k++)
        {
            var amount = y[_network.States[k]];
            if (_status[k] == Status.Full && amount < 0)
                return true;
            if (_status[k] == Status.Below && amount >= 0)
                return true;
            if (_status[k] != Status.Empty)
                continue;
            if (!solved)
                Solve(time, y, p);
            solved = true;
            if (Left(k) != Status.Empty)
                return true;
        }
        return false;
    }

    /// <summary>How an empty compartment would change at the present flows.</summary>
    private Status Left(int k)
    {
        var left = Inflow(k) - Leaves(k);
        // Flows are sums of a few terms: a difference in their last bits is none.
        var noise = 1e-13 * (Math.Abs(Inflow(k)) + Math.Abs(Leaves(k)));
        return left > Demand(k) + noise ? Status.Full
            : left < -noise ? Status.Below
            : Status.Empty;
    }

    /// <summary>Takes up what has changed: empty compartments are put to exactly zero. True where anything did.</summary>
    public bool Update(double time, double* y, double* p, bool atStart = false)
    {
        var changed = false;
        for (var k = 0; k < _status.Length; k++)
        {
            var amount = y[_network.States[k]];
            var next = _status[k];
            if (atStart)
                next =
                    amount > 0 ? Status.Full
                    : amount < 0 ? Status.Below
                    : Status.Empty;
            else if ((next == Status.Full && amount < 0) || (next == Status.Below && amount >= 0))
                next = Status.Empty;
            if (next == Status.Empty && _status[k] != next)
                y[_network.States[k]] = 0;
            changed |= Put(k, next);
        }
        for (var round = 0; round <= 2 * _status.Length; round++)
        {
            if (!AnyHeld)
                break;
            Solve(time, y, p);
            var settled = true;
            for (var k = 0; k < _status.Length; k++)
            {
                if (_status[k] != Status.Empty || Left(k) is var next && next == Status.Empty)
                    continue;
                settled = false;
                changed |= Put(k, Left(k));
                break;
            }
            if (settled)
                break;
        }
        Watch(time);
        Fill(time, y, p);
        return changed;
    }

    private bool Put(int k, Status status)
    {
        if (_status[k] == status)
            return false;
        _status[k] = status;
        return true;
    }

    /// <summary>Notes where exits begin and cease to be held back: their compartment is empty and they ask for something.</summary>
    private void Watch(double time)
    {
        for (var k = 0; k < _status.Length; k++)
        {
            var held = _status[k] != Status.Full && Demand(k) > 0;
            if (held == !double.IsNaN(_since[k]))
                continue;
            if (!held)
                Note(k, time);
            _since[k] = held ? time : double.NaN;
        }
    }

    private void Note(int k, double until)
    {
        if (until > _since[k])
            Notes.Add(new(RunNoteKind.Limited, _network.Names[k], _since[k], until) { CompartmentId = _network.Compartments[k] });
    }

    /// <summary>Keeps empty compartments at exactly zero, which the solver does but for rounding.</summary>
    public void Hold(double* y)
    {
        for (var k = 0; k < _status.Length; k++)
        {
            if (_status[k] == Status.Empty)
                y[_network.States[k]] = 0;
        }
    }

    /// <summary>Closes the stretches that are open at the end of a run.</summary>
    public void End(double time)
    {
        for (var k = 0; k < _status.Length; k++)
        {
            if (!double.IsNaN(_since[k]))
                Note(k, time);
        }
    }
}
