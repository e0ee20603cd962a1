using ClearTide.Core.Reports;

namespace ClearTide.Web.Words;

/// <summary>Formulas over whole runs, where they are typed.</summary>
public static class StatementWords
{
    /// <summary>What can be typed, under the pointer.</summary>
    public static readonly string Hint = $"True or false of a run, or a number: {OutcomeFormula.Functions}";

    /// <summary>A statement with a name of the study's own.</summary>
    public static string Example(string symbol) => $"ever({symbol} > 40) and peak_time({symbol}) > 20";
}
