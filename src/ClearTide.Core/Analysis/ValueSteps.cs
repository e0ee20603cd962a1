using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Analysis;

/// <summary>The values that a sweep gives to one number.</summary>
public static class ValueSteps
{
    /// <summary>More runs than this are refused.</summary>
    public const int Most = 20_000;

    /// <summary>Reads a range as typed; a sentence where it cannot be.</summary>
    /// <param name="spacing">How values lie between the ends.</param>
    /// <param name="from">The first value, as typed.</param>
    /// <param name="to">The last value, as typed.</param>
    /// <param name="count">How many there are, as typed.</param>
    /// <param name="list">Values separated by commas, for <see cref="Spacing.List"/>.</param>
    public static (double[]? Values, string? Problem) Read(Spacing spacing, string from, string to, string count, string list)
    {
        if (spacing == Spacing.List)
        {
            var (values, problem) = NumberList.Read(list);
            if (values is null)
                return (null, problem);
            if (values.Length == 0)
                return (null, "Type the values, separated by commas, as in 0.2, 0.3, 0.5.");
            return values.Length > Most ? (null, $"These are {values.Length:N0} values; {Most:N0} is the limit.") : (values, null);
        }
        if (TypedNumber.Read(from) is not { } low || TypedNumber.Read(to) is not { } high)
            return (null, "A range is two numbers, as in 0.1 and 0.5.");
        if (TypedNumber.Read(count) is not { } many || many != Math.Floor(many) || many < 1)
            return (null, "How many values? Type a whole number, as in 21.");
        if (many > Most)
            return (null, $"These are {many:N0} runs; {Most:N0} is the limit. Take fewer values.");
        if (many > 1 && low == high)
            return (null, $"Both ends of the range are {low:0.####}: there is nothing to vary. Type another end.");
        if (spacing == Spacing.Log && !(low > 0 && high > 0))
            return (null, "A range in equal ratios has both ends above zero. Type another end, or take equal steps.");
        var n = (int)many;
        return (
            [
                .. Enumerable
                    .Range(0, n)
                    .Select(k =>
                    {
                        var share = n == 1 ? 0 : k / (n - 1.0);
                        // Both ends to the bit.
                        return k == 0 ? low
                            : k == n - 1 ? high
                            : spacing == Spacing.Log ? low * Math.Pow(high / low, share)
                            : low + share * (high - low);
                    }),
            ],
            null
        );
    }
}
