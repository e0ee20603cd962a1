namespace ClearTide.Core.Simulation;

/// <summary>Says which ends of steps become rows of a run besides its output times: where steps are so short that these could not show
/// what happens.</summary>
/// <param name="times">The output times.</param>
/// <param name="isOn">Whether any are wanted.</param>
internal sealed class DetailRule(double[] times, bool isOn)
{
    private const int MostRows = 1500;

    private readonly double _spacing = (times[^1] - times[0]) / Math.Max(1, times.Length - 1);
    private int _count;

    /// <summary>A number of rows that is seldom exceeded.</summary>
    public int Expected => isOn ? Math.Min(times.Length / 2, MostRows) : 0;

    /// <summary>Whether the end of a step becomes a row.</summary>
    /// <param name="from">Where the stretch begins, in the model's unit of time.</param>
    /// <param name="until">Where it ends.</param>
    /// <param name="lastRow">The time of the row before.</param>
    /// <param name="nextOutput">The next output time.</param>
    public bool Wants(double from, double until, double lastRow, double nextOutput)
    {
        if (!isOn || _count >= MostRows || until - from >= 0.5 * _spacing || until - lastRow < 0.02 * _spacing || until >= nextOutput)
            return false;
        _count++;
        return true;
    }
}
