using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Data;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;

namespace ClearTide.Core.Tests.Simulation;

/// <summary>Reactions, against closed forms.</summary>
public class ReactionTests
{
    // Some tens of steps at a tolerance of 1e-8 each.
    private const double Close = 1e-6;

    [Fact]
    public void Two_that_meet_become_one()
    {
        // A' = -k A B with A = B: A = A0 / (1 + k A0 t), and C is what is missing of A.
        var run = Runs.OfLines("reaction r: A + B -> C : 0.5 * A * B; A(0) = 4; B(0) = 4", 0, 3);
        Assert.Equal(4 / (1 + 0.5 * 4 * 3), run.Amount(1, 0), Close);
        Assert.Equal(run.Amount(1, 0), run.Amount(1, 1), 1e-14);
        Assert.Equal(4 - run.Amount(1, 0), run.Amount(1, 2), 1e-12);
        // Its symbol is its rate.
        Assert.Equal(0.5 * run.Amount(1, 0) * run.Amount(1, 1), run.QuantityColumn(0)[1], 1e-12);
    }

    [Fact]
    public void Counts_are_numbers_or_formulas()
    {
        // 2 A -> 3 B at rate k A: A = A0 exp(-2 k t), B = 3/2 of what left; and n of C, which grows as t, comes to 0.5 t² at rate 1.
        var run = Runs.OfLines("reaction r: 2 A -> 3 B : 0.2 * A; reaction s: -> (t) C : 1; A(0) = 10", 0, 2);
        Assert.Equal(10 * Math.Exp(-0.8), run.Amount(1, 0), Close);
        Assert.Equal(1.5 * (10 - run.Amount(1, 0)), run.Amount(1, 1), 1e-10);
        Assert.Equal(2, run.Amount(1, 2), Close);
    }

    [Fact]
    public void What_is_taken_and_made_again_stays()
    {
        var run = Runs.OfLines("reaction r: K + A -> K + B : 0.3 * K * A; K(0) = 2; A(0) = 5", 0, 1);
        Assert.Equal(2, run.Amount(1, 0));
        Assert.Equal(5 * Math.Exp(-0.6), run.Amount(1, 1), Close);
    }

    [Fact]
    public void A_reaction_brings_to_the_first_stage()
    {
        var run = Runs.OfLines("reaction r: A -> B + C : 1 * A; B -> after 4 days in 2 stages; A(0) = 5", 0, 1);
        // A' = -A; the first stage B' = A - B / 2 has 10 (exp(-t/2) - exp(-t)), and C is what A lost.
        Assert.Equal(5 * (1 - Math.Exp(-1)), run.Amount(1, 2), Close);
    }

    [Fact]
    public void A_plain_number_that_becomes_an_end_turns_into_a_compartment()
    {
        var document = Studies.Of("k = 2; reaction r: A + k -> B : A; A(0) = 1", 1);
        Assert.Equal("2", document.CompartmentBySymbol("k")!.Start);
        Assert.Empty(document.Definitions);
    }

