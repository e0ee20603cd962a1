using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;
using CsCheck;
using static ClearTide.Core.Tests.Choice;

namespace ClearTide.Core.Tests.Units;

public class InferenceTests
{
    private const string Epidemic =
        "S -> I : beta * S * I / N; I -> R at gamma; beta = 0.4; gamma = 0.2; N = S + I + R; S(0) = the rest of 1000 people; I(0) = 5";

    private static PartUnit UnitOf(StudyDocument document, string symbol) =>
        Lowering.Lower(document).Units.Of(document.PartBySymbol(symbol)!.Id);

    [Theory]
    [InlineData("S", "people", true)]
    [InlineData("I", "people", false)]
    [InlineData("R", "people", false)]
    [InlineData("N", "people", false)]
    [InlineData("beta", "1/day", false)]
    [InlineData("gamma", "1/day", false)]
    public void Blank_units_follow_from_those_that_are_typed(string symbol, string unit, bool given)
    {
        var found = UnitOf(Studies.Of(Epidemic), symbol);
        Assert.Equal(unit, found.Unit?.Text());
        Assert.Equal(given, found.Given);
        Assert.True(found.Agrees);
    }

    [Fact]
    public void Contact_by_number_and_by_share_are_told_apart_by_their_unit()
    {
        Assert.Equal("1/day", UnitOf(Studies.Of(Epidemic), "beta").Unit!.Text());
        Assert.Equal("1/people/day".Replace("people", "person"), UnitOf(Studies.Of(Epidemic.Replace(" / N", "")), "beta").Unit!.Text());
    }

    [Fact]
    public void A_study_without_any_unit_has_nothing_to_disagree_with()
    {
        Assert.Empty(
            Lowering.Lower(Studies.Of("S -> I : 0.4 * S * I / 1000; I -> R at 0.2; lambda = 3 * I; S(0) = 999; I(0) = 1")).Findings
        );
        Assert.Null(UnitOf(Studies.Of("S -> I : 0.4 * S * I / 1000; S(0) = 999"), "S").Unit);
    }

    [Theory]
    [InlineData("A -> B : k * A; k = 3 days; A(0) = 5 mg", "is in mg/day, and the formula is in mg·days", 0)]
    [InlineData("A -> B at 0.1 per day; q = A + 3 L; A(0) = 5 mg", "they cannot be added", 0)]
    [InlineData("A -> B at 0.1 per day; q = exp(A); A(0) = 5 mg", "The argument of exp is a pure number", 0)]
    [InlineData("A -> B : 0.1 * A; A(0) = 5 mg", "the formula is in mg", 1)]
    [InlineData("A -> B : k * A; k = 0.3; q = k + 2 mg; A(0) = 5 mg", "is in mg/day, and the formula is in mg^2", 0)]
    [InlineData("A -> B at 0.1 per day; q = if(A > 3 days, 1, 2); A(0) = 5 mg", "they cannot be compared", 0)]
    [InlineData("A -> B at 0.1 per day; q = delay(A, 3 mg); A(0) = 5 mg", "is a duration", 0)]
    [InlineData("A -> B at 0.1 per day; f(x) = hill(0, 1, 5 mg, 2); q = f(3 days); A(0) = 5 mg", "is a function of in mg", 0)]
    public void Disagreements_are_told_and_never_block_the_run(string lines, string words, int fixes)
    {
        var lowered = Lowering.Lower(Studies.Of(lines));
        var finding = Assert.Single(lowered.Findings);
        Assert.Contains(words, finding.Message);
        Assert.Equal(Severity.Doubt, finding.Severity);
        Assert.Equal(fixes, finding.Fixes.Count);
        Assert.False(lowered.IsProvisional);
    }

    [Fact]
    public void Making_a_line_a_rate_settles_it()
    {
        var document = Studies.Of("A -> B : 0.1 * A; A(0) = 5 mg");
        var mended = Lowering.Lower(document).Findings[0].Fixes[0].Edit.Apply(document).Document!;
        Assert.Equal("0.1 * A per day", mended.Flows[0].Rate);
        Assert.Empty(Lowering.Lower(mended).Findings);
    }

    [Theory]
    [InlineData("A -> B at k; k = 0.1 per day; m = 5 g; q = A + m; A(0) = 5 mg", "q = A + m * 1000 mg/g")]
    [InlineData("A -> B at k; k = 0.1 per day; q = A + 2 g; A(0) = 5 mg", "q = A + 2000 mg")]
    public void Another_size_of_a_unit_is_converted_by_a_fix(string lines, string mended)
    {
        var document = Studies.Of(lines);
        var finding = Assert.Single(Lowering.Lower(document).Findings);
        var fixedStudy = Assert.Single(finding.Fixes).Edit.Apply(document).Document!;
        Assert.Equal(mended, LineText.Of(fixedStudy, fixedStudy.DefinitionBySymbol("q")!));
        Assert.Empty(Lowering.Lower(fixedStudy).Findings);
    }

    [Fact]
    public void A_value_in_another_unit_than_its_field_is_converted_by_a_fix()
    {
        var document = Studies.Of("A -> B at 0.1 per day; d = 2 g; A(0) = 5 mg");
        document = new SetField(document.DefinitionBySymbol("d")!.Id, PartField.Unit, "mg").Apply(document).Document!;
        var finding = Assert.Single(Lowering.Lower(document).Findings);
        var mended = finding.Fixes[0].Edit.Apply(document).Document!;
        Assert.Equal("2000 mg", mended.DefinitionBySymbol("d")!.Text);
        Assert.Empty(Lowering.Lower(mended).Findings);
    }

