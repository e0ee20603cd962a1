using ClearTide.Core.Simulation;

namespace ClearTide.Core.Models;

/// <summary>A document in the form that solvers know, and what was found on the way.</summary>
/// <param name="Unfinished">Ids of the parts that are not finished, or depend on one that is not: their curves are provisional.</param>
/// <param name="Units">The unit of each part, given or inferred.</param>
public sealed record LoweredModel(StudyDocument Document, GeneralForm Form, IReadOnlyList<Finding> Findings, IReadOnlySet<string> Unfinished, UnitReport Units)
{
    /// <summary>Whether any part still lacks something: fits and projections refuse such a model.</summary>
    public bool IsProvisional => Findings.Any(finding => finding.Severity == Severity.Unfinished);
}