    [Theory]
    [InlineData("A + -> B : A", "Name a compartment")]
    [InlineData("A + B", "an arrow")]
    [InlineData("A -> B", "the rate")]
    [InlineData("-> : 3", "takes or makes something")]
    [InlineData("A -> Q : A", "Q")]
    [InlineData("A -> k : A", "k is a parameter, and a reaction takes and makes what is in compartments")]
    [InlineData("S -> A : S", "passed in stages")]
    public void A_line_that_cannot_be_read_is_kept_and_told(string text, string says)
    {
        var document = Studies.Of("reaction r: A -> B : A; k = 1; S -> A after 5 days in 3 stages; A(0) = 1", 1);
        var changed = new SetField(document.Reactions[0].Id, PartField.Text, text).Apply(document).Document!;
        Assert.Equal(text, changed.Reactions[0].Text);
        Assert.Contains(Lowering.Lower(changed).Findings, finding =>
            finding.PartId == changed.Reactions[0].Id
            && finding.Severity == Severity.Unfinished
            && finding.Message.Contains(says, StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Renaming_reaches_ends_counts_and_rates()
    {
        var document = Studies.Of("reaction r: A + (n) B -> A : k * A * B; n = 2; k = 1; twice = 2 * r; A(0) = 1; B(0) = 1", 1);
        foreach (var (from, to) in new[] { ("A", "Alpha"), ("n", "m"), ("k", "c"), ("r", "rate") })
        {
            document = new SetField(document.PartBySymbol(from)!.Id, PartField.Symbol, to).Apply(document).Document!;
        }
        Assert.Equal(("rate", "Alpha + (m) B -> Alpha : c * Alpha * B"), (document.Reactions[0].Symbol, document.Reactions[0].Text));
        Assert.Equal("2 * rate", document.DefinitionBySymbol("twice")!.Text);
    }

    [Fact]
    public void A_study_as_lines_comes_back()
    {
        var document = Studies.Of("reaction r: A + 2 B -> C : k * A; k = 1; A(0) = 1; B(0) = 3", 1);
        var again = new AddLines(LineText.Of(document)).Apply(new StudyDocument { Title = "again" }).Document!;
        Assert.Equal(document.Reactions[0].Text, again.Reactions[0].Text);
        Assert.Empty(Lowering.Lower(again).Findings);
    }

    [Fact]
    public void Copies_react_among_themselves()
    {
        var document = Studies.Of("reaction r: A -> B + C : k * A; k = 1; A(0) = 1", 1);
        var copied = new AddCopies(PartSelection.Of(document, [.. document.SymbolParts.Select(part => part.Id)])).Apply(document).Document!;
        Assert.Equal("A2 -> B2 + C2 : k2 * A2", copied.Reactions[1].Text);
        Assert.NotEqual(copied.Reactions[0].Id, copied.Reactions[1].Id);
    }

    [Fact]
    public void What_moves_what_follows_reactions()
    {
        var run = StudyRun.Of(Studies.Of("reaction r: A + B -> C : 0.1 * A * B; A(0) = 4; B(0) = 2", 5));
        var (a, c) = (run.Lowered.Document.CompartmentBySymbol("A")!.Id, run.Lowered.Document.CompartmentBySymbol("C")!.Id);
        var own = run.Lowered.Document.Reactions[0].Id;
        var influences = Influences.Of(run, own);
        Assert.Contains(new(a, own, InfluenceSign.More), influences);
        Assert.Contains(new(own, a, InfluenceSign.Less), influences);
        Assert.Contains(new(own, c, InfluenceSign.More), influences);
        Assert.Contains(new(own, c, InfluenceSign.More), Influences.Of(run, c));
    }

    [Fact]
    public void Units_agree_or_are_told()
    {
        var fine = Studies.Of("reaction r: A + B -> C : k * A * B; A(0) = 4 mol; B(0) = 2 mol; k = 0.1 per mol per day", 5);
        Assert.Empty(Lowering.Lower(fine).Findings);
        Assert.Equal("mol/day", Lowering.Lower(fine).Units.Of(fine.Reactions[0].Id).Unit?.Text());
        var wrong = Studies.Of("reaction r: A + B -> C : k * A * B; A(0) = 4 mol; B(0) = 2 mol; k = 0.1 per day", 5);
        Assert.Contains(Lowering.Lower(wrong).Findings, finding => finding.PartId == wrong.Reactions[0].Id);
    }

    [Fact]
    public void What_a_reaction_has_done_in_an_interval_can_be_counted()
    {
        var document = Studies.Of("reaction r: A + B -> C : 0.5 * A * B; A(0) = 4; B(0) = 4", 3);
        var own = new TieSeries([new("", "d", "pairs", document.Reactions[0].Id, "1")]).Apply(document).Document!;
        var rows = new[] { new DataRow(0, 1, 0), new DataRow(1, 3, 0) };
        var counted = new ObservedModel(Lowering.Lower(own), [new(own.Observations[0], new("d", "pairs", rows))], []).Predict([]).Mean;
        // C(t) = 4 - 4 / (1 + 2 t).
        Assert.Equal(4 - 4.0 / 3, counted[0], 1e-7);
        Assert.Equal(4.0 / 3 - 4.0 / 7, counted[1], 1e-7);
        Assert.NotNull(new TieSeries([new("", "d", "pairs", "nothing", "1")]).Apply(document).Refusal);
    }
}
