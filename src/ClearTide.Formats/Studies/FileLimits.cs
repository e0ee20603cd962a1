using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using ClearTide.Core.Editing;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Studies;

/// <summary>What the editor would refuse, as bounds in the schema: how long texts and lists may be.</summary>
internal static class FileLimits
{
    public const int MostDataSets = 100;

    /// <summary>Texts that have a bound of their own; all others are formulas, or as long as one at most.</summary>
    private static readonly Dictionary<string, int> Characters = new()
    {
        ["id"] = 100,
        ["symbol"] = Symbols.Longest,
        ["label"] = SetField.LongestLabel,
        ["note"] = Sbml.SbmlAnnotations.LongestNote,
        ["question"] = SetQuestion.LongestQuestion,
        ["description"] = SetQuestion.LongestDescription,
        ["outcomeRows"] = Core.Reports.OutcomeFormula.MostCharacters,
        ["tags"] = SetQuestion.LongestTag,
        ["name"] = 300,
    };

    /// <summary>Lists that have a bound of their own; all others hold parts of the study, or as many things at most.</summary>
    private static readonly Dictionary<string, int> Entries = new()
    {
        ["tags"] = SetQuestion.MostTags,
        ["units"] = SetUnit.MostUnits,
        ["to"] = Flow.MostTargets,
        ["points"] = Input.MostPoints,
        ["rows"] = CountTable.MostRows,
        ["varying"] = SubjectGroup.MostValues,
        ["correlations"] = SubjectGroup.MostValues * (SubjectGroup.MostValues - 1) / 2,
        ["subjects"] = SubjectColumns.Most,
        ["scenarios"] = AddScenario.MostScenarios,
        ["buildsOn"] = AddScenario.MostScenarios,
        ["costs"] = SetMeasure.MostMeasures,
        ["measures"] = SetMeasure.MostMeasures,
        ["rules"] = SetMeasure.MostMeasures,
        ["outcomeRows"] = StudyDocument.MostOutcomeRows,
        ["panels"] = Panel.Most,
        ["sliders"] = Slider.Most,
    };

    /// <summary>Adds to the schema of one property what its text or its list may hold.</summary>
    public static void Add(JsonSchemaExporterContext context, JsonObject schema)
    {
        var property = context.PropertyInfo?.Name ?? "";
        if (Is(schema, "string") && schema["enum"] is null && schema["format"] is null)
        {
            schema["maxLength"] =
                property == "title" && context.PropertyInfo!.DeclaringType == typeof(StudyDocument)
                    ? SetQuestion.LongestTitle
                    : Characters.GetValueOrDefault(property, FormulaLimits.Characters);
        }
        if (!Is(schema, "array"))
            return;
        schema["maxItems"] = Entries.GetValueOrDefault(property, AddLines.MostParts);
        if (property is "rows")
            schema["minItems"] = 1;
        if (property is "tags" or "outcomeRows")
            schema["items"]!["maxLength"] = Characters[property];
    }

    private static bool Is(JsonObject schema, string type) =>
        schema["type"] switch
        {
            JsonValue one => one.GetValue<string>() == type,
            JsonArray several => several.Any(entry => entry?.GetValue<string>() == type),
            _ => false,
        };
}
