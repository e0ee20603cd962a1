using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>What a projection needs besides the document.</summary>
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

    /// <summary>Replicates of one projection at most.</summary>
    public const int MostReplicates = 5000;
}

/// <summary>A projection that cannot be made; the message says what to do.</summary>
public sealed class ProjectionRefusedException(string message) : Exception(message);
