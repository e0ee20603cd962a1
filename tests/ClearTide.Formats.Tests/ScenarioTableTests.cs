using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Interventions;
using ClearTide.Core.Model;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests;

/// <summary>Scenarios without chance as CSV, held against exponential decay.</summary>
public class ScenarioTableTests
{
    private static string[][] Rows(string lines, bool isFlow, bool withCost, params string[] own)
    {
        var study = new AddLines("A(0) = 100; A -> B at k; k = 0.1 per day")
            .Apply(new StudyDocument { Title = "Reeds", End = 20 })
            .Document!;
        foreach (var line in lines.Split('\n', StringSplitOptions.RemoveEmptyEntries))
            study = new AddMeasureLine(study.Scenarios.IsEmpty ? "" : study.Scenarios[0].Id, line).Apply(study).Document!;
        study = study with { OutcomeRows = [.. own] };
        var of = isFlow ? study.Flows[0].Id : study.Compartments[0].Id;
        var runs = ScenarioRuns.Of(
            Lowering.Lower(study),
            of,
            double.NegativeInfinity,
            new Dictionary<Core.Language.ValueAddress, double>()
        );
        using var text = new StringWriter();
        ScenarioTable.Write(text, runs, isFlow, withCost, study.OutcomeRows);
        return [.. text.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(line => line.TrimEnd('\r').Split(','))];
    }

    [Fact]
    public void A_scenario_has_a_row_for_each_outcome_with_its_change()
    {
        var rows = Rows("k x 0.5, days 0 to 20", isFlow: false, withCost: false, "end(B)");
        Assert.Equal(["scenario", "outcome", "value", "change"], rows[0]);
        Assert.Equal(1 + 2 * 4, rows.Length);
        Assert.Equal("Baseline", rows[1][0]);
        Assert.Equal("", rows[1][3]);
        // 100 exp(-2) and 100 exp(-1), to the tolerance of a run (1e-8) with room for its steps.
        Assert.Equal(["at the end", "end(B)"], rows[3..5].Select(row => row[1]));
        Assert.Equal(100 * Math.Exp(-2), Number(rows[3][2]), 1e-5);
        var half = rows[7];
        Assert.Equal(100 * Math.Exp(-1), Number(half[2]), 1e-5);
        Assert.Equal(100 * (Math.Exp(-1) - Math.Exp(-2)), Number(half[3]), 1e-5);
        Assert.Equal(-100 * (Math.Exp(-1) - Math.Exp(-2)), Number(rows[8][3]), 1e-5);
    }

    [Fact]
    public void A_flow_has_a_total_and_costs_are_told_where_there_are_some()
    {
        var rows = Rows("k x 0.5, days 0 to 20", isFlow: true, withCost: true);
        Assert.Equal(["peak", "time of peak", "total", "cost"], rows[1..5].Select(row => row[1]));
        Assert.Equal(100 * (1 - Math.Exp(-2)), Number(rows[3][2]), 1e-5);
        Assert.Equal("0", rows[8][2]);
    }

    private static double Number(string text) => double.Parse(text, System.Globalization.CultureInfo.InvariantCulture);
}
