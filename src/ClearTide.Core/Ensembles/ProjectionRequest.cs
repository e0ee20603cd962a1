using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>What a projection needs besides the document.</summary>
/// <param name="Replicates">How many for each scenario; at least one.</param>
/// <param name="Seed">Of the random streams: replicate r is the same in all scenarios.</param>
/// <param name="Estimates">Fitted values by address, laid over the model's own; empty where there is no fit.</param>
public sealed record ProjectionRequest(int Replicates, long Seed, IReadOnlyDictionary<ValueAddress, double> Estimates)
{
    /// <summary>Id of the compartment, flow or quantity that is followed; empty for what the data count.</summary>
    public string Of { get; init; } = "";

    /// <summary>Whether it starts with the span and not where the data end.</summary>
    public bool FromStart { get; init; }

    /// <summary>What the fit left uncertain: each replicate goes on from a draw of it; null for the estimates.</summary>
    public EstimateSpread? Spread { get; init; }

    /// <summary>How subjects differ: each replicate is another one of them; null where all are alike.</summary>
    public SubjectGroup? Subjects { get; init; }

    /// <summary>How what the data count spreads around what there is to count; null for what there is. Only where that is
    /// followed.</summary>
    public ObservationError? Error { get; init; }

    /// <summary>How units move.</summary>
    public ProjectionChance Chance { get; init; }

    /// <summary>The step of the chain binomial, in the study's unit of time.</summary>
    public double Step { get; init; } = 1;

    /// <summary>A level of the followed curve; the share of runs above it is reported over time. Null for none.</summary>
    public double? Level { get; init; }

    /// <summary>Formulas over each run from now on, as typed; see <see cref="Reports.OutcomeFormula"/>.</summary>
    public IReadOnlyList<string> Formulas { get; init; } = [];

    /// <summary>Formulas of one projection at most.</summary>
    public const int MostFormulas = StudyDocument.MostOutcomeRows;

    /// <summary>An earlier now: the projection goes on from what had come in by then, with a fit to that alone; null for all that there
    /// is.</summary>
    public double? AsOf { get; init; }

    /// <summary>Replicates of one projection at most.</summary>
    public const int MostReplicates = 1_000_000;
}

/// <summary>A projection that cannot be made; the message says what to do.</summary>
/// <param name="message">What to do, in one sentence.</param>
public sealed class ProjectionRefusedException(string message) : Exception(message);
