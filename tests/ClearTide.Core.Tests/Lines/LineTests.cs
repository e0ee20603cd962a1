using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;

namespace ClearTide.Core.Tests.Lines;

/// <summary>Every kind of part in a line, and the whole model as lines again.</summary>
public class LineTests
{
    /// <summary>A model with a part of every kind.</summary>
    internal const string AllKinds = """
        unit tablet = 200 mg
        S -> I : beta * S * I / N * season(t) * noise
        I -> R 98%, D the rest after stay in 3 stages
        R -> S at waning
        S -> V : doses limited
        -> S : 2
        D -> : 0.1 * D
        S(0) = the rest of 18400 people
        I(0) = 6
        beta = 0.4 per day
        stay = 5 days
        waning = 1/90 per day
        doses = 10 * crowding(I / N)
        N = S + I + R + V
        late = delay(I, 3 days) + smooth(I, 2 days, 2)
        season = points 0 1, 90 0.8, 180 1.2 smooth then repeat 365 days
        crowding(x) = hill(1, 0, 0.5, 4)
        table(x) = points 0 1, 0.5 0.8, 1 0
        noise = normal(1, 0.05) every 7 days
        at 30: S -> V : 400
        every 7 days from 10: V = V + 1
        while I > 40: beta = 0.3 per day
        when I > 100 once: I -> R : 3
        assume: immunity lasts three months
        expect: V never falls
        """;

    [Fact]
    public void Each_kind_of_part_is_added_by_a_line()
    {
        var document = Studies.Of(AllKinds);
        Assert.Equal(5, document.Compartments.Length);
        Assert.Equal(6, document.Flows.Length);
        Assert.Equal(6, document.Definitions.Length);
        Assert.Single(document.Inputs);
        Assert.Equal(2, document.Curves.Length);
        Assert.Single(document.RandomInputs);
        Assert.Equal(4, document.Events.Length);
        Assert.Single(document.Assumptions);
        Assert.Single(document.Expectations);
        Assert.Equal((3, true), (document.Flows[1].Stages, document.Flows[3].Limited));
        var lowered = Lowering.Lower(document);
        Assert.True(
            !lowered.IsProvisional,
            string.Join("; ", lowered.Findings.Where(finding => finding.Severity == Severity.Unfinished).Select(finding => finding.Message))
        );
        Assert.Null(StudyRun.Of(document).Failure);
    }

    [Fact]
    public void A_model_as_lines_reads_as_the_same_model()
    {
        var document = Studies.Of(AllKinds);
        var lines = LineText.Of(document);
        var again = Studies.Of(lines);
        Assert.Equal(lines, LineText.Of(again));
        Assert.Equal(document.Parts.Count(), again.Parts.Count());
        var (before, after) = (StudyRun.Of(document).Run!, StudyRun.Of(again).Run!);
        // The compartments may have come in another order: each is found by its symbol.
        foreach (var (amount, k) in before.Network.Amounts.Select((amount, k) => (amount.Symbol, k)))
        {
            var other = after.Network.Amounts.ToList().FindIndex(candidate => candidate.Symbol == amount);
            // Random inputs are drawn by part, and parts have new ids: only what they do not reach is compared.
            if (amount == "V")
                continue;
            Assert.True(other >= 0);
            Assert.Equal(before.Amount(0, k), after.Amount(0, other), 1e-9);
        }
    }

    [Theory]
    [InlineData("S -> I, R : 3", "Two ends of this flow take the rest")]
    [InlineData("S -> I 50%, R 60% : S", "come to 110%")]
    [InlineData("S -> I 98, R 2 : S", "Did you mean percent?")]
    [InlineData("S -> I 120%, R : S", "lies between 0 and 1")]
    [InlineData("S -> I k, R k : S; k = 0.5", "Nothing makes sure")]
    public void Shares_that_do_not_sum_to_one_are_told_with_a_way_out(string lines, string words) =>
        Assert.Contains(Lowering.Lower(Studies.Of(lines)).Findings, finding => finding.Message.Contains(words));

