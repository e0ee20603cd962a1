using ClearTide.Core.Diagnostics;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>A document as the network that solvers know, and what was found on the way.</summary>
/// <param name="Document">What was lowered: a study with groups as it is written out, member by member.</param>
/// <param name="Network">The reaction network, frozen.</param>
/// <param name="Findings">Told of the parts of the study itself.</param>
/// <param name="Unfinished">Ids of the parts that are not finished, or depend on one that is not: their curves are provisional.</param>
/// <param name="Units">The unit of each part, given or inferred.</param>
public sealed record LoweredModel(
    StudyDocument Document,
    ReactionNetwork Network,
    IReadOnlyList<Finding> Findings,
    IReadOnlySet<string> Unfinished,
    UnitReport Units
)
{
    /// <summary>The study as it was made, and how it was written out.</summary>
    public WrittenOut Written { get; init; } = WrittenOut.Of(Document);

    /// <summary>The study as it was made.</summary>
    public StudyDocument Study => Written.Study;

    /// <summary>A part of what was lowered, or of the study where that is another; null for none of either.</summary>
    /// <param name="id">Id of a part, or null.</param>
    public IPart? Part(string? id) => Document.Part(id) ?? Study.Part(id);

    private readonly Lazy<CompiledModel> _compiled = new(() => new(Network));

    /// <summary>Its compiled functions, made when they are first asked for and shared by all runs of the model.</summary>
    /// <exception cref="SimulationException">The model cannot be compiled.</exception>
    public CompiledModel Compiled => _compiled.Value;

    /// <summary>
    /// The same model with other numbers for some of its values, by address. Nothing is compiled anew: code reads values from the
    /// parameters
    /// of a run.
    /// </summary>
    /// <param name="values">New values by address; those not named stay.</param>
    public LoweredModel With(IReadOnlyDictionary<ValueAddress, double> values) => this with { Network = Network.With(values) };

    /// <summary>Whether any part still lacks something: fits and projections refuse such a model.</summary>
    public bool IsProvisional => Findings.Any(finding => finding.Severity == Severity.Unfinished);
}
