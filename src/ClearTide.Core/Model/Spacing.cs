namespace ClearTide.Core.Model;

/// <summary>How the values of a sweep lie between its ends.</summary>
public enum Spacing
{
    Linear,
    Log,
    List,
}
