namespace ClearTide.Core.Model;

/// <summary>Any part of a study that has an id and a note.</summary>
public interface IPart
{
    /// <summary>Stays with the part for good; never shown.</summary>
    string Id { get; }

    /// <summary>What the part is called: its symbol where it has one, else its label.</summary>
    string Name { get; }

    /// <summary>What people call it; for some kinds empty.</summary>
    string Label { get; }

    /// <summary>What somebody wrote about it.</summary>
    string Note { get; }
}

/// <summary>A part with a symbol that formulas can use.</summary>
public interface ISymbolPart : IPart
{
    /// <summary>The symbol that formulas use.</summary>
    string Symbol { get; }

    /// <summary>Its unit as typed; empty where it is inferred.</summary>
    string Unit { get; }

    /// <inheritdoc cref="Stored.FileId"/>
    string FileId { get; }

    string IPart.Name => Symbol;
}

/// <summary>Where a value comes from.</summary>
public enum Origin
{
    /// <summary>Nobody has said.</summary>
    Guess,

    /// <summary>Taken from a source that its note names.</summary>
    Source,

    /// <summary>Measured.</summary>
    Measured,

    /// <summary>Estimated from the study's data.</summary>
    Fitted,
}