    [Theory]
    [InlineData("->", "needs a compartment at one end")]
    [InlineData("outside -> outside : 3", "needs a compartment at one end")]
    [InlineData("S -> S : 3", "moves nothing")]
    [InlineData("S -> I, I : 3", "stands twice among the ends")]
    [InlineData("S -> I", "How fast?")]
    [InlineData("-> S at 3", "comes from outside")]
    [InlineData("f = points", "A number is missing")]
    [InlineData("f = points 0 1, 0 2", "stands twice in the table")]
    [InlineData("f = points 5 1, 3 2", "ascending order")]
    [InlineData("f(x) = points 0 1", "at least two points")]
    [InlineData("f(x) = hill(1, 2)", "takes 4 numbers")]
    [InlineData("f(x) = 2 * x", "A formula in x is a quantity")]
    [InlineData("f(t) = 2 * t", "A formula in time is a quantity")]
    [InlineData("at 30", "what happens are missing")]
    [InlineData("while S > 3 once: b = 2", "belong to “when”")]
    [InlineData("at 2031-13-05: S = 3", "no day of the calendar")]
    [InlineData("expect: S + I", "Say what it does")]
    [InlineData("assume:", "Assume what?")]
    [InlineData("exp = 3", "is a function")]
    [InlineData("per = 3", "a meaning of its own")]
    [InlineData("S(0) = at equilibrium about 4", "missing before")]
    [InlineData("unit x1", "letters only")]
    public void What_cannot_be_read_is_refused_in_words(string line, string words)
    {
        var result = new AddLines(line).Apply(Studies.Of("A -> B at 0.1"));
        Assert.Null(result.Document);
        Assert.Contains(words, result.Refusal);
    }

    [Theory]
    [InlineData("β -> γ at 0.1")]
    [InlineData("насекомые -> Ämter at 0.1")]
    [InlineData("蜂 -> 巣 after 3 days")]
    public void Names_come_in_any_script(string line) => Assert.Equal(2, Studies.Of(line).Compartments.Length);

    [Theory]
    [InlineData("beta -> S at 0.1; β -> S at 0.1", "print alike")]
    [InlineData("A -> S at 0.1; А -> S at 0.1", "print alike")]
    public void Symbols_that_print_alike_are_told(string lines, string words) =>
        Assert.Contains(Lowering.Lower(Studies.Of(lines)).Findings, finding => finding.Message.Contains(words));

    [Fact]
    public void A_symbol_of_another_kind_is_not_taken_over()
    {
        var document = Studies.Of("A -> B at 0.1; q = 2 * A; f = points 0 1");
        Assert.Contains("a quantity", new AddLines("q -> A at 3").Apply(document).Refusal);
        Assert.Contains("an input", new AddLines("f -> A at 3").Apply(document).Refusal);
        Assert.Contains("an input already", new AddLines("f = 3").Apply(document).Refusal);
    }

    [Theory]
    [InlineData("0\t5\n30\t8\n", 2, null, null)]
    [InlineData("time\tVaccinated (people)\n0\t5\n30\t8", 2, "Vaccinated", "people")]
    [InlineData("0,5\n30,8", 2, null, null)]
    [InlineData("0 5, 30 8", 2, null, null)]
    [InlineData("day;Rain [mg/L]\n0;5\n1;−2\n", 2, "Rain", "mg/L")]
    [InlineData("day,Rain (nonsense)\n0,5", 1, "Rain (nonsense)", null)]
    public void Tables_are_read_as_they_are_pasted(string text, int points, string? label, string? unit)
    {
        var table = PastedTable.Read(text, UnitTable.Of(TimeUnit.Day));
        Assert.Null(table.Problem);
        Assert.Equal((points, label, unit), (table.Points.Length, table.Label, table.Unit));
    }

    [Theory]
    [InlineData("hello\nworld", "Line 1")]
    [InlineData("0\t5\n0\t6", "stands twice")]
    [InlineData("0\t5\n7\tx", "Line 2")]
    [InlineData("", "at least one point")]
    [InlineData("3\t5\n1\t6", "ascending")]
    public void Pasted_garbage_is_told_line_by_line(string text, string words) =>
        Assert.Contains(words, PastedTable.Read(text, UnitTable.Of(TimeUnit.Day)).Problem);
}
