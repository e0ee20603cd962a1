using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Core.Model;

/// <summary>Checks that <c>after</c> is given a duration and <c>at</c> a rate, as far as typed units of time tell.</summary>
internal static class RateDimension
{
    /// <summary>What is wrong, with whole rates (word and line) as fixes; null where nothing is.</summary>
    public static FormulaProblem? Misuse(StudyDocument document, RateKind kind, Syntax tree, string line)
    {
        var span = tree.Span;
        if (kind == RateKind.PerHead && !document.Solver.IsDiscrete && tree is NumberSyntax { Percent: true } percent)
        {
            var unit = document.TimeUnit.Singular;
            var share = percent.Value.ToString("0.######", CultureInfo.InvariantCulture);
            return new(
                span,
                $"Is that {share} per {unit}, or do {percent.Text}% leave within {document.TimeUnit.Each()}? The two differ.",
                [
                    new($"{share} per {unit}", $"at {share} per {unit}"),
                    new($"{percent.Text}% leave within {document.TimeUnit.Each()}", $"at -ln(1 - {share}) per {unit}"),
                ]
            );
        }
        var power = TimeDimension.Of(tree, document.UnitTable(), symbol => OfSymbol(document, symbol, []));
        return (kind, power) switch
        {
            (RateKind.MeanStay, -1) => new(
                span,
                $"“after” takes a duration, and {line} is a rate. Say “at {line}”.",
                [new($"at {line}", $"at {line}")]
            ),
            (RateKind.PerHead, 1) => new(
                span,
                $"“at” takes a rate, and {line} is a duration. Say “after {line}”.",
                [new($"after {line}", $"after {line}")]
            ),
            _ => null,
        };
    }

    /// <summary>The power of time of a symbol, following definitions; a circle says nothing.</summary>
    private static int? OfSymbol(StudyDocument document, string symbol, HashSet<string> seen)
    {
        if (!seen.Add(symbol) || document.DefinitionBySymbol(symbol) is not { } definition)
            return null;
        var power = Formula.Read(definition.Text).Tree is { } tree
            ? TimeDimension.Of(tree, document.UnitTable(), name => OfSymbol(document, name, seen))
            : null;
        seen.Remove(symbol);
        return power;
    }
}
