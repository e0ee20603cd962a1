using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Modules;

/// <summary>Why a module cannot be called so.</summary>
internal static class ModuleRefusals
{
    /// <summary>Characters of the label of a module at most.</summary>
    private const int LongestLabel = 60;

    /// <summary>A sentence that says what to do; null where the name is free.</summary>
    public static string? Of(StudyDocument document, string symbol, string label)
    {
        if (symbol.Length == 0)
            return "A module needs a name that stands before the point, as “pond” in “pond.N”.";
        if (Symbols.Refusal(symbol) is { } refusal)
            return refusal;
        if (label.Length > LongestLabel)
            return $"The label of a module has at most {LongestLabel} characters.";
        if (document.PartBySymbol(symbol) is not null || document.GroupBySymbol(symbol) is not null)
            return $"“{symbol}” is the symbol of a part already; choose another name for the module.";
        return ModuleParts.Named(document, symbol).Any() ? $"There is a module {symbol} already; choose another name." : null;
    }
}
