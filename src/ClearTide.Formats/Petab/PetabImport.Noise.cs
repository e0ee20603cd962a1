using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Petab;

/// <summary>How observables spread: the law that says it, or why there is none.</summary>
public sealed partial class PetabImport
{
    /// <summary>How the rows of an observable spread, with their errors where these are known; null where a study has no such
    /// law.</summary>
    private (ErrorLaw Law, double[]? Errors)? Law(int place, string id, List<int> rows)
    {
        var (table, measured) = (_problem.Observables, _problem.Measurements);
        if (table[place, "noiseDistribution"] is { Length: > 0 } law && law != "normal")
        {
            _left.Add($"{id} is left out: its noise is {law}, and a study knows normal noise.");
            return null;
        }
        var formulas = rows.Select(row =>
                PetabFormula.Fill(table[place, "noiseFormula"], "noiseParameter", id, measured[row, "noiseParameters"]).Trim('(', ')', ' ')
            )
            .ToList();
        var known = formulas.Select(KnownNumber).ToList();
        var transformed = table[place, "observableTransformation"] is { Length: > 0 } scale && scale != "lin";
        if (known.TrueForAll(number => number is not null))
        {
            if (!transformed)
                return (ErrorLaw.Normal, [.. known.Select(number => number!.Value)]);
            _left.Add($"The known noise of {id} is of its logarithm: it is estimated instead.");
            return (ErrorLaw.LogNormal, null);
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
            return (transformed ? ErrorLaw.LogNormal : ErrorLaw.Normal, null);
        }
        if (
            !transformed
            && names is BinarySyntax { Operator: BinaryOperator.Multiply } product
            && product.Children.Any(child => child is NameSyntax one && SbmlText.Id(one.Name) == id)
        )
        {
            _left.Add($"The noise of {id} is in proportion to it: it is estimated as a coefficient of variation.");
            return (ErrorLaw.Proportional, null);
        }
        _left.Add($"{id} is left out: a study has no law for its noise, {formulas[0]}.");
        return null;
    }

    /// <summary>A noise that is a number, or a parameter that is not estimated.</summary>
    private double? KnownNumber(string text) =>
        PetabTable.Number(text)
        ?? (_parameters.TryGetValue(text, out var row) && !IsEstimated(row) ? _problem.Parameters.Number(row, "nominalValue") : null);
}
