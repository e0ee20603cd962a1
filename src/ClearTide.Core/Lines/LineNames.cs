using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Lines;

/// <summary>The names that each typed line of a study uses, and putting others in their place.</summary>
internal static class LineNames
{
    /// <summary>All names in the typed lines of a part, its own symbol not counted.</summary>
    public static IEnumerable<NameSyntax> Of(IPart part) =>
        PartKinds
            .Of(part)
            .Lines(part)
            .SelectMany(line => line.Text.Length == 0 ? [] : Trees(line.Form, line.Text) ?? [])
            .SelectMany(tree => tree.Names());

    /// <summary>The document with each use of a name replaced, in formulas, events, observations, fits and measures.</summary>
    public static StudyDocument Rename(StudyDocument document, string from, string to)
    {
        foreach (var kind in PartKinds.All)
            document = kind.WithLines(document, (form, text) => Swap(text, form, from, to));
        return (
            document with
            {
                Observations =
                [
                    .. document.Observations.Select(one =>
                        one with
                        {
                            Reporting = InFormula(one.Reporting, from, to),
                            Formula = InFormula(one.Formula, from, to),
                            Delay = InFormula(one.Delay, from, to),
                            Weekdays = [.. one.Weekdays.Select(day => InFormula(day, from, to))],
                        }
                    ),
                ],
                Fit = document.Fit with
                {
                    Ties = [.. document.Fit.Ties.Select(one => one with { Formula = InFormula(one.Formula, from, to) })],
                },
                Panels = [.. document.Panels.Select(panel => ComputedCurves.Renamed(panel, from, to))],
                Scenarios =
                [
                    .. document.Scenarios.Select(scenario =>
                        scenario with
                        {
                            Rules = [.. scenario.Rules.Select(rule => rule with { Text = Swap(rule.Text, LineForm.Event, from, to) })],
                        }
                    ),
                ],
            }
        ).WithAddresses(address => address.Renamed(from, to));
    }

    /// <summary>One part with each use of a name in its lines replaced.</summary>
    public static string InFormula(string text, string from, string to) => Swap(text, LineForm.Formula, from, to);

    /// <summary>What a line says as trees, or null where it cannot be read.</summary>
    private static IEnumerable<Syntax>? Trees(LineForm form, string text) =>
        form switch
        {
            LineForm.Formula => Formula.Read(text).Tree is { } tree ? [tree] : null,
            LineForm.Start => StartLine.Read(text).Formula.Tree is { } tree ? [tree] : null,
            LineForm.Draw => DrawLine.Read(text).Line is { } line ? [.. line.Arguments, line.Every] : null,
            LineForm.Reaction => ReactionLine.Read(text).Line?.Trees,
            LineForm.Event => EventLine.Read(text).Line?.Trees,
            LineForm.Expectation => ExpectationLine.Read(text).Line?.Trees,
            _ => throw new ArgumentOutOfRangeException(nameof(form), form, "Lines of this form cannot be read."),
        };

    private static string Swap(string text, LineForm form, string from, string to)
    {
        if (!text.Contains(from, StringComparison.Ordinal) && !Symbols.Normalize(text).Contains(from, StringComparison.Ordinal))
            return text;
        // A line that cannot be read has words, but no tree that tells names from units.
        if (Trees(form, text) is not { } trees)
            return Formula.RenameWords(text, from, to);
        foreach (
            var name in trees.SelectMany(tree => tree.Names()).Where(name => name.Name == from).OrderByDescending(name => name.Span.Start)
        )
        {
            text = text[..name.Span.Start] + to + text[name.Span.End..];
        }
        return text;
    }
}
