using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Tables;

namespace ClearTide.Formats.Tests;

public class ResultTableTests
{
    [Fact]
    public void A_run_is_read_back_to_the_last_bit_also_below_zero()
    {
        var form = Lowering
            .Lower(new AddLines("-> X : -cos(t) * 3; -> Y : 1e-12; X(0) = 1").Apply(new StudyDocument { Title = "Tides" }).Document!)
            .Network;
        var model = new CompiledModel(form);
        var values = form.ValueVector();
        var run = Engines.Run(new(model, values, OutputTimes.Every(0, 6, 0.5)));
        using var text = new StringWriter();
        ResultTable.Write(
            text,
            run.Times,
            [.. run.Network.Amounts.Select((amount, k) => new TableColumn(amount.Symbol, run.AmountColumn(k)))]
        );
        var lines = text.ToString().TrimEnd().Split('\n');
        Assert.Equal("time,X,Y", lines[0]);
        var rows = lines[1..]
            .Select(line => line.Split(',').Select(number => double.Parse(number, CultureInfo.InvariantCulture)).ToArray())
            .ToList();
        Assert.Contains(rows, row => row[1] < 0);
        for (var k = 0; k < rows.Count; k++)
            Assert.Equal([run.Times[k], run.Amount(k, 0), run.Amount(k, 1)], rows[k]);
    }

    [Theory]
    [InlineData("=1+2", "'=1+2")]
    [InlineData("-1+2", "'-1+2")]
    [InlineData("@mean", "'@mean")]
    [InlineData("Fewer contacts", "Fewer contacts")]
    [InlineData("half, and half", "\"half, and half\"")]
    public void A_name_is_never_taken_for_a_formula(string name, string written)
    {
        var band = new Band(-1, 2, 3, 4, 5);
        var outcome = new OutcomeSummary(ProjectedOutcome.Peak, band, null);
        using var text = new StringWriter();
        ResultTable.Write(text, new ProjectionSummary("", "cases", 0, 7, [0, 7], 10, 1, [new(name, [band], [outcome])], [null]));
        Assert.Equal($"{written},0,7,-1,2,3,4,5,", text.ToString().Split('\n')[1]);
    }
}
