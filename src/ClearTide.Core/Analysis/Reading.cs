using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Analysis;

/// <summary>A run's curves in words, made from their outcomes.</summary>
public static class Reading
{
    /// <summary>What is less than this share of a curve's greatest value is said to be almost 0.</summary>
    private const double Negligible = 1e-3;

    /// <summary>One sentence or two on a curve.</summary>
    /// <param name="curve">The curve with its outcomes.</param>
    /// <param name="document">The study, for its unit of time.</param>
    /// <param name="unit">Its unit, or empty.</param>
    public static string Of(CurveOutcomes curve, StudyDocument document, string unit)
    {
        var (name, o, time) = (curve.Name, curve.Outcomes, document.TimeUnit);
        // Beside its own peak the last thousandth of a curve is nothing that anybody would count.
        var little = Negligible * Math.Max(Math.Abs(o.Maximum), Math.Abs(o.Minimum));
        string Say(double value) =>
            value != 0 && Math.Abs(value) < little ? "almost 0" : $"{NumberWords.Grouped(value)}{(unit.Length > 0 ? " " + unit : "")}";
        string Span(double length) => time.Length(length, 3);
        var range = o.Maximum - o.Minimum;
        if (!(range > 1e-9 * Math.Max(Math.Abs(o.Maximum), Math.Abs(o.Minimum))))
            return $"{name} stays at {Say(o.Final)}.";
        var (start, end) = (document.Start, document.End);
        var peaks =
            o.MaximumTime > start + 1e-6 * (end - start)
            && o.MaximumTime < end - 1e-6 * (end - start)
            && o.Maximum - Math.Max(o.Initial, o.Final) > 0.01 * range;
        var words = new List<string>();
        if (peaks)
        {
            words.Add($"{name} peaks at {Say(o.Maximum)} {time.On(o.MaximumTime, 3)}");
            words.Add($"and is {Say(o.Final)} at the end.");
        }
        else
            words.Add(
                o.Final > o.Initial
                    ? $"{name} rises from {Say(o.Initial)} to {Say(o.Final)}."
                    : $"{name} falls from {Say(o.Initial)} to {Say(o.Final)}."
            );
        if (double.IsFinite(o.DoublingTime) && o.Initial > 0)
            words.Add($"It first doubles within {Span(o.DoublingTime)}.");
        if (o.HalfLife < o.Duration)
            words.Add($"At the end it halves every {Span(o.HalfLife)}.");
        // What only leaves tells which share was ever affected.
        var part = curve.Kind == CurveKind.Compartment ? document.Compartment(curve.PartId) : null;
        if (
            part is not null
            && o.Initial > 0
            && o.Final < o.Initial
            && document.Flows.All(flow => flow.To.All(target => target.Id != part.Id))
            && document.Flows.Any(flow => flow.From == part.Id)
        )
        {
            words.Add($"{NumberWords.Of(100 * (1 - o.Final / o.Initial), 3)}% of it has left by the end.");
        }
        return string.Join(" ", words);
    }
}
