namespace ClearTide.Core.Language;

/// <summary>Names of parts of modules: <c>pond.N</c>, and in a module of a module <c>farm.pond.N</c>.</summary>
public static class ModuleName
{
    /// <summary>The module that a symbol is of; empty for one of the study itself.</summary>
    /// <param name="symbol">The name in formulas.</param>
    public static string Of(string symbol) => Cut(symbol) is var at and > 0 ? symbol[..at] : "";

    /// <summary>What a symbol is called inside its module.</summary>
    /// <param name="symbol">The name in formulas.</param>
    public static string Inner(string symbol) => symbol[(Cut(symbol) + 1)..];

    /// <summary>The last point before any index: <c>pond.C[a,b]</c>.</summary>
    private static int Cut(string symbol)
    {
        var bracket = symbol.IndexOf('[', StringComparison.Ordinal);
        return symbol.LastIndexOf('.', bracket < 0 ? symbol.Length - 1 : bracket);
    }
}
