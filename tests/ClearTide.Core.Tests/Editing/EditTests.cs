using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Editing;

public class EditTests
{
    private static StudyDocument Set(StudyDocument document, string symbol, PartField field, string value) =>
        Studies.With(document, new SetField(document.PartBySymbol(symbol)!.Id, field, value));

    [Theory]
    [InlineData("I", "Q")]
    [InlineData("beta", "contact")]
    [InlineData("season", "weather")]
    [InlineData("crowding", "press")]
    [InlineData("noise", "luck")]
    [InlineData("N", "all")]
    public void Renaming_reaches_every_line_that_uses_it(string from, string to)
    {
        var document = Studies.Of(Lines.LineTests.AllKinds);
        var renamed = Set(document, from, PartField.Symbol, to);
        Assert.DoesNotContain(renamed.Parts.SelectMany(LineNames.Of), name => name.Name == from);
        Assert.False(Lowering.Lower(renamed).IsProvisional);
        // Back again it is the document it was.
        Assert.Equal(LineText.Of(document), LineText.Of(Set(renamed, to, PartField.Symbol, from)));
    }

    [Fact]
    public void Renaming_leaves_units_alone()
    {
        var document = Set(Studies.Of("L -> B at 0.1 per day; c = 5 mg/L * L"), "L", PartField.Symbol, "liquid");
        Assert.Equal("5 mg/L * liquid", document.DefinitionBySymbol("c")!.Text);
    }

    [Fact]
    public void Removing_marks_what_used_it_and_going_back_brings_all()
    {
        var document = Studies.Of(Lines.LineTests.AllKinds);
        var gone = Studies.With(document, new RemoveParts(document.PartBySymbol("I")!.Id));
        Assert.Null(gone.CompartmentBySymbol("I"));
        Assert.DoesNotContain(gone.Flows, flow => flow.Touches(document.PartBySymbol("I")!.Id));
        var lowered = Lowering.Lower(gone);
        Assert.Contains(lowered.Findings, finding => finding.Message.StartsWith("I is not defined"));
        Assert.Contains(gone.PartBySymbol("N")!.Id, lowered.Unfinished);
        Assert.NotNull(StudyRun.Of(gone));
    }

    [Fact]
    public void Removing_one_end_of_a_fan_out_keeps_the_others()
    {
        var document = Studies.Of("I -> R 90%, D 4%, H the rest after 5 days");
        var left = Studies.With(document, new RemoveParts(document.PartBySymbol("D")!.Id));
        Assert.Equal(2, left.Flows[0].To.Length);
        var none = Studies.With(left, new RemoveParts([left.PartBySymbol("R")!.Id, left.PartBySymbol("H")!.Id]));
        Assert.Empty(none.Flows);
    }

    [Fact]
    public void A_selection_is_duplicated_with_its_inner_flows_and_consistent_names()
    {
        var document = Studies.Of("S -> I : beta * S * I / N; I -> R after 5 days; -> S : 3; beta = 0.4; N = S + I + R");
        string[] chosen = [.. new[] { "S", "I", "N" }.Select(symbol => document.PartBySymbol(symbol)!.Id)];
        var copied = Studies.With(document, new AddCopies(PartSelection.Of(document, chosen)));
        Assert.NotNull(copied.CompartmentBySymbol("S2"));
        Assert.NotNull(copied.CompartmentBySymbol("I2"));
        // R was not chosen: the flow to it is no inner flow, and N2 still means the old R.
        Assert.Null(copied.PartBySymbol("R2"));
        Assert.Equal("S2 + I2 + R", copied.DefinitionBySymbol("N2")!.Text);
        Assert.Equal(["beta * S2 * I2 / N2", "3"], copied.Flows.Skip(3).Select(flow => flow.Rate));
        Assert.Equal(copied.CompartmentBySymbol("S2")!.Id, copied.Flows[3].From);
        Assert.Empty(Lowering.Lower(copied).Findings);
        Assert.Equal(copied.Parts.Count(), copied.Parts.Select(part => part.Id).Distinct().Count());
    }

    [Fact]
    public void Parts_go_into_another_study_with_the_units_they_need()
    {
        var source = Studies.Of("unit tablet = 200 mg; A -> B at k; A(0) = 2 tablets; k = 0.1 per day");
        var target = Studies.Of("A -> C at 0.2 per day; A(0) = 5");
        var ids = source.Parts.Select(part => part.Id).ToList();
        var pasted = Studies.With(target, new AddCopies(PartSelection.Of(source, ids)));
        Assert.Equal("2 tablets", pasted.CompartmentBySymbol("A2")!.Start);
        Assert.Contains(pasted.Units, rule => rule.Word == "tablet");
        Assert.False(Lowering.Lower(pasted).IsProvisional);
    }

    [Fact]
    public void Copied_plates_cover_no_others()
    {
        var document = Studies.Of("A -> B at 0.1; B -> C at 0.1; C -> D at 0.1");
        for (var k = 0; k < 3; k++)
            document = Studies.With(
                document,
                new AddCopies(PartSelection.Of(document, [.. document.Compartments.Take(4).Select(part => part.Id)]))
            );
        foreach (
            var (a, b) in document.Compartments.SelectMany(a =>
                document.Compartments.Where(b => string.CompareOrdinal(a.Id, b.Id) < 0).Select(b => (a, b))
            )
        )
        {
            Assert.True(
                Math.Abs(a.X - b.X) >= PlatePlacing.Width || Math.Abs(a.Y - b.Y) >= PlatePlacing.Height,
                $"{a.Symbol} covers {b.Symbol}"
            );
        }
    }

