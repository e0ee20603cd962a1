using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>The outcomes of one curve of a run.</summary>
/// <param name="PartId">Id of the part whose curve it is.</param>
/// <param name="Name">What the curve is called.</param>
/// <param name="Kind">Compartment, flow or quantity.</param>
/// <param name="Outcomes">Of the whole run.</param>
public sealed record CurveOutcomes(string PartId, string Name, CurveKind Kind, Outcomes Outcomes);

/// <summary>What a curve of a run belongs to.</summary>
public enum CurveKind
{
    /// <summary>An amount.</summary>
    Compartment,

    /// <summary>What moves per unit of time.</summary>
    Flow,

    /// <summary>A computed value.</summary>
    Quantity,
}

/// <summary>A conserved total in words, and how well the run kept it.</summary>
/// <param name="Terms">Symbols of the compartments with their weights.</param>
/// <param name="Value">Of the total, at the start.</param>
/// <param name="Drift">The greatest departure, as a share of the amounts in it.</param>
/// <param name="ChangedAt">When an event or a jump changed it, or null.</param>
public sealed record KeptTotal(IReadOnlyList<(string Symbol, double Weight)> Terms, double Value, double Drift, double? ChangedAt);

/// <summary>A level that a curve is looked at against.</summary>
/// <param name="PartId">Id of the part.</param>
/// <param name="Level">In the unit of the curve.</param>
public sealed record LevelAsked(string PartId, double Level);

/// <summary>What can be said of a study's run besides its curves: outcomes by name, conserved totals, a fingerprint.</summary>
/// <param name="Curves">In the order of the ledger.</param>
/// <param name="Totals">Amounts that the model conserves.</param>
/// <param name="Steps">How many steps the run took.</param>
/// <param name="Level">What the curve asked about does at its level, or null.</param>
/// <param name="Fingerprint">Hash of all that the numbers depend on.</param>
/// <param name="Failure">Why there is no report, or null.</param>
public sealed record RunReport(
    IReadOnlyList<CurveOutcomes> Curves,
    IReadOnlyList<KeptTotal> Totals,
    int Steps,
    LevelOutcomes? Level,
    string Fingerprint,
    string? Failure
)
{
    /// <summary>No report, and why.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="why">What to do, in one sentence.</param>
    public static RunReport Without(StudyDocument document, string why) => new([], [], 0, null, Fingerprints.OfRun(document), why);

    /// <summary>The outcomes of one run of a model; costs a run.</summary>
    /// <param name="lowered">The compiled model.</param>
    /// <param name="asked">A level to look at a curve against, or null.</param>
    /// <param name="cancel">Stops the computation with an <see cref="OperationCanceledException"/>.</param>
    public static RunReport Of(LoweredModel lowered, LevelAsked? asked = null, CancellationToken cancel = default)
    {
        var (document, network) = (lowered.Document, lowered.Network);
        var fingerprint = Fingerprints.OfRun(document);
        if (network.States.Count + network.Quantities.Count == 0)
            return new([], [], 0, null, fingerprint, "There is nothing to run yet.");
        var columns = Columns(lowered);
        var model = lowered.Compiled;
        var at = asked is null ? -1 : columns.FindIndex(column => column.PartId == asked.PartId);
        var tally = new OutcomeTally(model.OutputCount, at < 0 ? [] : [(at, asked!.Level)]);
        try
        {
            var run = Engines.Run(StudyRequest.Of(lowered), tally, cancel);
            return new(
                [
                    .. columns.Select(
                        (column, k) =>
                            new CurveOutcomes(column.PartId, column.Name, column.Kind, PerStep(network, column.Kind, tally.Of(k)))
                    ),
                ],
                [.. Kept(lowered, run)],
                run.Steps,
                at < 0 ? null : tally.OfLevel(0),
                fingerprint,
                null
            );
        }
        catch (SimulationException failure)
        {
            return new([], [], 0, null, fingerprint, RunFailure.Say(failure, lowered));
        }
    }

    /// <summary>In discrete steps a flow is the amount of a step, and its total the sum over steps.</summary>
    private static Outcomes PerStep(ReactionNetwork network, CurveKind kind, Outcomes outcomes) =>
        network.DiscreteStep > 0 && kind == CurveKind.Flow
            ? outcomes with
            {
                Integral = outcomes.Integral / network.DiscreteStep,
                Duration = outcomes.Duration / network.DiscreteStep,
            }
            : outcomes;

    private static List<(string PartId, string Name, CurveKind Kind)> Columns(LoweredModel lowered) =>
        [
            .. lowered.Network.Amounts.Select(column => (column.PartId, column.Symbol, CurveKind.Compartment)),
            .. lowered.Network.Flows.Select(column => (column.PartId, column.Symbol, CurveKind.Flow)),
            .. lowered.Network.Quantities.Select(column => (column.PartId, column.Symbol, CurveKind.Quantity)),
        ];

    private static IEnumerable<KeptTotal> Kept(LoweredModel lowered, Trajectory run)
    {
        foreach (var total in ConservedTotal.Of(lowered.Network))
        {
            // The stages of a compartment have one weight among them: the chain passes units on.
            var terms = total
                .Weights.Select(pair => (lowered.Network.States[pair.State].PartId, pair.Weight))
                .Distinct()
                .Select(pair => (lowered.Document.Compartment(pair.PartId)?.Symbol ?? pair.PartId, pair.Weight))
                .ToList();
            var (drift, changed) = total.Drift(run);
            yield return new(terms, total.At(run, 0), drift, changed);
        }
    }
}
