using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>What a curve or a condition comes to along a run without chance, from the continuous output of its steps. Conditions turn at
/// ends of steps, where the run has located them.</summary>
/// <param name="kind">What of it.</param>
/// <param name="row">Which of the formulas along the run it is about; -1 for a flow.</param>
/// <param name="flows">Places of flows among the outputs, whose sum it is about where there is no row.</param>
/// <param name="keepsPath">Whether all of the curve is kept, for a time that is known only when the run has ended.</param>
internal sealed class SmoothReduction(RunReduction kind, int row, int[] flows, bool keepsPath)
{
    private readonly List<(double From, double Until, double[] Values)>? _path = keepsPath ? [] : null;
    private double _from = double.NaN,
        _until,
        _first,
        _last,
        _most = double.NegativeInfinity,
        _mostTime,
        _least = double.PositiveInfinity,
        _integral,
        _held,
        _firstTime = double.NaN,
        _turn = double.NaN,
        _at = double.NaN;
    private bool _always = true;

    /// <inheritdoc cref="SmoothReduction(RunReduction, int, int[], bool)" path="/param[@name='row']"/>
    public int Row { get; } = row;

    /// <inheritdoc cref="SmoothReduction(RunReduction, int, int[], bool)" path="/param[@name='flows']"/>
    public int[] Flows { get; } = flows;

    /// <summary>The time that <see cref="RunReduction.Value"/> is about, where it is known beforehand.</summary>
    public double At { private get; init; }

    /// <summary>The curve over one stretch.</summary>
    /// <param name="piece">A condition is 1 all over it, or 0.</param>
    public void Take(InterpolantSegment piece)
    {
        if (double.IsNaN(_from))
            (_from, _first) = (piece.From, piece.First);
        switch (kind)
        {
            case RunReduction.Peak or RunReduction.PeakTime:
                if (piece.Bounds().High > _most && piece.Greatest(1) is var (most, mostTime) && most > _most)
                    (_most, _mostTime) = (most, mostTime);
                break;
            case RunReduction.Lowest:
                if (piece.Bounds().Low < _least)
                    _least = Math.Min(_least, piece.Greatest(-1).Value);
                break;
            case RunReduction.Total or RunReduction.Mean:
                _integral += piece.Integral();
                break;
            case RunReduction.Value:
                if (_path is null && At >= piece.From && At <= piece.Until)
                    _at = piece.At(At);
                break;
            case RunReduction.Ever or RunReduction.Always or RunReduction.FirstTime or RunReduction.Duration or RunReduction.Turn:
                Condition(piece);
                break;
        }
        if (_path is not null)
        {
            var values = new double[InterpolantSegment.NodeCount];
            piece.CopyTo(values);
            _path.Add((piece.From, piece.Until, values));
        }
        (_until, _last) = (piece.Until, piece.Last);
    }

    private void Condition(InterpolantSegment piece)
    {
        // Not at an end, where what turns may count either way: what holds at the last moment alone is no stretch.
        var holds = piece.At(0.5 * (piece.From + piece.Until)) != 0;
        if (_from == piece.From && double.IsNaN(_turn))
            _first = holds ? 1 : 0;
        if (holds)
        {
            _held += piece.Until - piece.From;
            if (double.IsNaN(_firstTime))
                _firstTime = piece.From;
        }
        _always &= holds;
        if (holds != (_first != 0) && double.IsNaN(_turn))
            _turn = piece.From;
    }

    /// <summary>What it has come to; not a number where the run has no such outcome.</summary>
    /// <param name="at">The time of <see cref="RunReduction.Value"/>, where it was not known beforehand.</param>
    public double Value(double at = double.NaN) =>
        kind switch
        {
            _ when double.IsNaN(_from) => double.NaN,
            RunReduction.Peak => _most,
            RunReduction.PeakTime => _mostTime,
            RunReduction.Lowest => _least,
            RunReduction.Mean => _integral / (_until - _from),
            RunReduction.Start => _first,
            RunReduction.End => _last,
            RunReduction.Total => _integral,
            RunReduction.Value when _path is not null => Along(at),
            RunReduction.Value => _at,
            RunReduction.Ever => double.IsNaN(_firstTime) ? 0 : 1,
            RunReduction.Always => _always ? 1 : 0,
            RunReduction.FirstTime => _firstTime,
            RunReduction.Turn => _turn,
            _ => _held,
        };

    private double Along(double at)
    {
        // Of two stretches that meet there the later one: what stands behind a jump.
        var found = _path!.FindLastIndex(piece => piece.From <= at && at <= piece.Until);
        return found < 0 ? double.NaN : new InterpolantSegment(_path[found].From, _path[found].Until, _path[found].Values).At(at);
    }
}
