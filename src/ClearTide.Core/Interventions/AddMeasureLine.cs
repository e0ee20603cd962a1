using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>A measure as it is typed, put into a scenario; into a new one, named by what it does, where none is named.</summary>
/// <param name="ScenarioId">Empty for a new scenario.</param>
public sealed record AddMeasureLine(string ScenarioId, string Text) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var (line, problem) = MeasureLine.Read(Text, document);
        if (line is null)
            return EditResult.Refused(problem!);
        var made = new Measure("", "", line.Address, line.Number, line.From, line.Until) { Kind = line.Kind };
        var (scenario, label) = (ScenarioId, MeasureLine.Change(made));
        if (scenario.Length == 0)
        {
            var names = document.Scenarios.Select(one => one.Name).ToHashSet();
            var name = names.Contains(label)
                ? Enumerable.Range(2, 99).Select(k => $"{label} ({k})").First(one => !names.Contains(one))
                : label;
            var added = new AddScenario(name).Apply(document);
            if (added.Document is not { } with)
                return added;
            (document, scenario) = (with, with.Scenarios[^1].Id);
        }
        return new SetMeasure(scenario, null, label, line.Address, line.Number, line.From, line.Until, line.Kind).Apply(document);
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"measure: {Text.Trim()}";
}
