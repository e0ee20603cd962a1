using System.Collections.Immutable;
using ClearTide.Core.Units;

namespace ClearTide.Core.Models;

/// <summary>A compartment: an amount of something in one state. <paramref name="Start"/> is its initial amount as typed.</summary>
/// <param name="Id">Stays with the part for good; never shown.</param>
/// <param name="X">Left edge of its plate on the diagram's paper, in paper units.</param>
/// <param name="Y">Top edge of its plate.</param>
public sealed record Compartment(string Id, string Symbol, string Label, string Start, double X, double Y, string Note = "") : IPart
{
    public string Name => Symbol;
}

/// <summary>In which of the three ways a flow's rate is given.</summary>
public enum RateKind
{
    /// <summary>The formula is the amount per unit of time.</summary>
    Whole,

    /// <summary>The formula is a rate per unit of the from-compartment.</summary>
    PerHead,

    /// <summary>The formula is the mean stay in the from-compartment.</summary>
    MeanStay,
}

/// <summary>What moves per unit of time from one compartment to another; null is the outside.</summary>
/// <param name="From">Id of the compartment it leaves, or null.</param>
/// <param name="To">Id of the compartment it enters, or null.</param>
/// <param name="Rate">The rate's line as typed.</param>
public sealed record Flow(string Id, string Label, string? From, string? To, RateKind Kind, string Rate, string Note = "") : IPart
{
    public string Name => Label;
}

/// <summary>A named line: a parameter if it holds no names, else a quantity.</summary>
public sealed record Definition(string Id, string Symbol, string Label, string Text, Origin Origin = Origin.Guess, string Note = "") : IPart
{
    public string Name => Symbol;
}

/// <summary>Where a value comes from.</summary>
public enum Origin { Guess, Source, Measured, Fitted }

/// <summary>Any part of a study that has an id and a note.</summary>
public interface IPart
{
    string Id { get; }

    string Name { get; }

    string Note { get; }
}

/// <summary>
/// A whole study as one immutable value. Editing makes a new one. Data sets, fits and runs lie beside it; it only refers to them.
/// </summary>
public sealed record StudyDocument
{
    public required string Title { get; init; }

    public string Question { get; init; } = "";

    public TimeUnit TimeUnit { get; init; } = TimeUnit.Day;

    /// <summary>Start of the time span, in the study's time unit.</summary>
    public double Start { get; init; }

    /// <summary>End of the time span, in the study's time unit.</summary>
    public double End { get; init; } = 100;

    public ImmutableArray<Compartment> Compartments { get; init; } = [];

    public ImmutableArray<Flow> Flows { get; init; } = [];

    public ImmutableArray<Definition> Definitions { get; init; } = [];

    public ImmutableArray<Observation> Observations { get; init; } = [];

    public FitSetup Fit { get; init; } = FitSetup.Empty;

    public ImmutableArray<Scenario> Scenarios { get; init; } = [];

    /// <summary>The number for the next id; ids are never used twice in a study.</summary>
    public int NextId { get; init; } = 1;

    public IEnumerable<IPart> Parts => Compartments.Cast<IPart>().Concat(Flows).Concat(Definitions);

    public Compartment? Compartment(string? id) => id is null ? null : Compartments.FirstOrDefault(part => part.Id == id);

    public Compartment? CompartmentBySymbol(string symbol) => Compartments.FirstOrDefault(part => part.Symbol == symbol);

    public Definition? DefinitionBySymbol(string symbol) => Definitions.FirstOrDefault(part => part.Symbol == symbol);

    public Flow? Flow(string id) => Flows.FirstOrDefault(part => part.Id == id);

    /// <summary>A flow in words: “S → E”, with “outside” for an open end.</summary>
    public string Describe(Flow flow) => $"{Compartment(flow.From)?.Symbol ?? "outside"} → {Compartment(flow.To)?.Symbol ?? "outside"}";
}
