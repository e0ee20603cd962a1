using System.Collections.Immutable;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>What all parts of a model may have.</summary>
public abstract record SbmlPart
{
    /// <summary>Its notes as plain text, a paragraph a line.</summary>
    public string Note { get; init; } = "";

    /// <summary>Id of its unit: one of the standard's own words or of a unit definition; empty where none is given.</summary>
    public string Units { get; init; } = "";

    /// <summary>Its symbol in formulas of Clear Tide, where its id is another one, as its own annotation says; empty where it is the
    /// same.</summary>
    public string Symbol { get; init; } = "";

    /// <summary>Where its plate lies on the paper, as Clear Tide's own annotation says.</summary>
    public SbmlPlate? Plate { get; init; }
}

/// <summary>The corner of a plate, in paper units, and the number of its colour.</summary>
public sealed record SbmlPlate(double X, double Y, int Colour);

/// <summary>One factor of a unit: (multiplier × 10^scale × kind)^exponent.</summary>
public sealed record SbmlUnit(string Kind, double Exponent, int Scale, double Multiplier);

/// <param name="Text">How it is spelled in Clear Tide, as its own annotation says; empty where the file is from elsewhere.</param>
public sealed record SbmlUnitDefinition(string Id, ImmutableArray<SbmlUnit> Factors, string Text = "");

/// <summary>A well-mixed volume, or an area or length; its size may change.</summary>
/// <param name="Size">Null where the file gives none.</param>
public sealed record SbmlCompartment(string Id, string Name, double? Size, double Dimensions, bool Constant) : SbmlPart;

/// <summary>An amount in a compartment, which formulas speak of as a concentration unless it says substance only.</summary>
public sealed record SbmlSpecies(
    string Id,
    string Name,
    string Compartment,
    double? InitialAmount,
    double? InitialConcentration,
    bool SubstanceOnly,
    bool Boundary,
    bool Constant,
    string? ConversionFactor
) : SbmlPart;

public sealed record SbmlParameter(string Id, string Name, double? Value, bool Constant) : SbmlPart;

/// <summary>A species that a reaction uses or makes, so many for each unit of it.</summary>
/// <param name="Id">Under which formulas know the number, or null.</param>
/// <param name="Formula">The number as a formula, as Level 2 may give it; null for <paramref name="Stoichiometry"/>.</param>
public sealed record SbmlReference(string? Id, string Species, double Stoichiometry, Syntax? Formula, bool Constant);

public sealed record SbmlReaction(
    string Id,
    string Name,
    ImmutableArray<SbmlReference> Reactants,
    ImmutableArray<SbmlReference> Products,
    Syntax? Rate,
    ImmutableArray<SbmlParameter> Locals
) : SbmlPart;

/// <summary>What a symbol is at the start, always, or how fast it changes.</summary>
public sealed record SbmlRule(string Variable, Syntax Math);

public sealed record SbmlEvent(
    string Id,
    string Name,
    Syntax Trigger,
    bool InitialValue,
    bool Persistent,
    Syntax? Delay,
    Syntax? Priority,
    bool ValuesAtTrigger,
    ImmutableArray<SbmlRule> Assignments
) : SbmlPart;

/// <summary>A condition that should hold at all times of a run, and what is said where it does not.</summary>
public sealed record SbmlConstraint(Syntax Math, string Message, int Line);

/// <summary>What was not understood, or not taken over, in a sentence.</summary>
public sealed record SbmlNote(int Line, string Message);

/// <summary>
/// A model as an SBML file tells it, Level 2 and 3 alike (SBML Level 3 Version 2 core, section 4): formulas are trees of the formula
/// language, calls of
/// function definitions written out.
/// </summary>
public sealed record SbmlModel(string Id, string Name) : SbmlPart
{
    public ImmutableArray<SbmlCompartment> Compartments { get; init; } = [];

    public ImmutableArray<SbmlSpecies> Species { get; init; } = [];

    public ImmutableArray<SbmlParameter> Parameters { get; init; } = [];

    public ImmutableArray<SbmlReaction> Reactions { get; init; } = [];

    public ImmutableArray<SbmlRule> InitialAssignments { get; init; } = [];

    public ImmutableArray<SbmlRule> AssignmentRules { get; init; } = [];

    public ImmutableArray<SbmlRule> RateRules { get; init; } = [];

    /// <summary>Formulas that are zero at all times.</summary>
    public ImmutableArray<Syntax> AlgebraicRules { get; init; } = [];

    public ImmutableArray<SbmlEvent> Events { get; init; } = [];

    public ImmutableArray<SbmlConstraint> Constraints { get; init; } = [];

    /// <summary>The factor from a species' own units to those of reactions, for species without one of their own.</summary>
    public string? ConversionFactor { get; init; }

    public ImmutableArray<SbmlUnitDefinition> UnitDefinitions { get; init; } = [];

    /// <summary>Ids of the units of time, amounts and volumes; empty where none are given. In Level 2 they are the standard's own
    /// words.</summary>
    public string TimeUnits { get; init; } = "";

    public string SubstanceUnits { get; init; } = "";

    public string VolumeUnits { get; init; } = "";

    /// <summary>The study that it was written out from, where that has groups; else empty.</summary>
    public string Grouped { get; init; } = "";

    /// <summary>What the model was when that was written, as <see cref="SbmlGroups.Digest"/> tells it.</summary>
    public string GroupedDigest { get; init; } = "";

    public ImmutableArray<SbmlNote> Notes { get; init; } = [];

    /// <summary>What the file says besides that a run does not need and that no study holds, in sentences.</summary>
    public ImmutableArray<string> Unread { get; init; } = [];

    /// <summary>The line of the file that says what a symbol is: its rule, or else itself.</summary>
    public ImmutableDictionary<string, int> Lines { get; init; } = ImmutableDictionary<string, int>.Empty;

    /// <summary>How a sentence about a symbol begins: with its line, where it is known.</summary>
    internal string At(string id) => Lines.TryGetValue(id, out var line) ? $"Line {line}: " : "";
}

/// <summary>A file that holds no model that could be read; the message says what to do.</summary>
public sealed class SbmlException(string message) : Exception(message);
