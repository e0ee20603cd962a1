namespace ClearTide.Core.Model;

/// <summary>A symbol for what is added to a study only while something is computed.</summary>
internal static class FreeSymbol
{
    /// <summary>The name that is wished for, longer where a part has it.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="wished">A symbol.</param>
    public static string In(StudyDocument document, string wished)
    {
        while (document.PartBySymbol(wished) is not null)
            wished += "_";
        return wished;
    }
}
