using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using static ClearTide.Core.Tests.GroupRuns;

namespace ClearTide.Core.Tests;

/// <summary>What members have of their own: values, matrices, estimates, measures and their order.</summary>
public class MemberValueTests
{
    [Fact]
    public void A_member_may_follow_from_what_all_others_have()
    {
        var study = Studies.Of("group age = child, adult, old; h[age] = 0.1; h[old] = 0.6 * h + h[adult]; S[age](0) = 1; S -> at h");
        var lowered = Lowering.Lower(study);
        Assert.DoesNotContain(lowered.Findings, finding => finding.Severity == Severity.Unfinished);
        Assert.Equal(Math.Exp(-0.16 * 20), Run(study, "S[old]")[1], 1e-8);
        // So does one that a fit ties.
        study = Studies.Of("h[old] = 0.3", study);
        var tied = study with { Fit = study.Fit with { Ties = [new("h[old]", "2 * h")] } };
        Assert.Null(TiedModel.Refusal(tied, tied.Fit.Ties[0]));
        Assert.Equal(Math.Exp(-0.2 * 20), Run(TiedModel.Of(tied), "S[old]")[1], 1e-8);
    }

    [Fact]
    public void A_matrix_may_be_a_sum_of_settings()
    {
        var study = Studies.Of(
            """
            group age = child, old
            home[age, age] = table 2 1, 1 2
            school[age, age] = table 6 0, 0 0
            open = 0.5
            C[age, age] = home + open * school
            I[age](0) = 1
            I[old](0) = 10
            met[age] = sum(j in age, C[age, j] * I[j])
            back[age] = sum(j in age, C[j, age] * I[j])
            """
        );
        // By hand: 5 * 1 + 1 * 10 and 1 * 1 + 2 * 10.
        Assert.Equal(15, Run(study, "met[child]")[0], 1e-12);
        Assert.Equal(21, Run(study, "met[old]")[0], 1e-12);
        Assert.Equal(15, Run(study, "back[child]")[0], 1e-12);
    }

    [Fact]
    public void A_matrix_of_contacts_with_the_largest_eigenvalue_one_keeps_the_early_growth()
    {
        var study = Fever();
        var flow = study.Flows[0];
        var mixed = Studies.With(study, new SetMixing(flow.Id, study.Groups[0].Id, "7.4 4.9 0.7\n2.1 6.7 1.1\n0.6 2.5 2.0", true, 1));
        Assert.Contains("sum(j in age, C[age, j] * I[j] / N[j])", mixed.Flow(flow.Id)!.Rate, StringComparison.Ordinal);
        // The next generation operator has the eigenvalue of the unsplit model, so that both grow alike once the fastest mode leads. From
        // so few that nobody is missing among the susceptible yet; of other modes a hundred thousandth is left by then.
        double Growth(StudyDocument of)
        {
            // Amounts of a billionth need an absolute tolerance below them.
            var run = Runs.Run(Lowering.Lower(of).Compiled, [0, 170, 200], SolverSettings.Default with { AbsoluteTolerance = 1e-18 });
            var all = run.Network.Amounts.Concat(run.Network.Flows).Concat(run.Network.Quantities).Select(one => one.Symbol).ToList();
            var column = run.OutputColumn(all.IndexOf("I"));
            return Math.Log(column[2] / column[1]) / 30;
        }
        StudyDocument Few(StudyDocument of) =>
            of with
            {
                Splits =
                [
                    .. of.Splits.Select(split =>
                        of.Part(split.PartId) is Compartment { Symbol: "I" }
                            ? split with
                            {
                                Lines = [.. split.Lines.Select(line => line with { Text = "1e-9" })],
                            }
                            : split
                    ),
                ],
            };
        Assert.Equal(Growth(Few(study)), Growth(Few(mixed)), 1e-5);
    }

    [Fact]
    public void Mutual_contacts_are_balanced_and_the_balance_is_told()
    {
        double[] sizes = [4200, 9900, 4300];
        double[,] contacts =
        {
            { 7.4, 4.9, 0.7 },
            { 2.1, 6.7, 1.1 },
            { 0.6, 2.5, 2.0 },
        };
        // By hand: 2940 against 2580 of child and old, the worst of the three pairs.
        Assert.Equal(360.0 / 5520, MixingMatrix.Imbalance(contacts, sizes), 1e-12);
        var balanced = MixingMatrix.Balanced(contacts, sizes);
        Assert.Equal(0, MixingMatrix.Imbalance(balanced, sizes), 1e-15);
        Assert.Equal(0.5 * (20580 + 20790) / 4200, balanced[0, 1], 1e-12);
        // A matrix by size alone has the eigenvalue one, since it is of rank one with that trace.
        Assert.Equal(1, MixingMatrix.LargestEigenvalue(MixingMatrix.Assortative(0, sizes)), 1e-12);
        Assert.Equal(1, MixingMatrix.LargestEigenvalue(MixingMatrix.Assortative(0.4, sizes)), 1e-12);
    }

