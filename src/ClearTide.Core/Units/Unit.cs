namespace ClearTide.Core.Units;

/// <summary>A unit as typed behind a number or after <c>per</c>: a product of powers of time units.</summary>
/// <param name="Text">The unit as typed, in normal spelling.</param>
/// <param name="Factors">Each time unit with its power, in the order typed.</param>
public sealed record Unit(string Text, IReadOnlyList<(TimeUnit Unit, int Power)> Factors)
{
    /// <summary>The power of time in this unit: 1 for days, -1 for 1/day.</summary>
    public int TimePower => Factors.Sum(factor => factor.Power);

    /// <summary>What one of this unit is when time is counted in <paramref name="study"/>: 7 for a week counted in days.</summary>
    public double In(TimeUnit study)
    {
        var factor = 1.0;
        foreach (var (unit, power) in Factors) factor *= Math.Pow(unit.Seconds / study.Seconds, power);
        return factor;
    }

    public bool Equals(Unit? other) => other is not null && Text == other.Text && Factors.SequenceEqual(other.Factors);

    public override int GetHashCode() => Text.GetHashCode(StringComparison.Ordinal);
}
