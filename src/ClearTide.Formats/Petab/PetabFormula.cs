using System.Text.RegularExpressions;
using ClearTide.Core.Language;
using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Petab;

/// <summary>Formulas of tables: as the formula language has them, with ids of the model as names.</summary>
internal static partial class PetabFormula
{
    /// <summary>A formula as a tree whose names are ids.</summary>
    /// <param name="where">What it is, for the message.</param>
    /// <exception cref="PetabException">It cannot be read.</exception>
    public static Syntax Read(string text, string where)
    {
        // Natural logarithms and powers have other signs here.
        var ours = Logarithm().Replace(text.Replace("**", "^", StringComparison.Ordinal), "ln(");
        ours = Name().Replace(ours, match => match.Value == "time" ? "t" : SbmlText.Alias(match.Value));
        var read = Formula.Read(ours);
        return read.Tree ?? throw new PetabException($"{where}, “{text}”, cannot be read: {read.Problem!.Message}");
    }

    /// <summary>A text with its placeholders filled in: <c>observableParameter1_id</c> by the first of the overrides, and so on.</summary>
    /// <param name="kind"><c>observableParameter</c> or <c>noiseParameter</c>.</param>
    /// <param name="overrides">What a row of measurements says, with semicolons between.</param>
    public static string Fill(string formula, string kind, string observable, string overrides)
    {
        var given = overrides.Split(';', StringSplitOptions.TrimEntries);
        for (var k = 0; k < given.Length && given[k].Length > 0; k++)
            formula = Regex.Replace(formula, $@"\b{kind}{k + 1}_{Regex.Escape(observable)}\b", $"({given[k]})");
        return formula;
    }

    /// <summary>A text without the parentheses that stand around all of it.</summary>
    public static string Bare(string formula)
    {
        formula = formula.Trim();
        while (formula.Length > 1 && formula[0] == '(' && Closing(formula) == formula.Length - 1)
            formula = formula[1..^1].Trim();
        return formula;
    }

    /// <summary>Where the first parenthesis closes; -1 where it does not.</summary>
    private static int Closing(string formula)
    {
        var depth = 0;
        for (var k = 0; k < formula.Length; k++)
        {
            depth +=
                formula[k] == '(' ? 1
                : formula[k] == ')' ? -1
                : 0;
            if (depth == 0)
                return k;
        }
        return -1;
    }

    [GeneratedRegex(@"\blog\s*\(")]
    private static partial Regex Logarithm();

    [GeneratedRegex(@"[A-Za-z_]\w*")]
    private static partial Regex Name();
}
