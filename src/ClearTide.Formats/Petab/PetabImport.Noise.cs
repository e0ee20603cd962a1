using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Petab;

/// <summary>How observables spread: the law that says it, or why there is none.</summary>
public sealed partial class PetabImport
{
    /// <param name="Law">The law of an observable.</param>
    /// <param name="Errors">Known standard deviations of its rows; null where these have none of their own.</param>
    /// <param name="Spread">One that is known of all rows; null where it is estimated.</param>
    private sealed record Noise(ErrorLaw Law, double[]? Errors, double? Spread = null);

    /// <summary>How the rows of an observable spread, with their errors where these are known; null where a study has no such
    /// law.</summary>
    private Noise? Law(int place, string id, List<int> rows)
    {
        var (table, measured) = (_problem.Observables, _problem.Measurements);
        if (table[place, "noiseDistribution"] is { Length: > 0 } law && law != "normal")
        {
            _left.Add($"{id} is left out: its noise is {law}, and a study knows normal noise.");
            return null;
        }
        var formulas = rows.Select(row =>
                PetabFormula.Bare(PetabFormula.Fill(table[place, "noiseFormula"], "noiseParameter", id, measured[row, "noiseParameters"]))
            )
            .ToList();
        var known = formulas.Select(KnownNumber).ToList();
        var scale = table[place, "observableTransformation"];
        var transformed = scale is not ("" or "lin");
        if (known.TrueForAll(number => number is not null))
        {
            if (!transformed)
                return new(ErrorLaw.Normal, [.. known.Select(number => number!.Value)]);
            if (known.Distinct().Count() == 1)
            {
                // The logarithm to the base ten is as many times smaller as the natural logarithm of ten.
                return new(ErrorLaw.LogNormal, null, known[0] * (scale == "log10" ? Math.Log(10) : 1));
            }
            _left.Add($"The known noise of {id} is of its logarithm and another in each row: one is estimated for all.");
            return new(ErrorLaw.LogNormal, null);
        }
        if (formulas.Distinct().Count() > 1)
        {
            _left.Add($"{id} is left out: its noise is estimated apart in some of its rows. Make an observable of each.");
            return null;
        }
        var names = PetabFormula.Read(formulas[0], $"noiseFormula of {id}");
        if (names is NameSyntax)
        {
            _left.Add($"The noise of {id} is estimated as the spread of its law, without bounds.");
            return new(transformed ? ErrorLaw.LogNormal : ErrorLaw.Normal, null);
        }
        if (
            !transformed
            && names is BinarySyntax { Operator: BinaryOperator.Multiply }
            && Share(formulas[0], id, table[place, "observableFormula"]) is { } share
        )
        {
            // A number, or a parameter that is not estimated, is a coefficient of variation that is known.
            if (KnownNumber(share) is { } factor)
                return new(ErrorLaw.Proportional, null, factor);
            _left.Add($"The noise of {id} is in proportion to it: it is estimated as a coefficient of variation.");
            return new(ErrorLaw.Proportional, null);
        }
        _left.Add($"{id} is left out: a study has no law for its noise, {formulas[0]}.");
        return null;
    }

    /// <summary>What an observable is multiplied by in its noise, whichever stands first: itself by its id or by its formula, or its
    /// absolute value; null where the noise is something else.</summary>
    private static string? Share(string noise, string id, string formula)
    {
        static string Plain(string text) => string.Concat(PetabFormula.Bare(text).Where(sign => !char.IsWhiteSpace(sign)));
        bool IsObservable(string text)
        {
            var plain = Plain(text);
            if (plain.StartsWith("abs(", StringComparison.Ordinal))
                plain = Plain(plain[3..]);
            return plain == id || plain == Plain(formula);
        }
        for (var cut = noise.IndexOf('*', StringComparison.Ordinal); cut > 0; cut = noise.IndexOf('*', cut + 1))
        {
            var (left, right) = (noise[..cut], noise[(cut + 1)..]);
            if (IsObservable(left))
                return Plain(right);
            if (IsObservable(right))
                return Plain(left);
        }
        return null;
    }

    /// <summary>A noise that is a number, or a parameter that is not estimated.</summary>
    private double? KnownNumber(string text) =>
        PetabTable.Number(text)
        ?? (_parameters.TryGetValue(text, out var row) && !IsEstimated(row) ? _problem.Parameters.Number(row, "nominalValue") : null);
}