    [Fact]
    public void A_flow_is_turned_round_where_that_makes_sense()
    {
        var document = Studies.Of("A -> B : 3 * A; A -> : 0.1 * A; C -> at 0.2");
        var turned = Studies.With(document, new ReverseFlow(document.Flows[0].Id));
        Assert.Equal("B → A", turned.Describe(turned.Flows[0]));
        Assert.Equal(
            "outside → A",
            Studies.With(document, new ReverseFlow(document.Flows[1].Id)) is var second ? second.Describe(second.Flows[1]) : ""
        );
        Assert.Contains("whole formula first", new ReverseFlow(document.Flows[2].Id).Apply(document).Refusal);
    }

    [Fact]
    public void Ends_are_added_changed_and_taken_away()
    {
        var document = Studies.Of("I -> R after 5 days; D -> : 0.1 * D");
        var flow = document.Flows[0].Id;
        document = Studies.With(document, new SetField(flow, PartField.Target, "D", 1));
        Assert.Equal(
            "I -> R 50%, D after 5 days",
            LineText.Of(document, document.Flows[0]).Replace("R , ", "R, ").Replace("R, D 50%", "R 50%, D")
        );
        document = Studies.With(document, new SetField(flow, PartField.Share, "2%", 1));
        Assert.Equal("I -> R, D 2% after 5 days", LineText.Of(document, document.Flows[0]));
        Assert.DoesNotContain(Lowering.Lower(document).Findings, finding => finding.PartId == flow);
        document = Studies.With(document, new SetField(flow, PartField.Target, "", 1));
        Assert.False(document.Flows[0].FansOut);
        Assert.Contains("A flow leads somewhere", new SetField(flow, PartField.Target, "", 0).Apply(document).Refusal);
        Assert.Contains("to itself", new SetField(flow, PartField.Source, "R").Apply(document).Refusal);
        Assert.Contains("no compartment “Q”", new SetField(flow, PartField.Target, "Q", 0).Apply(document).Refusal);
    }

    [Fact]
    public void Parts_change_places_in_the_ledger()
    {
        var document = Studies.Of("a = 1; b = 2; c = 3");
        string Order(StudyDocument study) => string.Concat(study.Definitions.Select(part => part.Symbol));
        string Id(string symbol) => document.PartBySymbol(symbol)!.Id;
        Assert.Equal("cab", Order(Studies.With(document, new MoveInLedger(Id("c"), Id("a")))));
        Assert.Equal("bca", Order(Studies.With(document, new MoveInLedger(Id("a"), null))));
        Assert.Equal("abc", Order(Studies.With(document, new MoveInLedger(Id("b"), Id("b")))));
    }

    [Theory]
    [InlineData("beta", PartField.Origin, "measured")]
    [InlineData("beta", PartField.Lower, "0.1 per day")]
    [InlineData("S", PartField.Colour, "7")]
    [InlineData("S", PartField.WholeUnits, "false")]
    [InlineData("season", PartField.Between, "step")]
    [InlineData("season", PartField.After, "zero")]
    [InlineData("crowding", PartField.Half, "0.7")]
    [InlineData("crowding", PartField.Law, "points")]
    [InlineData("noise", PartField.Text, "uniform(0, 2) every day")]
    [InlineData("season", PartField.Note, "a note")]
    public void Each_field_is_kept(string symbol, PartField field, string value)
    {
        var document = Studies.Of(Lines.LineTests.AllKinds);
        var changed = Set(document, symbol, field, value);
        Assert.NotEqual(document.PartBySymbol(symbol), changed.PartBySymbol(symbol));
    }

    [Theory]
    [InlineData("beta", PartField.Origin, "hearsay", "is none of")]
    [InlineData("S", PartField.Colour, "77", "from 1 to 10")]
    [InlineData("season", PartField.Points, "1 2, 1 3", "stands twice")]
    [InlineData("table", PartField.Points, "1 2", "at least two points")]
    [InlineData("beta", PartField.Between, "step", "no such field")]
    [InlineData("beta", PartField.Symbol, "exp", "is a function")]
    [InlineData("beta", PartField.Symbol, "S", "already the symbol")]
    public void What_cannot_be_kept_is_refused_in_words(string symbol, PartField field, string value, string words)
    {
        var document = Studies.Of(Lines.LineTests.AllKinds);
        Assert.Contains(words, new SetField(document.PartBySymbol(symbol)!.Id, field, value).Apply(document).Refusal);
    }

    [Fact]
    public void A_changed_value_is_a_guess_again()
    {
        var document = Set(Studies.Of("beta = 0.4"), "beta", PartField.Origin, "measured");
        Assert.Equal(Origin.Measured, document.Definitions[0].Origin);
        Assert.Equal(Origin.Guess, Set(document, "beta", PartField.Text, "0.5").Definitions[0].Origin);
    }

    [Fact]
    public void Assumptions_are_tied_to_parts_by_symbol()
    {
        var document = Studies.Of("A -> B at k; k = 0.1; assume: nobody returns");
        var id = document.Assumptions[0].Id;
        document = Studies.With(document, new SetField(id, PartField.Parts, "A, k"));
        Assert.Equal(2, document.Assumptions[0].Parts.Length);
        Assert.Contains("no part “Q”", new SetField(id, PartField.Parts, "Q").Apply(document).Refusal);
        Assert.Single(Studies.With(document, new RemoveParts(document.PartBySymbol("k")!.Id)).Assumptions[0].Parts);
    }

    [Fact]
    public void A_value_outside_its_bounds_is_doubted()
    {
        var document = Set(Studies.Of("A -> B at beta; beta = 0.4 per day"), "beta", PartField.Upper, "0.3 per day");
        Assert.Contains(Lowering.Lower(document).Findings, finding => finding.Message.Contains("above its upper bound"));
    }
}
