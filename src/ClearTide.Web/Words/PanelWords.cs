using ClearTide.Core.Analysis;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Web.Words;

/// <summary>Panels, values and kept runs in words.</summary>
public static class PanelWords
{
    private const int MostDifferences = 5;

    /// <summary>A curve in a list to choose from: its symbol and, where it has one of its own, its label.</summary>
    public static string Named(StudyDocument document, string partId, string name) =>
        document.Part(partId) is ISymbolPart { Label.Length: > 0 } part && part.Label != part.Symbol ? $"{name}, {part.Label}" : name;

    public static string Of(PanelKind kind) =>
        kind switch
        {
            PanelKind.Curves => "curves over time",
            PanelKind.Observed => "what was observed, and what is expected",
            PanelKind.Budget => "the budget of a compartment",
            PanelKind.Phase => "two curves against each other",
            PanelKind.Sweep => "a sweep of one value, or two",
            PanelKind.Sensitivity => "what an outcome depends on",
            PanelKind.Table => "numbers",
            PanelKind.Outcomes => "outcomes, in words and numbers",
            PanelKind.Chance => "an outcome by chance",
            _ => "checks: step and expectations",
        };

    public static string Of(OutcomeKind kind) =>
        kind switch
        {
            OutcomeKind.Maximum => "peak",
            OutcomeKind.MaximumTime => "time of the peak",
            OutcomeKind.Final => "at the end",
            OutcomeKind.Initial => "at the start",
            OutcomeKind.Minimum => "least",
            OutcomeKind.Mean => "mean",
            OutcomeKind.Total => "total over time",
            OutcomeKind.TimeAbove => "time above a level",
            OutcomeKind.FirstCrossing => "first time at a level",
            OutcomeKind.DoublingTime => "doubling time",
            _ => "half-life",
        };

    public static string Name(StudyDocument document, string id) =>
        ComputedCurves.Is(id) ? id[1..]
        : document.Part(id) is { } part ? document.Describe(part)
        : "";

    public static string Title(StudyDocument document, Panel panel)
    {
        var of = Name(document, panel.Of) is { Length: > 0 } name ? name : "what is no longer there";
        return panel.Kind switch
        {
            PanelKind.Curves => "Curves",
            PanelKind.Observed => "Observed and expected",
            PanelKind.Budget => $"Flows into and out of {of}",
            PanelKind.Phase => $"{of} and {Name(document, panel.Against)}",
            PanelKind.Sweep => Capital(
                $"{new OutcomeChoice(panel.Of, panel.Outcome).Words(of)} over "
                    + $"{panel.Address}{(panel.SecondAddress != ValueAddress.None ? $" and {panel.SecondAddress}" : "")}"
            ),
            PanelKind.Sensitivity => Capital($"what the {new OutcomeChoice(panel.Of, panel.Outcome).Words(of)} depends on"),
            PanelKind.Table => "Numbers",
            PanelKind.Outcomes => "Outcomes",
            PanelKind.Chance when panel.Statement.Length > 0 => panel.Statement,
            PanelKind.Chance => Capital($"{new OutcomeChoice(panel.Of, panel.Outcome).Words(of)} by chance"),
            _ => "Checks",
        };
    }

    private static string Capital(string words) => char.ToUpperInvariant(words[0]) + words[1..];

    /// <summary>A value by its label where it has one, and its address.</summary>
    public static string Value(StudyDocument document, ValueAddress address)
    {
        var part = document.PartBySymbol(address.Symbol);
        var label = part is null || part.Label == part.Symbol ? "" : part.Label;
        return (address.Field, address.End) switch
        {
            (ValueField.Own, _) => label.Length > 0 ? $"{address}, {label}" : address.ToString(),
            (ValueField.Start, _) => $"{address.Symbol} at the start",
            (ValueField.Total, _) => $"total of {address.Symbol}",
            (ValueField.Stay, "") => $"mean stay in {address.Symbol}",
            (ValueField.Rate, "") => $"rate of {address.Symbol}",
            _ => address.ToString(),
        };
    }

    /// <summary>What a kept run has that the present model has not.</summary>
    public static string Differences(StudyDocument kept, StudyDocument now)
    {
        var all = DocumentComparison.Of(
            now with
            {
                Panels = [],
                Sliders = [],
                Regions = [],
                Texts = [],
                References = [],
                FileNotes = [],
            },
            kept with
            {
                Panels = [],
                Sliders = [],
                Regions = [],
                Texts = [],
                References = [],
                FileNotes = [],
            }
        );
        var words = all.SelectMany(difference =>
                difference.Presence switch
                {
                    PartPresence.Added => [$"with {difference.Name}"],
                    PartPresence.Removed => [$"without {difference.Name}"],
                    _ => difference
                        .Fields.Where(field =>
                            field.Field
                                is not (
                                    "x"
                                    or "y"
                                    or "origin"
                                    or "label"
                                    or "note"
                                    or "title"
                                    or "question"
                                    or "description"
                                    or "tags"
                                    or "panels"
                                    or "sliders"
                                )
                        )
                        .Select(field => $"{(difference.Kind == "the study" ? field.Field : difference.Name)} {field.After}"),
                }
            )
            .ToList();
        return words.Count == 0
            ? "as the model is now"
            : string.Join(", ", words.Take(MostDifferences))
                + (words.Count > MostDifferences ? $" and {words.Count - MostDifferences} more" : "");
    }
}
