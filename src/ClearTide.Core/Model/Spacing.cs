namespace ClearTide.Core.Model;

/// <summary>How the values of a sweep lie between its ends.</summary>
public enum Spacing
{
    /// <summary>Equal differences.</summary>
    Linear,

    /// <summary>Equal ratios.</summary>
    Log,

    /// <summary>Values that are listed.</summary>
    List,
}
