using System.Runtime.CompilerServices;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Compilation;

/// <summary>
/// Turns a document into the reaction network. Never throws: a part that cannot be read counts as zero and is reported.
/// </summary>
/// <example>
/// <code>
/// var lowered = Lowering.Lower(study);
/// foreach (var finding in lowered.Findings)
///     Console.WriteLine($"{finding.PartId}: {finding.Message}");
/// int k = lowered.Network.IndexOf("k");
/// double[] values = lowered.Network.ValueVector();
/// values[k] = 0.2;
/// </code>
/// </example>
public static class Lowering
{
    /// <summary>With more flows than this, units take long enough for a task of their own.</summary>
    private const int ManyFlows = 40;

    // A document never changes, and whoever holds it holds what it lowers into: neither keeps the other alive.
    private static readonly ConditionalWeakTable<StudyDocument, LoweredModel> Known = [];

    /// <summary>
    /// The document's model, made once for each document however often it is asked for. Its graph is frozen: what needs more nodes takes
    /// a fork. Threads may ask at once.
    /// </summary>
    /// <param name="document">The study; not changed.</param>
    public static LoweredModel Lower(StudyDocument document) => Known.GetValue(document, Make);

    private static LoweredModel Make(StudyDocument study)
    {
        var written = WrittenOut.Of(study);
        var document = written.Document;
        var (build, found) = (new ModelBuilder(document) { Written = written }, new FindingList(document));
        // Units follow from the document alone: those of a large one are worked out beside the rest.
        var checking = document.Flows.Length > ManyFlows ? Task.Run(() => UnitCheck.Run(document, found, written)) : null;
        var values = new ValueReader(build);
        values.ReadAll();
        build.AddFreed();
        SymbolChecks.Run(study, build.Findings);
        GroupedFindings.Report(written, build.Findings);
        build.PlanStates();
        var starting = new NameScope(build, values, atStart: true);
        var running = new NameScope(build, values, atStart: false) { DrawSlots = starting.DrawSlots };
        running.AtStart = starting;
        var events = new EventLowering(build, values, running, starting);
        events.ReadOverrides();
        var draws = new DrawLowering(build, starting).All();
        var flows = new FlowLowering(build, values, running);
        foreach (var flow in document.Flows)
            flows.Add(flow);
        flows.CheckCircles();
        List<Process> reactions = [.. new ReactionLowering(build, running).All()];
        new NextLowering(build, values, running).AddAll();
        if (document.Solver.IsDiscrete)
            SharedStep.Apply(build, flows.Processes, flows.Rates);
        var starts = new StartLowering(build, starting);
        var initial = starts.Initial();
        var quantities = GroupSums.Of(written, build.Graph, flows.Rates, running.Quantities());
        events.AddAll();
        // Smoothing adds states with their own starts while formulas are bound.
        initial.AddRange(build.ExtraStarts);
        var network = new ReactionNetwork
        {
            Graph = build.Graph,
            States = build.States,
            Values = build.Values,
            Slots = build.Slots,
            SlotNames = build.SlotNames,
            Initial = initial,
            Processes = [.. flows.Processes, .. reactions, .. events.Gradual],
            Rules = build.Rules,
            Amounts = [.. document.Compartments.Select(part => new NamedExpression(part.Symbol, part.Id, build.Amount(part)))],
            Flows = flows.Rates,
            Quantities = quantities,
            Equilibria = starts.Equilibria,
            Delays = build.Delays,
            Draws = draws,
            Events = events.Events,
            Doses = events.Doses,
            Ranges = build.Ranges,
            DiscreteStep = document.Solver.IsDiscrete ? document.Solver.Step : 0,
            Seed = document.Seed,
            Members = GroupSums.Members(written),
            Spell = written.Spell,
        };
        starts.CheckTotals(network);
        // The sums of the right-hand side are nodes too: they are there before nobody may add any.
        network.Derivatives();
        network.Graph.Freeze();
        foreach (var note in document.FileNotes)
            build.Findings.AddOfStudy(note, new FindingFix("Noted", new DropFileNote(note)));
        var units = checking?.GetAwaiter().GetResult() ?? UnitCheck.Run(document, found, written);
        build.Findings.AddAll(found);
        var unfinished = Provisional.Parts(document, build.Findings.All);
        return new(
            document,
            network,
            GroupedFindings.Of(written, build.Findings.All),
            written.HasGroups ? new HashSet<string>([.. unfinished, .. unfinished.Select(written.BaseOf)]) : unfinished,
            written.HasGroups ? WithBases(written, units) : units
        )
        {
            Written = written,
        };
    }

    /// <summary>A split part has the unit of its members.</summary>
    private static UnitReport WithBases(WrittenOut written, UnitReport units)
    {
        var parts = new Dictionary<string, PartUnit>(units.Parts);
        foreach (var split in written.Study.Splits)
        {
            if (written.Members(split.PartId) is [var first, ..] && units.Parts.TryGetValue(first.Id, out var known))
                parts.TryAdd(split.PartId, known);
        }
        return new(parts);
    }
}
