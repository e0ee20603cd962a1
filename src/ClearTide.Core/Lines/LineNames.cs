using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Lines;

/// <summary>The names that each typed line of a study uses, and putting others in their place.</summary>
public static class LineNames
{
    /// <summary>All names in the typed lines of a part, its own symbol not counted.</summary>
    /// <param name="part">The part.</param>
    public static IEnumerable<NameSyntax> Of(IPart part) =>
        PartKinds
            .Of(part)
            .Lines(part)
            .SelectMany(line => line.Text.Length == 0 ? [] : Trees(line.Form, line.Text) ?? [])
            .SelectMany(tree => tree.Names());

    /// <summary>The document with each use of a name replaced, in formulas, events, observations, fits and measures.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="from">The name as it is.</param>
    /// <param name="to">The name as it shall be.</param>
    public static StudyDocument Rename(StudyDocument document, string from, string to) =>
        Rewrite(document with { Panels = [.. document.Panels.Select(panel => ComputedCurves.Renamed(panel, from, to))] }, (form, text) =>
                Swap(text, form, from, to)
            )
            .WithAddresses(address => address.Renamed(from, to));

    /// <summary>The document with the names in all its lines changed.</summary>
    /// <param name="document">The study whose lines are changed.</param>
    /// <param name="change">Another text for a name with its indices, or null to leave it.</param>
    public static StudyDocument Rewrite(StudyDocument document, Func<NameSyntax, string?> change) =>
        Rewrite(document, (form, text) => Swap(text, form, change));

    /// <summary>One line with the names in it changed.</summary>
    /// <param name="text">The text as typed.</param>
    /// <param name="form">What kind of line it is.</param>
    /// <param name="change">Gives the new name for one in the line, or null to leave it.</param>
    public static string Rewrite(string text, LineForm form, Func<NameSyntax, string?> change) => Swap(text, form, change);

    /// <summary>The document with each line that can name parts written in another way, wherever it is kept.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="rewrite">Gives a line of a form in its new words; itself where nothing changes.</param>
    public static StudyDocument Rewrite(StudyDocument document, Func<LineForm, string, string> rewrite)
    {
        string InFormula(string text) => text.Length == 0 ? "" : rewrite(LineForm.Formula, text);
        var splits = document.Splits;
        foreach (var kind in PartKinds.All)
            document = kind.WithLines(document, rewrite);
        return (
            document.WithFits(fit => fit with { Ties = [.. fit.Ties.Select(one => one with { Formula = InFormula(one.Formula) })] }) with
            {
                OutcomeRows = [.. document.OutcomeRows.Select(InFormula)],
                Observations =
                [
                    .. document.Observations.Select(one =>
                        one with
                        {
                            Reporting = InFormula(one.Reporting),
                            Formula = InFormula(one.Formula),
                            Delay = InFormula(one.Delay),
                            Weekdays = [.. one.Weekdays.Select(InFormula)],
                        }
                    ),
                ],
                Splits =
                [
                    .. splits.Select(split =>
                        split with
                        {
                            Lines = [.. split.Lines.Select(line => line with { Text = InFormula(line.Text) })],
                        }
                    ),
                ],
                Groups =
                [
                    .. document.Groups.Select(group =>
                        group.Passages.IsEmpty
                            ? group
                            : group with
                            {
                                Passages = [.. group.Passages.Select(one => one with { Rate = InFormula(one.Rate) })],
                            }
                    ),
                ],
                Scenarios =
                [
                    .. document.Scenarios.Select(scenario =>
                        scenario with
                        {
                            Rules = [.. scenario.Rules.Select(rule => rule with { Text = rewrite(LineForm.Event, rule.Text) })],
                        }
                    ),
                ],
            }
        );
    }

    /// <summary>One part with each use of a name in its lines replaced.</summary>
    internal static string InFormula(string text, string from, string to) => Swap(text, LineForm.Formula, from, to);

    /// <summary>What a line says as trees, or null where it cannot be read.</summary>
    internal static IEnumerable<Syntax>? Trees(LineForm form, string text) =>
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
        return Put(text, trees, name => name.Name == from ? to
            : name.Base == from ? MemberName.Print(MemberName.Of(to, name.Indices))
            : null);
    }

    private static string Swap(string text, LineForm form, Func<NameSyntax, string?> change) =>
        text.Length == 0 ? text
        // What was made and not typed keeps the places of what it was made from.
        : form == LineForm.Formula
            ? Formula.Typed(text).Tree is { } tree ? Put(text, [tree], change)
                : text
        : Trees(form, text) is { } trees ? Put(text, trees, change)
        : text;

    private static string Put(string text, IEnumerable<Syntax> trees, Func<NameSyntax, string?> change)
    {
        foreach (
            var (name, with) in trees
                .SelectMany(tree => tree.Names())
                .Select(name => (Name: name, With: change(name)))
                .Where(pair => pair.With is not null)
                .OrderByDescending(pair => pair.Name.Span.Start)
        )
        {
            text = text[..name.Span.Start] + with + text[name.Span.End..];
        }
        return text;
    }
}
