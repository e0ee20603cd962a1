using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>
/// The computed curves of a panel: formulas over results, one a line, with or without a name before an equals sign. They are known by
/// their names behind a mark that no part's id has.
/// </summary>
public static class ComputedCurves
{
    /// <summary>Computed curves that one panel may have.</summary>
    public const int Most = 12;

    private const string Mark = "=";

    /// <summary>Whether an id is one of a computed curve, and not of a part.</summary>
    /// <param name="id">Id of a curve of a panel.</param>
    public static bool Is(string id) => id.StartsWith(Mark, StringComparison.Ordinal);

    /// <summary>What a computed curve is known by.</summary>
    /// <param name="name">The name of the curve.</param>
    public static string IdOf(string name) => Mark + name;

    /// <summary>The lines of a panel that hold a formula.</summary>
    /// <param name="panel">The panel.</param>
    public static IEnumerable<string> Lines(Panel panel) =>
        panel.Formulas.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Take(Most);

    /// <summary>The names of its computed curves.</summary>
    /// <param name="panel">The panel.</param>
    public static IEnumerable<string> Names(Panel panel) => Lines(panel).Select(line => Split(line).Name);

    /// <summary>A line as its name and its formula; a formula without a name is its own.</summary>
    /// <param name="line">The line as typed.</param>
    public static (string Name, string Formula) Split(string line)
    {
        var cut = NameEnd(line);
        return cut > 0 ? (line[..cut].Trim(), line[(cut + 1)..].Trim()) : (line.Trim(), line.Trim());
    }

    /// <summary>Where the equals sign behind a name stands, or 0; comparisons have one too.</summary>
    private static int NameEnd(string line)
    {
        var cut = line.IndexOf('=', StringComparison.Ordinal);
        return cut > 0 && cut + 1 < line.Length && line[cut + 1] != '=' && !"<>!".Contains(line[cut - 1]) ? cut : 0;
    }

    /// <summary>The panel after a part got another symbol: its formulas use the new one, and curves without a name keep their
    /// places.</summary>
    internal static Panel Renamed(Panel panel, string from, string to)
    {
        if (panel.Formulas.Length == 0)
            return panel;
        var moved = new Dictionary<string, string>();
        string Line(string line)
        {
            var cut = NameEnd(line) is var end and > 0 ? end + 1 : 0;
            var renamed = line[..cut] + LineNames.InFormula(line[cut..], from, to);
            moved[IdOf(Split(line).Name)] = IdOf(Split(renamed).Name);
            return renamed;
        }
        string Known(string id) => moved.GetValueOrDefault(id, id);
        var formulas = string.Join('\n', panel.Formulas.Split('\n').Select(Line));
        return panel with
        {
            Formulas = formulas,
            Curves = [.. panel.Curves.Select(Known)],
            Second = [.. panel.Second.Select(Known)],
            Of = Known(panel.Of),
            Against = Known(panel.Against),
        };
    }
}
