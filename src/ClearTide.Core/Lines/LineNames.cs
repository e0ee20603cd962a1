using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Lines;

/// <summary>The names that each typed line of a study uses, and putting others in their place.</summary>
public static class LineNames
{
    /// <summary>All names in the typed lines of a part, its own symbol not counted.</summary>
    public static IEnumerable<NameSyntax> Of(IPart part) =>
        part switch
        {
            Compartment compartment => In(compartment.Start, StartTrees).Concat(In(compartment.Next, FormulaTrees)),
            Flow flow => In(flow.Rate, FormulaTrees).Concat(flow.To.SelectMany(target => In(target.Share, FormulaTrees))),
            Reaction reaction => In(reaction.Text, ReactionTrees),
            Definition definition => In(definition.Text, FormulaTrees),
            ResponseCurve curve => curve.Fields.SelectMany(field => In(curve.Line(field), FormulaTrees)),
            RandomInput random => In(random.Text, DrawTrees),
            EventRule rule => In(rule.Text, EventTrees).Concat(In(rule.Priority, FormulaTrees)),
            Expectation expectation => In(expectation.Text, ExpectationTrees),
            _ => [],
        };

    /// <summary>The document with each use of a name replaced, in formulas, events, observations, fits and measures.</summary>
    public static StudyDocument Rename(StudyDocument document, string from, string to)
    {
        string Line(string text) => Swap(text, FormulaTrees, from, to);
        return (
            document with
            {
                Compartments =
                [
                    .. document.Compartments.Select(part =>
                        part with
                        {
                            Start = Swap(part.Start, StartTrees, from, to),
                            Next = Line(part.Next),
                        }
                    ),
                ],
                Flows =
                [
                    .. document.Flows.Select(part =>
                        part with
                        {
                            Rate = Line(part.Rate),
                            To = [.. part.To.Select(target => target with { Share = Line(target.Share) })],
                        }
                    ),
                ],
                Reactions = [.. document.Reactions.Select(part => part with { Text = Swap(part.Text, ReactionTrees, from, to) })],
                Definitions = [.. document.Definitions.Select(part => part with { Text = Line(part.Text) })],
                Curves =
                [
                    .. document.Curves.Select(part =>
                        part with
                        {
                            Low = Line(part.Low),
                            High = Line(part.High),
                            Half = Line(part.Half),
                            Slope = Line(part.Slope),
                        }
                    ),
                ],
                RandomInputs = [.. document.RandomInputs.Select(part => part with { Text = Swap(part.Text, DrawTrees, from, to) })],
                Events =
                [
                    .. document.Events.Select(part =>
                        part with
                        {
                            Text = Swap(part.Text, EventTrees, from, to),
                            Priority = Line(part.Priority),
                        }
                    ),
                ],
                Expectations = [.. document.Expectations.Select(part => part with { Text = Swap(part.Text, ExpectationTrees, from, to) })],
                Observations = [.. document.Observations.Select(part => part with { Reporting = Line(part.Reporting) })],
            }
        ).WithAddresses(address => address.Renamed(from, to));
    }

    /// <summary>One part with each use of a name in its lines replaced.</summary>
    public static string InFormula(string text, string from, string to) => Swap(text, FormulaTrees, from, to);

    private static IEnumerable<Syntax>? FormulaTrees(string text) => Formula.Read(text).Tree is { } tree ? [tree] : null;

    private static IEnumerable<Syntax>? StartTrees(string text) => StartLine.Read(text).Formula.Tree is { } tree ? [tree] : null;

    private static IEnumerable<Syntax>? DrawTrees(string text) =>
        DrawLine.Read(text).Line is { } line ? [.. line.Arguments, line.Every] : null;

    private static IEnumerable<Syntax>? ReactionTrees(string text) => ReactionLine.Read(text).Line?.Trees;

    private static IEnumerable<Syntax>? EventTrees(string text) => EventLine.Read(text).Line?.Trees;

    private static IEnumerable<Syntax>? ExpectationTrees(string text) => ExpectationLine.Read(text).Line?.Trees;

    private static IEnumerable<NameSyntax> In(string text, Func<string, IEnumerable<Syntax>?> read) =>
        text.Length == 0 ? [] : read(text)?.SelectMany(tree => tree.Names()) ?? [];

    private static string Swap(string text, Func<string, IEnumerable<Syntax>?> read, string from, string to)
    {
        if (!text.Contains(from, StringComparison.Ordinal) && !Symbols.Normalize(text).Contains(from, StringComparison.Ordinal))
            return text;
        // A line that cannot be read has words, but no tree that tells names from units.
        if (read(text) is not { } trees)
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
