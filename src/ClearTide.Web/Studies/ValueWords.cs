using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Web.Studies;

/// <summary>What a value of a model is, in words, whatever kind of part it belongs to.</summary>
public static class ValueWords
{
    public static string Of(StudyDocument document, ModelValue value) =>
        document.Part(value.PartId) switch
        {
            Flow flow when Field(value) == "share" => $"share of {document.Describe(flow)}",
            Flow flow => $"{document.Describe(flow)} {flow.Label}".TrimEnd(),
            Compartment compartment => Field(value) switch
            {
                "total" => "The total that the rest is taken of",
                "next" => $"{compartment.Label}, one step later",
                _ => $"{compartment.Label}, at the start",
            },
            ResponseCurve curve =>
                $"{curve.Label}, {Field(value) switch
        {
            "low" => "at low places",
            "high" => "at high places",
            "half" => "its half-point",
            "slope" => "its slope",
            "from" => "where it begins",
            "until" => "where it ends",
            var other => other,
        }}",
            ISymbolPart part => part.Label,
            var part => part?.Name ?? value.Address,
        };

    private static string Field(ModelValue value) => value.Address.Split('.').ElementAtOrDefault(1) ?? "";
}
