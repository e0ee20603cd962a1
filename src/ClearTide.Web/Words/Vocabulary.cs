using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Sampling;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Web.Words;

/// <summary>What can be typed into a line, for completion: symbols with label and unit, functions with their arguments, unit
/// words.</summary>
public static class Vocabulary
{
    /// <summary>One word: what is inserted, what kind of thing it is, and what stands beside it.</summary>
    private sealed record Word(string Text, string Kind, string Hint);

    /// <summary>The functions, distributions and words of the language: the same for all studies.</summary>
    private static readonly IReadOnlyList<Word> Language =
    [
        .. Functions.All.Select(function => new Word(function.Name + "(", "function", function.Usage)),
        .. Distribution.All.Select(known => new Word(known.Name + "(", "draw", known.Usage + " every …")),
        new("t", "time", "time"),
        new("pi", "number", "3.14159…"),
    ];

    private static readonly string[] Usual =
    [
        "seconds",
        "minutes",
        "hours",
        "days",
        "weeks",
        "months",
        "years",
        "people",
        "animals",
        "mg",
        "g",
        "kg",
        "L",
        "mL",
        "mol",
        "mg/L",
    ];

    public static string Json(LoweredModel lowered)
    {
        var document = lowered.Document;
        string Hint(ISymbolPart part)
        {
            var unit = lowered.Units.Of(part.Id).Unit?.Text() ?? "";
            var label = part.Label == part.Symbol ? PartKinds.Noun(part) : part.Label;
            return unit.Length > 0 ? $"{label} · {unit}" : label;
        }
        var symbols = document.SymbolParts.Select(part => new Word(
            part.Symbol
                + part switch
                {
                    Input => "(t)",
                    ResponseCurve => "(",
                    _ => "",
                },
            "symbol",
            Hint(part)
        ));
        var units = Usual.Concat(document.Units.Select(rule => rule.Word)).Select(word => new Word(word, "unit", "unit"));
        return JsonSerializer.Serialize(symbols.Concat(Language).Concat(units).Select(word => new[] { word.Text, word.Kind, word.Hint }));
    }
}