    [Fact]
    public void A_bare_number_is_read_in_the_unit_of_its_field()
    {
        var document = Studies.Of("A -> B at k; k = 0.7; A(0) = 5");
        document = new SetField(document.DefinitionBySymbol("k")!.Id, PartField.Unit, "1/week").Apply(document).Document!;
        var form = Lowering.Lower(document).Network;
        Assert.Equal(0.1, form.Values[form.IndexOf("k")].Value, 1e-12);
    }

    [Fact]
    public void Values_typed_in_a_derived_unit_convert()
    {
        var document = Studies.Of("unit tablet = 200 mg; A -> B at 0.1 per day; A(0) = 2 tablets");
        var form = Lowering.Lower(document).Network;
        Assert.Equal(400, form.Values[form.IndexOf("A.start")].Value);
        Assert.Equal("mg", UnitOf(document, "A").Unit!.Text());
    }

    [Fact]
    public void An_unknown_unit_offers_the_nearest_a_new_unit_and_a_spelling()
    {
        var document = Studies.Of("A -> B at 0.1 per day; A(0) = 5");
        document = new SetField(document.Compartments[0].Id, PartField.Start, "5 peple").Apply(document).Document!;
        var finding = Assert.Single(Lowering.Lower(document).Findings);
        Assert.Equal(
            ["Write people", "peple is another spelling of people", "Add peple as a unit"],
            finding.Fixes.Select(fix => fix.Label)
        );
        Assert.All(finding.Fixes, fix => Assert.Empty(Lowering.Lower(fix.Edit.Apply(document).Document!).Findings));
    }

    [Theory]
    [InlineData("x = 18 villagers", "Add villagers as a unit", "unit villagers; x = 18 villagers")]
    [InlineData("x = 18 weks", "Write “weeks”", "x = 18 weeks")]
    [InlineData("x = 2 S", "Multiply by S", "x = 2 * S")]
    public void The_quick_line_asks_about_unknown_units(string line, string label, string mended)
    {
        var document = Studies.Of("S -> I at 0.1");
        var result = new AddLines(line).Apply(document);
        var fix = result.Fixes!.First(fix => fix.Label == label);
        Assert.Equal(mended, fix.Replacement);
        Assert.Null(new AddLines(fix.Replacement).Apply(document).Refusal);
    }

    [Fact]
    public void Both_ends_of_a_flow_hold_one_thing()
    {
        var lowered = Lowering.Lower(Studies.Of("A -> B at 0.1 per day; A(0) = 5 mg; B(0) = 3 people"));
        Assert.Contains(lowered.Findings, finding => finding.Message.Contains("does not change its unit on the way"));
    }

    /// <summary>
    /// Chains of compartments in a random unit, with rates in a random unit of time: whatever single start carries the unit, all the others
    /// must follow from it, and a formula that is right by construction must not be doubted.
    /// </summary>
    [Fact]
    public void Generated_models_are_inferred_whole_and_without_false_alarms()
    {
        var words = OneOf("people", "mg", "g", "L", "mol", "bees", "mg/L");
        var times = OneOf("hour", "day", "week", "year");
        Gen.Select(Gen.Int[2, 9], words, times, Gen.Int[0, 100], Gen.Int[0, 3].Array[9])
            .Sample(
                (count, unit, time, pick, kinds) =>
                {
                    var lines = new List<string>();
                    for (var k = 0; k + 1 < count; k++)
                    {
                        lines.Add(
                            kinds[k] switch
                            {
                                0 => $"X{k} -> X{k + 1} : k{k} * X{k} * X{k + 1} / N; k{k} = 0.{k + 1}",
                                1 => $"X{k} -> X{k + 1} at k{k}; k{k} = 0.2 per {time}",
                                2 => $"X{k} -> X{k + 1} after k{k}; k{k} = 5",
                                _ => $"X{k} -> X{k + 1} : q{k}; q{k} = X{k} / d{k}; d{k} = 3 {time}s",
                            }
                        );
                    }
                    lines.Add("N = " + string.Join(" + ", Enumerable.Range(0, count).Select(k => "X" + k)));
                    lines.Add($"X{pick % count}(0) = 4 {unit}");
                    var document = Studies.Of(string.Join("; ", lines));
                    var lowered = Lowering.Lower(document);
                    Assert.True(
                        lowered.Findings.Count == 0,
                        string.Join("; ", lowered.Findings.Select(finding => finding.Message)) + " in " + string.Join("; ", lines)
                    );
                    Assert.All(document.Compartments, part => Assert.Equal(unit, lowered.Units.Of(part.Id).Unit?.Text()));
                    for (var k = 0; k + 1 < count; k++)
                    {
                        var found = lowered.Units.Of(document.PartBySymbol("k" + k)?.Id ?? document.PartBySymbol("d" + k)!.Id).Unit!;
                        Assert.True(
                            found.Agrees(UnitTable.Of(TimeUnit.Day).ReadAlone(kinds[k] is 0 or 1 ? "1/day" : "day").Unit!.Value.Unit),
                            $"k{k} is in {found.Text()}"
                        );
                    }
                },
                iter: 400
            );
    }
}
