using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Interventions;

/// <summary>Measures that can be typed as they stand in a study, one of each kind that its parts allow.</summary>
public static class MeasureExamples
{
    /// <summary>Measures that this study could take, to be clicked.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <returns>Lines, each with what it does.</returns>
    public static IReadOnlyList<(string Line, string Says)> Of(StudyDocument document)
    {
        var (unit, span) = (document.TimeUnit, document.End - document.Start);
        string At(double share) => NumberWords.Of(document.Start + OneDigit(share * span));
        string For(double share) => NumberWords.Of(OneDigit(share * span));
        var lines = new List<(string, string)>();
        if (Lowering.Lower(document).Network.Values.Any(one => !one.Address.IsInitial))
            lines.Add((MeasureLine.Example(document), "a value scaled over a window; = sets it, + adds to it"));
        var value = MeasureLine.Scaled(document);
        var flow = document.Flows.FirstOrDefault(one => one.From is not null && one.To[0].Id is not null);
        if (flow is not null)
        {
            var (from, to) = (document.Compartment(flow.From)!.Symbol, document.Compartment(flow.To[0].Id)!.Symbol);
            var held = AtStart(document, flow.From!);
            var amount = NumberWords.Of(OneDigit(held > 0 ? held / 10 : 10));
            lines.Add(($"at {At(0.2)}: {from} -> {to} : {amount}", "an amount moved at a time"));
            lines.Add(($"at {At(0.2)}: {from} -> {to} : {amount} over {For(0.2)} {unit.Plural}", "so much spread over a while"));
            lines.Add(($"every {For(0.05)} from {At(0.2)} until {At(0.6)}: {from} -> {to} : {amount}", "again and again"));
            if (value is not null)
            {
                lines.Add(($"while {to} > {amount}: {value} = 0.5 * {value}", "held as long as a condition is true"));
                lines.Add(($"when {to} > {amount} once: {value} = 0.5 * {value}", "for good, once a condition becomes true"));
            }
        }
        if (document.Inputs.FirstOrDefault() is { } input)
            lines.Add(
                ($"from {At(0.4)}: {input.Symbol}(t) = hold", "an input goes on in another way: trend, zero, repeat 30, points 60 1, 80 0")
            );
        if (document.Compartments.FirstOrDefault(one => AtStart(document, one.Id) > 0) is { } first)
            lines.Add(
                (
                    $"{first.Symbol}(0) = {NumberWords.Of(OneDigit(AtStart(document, first.Id) / 2))}",
                    "another start, where no data come first"
                )
            );
        return lines;
    }

    private static double AtStart(StudyDocument document, string partId)
    {
        var lowered = Lowering.Lower(document);
        // An equilibrium takes time to find, and an example can do without.
        if (lowered.Network.Equilibria.Count > 0)
            return 0;
        try
        {
            var state = lowered.Compiled.InitialState(lowered.Network.ValueVector(), document.Start);
            return lowered.Network.States.Select((one, k) => lowered.Written.BaseOf(one.PartId) == partId ? state[k] : 0).Sum();
        }
        catch (SimulationException)
        {
            return 0;
        }
    }

    private static double OneDigit(double number) =>
        double.Parse(number.ToString("G1", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
}
