using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Interventions;

/// <summary>A measure as it is typed, put into a scenario; into a new one, named by what it does, where none is named.</summary>
/// <param name="ScenarioId">Empty for a new scenario.</param>
/// <param name="Text">The measure as typed.</param>
public sealed record AddMeasureLine(string ScenarioId, string Text) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (EventLine.Begins(Text) || Replacement.Begins(Text))
            return Put(document, Text.Trim(), scenario => new SetRule(scenario, null, Text));
        var (line, problem) = MeasureLine.Read(Text, document);
        if (line is null)
            return EditResult.Refused(problem!);
        var made = new Measure("", "", line.Address, line.Number, line.From, line.Until) { Kind = line.Kind };
        var label = MeasureLine.Change(made);
        return Put(document, label, scenario => new SetMeasure(
            scenario,
            null,
            label,
            line.Address,
            line.Number,
            line.From,
            line.Until,
            line.Kind
        ));
    }

    /// <summary>Puts it into the scenario, or into one that is made for it.</summary>
    private EditResult Put(StudyDocument document, string label, Func<string, Edit> into)
    {
        if (ScenarioId.Length > 0)
            return into(ScenarioId).Apply(document);
        var added = new AddScenario(ScenarioNames.Free(document, label)).Apply(document);
        return added.Document is { } with ? into(with.Scenarios[^1].Id).Apply(with) : added;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"measure: {Text.Trim()}";
}
