using System.Collections.Immutable;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Studies;

/// <summary>What the schema of a file cannot say: that what refers to something finds it, that names are names and stand once, that
/// numbers fit together.</summary>
internal static class StudyChecks
{
    internal const string Mend = "Correct it in the file, or export it again where it came from.";

    /// <exception cref="StudyFileException">The document cannot be a study; the message says why and where.</exception>
    public static StudyDocument Require(StudyDocument document)
    {
        if (
            (Ids(document) ?? Names(document) ?? GroupChecks.Problem(document) ?? Ends(document) ?? Paper(document) ?? Numbers(document)) is
            { } problem
        )
        {
            throw new StudyFileException(problem);
        }
        return document;
    }

    /// <exception cref="StudyFileException">Two data sets have one id.</exception>
    public static ImmutableArray<DataSet> Require(ImmutableArray<DataSet> sets)
    {
        if (Twice(sets.Select(set => set.Id)) is { } id)
        {
            throw new StudyFileException($"Two data sets of this file have the id {id}. {Mend}");
        }
        return sets;
    }

    /// <summary>A document none of whose lists has a hole.</summary>
    public static StudyDocument Whole(StudyDocument document)
    {
        IEnumerable<object?> entries =
        [
            .. document.Parts,
            .. document.Observations,
            .. document.Panels,
            .. document.Sliders,
            .. document.Regions,
            .. document.Modules,
            .. document.Modules.SelectMany(module => module?.Source?.Lines ?? []),
            .. document.References,
            .. document.Texts,
            .. document.Tags,
            .. document.FileNotes,
            .. document.Fit.Parameters,
            .. document.Fits,
            .. document.Fits.SelectMany(fit => fit?.Setup?.Parameters ?? []),
            .. document.Subjects?.Varying ?? [],
            .. document.Subjects?.Correlations ?? [],
            .. document.Scenarios,
            .. document.Units,
            .. document.Splits,
            .. document.Groups.Where(group => group is not null).SelectMany(group => group.Members.Concat<object?>(group.Passages)),
            .. document.Splits.Where(split => split is not null).SelectMany(split => split.Lines),
        ];
        if (
            entries.Any(entry => entry is null)
            || document.Scenarios.Any(scenario =>
                scenario.Measures.Contains(null!)
                || scenario.Rules.Contains(null!)
                || scenario.Costs.Contains(null!)
                || scenario.BuildsOn.Contains(null!)
            )
        )
        {
            throw new StudyFileException("A list in it has a hole.");
        }
        return document;
    }

    private static string? Twice(IEnumerable<string> all) => all.GroupBy(one => one).FirstOrDefault(group => group.Count() > 1)?.Key;

    private static string? Ids(StudyDocument document)
    {
        if (document.Parts.Count() > AddLines.MostParts)
        {
            return $"This study has more than {AddLines.MostParts:N0} parts, which is the limit.";
        }
        var kinds = new[]
        {
            document.Parts.Select(part => part.Id),
            document.Observations.Select(one => one.Id),
            document.Scenarios.Select(one => one.Id),
            document.Scenarios.SelectMany(one => one.Measures.Select(measure => measure.Id).Concat(one.Rules.Select(rule => rule.Id))),
            document.Panels.Select(one => one.Id),
            document.Regions.Select(one => one.Id),
            document.Modules.Select(one => one.Id),
            document.References.Select(one => one.Id),
            document.Texts.Select(one => one.Id),
        };
        return kinds.Select(Twice).FirstOrDefault(id => id is not null) is { } twice
            ? $"Two parts of this study share the id {twice}. {Mend}"
            : null;
    }

    private static string? Names(StudyDocument document)
    {
        if (document.Title.Trim().Length == 0)
            return $"This study has no title. {Mend}";
        foreach (var part in document.SymbolParts)
        {
            if (Symbols.Refusal(part.Symbol) is { } refusal)
                return $"The part {part.Id}: {refusal}";
        }
        foreach (var module in document.Modules)
        {
            if (Symbols.Refusal(module.Symbol) is { } refusal)
                return $"The module {module.Id}: {refusal}";
        }
        if (Twice(document.Modules.Select(module => module.Symbol)) is { } both)
            return $"Two modules of this study have the name {both}. {Mend}";
        if (document.Fits.Select(fit => NamedFit.Refusal(fit.Name)).OfType<string>().FirstOrDefault() is { } called)
            return $"{called} {Mend}";
        if (Twice(document.Fits.Select(fit => fit.Name)) is { } fits)
            return $"Two fits of this study have the name {fits}. {Mend}";
        return Twice(document.SymbolParts.Select(part => Symbols.Normalize(part.Symbol))) is { } twice
            ? $"Two parts of this study have the symbol {twice}. {Mend}"
            : null;
    }

    private static string? Ends(StudyDocument document)
    {
        foreach (var flow in document.Flows)
        {
            var ends = flow.To.Select(target => target.Id).Append(flow.From).OfType<string>().ToList();
            if (flow.To.IsEmpty || ends.Count == 0 || ends.Any(id => document.Compartment(id) is null))
            {
                return $"The flow {flow.Id} has an end that is not in the study. {Mend}";
            }
            if (QuickLine.StageRefusal(flow.Stages) is { } stages)
                return $"The flow {flow.Id}: {stages}";
        }
        return null;
    }

    /// <summary>Whether a region, a reference or a pinned note refers to what is not there, or a compartment is in two regions.</summary>
    private static string? Paper(StudyDocument document)
    {
        var members = document.Regions.SelectMany(region => region.Members).ToList();
        return
            Twice(members) is not null
            || members.Concat(document.References.Select(mark => mark.Of)).Any(id => document.Compartment(id) is null)
            || document.Texts.Any(text => text.Of is not null && document.Part(text.Of) is null)
            ? $"Something on the diagram's paper refers to a part that is not in the study. {Mend}"
            : null;
    }

    private static string? Numbers(StudyDocument document)
    {
        foreach (
            var (symbol, points) in document
                .Inputs.Select(input => (input.Symbol, input.Points))
                .Concat(document.Curves.Where(curve => curve.Law == CurveLaw.Points).Select(curve => (curve.Symbol, curve.Points)))
        )
        {
            if (PointTables.Problem(points) is { } problem)
                return $"The input {symbol}: {problem}";
        }
        if (
            document
                .Scenarios.SelectMany(scenario => scenario.Measures)
                .FirstOrDefault(measure =>
                    (measure.Kind == MeasureKind.Scale && measure.Factor is not (>= 0 and <= 1e6))
                    || !double.IsFinite(measure.Factor)
                    || !(measure.Until > measure.From)
                ) is
            { } measure
        )
        {
            return $"The measure {measure.Id} scales by a number that cannot be, or ends before it begins. {Mend}";
        }
        if (
            document.Fits.Select(fit => fit.Setup).Prepend(document.Fit).Select(fit => fit.Refusal()).OfType<string>().FirstOrDefault() is
            { } fit
        )
        {
            return $"{fit} {Mend}";
        }
        if (document.Sliders.FirstOrDefault(slider => !(slider.High > slider.Low) || slider.Step < 0) is { } slider)
        {
            return $"The range of the slider {slider.Address} is none. {Mend}";
        }
        if (!document.Solver.IsSound)
        {
            return "The solver of this study has a method, a step or a tolerance that cannot be. Correct it, or take the field out.";
        }
        return new SetSpan(document.Start, document.End).Apply(document).Refusal;
    }
}
