using System.Text.RegularExpressions;
using ClearTide.Core.Language;

namespace ClearTide.Core.Interventions;

/// <summary>What a measure costs, as it is typed: <c>500, 20 per day, 3 each</c>. The parts add up; in what they are counted is the
/// reader's.</summary>
/// <param name="Once">Where it acts at all.</param>
/// <param name="PerTime">For each unit of the study's time that it lasts.</param>
/// <param name="EachTime">Each time it acts.</param>
/// <param name="EachUnit">For each unit that it moves at once.</param>
public sealed partial record CostLine(double Once, double PerTime, double EachTime, double EachUnit)
{
    /// <summary>Characters of a line at most.</summary>
    public const int Longest = 120;

    /// <summary>One cost is at most so much.</summary>
    private const double Most = 1e12;

    /// <summary>What costs nothing.</summary>
    public static readonly CostLine None = new(0, 0, 0, 0);

    [GeneratedRegex(@"^(?<number>[^\s]+)(?:\s+(?<how>once|each time|each|per (?<unit>\p{L}+)))?$", RegexOptions.IgnoreCase)]
    private static partial Regex Part();

    [GeneratedRegex(@"\s*(?:[;+]|,(?=\s)|\band\b)\s*")]
    private static partial Regex Between();

    /// <summary>A comma without a blank: a decimal one, one between thousands, or the end of a cost.</summary>
    [GeneratedRegex(@"\d+,\d+")]
    private static partial Regex BothWays();

    /// <summary>A line of all that can be typed.</summary>
    /// <param name="unit">The unit of time of the study.</param>
    public static string Example(TimeUnit unit) => $"500, 20 per {unit.Singular}, 50 each time, 3 each";

    /// <summary>Reads a line; null and a sentence that says what to do where it is none. An empty one costs nothing.</summary>
    /// <param name="text">As typed: <c>40 per day while active</c>.</param>
    /// <param name="unit">The study's unit of time.</param>
    public static (CostLine? Line, string? Problem) Read(string text, TimeUnit unit)
    {
        var example = Example(unit);
        if (text.Length > Longest)
            return (null, $"A cost has at most {Longest} characters, as in “{example}”.");
        if (BothWays().Match(text) is { Success: true } both)
            return (
                null,
                $"“{both.Value}” can be read in two ways. Write {both.Value.Replace(',', '.')} for one number, or "
                    + $"{both.Value.Replace(",", ", ", StringComparison.Ordinal)} for two costs."
            );
        var cost = None;
        foreach (var part in Between().Split(text.Trim()).Where(part => part.Length > 0))
        {
            var match = Part().Match(part);
            if (!match.Success || TypedNumber.Read(match.Groups["number"].Value) is not { } number || !double.IsFinite(number))
                return (null, $"“{part}” is no cost. Type what it costs once, for each time, or for each unit, as in “{example}”.");
            if (Math.Abs(number) > Most)
                return (null, $"A cost is at most {Most:G}, so that sums stay numbers. Count it in larger units.");
            switch (match.Groups["how"].Value.ToLowerInvariant())
            {
                case "" or "once":
                    cost = cost with { Once = cost.Once + number };
                    break;
                case "each time":
                    cost = cost with { EachTime = cost.EachTime + number };
                    break;
                case "each":
                    cost = cost with { EachUnit = cost.EachUnit + number };
                    break;
                default:
                    var word = match.Groups["unit"].Value.ToLowerInvariant();
                    if (TimeUnit.Find(word) is not { } per)
                        return (null, $"“{word}” is no unit of time. What each unit costs that it moves is said as “3 each”.");
                    cost = cost with { PerTime = cost.PerTime + number * unit.Seconds / per.Seconds };
                    break;
            }
        }
        return (cost, null);
    }
}
