namespace ClearTide.Core.Language;

/// <summary>Bounds on one typed formula. They keep recursion over the tree far from the end of the stack.</summary>
public static class FormulaLimits
{
    public const int Characters = 8_000;
    public const int Tokens = 2_000;
    public const int Depth = 120;
}
