using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>An input as a curve, so that what scenarios make of it is seen side by side.</summary>
public static class ShownInput
{
    /// <summary>The study with a quantity that is what an input is over time.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="inputId">Id of the input.</param>
    /// <returns>The study to run, and the id of the quantity; null where there is no such input.</returns>
    public static (StudyDocument Document, string PartId)? In(StudyDocument document, string inputId)
    {
        if (document.Inputs.FirstOrDefault(one => one.Id == inputId) is not { } input)
            return null;
        var shown = new Definition($"{inputId} shown", FreeSymbol.In(document, input.Symbol + "_shown"), "", $"{input.Symbol}(t)");
        return (document with { Definitions = document.Definitions.Add(shown) }, shown.Id);
    }
}
