namespace ClearTide.Core.Ensembles;

/// <summary>How a projection moves units.</summary>
public enum ProjectionChance
{
    /// <summary>By the exact law where that is quick enough, else by leaping.</summary>
    Automatic,

    /// <summary>One by one, by the exact law.</summary>
    Exact,

    /// <summary>Many at once, in steps in which rates hardly change.</summary>
    Leap,

    /// <summary>In steps of a fixed length, with competing exits.</summary>
    ChainBinomial,

    /// <summary>Without chance: replicates differ by what else is uncertain.</summary>
    None,
}
