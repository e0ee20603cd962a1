using System.Collections.Immutable;
using ClearTide.Core.Formulas;

namespace ClearTide.Formats.Sbml;

/// <summary>A well-mixed volume, or an area or length; its size may change.</summary>
/// <param name="Size">Null where the file gives none.</param>
public sealed record SbmlCompartment(string Id, string Name, double? Size, double Dimensions, bool Constant);

/// <summary>An amount in a compartment, which formulas speak of as a concentration unless it says substance only.</summary>
public sealed record SbmlSpecies(string Id, string Name, string Compartment, double? InitialAmount, double? InitialConcentration, bool SubstanceOnly, bool Boundary, bool Constant, string? ConversionFactor);

public sealed record SbmlParameter(string Id, string Name, double? Value, bool Constant);

/// <summary>A species that a reaction uses or makes, so many for each unit of it.</summary>
/// <param name="Id">Under which formulas know the number, or null.</param>
/// <param name="Formula">The number as a formula, as Level 2 may give it; null for <paramref name="Stoichiometry"/>.</param>
public sealed record SbmlReference(string? Id, string Species, double Stoichiometry, Syntax? Formula, bool Constant);

public sealed record SbmlReaction(string Id, string Name, ImmutableArray<SbmlReference> Reactants, ImmutableArray<SbmlReference> Products, Syntax? Rate, ImmutableArray<SbmlParameter> Locals);

/// <summary>What a symbol is at the start, always, or how fast it changes.</summary>
public sealed record SbmlRule(string Variable, Syntax Math);

public sealed record SbmlEvent(string Id, string Name, Syntax Trigger, bool InitialValue, bool Persistent, Syntax? Delay, Syntax? Priority, bool ValuesAtTrigger, ImmutableArray<SbmlRule> Assignments);

/// <summary>What was not understood, or not taken over, in a sentence.</summary>
public sealed record SbmlNote(int Line, string Message);

/// <summary>
/// A model as an SBML file tells it, Level 2 and 3 alike (SBML Level 3 Version 2 core, section 4): formulas are trees of the formula language, calls of
/// function definitions written out.
/// </summary>
public sealed record SbmlModel(string Id, string Name)
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

    /// <summary>The factor from a species' own units to those of reactions, for species without one of their own.</summary>
    public string? ConversionFactor { get; init; }

    public ImmutableArray<SbmlNote> Notes { get; init; } = [];

    /// <summary>The line of the file that says what a symbol is: its rule, or else itself.</summary>
    public ImmutableDictionary<string, int> Lines { get; init; } = ImmutableDictionary<string, int>.Empty;

    /// <summary>How a sentence about a symbol begins: with its line, where it is known.</summary>
    internal string At(string id) => Lines.TryGetValue(id, out var line) ? $"Line {line}: " : "";
}

/// <summary>A file that holds no model that could be read; the message says what to do.</summary>
public sealed class SbmlException(string message) : Exception(message);
