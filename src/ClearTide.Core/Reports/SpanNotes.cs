using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>Tells which amounts are still on their way where the span ends: what is read off the end then depends on where it
/// lies.</summary>
internal static class SpanNotes
{
    /// <summary>The last share of the span that is looked at.</summary>
    private const double Tail = 0.05;

    /// <summary>An amount moves if it changes in that time by more than this share of its range over the run.</summary>
    private const double Moving = 0.01;

    /// <summary>What turns this often swings, and no span would be long enough.</summary>
    private const int Swings = 4;

    private const int MostNamed = 4;

    public static IEnumerable<Finding> Of(StudyDocument document, Trajectory run)
    {
        var moving = Enumerable
            .Range(0, document.Compartments.Length)
            .Where(part => IsMoving(run, run.AmountColumn(part)))
            .Select(part => document.Compartments[part].Symbol)
            .ToList();
        if (moving.Count == 0)
            yield break;
        var names = string.Join(", ", moving.Take(MostNamed)) + (moving.Count > MostNamed ? $" and {moving.Count - MostNamed} more" : "");
        var longer = document.Start + 2 * (document.End - document.Start);
        yield return new(
            null,
            PartField.Text,
            Severity.Doubt,
            null,
            $"Still moving at the end of the span: {names}. Totals and final amounts depend on where it ends.",
            [new($"Run to {NumberWords.Of(longer)}", new SetSpan(document.Start, longer))]
        )
        {
            IsNote = true,
        };
    }

    private static bool IsMoving(Trajectory run, double[] amounts)
    {
        var range = amounts.Max() - amounts.Min();
        // What only trembles by rounding does not move.
        if (!(range > 1e-9 * amounts.Max(Math.Abs)))
            return false;
        var from = run.Times[^1] - Tail * (run.Times[^1] - run.Times[0]);
        var first = amounts.Length - 1;
        while (first > 0 && run.Times[first - 1] >= from)
            first--;
        var tail = amounts[Math.Min(first, amounts.Length - 2)..];
        return tail.Max() - tail.Min() > Moving * range && Turns(amounts, 0.05 * range) < Swings;
    }

    /// <summary>How often a curve turns, turns smaller than a size not counted.</summary>
    private static int Turns(double[] values, double least)
    {
        var (turns, direction, extreme) = (0, 0, values[0]);
        foreach (var value in values)
        {
            if (direction >= 0 && value > extreme || direction <= 0 && value < extreme)
            {
                if (direction == 0)
                    direction = Math.Abs(value - values[0]) > least ? Math.Sign(value - values[0]) : 0;
                if (direction != 0)
                    extreme = value;
            }
            else if (direction != 0 && Math.Abs(value - extreme) > least)
            {
                (turns, direction, extreme) = (turns + 1, -direction, value);
            }
        }
        return turns;
    }
}