    [Theory]
    [InlineData("1 2\n3 4", "needs 3")]
    [InlineData("1 2 3\n4 5 6\n7 8", "Row 3 has 2 numbers and needs 3")]
    [InlineData("1 2 3\n4 x 6\n7 8 9", "“x” in row 2 is no number")]
    [InlineData("1 2 3\n4 -5 6\n7 8 9", "cannot be a number of contacts")]
    [InlineData("0 0 0\n0 0 0\n0 0 0", "All of these contacts are zero")]
    [InlineData("1.5", "lies between 0 and 1")]
    [InlineData("", "Paste a table of numbers")]
    public void A_matrix_that_is_none_is_refused_in_words(string table, string said)
    {
        var study = Fever();
        var refused = new SetMixing(study.Flows[0].Id, study.Groups[0].Id, table, false, null).Apply(study).Refusal;
        Assert.Contains(said, refused, StringComparison.Ordinal);
    }

    [Fact]
    public void One_member_is_set_by_its_own_id_and_put_back_by_nothing()
    {
        var study = Studies.Of("group age = child, adult; h[age] = 5%; x = h[adult]");
        var id = study.DefinitionBySymbol("h")!.Id;
        var own = Studies.With(study, new SetField($"{id}.adult", PartField.Text, "16%"));
        Assert.Equal(0.16, Lowering.Lower(own).Network.Values[Lowering.Lower(own).Network.IndexOf("h[adult]")].Value);
        var back = Studies.With(own, new SetField($"{id}.adult", PartField.Text, ""));
        Assert.Empty(back.SplitOf(id)!.Lines);
        Assert.Equal("h[adult]: 16%", new SetField($"{id}.adult", PartField.Text, "16%").Describe(study));
    }

    [Fact]
    public void Estimates_of_members_go_into_their_lines()
    {
        var study = Studies.Of("group age = child, adult; h[age] = 5%; h[adult] = 7%; S[age](0) = 10; S -> at h");
        var adopted = Studies.With(
            study,
            new AdoptValues(
                new Dictionary<ValueAddress, double>
                {
                    ["h[adult]"] = 0.2,
                    ["h"] = 0.1,
                    ["S[child].start"] = 12,
                }
            )
        );
        Assert.Equal("0.1", adopted.DefinitionBySymbol("h")!.Text);
        Assert.Equal("0.2", adopted.SplitOf(adopted.DefinitionBySymbol("h")!.Id)!.LineOf("adult"));
        Assert.Equal("12", adopted.SplitOf(adopted.CompartmentBySymbol("S")!.Id)!.LineOf("child"));
    }

    [Fact]
    public void The_first_are_moved_first_as_far_as_the_amount_goes()
    {
        var study = Studies.Of(
            "group age = child, adult, old; S[age](0) = 100; S[old](0) = 30; V[age](0) = 0; "
                + "at 20: S -> V : 90 first old then adult; at 50: S -> V : 300 first adult"
        );
        Assert.Equal([0, 30, 30, 30], Run(study, "V[old]"));
        Assert.Equal([0, 60, 100, 100], Run(study, "V[adult]"));
        Assert.Equal([0, 0, 100, 100], Run(study, "V[child]"));
    }

    [Theory]
    [InlineData("at 5: S -> V : 9 first nobody", "“nobody” is no member of age")]
    [InlineData("at 5: S[child] -> V[child] : 9 first old", "is to be split by one group")]
    public void An_order_that_cannot_be_is_told(string line, string said)
    {
        var study = Studies.Of(line, Studies.Of("group age = child, old; S[age](0) = 100; V[age](0) = 0"));
        Assert.Contains(Lowering.Lower(study).Findings, finding => finding.Message.Contains(said, StringComparison.Ordinal));
        var plain = Studies.Of("S(0) = 100; V(0) = 0; at 5: S -> V : 9 first old");
        Assert.Contains(Lowering.Lower(plain).Findings, finding => finding.Message.Contains("S is not split", StringComparison.Ordinal));
    }

    [Fact]
    public void A_measure_reaches_one_member()
    {
        var study = Studies.Of("group age = child, adult; S[age](0) = 100; S -> at h; h[age] = 0.1; h[adult] = 0.1");
        var (line, problem) = MeasureLine.Read("h[adult] x 0, days 0 to 90", study);
        Assert.Null(problem);
        Assert.Equal("h[adult]", line!.Address.ToString());
    }

    [Fact]
    public void Two_passages_with_one_number_are_two_values()
    {
        var study = Studies.Of("group age = a, b; N[age](0) = 0; N[a](0) = 90; along age at 0.1; among age at 0.1");
        var network = Lowering.Lower(study).Network;
        Assert.True(network.IndexOf("age.rate") >= 0 && network.IndexOf("age.rate_2") >= 0);
        var adopted = Studies.With(study, new AdoptValues(new Dictionary<ValueAddress, double> { ["age.rate_2"] = 0.3 }));
        Assert.Equal(["0.1", "0.3 per day"], adopted.Groups[0].Passages.Select(passage => passage.Rate));
    }
}
