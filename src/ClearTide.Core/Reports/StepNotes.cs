using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Core.Reports;

/// <summary>Tells where a step of calculation is too long for the model it runs.</summary>
internal static class StepNotes
{
    /// <summary>Compartments with less than this share of their greatest amount say nothing about how fast they empty.</summary>
    private const double Little = 1e-3;

    public static IEnumerable<Finding> Of(StudyDocument document, Trajectory run)
    {
        if (!document.Solver.HasStep)
            return [];
        var span = document.End - document.Start;
        if (document.Solver.Step > span)
            return
            [
                Say(
                    $"The step of {Time(document, document.Solver.Step)} is longer than the span of {Time(document, span)}. Take a "
                        + "shorter step, or a longer span.",
                    With(document, span / 100)
                ),
            ];
        return document.Solver.IsDiscrete ? Overdrawn(document, run) : Shorter(document, run);
    }

    private static Finding Say(string message, params FindingFix[] fixes) =>
        new(null, PartField.Text, Severity.Doubt, null, message, fixes);

    private static FindingFix With(StudyDocument document, double step) =>
        new($"Step of {NumberWords.Of(step)}", new SetSolver(document.Solver.Method, step, document.Solver.Tolerance));

    private static string Time(StudyDocument document, double time) => document.TimeUnit.Length(time);

    /// <summary>A step should be short against the shortest mean stay: what leaves in a step is a small share of what is there.</summary>
    private static IEnumerable<Finding> Shorter(StudyDocument document, Trajectory run)
    {
        var (shortest, of, at) = (double.PositiveInfinity, (Flow?)null, 0.0);
        foreach (var flow in document.Flows)
        {
            if (flow.Limited || document.Compartments.IndexOf(document.Compartment(flow.From)!) is var part && part < 0)
                continue;
            if (flow.Stages > 1)
            {
                // What leaves a chain now has entered it long before: its stay is what its line says.
                if (StageStay(document, flow) is { } own && own < shortest)
                    (shortest, of, at) = (own, flow, document.Start);
                continue;
            }
            var (amounts, rates) = (run.AmountColumn(part), run.RateColumn(document.Flows.IndexOf(flow)));
            var little = Little * amounts.Max();
            for (var k = 0; k < amounts.Length; k++)
            {
                if (!(amounts[k] > little) || !(rates[k] > 0) || amounts[k] / rates[k] is var stay && !(stay < shortest))
                    continue;
                (shortest, of, at) = (stay, flow, run.Times[k]);
            }
        }
        if (of is null || document.Solver.Step <= shortest)
            return [];
        var where = document.Compartment(of.From)!.Symbol;
        return
        [
            Say(
                $"The step of {Time(document, document.Solver.Step)} is longer than the shortest mean stay: "
                    + $"{Time(document, shortest)} in {(of.Stages > 1 ? $"a stage of {where}" : where)} ({document.Describe(of)}, "
                    + $"at {document.TimeUnit.Singular} {NumberWords.Of(at)}). The curves say more about the step than about the "
                    + "model.",
                With(document, Round(shortest / 5))
            ),
        ];
    }

    /// <summary>The mean stay in one stage of a flow whose line is a plain number, or null.</summary>
    private static double? StageStay(StudyDocument document, Flow flow)
    {
        if (Formula.Read(flow.Rate) is not { HasNames: false, Tree: { } tree })
            return null;
        var line = FormulaBinder.ValueOf(tree, document.UnitTable());
        return (flow.Kind == RateKind.MeanStay ? line : 1 / line) / flow.Stages;
    }

    /// <summary>In discrete steps all exits of a compartment together take no more than is there.</summary>
    private static IEnumerable<Finding> Overdrawn(StudyDocument document, Trajectory run)
    {
        foreach (var part in document.Compartments)
        {
            if (part.Next.Length > 0)
                continue;
            var exits = document
                .Flows.Select((flow, k) => (flow, k))
                .Where(pair => pair.flow.From == part.Id)
                .Select(pair => run.RateColumn(pair.k))
                .ToList();
            if (exits.Count == 0)
                continue;
            var amounts = run.AmountColumn(document.Compartments.IndexOf(part));
            var size = amounts.Max(Math.Abs);
            for (var k = 0; k < amounts.Length; k++)
            {
                var leaves = exits.Sum(rates => rates[k]);
                if (!(leaves > Math.Max(0, amounts[k]) + 1e-9 * size))
                    continue;
                yield return new(
                    part.Id,
                    PartField.Start,
                    Severity.Doubt,
                    null,
                    $"At {document.TimeUnit.Singular} {NumberWords.Of(run.Times[k])} the exits of {part.Symbol} take "
                        + $"{NumberWords.Of(leaves)} in one step, and {NumberWords.Of(amounts[k])} is there. Take a shorter step, "
                        + "or limit the exits.",
                    []
                );
                break;
            }
        }
    }

    /// <summary>The next smaller of 1, 2 or 5 times a power of ten.</summary>
    private static double Round(double step)
    {
        var power = Math.Pow(10, Math.Floor(Math.Log10(step)));
        return (
                step / power >= 5 ? 5
                : step / power >= 2 ? 2
                : 1
            ) * power;
    }
}
