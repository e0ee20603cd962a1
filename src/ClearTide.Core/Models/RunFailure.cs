using System.Globalization;
using ClearTide.Core.Formulas;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Models;

/// <summary>Puts a run that could not go on into words: the part, the time, and the values that did it.</summary>
public static class RunFailure
{
    public static string Say(SimulationException failure, LoweredModel lowered)
    {
        var form = lowered.Form;
        var when = $"{lowered.Document.TimeUnit.Singular} {Number(failure.Time)}";
        foreach (var process in form.Processes)
        {
            var rate = form.Graph.Evaluate(process.Rate, failure.Time, failure.State, failure.Parameters);
            if (double.IsFinite(rate)) continue;
            var flow = lowered.Document.Flow(process.Id)!;
            return $"The run stopped at {when}: the flow {process.Name} has no finite rate there. {Because(flow, form, failure)}";
        }
        var grown = Enumerable.Range(0, form.States.Count).OrderByDescending(state => Math.Abs(failure.State[state])).FirstOrDefault(-1);
        var largest = grown < 0 ? "" : $" {form.States[grown].Symbol} had reached {Number(failure.State[grown])}.";
        return failure.Reason switch
        {
            FailureReason.TooManySteps => $"The run was stopped at {when}: it takes too many steps to go on.{largest} Look for a rate that is far faster than the others, or shorten the span.",
            _ => $"The run stopped at {when}: amounts grow without bound there.{largest} Look for a flow that feeds itself.",
        };
    }

    private static string Because(Flow flow, GeneralForm form, SimulationException failure)
    {
        if (Formula.Read(flow.Rate).Tree is not { } tree) return "";
        var values = tree.Names().Select(name => name.Name).Distinct().Select(name => (name, Value: ValueOf(name, form, failure)))
            .Where(pair => pair.Value is not null).Select(pair => $"{pair.name} = {Number(pair.Value!.Value)}").ToList();
        return values.Count == 0 ? "" : $"It is {RateLine.Write(flow.Kind, flow.Rate)} with {string.Join(", ", values)}.";
    }

    private static double? ValueOf(string symbol, GeneralForm form, SimulationException failure)
    {
        if (form.IndexOf(symbol) is var index && index >= 0) return failure.Parameters[index];
        for (var state = 0; state < form.States.Count; state++)
        {
            if (form.States[state].Symbol == symbol) return failure.State[state];
        }
        var quantity = form.Quantities.FirstOrDefault(candidate => candidate.Symbol == symbol);
        return quantity is null ? null : form.Graph.Evaluate(quantity.Node, failure.Time, failure.State, failure.Parameters);
    }

    private static string Number(double value) => double.IsFinite(value) ? value.ToString("G5", CultureInfo.InvariantCulture) : double.IsNaN(value) ? "not a number" : value > 0 ? "infinity" : "minus infinity";
}
