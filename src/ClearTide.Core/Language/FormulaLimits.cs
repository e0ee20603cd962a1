namespace ClearTide.Core.Language;

/// <summary>Bounds on one typed formula. They keep recursion over the tree far from the end of the stack.</summary>
public static class FormulaLimits
{
    /// <summary>Characters of one formula at most.</summary>
    public const int Characters = 8_000;

    /// <summary>Words, numbers and marks of one formula at most.</summary>
    public const int Tokens = 2_000;

    /// <summary>How deep brackets, and formulas in formulas, may lie in each other.</summary>
    public const int Depth = 120;
}
