using ClearTide.Core.Formulas;

namespace ClearTide.Core.Models;

/// <summary>Lowers initial amounts, stage by stage, and checks that they add up.</summary>
internal sealed class StartLowering(ModelBuilder build, NameScope starting)
{
    public List<int> Initial()
    {
        var document = build.Document;
        var rests = document.Compartments.Where(part => StartLine.Read(part.Start).TheRest).ToList();
        foreach (var extra in rests.Skip(1))
        {
            build.Findings.Add(extra.Id, PartField.Start, Severity.Unfinished, null, $"{rests[0].Symbol} already takes the rest; only one compartment can. Type an amount for {extra.Symbol}.", ("Start at 0", "0"));
        }
        var nodes = new List<int>();
        foreach (var part in document.Compartments)
        {
            var start = starting.Start(part);
            if (StartLine.Read(part.Start).TheRest) CheckRest(part, start);
            var stages = build.Stages(part.Id);
            var spread = document.Flows.Any(flow => flow.From == part.Id && flow.Stages == stages && flow.SpreadStart);
            for (var stage = 0; stage < stages; stage++)
            {
                nodes.Add(stages == 1 ? start : spread ? build.Graph.Divide(start, build.Graph.Constant(stages)) : stage == 0 ? start : build.Graph.Constant(0));
            }
        }
        return nodes;
    }

    /// <summary>Initial amounts that come to more than the stated total leave less than nothing.</summary>
    private void CheckRest(Compartment part, int start)
    {
        var values = build.Values.Select(value => value.Value).Concat(build.Slots).ToArray();
        var rest = build.Graph.Evaluate(start, build.Document.Start, [], values);
        if (rest >= 0 || double.IsNaN(rest)) return;
        build.Findings.Add(part.Id, PartField.Start, Severity.Doubt, null, $"The other initial amounts come to {(-rest).ToString("G6", System.Globalization.CultureInfo.InvariantCulture)} more than the stated total, so {part.Symbol} starts below zero. Raise the total or lower the others.");
    }
}
