using System.Globalization;

namespace ClearTide.Formats.Sbml;

/// <summary>Numbers and names as SBML writes them.</summary>
internal static class SbmlText
{
    /// <summary>A number of XML Schema's kind double, or null.</summary>
    public static double? Number(string? text) =>
        text?.Trim() switch
        {
            null or "" => null,
            "INF" => double.PositiveInfinity,
            "-INF" => double.NegativeInfinity,
            "NaN" => double.NaN,
            var plain => double.TryParse(plain, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) ? value : null,
        };

    // No id has a prime, so that the stand-in is no other id.
    private const string StandIn = "t′";

    /// <summary>The name by which trees know an id: its own, but for the one that stands for time there.</summary>
    public static string Alias(string id) => id == "t" ? StandIn : id;

    /// <summary>The id that trees know by a name.</summary>
    public static string Id(string alias) => alias == StandIn ? "t" : alias;
}
