namespace ClearTide.Core.Simulation;

/// <summary>
/// Switches that turn back and forth without end: after many in a row hardly apart, each state of the switches is held for a moment, so
/// that
/// the run goes on, and says so.
/// </summary>
internal sealed class Chatter(double start, double end)
{
    /// <summary>So many switches in a row, each within this share of the span of the last, are chatter.</summary>
    private const int Count = 100;
    private const double Share = 1e-6;

    /// <summary>During chatter a state of the switches is held for this share of the span.</summary>
    private const double Dwell = 5e-4;

    private readonly double _span = end - start;
    private double _last = start;
    private double _since = double.NaN;
    private int _quick;

    /// <summary>Until when switches are not looked at; negative infinity before there was any chatter.</summary>
    public double HeldUntil { get; private set; } = double.NegativeInfinity;

    /// <summary>Whether the last switch stood alone.</summary>
    public bool IsCalm(double time) => _quick == 0 && time > HeldUntil;

    /// <summary>Counts a switch, and begins to hold where there are too many.</summary>
    public void Take(double time)
    {
        _quick = time - _last < Share * _span ? _quick + 1 : 0;
        _last = time;
        var again = HeldUntil > double.NegativeInfinity && time <= HeldUntil + Dwell * _span;
        if (_quick < Count && !again)
            return;
        if (double.IsNaN(_since))
            _since = time;
        Hold(time);
    }

    /// <summary>Holds from a time on.</summary>
    public void Hold(double time)
    {
        _last = time;
        HeldUntil = time + Dwell * _span;
    }

    /// <summary>The note on it, if there was any.</summary>
    public IEnumerable<RunNote> Notes =>
        double.IsNaN(_since) ? [] : [new(RunNoteKind.Chatter, "", _since, Math.Min(end, Math.Max(HeldUntil, _last)))];
}
