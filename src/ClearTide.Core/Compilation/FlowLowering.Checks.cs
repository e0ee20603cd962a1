using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>What is doubtful about the rate of a flow.</summary>
internal sealed partial class FlowLowering
{
    /// <summary>Limited flows in a circle are legal, and nothing flows in an empty one that nothing feeds: worth a sentence.</summary>
    public void CheckCircles()
    {
        var limited = Document.Flows.Where(flow => flow is { Limited: true, Kind: RateKind.Whole, From: not null }).ToList();
        foreach (var first in limited)
        {
            var (path, seen) = (new List<Flow> { first }, new HashSet<string> { first.From! });
            if (!Closes(first.From!, first, limited, path, seen))
                continue;
            var circle = string.Join(
                " → ",
                path.Select(flow => Document.Compartment(flow.From)?.Symbol).Append(Document.Compartment(first.From)?.Symbol)
            );
            build.Findings.AddWithEdits(
                first.Id,
                PartField.Limited,
                Severity.Doubt,
                null,
                $"Limited flows run in a circle here: {circle}. Once all of it is empty, only what comes from elsewhere goes round.",
                [new($"Make {Document.Describe(first)} free", new SetField(first.Id, PartField.Limited, "false"))]
            );
            return;
        }
    }

    private static bool Closes(string goal, Flow flow, IReadOnlyList<Flow> limited, List<Flow> path, HashSet<string> seen)
    {
        foreach (var end in flow.To.Select(target => target.Id).OfType<string>())
        {
            if (end == goal)
                return true;
            if (!seen.Add(end))
                continue;
            foreach (var next in limited.Where(other => other.From == end))
            {
                path.Add(next);
                if (Closes(goal, next, limited, path, seen))
                    return true;
                path.RemoveAt(path.Count - 1);
            }
        }
        return false;
    }

    /// <summary>
    /// A rate per head that has its own compartment in it is most often the whole flow, typed where a rate per head is asked for.
    /// </summary>
    private void TwicePerHead(Flow flow, Compartment from, Syntax tree)
    {
        var product = tree is BinarySyntax { Operator: BinaryOperator.Add or BinaryOperator.Subtract } ? $"({flow.Rate})" : flow.Rate;
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Rate,
            Severity.Doubt,
            null,
            $"“at” takes a rate for each {from.Symbol}, so that {from.Symbol} counts twice here: {product} * {from.Symbol} moves in "
                + $"all. Is {flow.Rate} the whole flow?",
            [
                new($"The whole flow is {flow.Rate}", new SetField(flow.Id, PartField.Rate, RateLine.Write(RateKind.Whole, flow.Rate))),
                new(
                    $"Per head is meant: {product} * {from.Symbol}",
                    new SetField(flow.Id, PartField.Rate, RateLine.Write(RateKind.Whole, $"{product} * {from.Symbol}"))
                ),
            ]
        );
    }

    /// <summary>In discrete steps 1/D of a compartment leaves per step: a stay is no shorter than one.</summary>
    private void ShorterThanStep(Flow flow, Syntax tree)
    {
        if (flow.Kind != RateKind.MeanStay || tree.Names().Any())
            return;
        var (stay, step) = (FormulaBinder.ValueOf(tree, build.Units) / Math.Max(1, flow.Stages), Document.Solver.Step);
        if (!(stay > 0) || stay >= step)
            return;
        var unit = Document.TimeUnit.Plural;
        string Say(double number) => TypedNumber.Short(number);
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Rate,
            Severity.Doubt,
            null,
            $"{(flow.Stages > 1 ? "A stage" : "This stay")} of {Say(stay)} {unit} is shorter than a step of {Say(step)}, so that "
                + "more leaves in a step than is there. Take a shorter step.",
            [new($"Step of {Say(stay)} {unit}", new SetSolver(Document.Solver.Method, stay, Document.Solver.Tolerance))]
        );
    }

    private void TakesWhatIsNotThere(Flow flow, Compartment from) =>
        build.Findings.AddWithEdits(
            flow.Id,
            PartField.Rate,
            Severity.Doubt,
            null,
            $"This takes from {from.Symbol} however little is left there, since the formula does not mention {from.Symbol}.",
            [
                new($"Per head of {from.Symbol}", new SetField(flow.Id, PartField.Rate, RateLine.Write(RateKind.PerHead, flow.Rate))),
                new("Limit it to what is there", new SetField(flow.Id, PartField.Limited, "true")),
            ]
        );

    private bool Mentions(Syntax tree, string symbol, HashSet<string> seen)
    {
        foreach (var name in tree.Names())
        {
            if (name.Name == symbol)
                return true;
            if (
                seen.Add(name.Name)
                && build.Part(name.Name) is Definition part
                && values.Formula(part.Id, PartField.Text).Tree is { } inner
                && Mentions(inner, symbol, seen)
            )
                return true;
        }
        return false;
    }
}
