using ClearTide.Core.Editing;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests;

/// <summary>Studies for tests, written as a modeller would type them.</summary>
internal static class Studies
{
    public static StudyDocument Of(string lines, double end = 100) => Of(lines, new StudyDocument { Title = "Test", End = end });

    /// <summary>A study with more lines.</summary>
    public static StudyDocument Of(string lines, StudyDocument before) => With(before, new AddLines(lines));

    /// <summary>A study after an edit, which must be taken.</summary>
    public static StudyDocument With(StudyDocument before, Edit edit)
    {
        var result = edit.Apply(before);
        Assert.True(result.Refusal is null, result.Refusal);
        return result.Document!;
    }

    /// <summary>A study in which compartments hold amounts that are not counted.</summary>
    public static StudyDocument Flowing(StudyDocument before, params string[] symbols) =>
        symbols.Aggregate(before, (study, symbol) =>
            With(study, new SetField(study.CompartmentBySymbol(symbol)!.Id, PartField.WholeUnits, "false"))
        );

    public const string Latent = """
        S -> E : beta * S * I / N
        E -> I after 3 days
        I -> R at gamma
        beta = 0.36 per day
        gamma = 1/5 per day
        N = S + E + I + R
        S(0) = the rest of 18400
        I(0) = 3
        rho = 0.4
        """;
}
