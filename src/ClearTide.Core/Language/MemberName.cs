namespace ClearTide.Core.Language;

/// <summary>
/// Names of members of split parts: <c>S[child]</c>, <c>C[child,old]</c>. Inside the program the indices stand without spaces, so that a
/// name is
/// one text whatever was typed; people read it with a space behind each comma.
/// </summary>
public static class MemberName
{
    /// <summary>The name of a part with these indices.</summary>
    /// <param name="symbol">The name in formulas.</param>
    /// <param name="indices">One member of each group.</param>
    public static string Of(string symbol, IEnumerable<string> indices) => $"{symbol}[{string.Join(',', indices)}]";

    /// <summary>The part before the brackets; the whole name where there are none.</summary>
    /// <param name="name">With brackets or without.</param>
    public static string BaseOf(string name) => name.IndexOf('[', StringComparison.Ordinal) is var at and > 0 ? name[..at] : name;

    /// <summary>What stands in the brackets; empty where there are none.</summary>
    /// <param name="name">With brackets or without.</param>
    public static IReadOnlyList<string> IndicesOf(string name) =>
        name.IndexOf('[', StringComparison.Ordinal) is var at and > 0 ? name[(at + 1)..^1].Split(',') : [];

    /// <summary>The name as people read and type it.</summary>
    /// <param name="name">With brackets or without.</param>
    public static string Print(string name) =>
        name.Contains('[', StringComparison.Ordinal) ? name.Replace(",", ", ", StringComparison.Ordinal) : name;
}
