using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Web.Words;

/// <summary>What a value of a model is, in words, whatever kind of part it belongs to.</summary>
public static class ValueWords
{
    public static string Of(StudyDocument document, ModelValue value) =>
        (document.Part(value.PartId) ?? WrittenOut.Of(document).Document.Part(value.PartId)) switch
        {
            Flow flow when value.Address.Field == ValueField.Share => $"share of {document.Describe(flow)}",
            Flow flow => $"{document.Describe(flow)} {flow.Label}".TrimEnd(),
            Compartment compartment => value.Address.Field switch
            {
                ValueField.Total => $"{compartment.Label}: the total that it starts with the rest of",
                ValueField.Next => $"{compartment.Label}, one step later",
                _ => $"{compartment.Label}, at the start",
            },
            ResponseCurve curve =>
                $"{curve.Label}, {value.Address.Field switch
        {
            ValueField.Low => "at low places",
            ValueField.High => "at high places",
            ValueField.Half => "its half-point",
            _ => "its slope",
        }}",
            ISymbolPart part => part.Label,
            var part => part?.Name ?? value.Address.ToString(),
        };
}
