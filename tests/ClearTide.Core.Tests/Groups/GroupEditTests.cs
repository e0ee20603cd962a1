using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Interventions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests;

/// <summary>Edits of groups: whatever is split, merged or renamed, the totals and the run stay what they were.</summary>
public class GroupEditTests
{
    private static readonly double[] Times = [0, 20, 50, 90];

    private static StudyDocument Fever(string members = "child, adult, old") =>
        Studies.Of($"group age = {members}; split all by age", Studies.Of(Studies.Latent));

    private static StudyDocument After(StudyDocument study, Edit edit)
    {
        var result = edit.Apply(study);
        Assert.True(result.Refusal is null, result.Refusal);
        return result.Document!;
    }

    private static double[] Run(StudyDocument study, string symbol)
    {
        var lowered = Lowering.Lower(study);
        Assert.False(lowered.IsProvisional, string.Join("; ", lowered.Findings.Select(finding => finding.Message)));
        var run = Runs.Run(lowered.Compiled, Times);
        var outputs = run.Network.Amounts.Concat(run.Network.Flows).Concat(run.Network.Quantities).Select(one => one.Symbol).ToList();
        Assert.Contains(symbol, outputs);
        return run.OutputColumn(outputs.IndexOf(symbol));
    }

    private static void AssertSame(StudyDocument expected, StudyDocument actual)
    {
        foreach (var part in Studies.Of(Studies.Latent).Compartments)
        {
            var (was, now) = (Run(expected, part.Symbol), Run(actual, part.Symbol));
            for (var k = 0; k < Times.Length; k++)
                // Both runs keep a relative tolerance of 1e-8 in each step.
                Assert.Equal(was[k], now[k], 1e-6 * Math.Max(1, was[k]));
        }
    }

    [Fact]
    public void Merging_two_members_keeps_the_totals()
    {
        var study = Fever();
        var merged = After(study, new MergeMember(study.Groups[0].Id, "old", "adult"));
        Assert.Equal(["child", "adult"], merged.Groups[0].Members.Select(member => member.Symbol));
        AssertSame(study, merged);
        Assert.Equal(2 * Run(merged, "S[child]")[0], Run(merged, "S[adult]")[0], 2.0);
    }

    [Fact]
    public void A_member_that_is_split_off_takes_its_share()
    {
        var study = Fever();
        var more = After(study, new AddMember(study.Groups[0].Id, "teen", "", "child", 0.25));
        Assert.Equal(["child", "teen", "adult", "old"], more.Groups[0].Members.Select(member => member.Symbol));
        AssertSame(study, more);
        Assert.Equal(Math.Floor(0.25 * Run(study, "S[child]")[0]), Math.Floor(Run(more, "S[teen]")[0]), 1.0);
    }

    [Fact]
    public void Taking_a_group_out_brings_back_the_whole()
    {
        var study = Fever();
        var whole = After(study, new RemoveGroup(study.Groups[0].Id));
        Assert.Empty(whole.Groups);
        Assert.Empty(whole.Splits);
        AssertSame(study, whole);
        Assert.DoesNotContain("[", LineText.Of(whole), StringComparison.Ordinal);
    }

    [Fact]
    public void A_second_group_keeps_what_the_first_one_did()
    {
        var whole = Studies.Of(Studies.Latent);
        var byAge = Fever();
        var both = Studies.Of("group place = east, west; split all by place", byAge);
        AssertSame(whole, both);
        Assert.DoesNotContain("total(total", LineText.Of(both), StringComparison.Ordinal);
        // Contacts by age go on to be those with all of an age, wherever they are.
        var mixed = After(byAge, new SetMixing(byAge.Flows[0].Id, byAge.Groups[0].Id, "7.4 4.9 0.7\n2.1 6.7 1.1\n0.6 2.5 2.0", true, 1));
        AssertSame(mixed, Studies.Of("group place = east, west; split all by place", mixed));
    }

    [Fact]
    public void Quantities_are_split_with_what_they_are_made_of()
    {
        var whole = Studies.Of(Studies.Latent);
        var split = Studies.Of("group age = child, old; split S, E, I, R, N by age", whole);
        AssertSame(whole, split);
        Assert.Equal(Run(whole, "N")[0] / 2, Run(split, "N[child]")[0], 1.0);
    }

    [Fact]
    public void Copies_are_split_as_what_they_were_copied_from()
    {
        var study = Fever();
        var ids = study.Compartments.Select(part => part.Id).ToList();
        var twice = After(study, new AddCopies(PartSelection.Of(study, ids)));
        Assert.Single(twice.Groups);
        Assert.Equal(Run(study, "S[child]")[0], Run(twice, "S2[child]")[0]);
        // Into a study that has another group of that name it comes under one of its own.
        var other = After(Studies.Of("group age = young, aged"), new AddCopies(PartSelection.Of(study, ids)));
        Assert.Equal(["age", "age2"], other.Groups.Select(group => group.Symbol));
    }

    [Fact]
    public void An_event_may_be_typed_with_printed_arrows()
    {
        var study = Studies.Of("group age = a, b; S[age](0) = 100; V[age](0) = 0; B(0) = 1; at 20: → B : 10, S → V : 21");
        Assert.Equal(11, Run(study, "B")[1], 1e-9);
        Assert.Equal(100 - 10.5, Run(study, "S[a]")[1], 1e-9);
    }

    [Fact]
    public void Values_and_rates_that_are_split_stay_each_members_own()
    {
        var whole = Studies.Of("S -> I : lambda * S; I -> : h * I / 8; lambda = 0.4 * I / N; N = S + I; h = 0.5; S(0) = 900; I(0) = 100");
        var split = Studies.Of("group age = child, old; split S, I, N, h by age", whole);
        Assert.DoesNotContain("total(h)", LineText.Of(split), StringComparison.Ordinal);
        var (was, now) = (Run(whole, "I"), Run(split, "I"));
        for (var k = 0; k < Times.Length; k++)
            Assert.Equal(was[k], now[k], 1e-6 * Math.Max(1, was[k]));
        // A rate that is split is that of each among its own, and two halves that are alike are the whole.
        var among = Studies.Of("split lambda by age", split);
        Assert.DoesNotContain("total(lambda)", LineText.Of(among), StringComparison.Ordinal);
        // Quantities in a circle are found elsewhere, and do not keep a split from ending.
        Assert.Null(new AddLines("a = b; b = a; group side = l, r; split a, b by side").Apply(whole).Refusal);
    }

    [Fact]
    public void A_renamed_member_is_renamed_wherever_it_is_named()
    {
        var study = Studies.Of("share = I[old] / total(I); -> S[old] : 2; at 40: S[old] -> R[old] : 100", Fever());
        study = study with { Fit = study.Fit with { Parameters = [new FitParameter("S[old].start", 1, 10)] } };
        var renamed = After(study, new RenameMember(study.Groups[0].Id, "old", "elder", "Elders"));
        Assert.Equal("I[elder] / total(I)", renamed.DefinitionBySymbol("share")!.Text);
        Assert.Equal("at 40: S[elder] -> R[elder] : 100", renamed.Events[0].Text);
        Assert.Equal("S[elder].start", renamed.Fit.Parameters[0].Address.ToString());
        Assert.Equal(Run(study, "share"), Run(renamed, "share"));
    }

    [Fact]
    public void A_renamed_group_is_renamed_in_brackets_and_sums()
    {
        var study = Studies.Of(
            "group age = a, b; I[age](0) = 3; C[age, age] = 2; x[age] = sum(j in age, C[age, j] * I[j]); along age after 5 + 0 * x[age]"
        );
        var renamed = After(study, new SetField(study.Groups[0].Id, PartField.Symbol, "years_old"));
        Assert.Equal("sum(j in years_old, C[years_old, j] * I[j])", renamed.DefinitionBySymbol("x")!.Text);
        Assert.Equal(Run(study, "x[b]"), Run(renamed, "x[b]"));
        Assert.Contains("already", new SetField(study.Groups[0].Id, PartField.Symbol, "I").Apply(study).Refusal, StringComparison.Ordinal);
        Assert.NotNull(new SetField(study.CompartmentBySymbol("I")!.Id, PartField.Symbol, "age").Apply(study).Refusal);
    }

    [Fact]
    public void What_is_removed_takes_its_split_along_and_a_group_what_it_splits()
    {
        var study = Fever();
        var without = After(study, new RemoveParts(study.CompartmentBySymbol("R")!.Id));
        Assert.Equal(3, without.Splits.Length);
        var whole = After(study, new RemoveParts(study.Groups[0].Id));
        Assert.Empty(whole.Splits);
        AssertSame(study, whole);
    }

    [Fact]
    public void Taken_apart_each_member_is_a_part_of_its_own_and_the_run_has_the_same_bits()
    {
        var study = Studies.Of("along age after 900 days; h[age] = 0.1; h[old] = 0.2; R -> : h * R; share = I[old] / total(I)", Fever());
        var plain = After(study, new DissolveGroups());
        Assert.Empty(plain.Groups);
        Assert.Equal(Run(study, "S[child]"), Run(plain, "S_child"));
        Assert.Equal(Run(study, "share"), Run(plain, "share"));
        Assert.All(plain.Parts, part => Assert.DoesNotContain('.', part.Id));
        Assert.Equal(plain.Parts.Count(), plain.Parts.Select(part => part.Id).Distinct().Count());
        Assert.DoesNotContain(Lowering.Lower(plain).Findings, finding => finding.Severity == Severity.Unfinished);
    }

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
    public void Order_is_what_is_passed_along()
    {
        var study = Studies.Of("group age = a, b, c; N[age](0) = 0; N[a](0) = 90; along age after 10");
        var moved = After(study, new MoveMember(study.Groups[0].Id, "c", -1));
        Assert.Equal(["a", "c", "b"], moved.Groups[0].Members.Select(member => member.Symbol));
        Assert.Equal(Run(study, "N[b]"), Run(moved, "N[c]"));
    }

    [Fact]
    public void A_group_of_one_of_two_thousand_or_with_twins_is_refused()
    {
        EditResult Add(params string[] members) =>
            new AddGroup("age", "", [.. members.Select(one => new GroupMember(one))]).Apply(Studies.Of("S(0) = 1"));
        Assert.Contains("at least two", Add("child").Refusal, StringComparison.Ordinal);
        Assert.Contains("at most 200", Add([.. Enumerable.Range(0, 2000).Select(k => $"a{k}")]).Refusal, StringComparison.Ordinal);
        Assert.Contains("stands twice", Add("child", "child").Refusal, StringComparison.Ordinal);
        Assert.Contains("begin with a letter", Add("child", "5").Refusal, StringComparison.Ordinal);
        Assert.Contains(
            "already",
            new AddGroup("S", "", [new("a"), new("b")]).Apply(Studies.Of("S(0) = 1")).Refusal,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void What_would_be_too_large_is_refused_before_it_is_written_out()
    {
        var many = string.Join(", ", Enumerable.Range(0, 200).Select(k => $"a{k}"));
        var study = Studies.Of(
            $"group age = {many}; group place = {string.Join(", ", Enumerable.Range(0, 50).Select(k => $"p{k}"))}; N(0) = 1"
        );
        EditResult Add(string lines) => new AddLines(lines).Apply(study);
        Assert.Contains("10,000 compartments; at most 5,000", Add("N[age, place](0) = 1").Refusal, StringComparison.Ordinal);
        Assert.Contains("at most 12,000", Add("N[age](0) = 1; among age at 0.1").Refusal, StringComparison.Ordinal);
        Assert.Null(Add("C[age, age] = 1").Refusal);
        Assert.Contains("at most 50,000", Add("C[age, age] = 1; D[age, age] = 1").Refusal, StringComparison.Ordinal);
        // Three sums in one another are eight million terms.
        var deep = Add("w[age] = 1; x = sum(i in age, sum(j in age, sum(k in age, w[i] * w[j] * w[k])))").Document!;
        Assert.Contains(Lowering.Lower(deep).Findings, finding =>
            finding.Message.Contains("more than 400,000 terms", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Members_may_be_typed_as_people_say_them()
    {
        var members = AddGroup.Read("0 to 4, 5 to 17\n18 to 64; old: 65 and over");
        Assert.Equal(["a0_to_4", "a5_to_17", "a18_to_64", "old"], members.Select(member => member.Symbol));
        Assert.Equal(["0 to 4", "5 to 17", "18 to 64", "65 and over"], members.Select(member => member.Name));
    }

    [Fact]
    public void A_matrix_of_contacts_with_the_largest_eigenvalue_one_keeps_the_early_growth()
    {
        var study = Fever();
        var flow = study.Flows[0];
        var mixed = After(study, new SetMixing(flow.Id, study.Groups[0].Id, "7.4 4.9 0.7\n2.1 6.7 1.1\n0.6 2.5 2.0", true, 1));
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
    public void A_table_may_have_heads_and_goes_on_in_the_unit_of_the_line_for_all()
    {
        var study = Studies.Of("group age = child, adult; C[age, age] = 2 per day; h[age] = 5%");
        var (matrix, column) = (study.DefinitionBySymbol("C")!.Id, study.DefinitionBySymbol("h")!.Id);
        study = After(study, new SetTable(matrix, "\tchild\tadult\nchild\t1\t2\nadult\t3\t4"));
        Assert.Equal("3 per day", study.SplitOf(matrix)!.LineOf("adult,child"));
        // A bare number goes on in the unit of all, another unit stays.
        study = After(study, new SetField($"{matrix}.child.adult", PartField.Text, "7.5"));
        Assert.Equal("7.5 per day", study.SplitOf(matrix)!.LineOf("child,adult"));
        study = After(study, new SetField($"{matrix}.child.adult", PartField.Text, "9 per week"));
        Assert.Equal("9 per week", study.SplitOf(matrix)!.LineOf("child,adult"));
        study = After(study, new SetTable(column, "4% 16%"));
        Assert.Equal("16%", study.SplitOf(column)!.LineOf("adult"));
    }

    [Fact]
    public void One_member_is_set_by_its_own_id_and_put_back_by_nothing()
    {
        var study = Studies.Of("group age = child, adult; h[age] = 5%; x = h[adult]");
        var id = study.DefinitionBySymbol("h")!.Id;
        var own = After(study, new SetField($"{id}.adult", PartField.Text, "16%"));
        Assert.Equal(0.16, Lowering.Lower(own).Network.Values[Lowering.Lower(own).Network.IndexOf("h[adult]")].Value);
        var back = After(own, new SetField($"{id}.adult", PartField.Text, ""));
        Assert.Empty(back.SplitOf(id)!.Lines);
        Assert.Equal("h[adult]: 16%", new SetField($"{id}.adult", PartField.Text, "16%").Describe(study));
    }

    [Fact]
    public void Estimates_of_members_go_into_their_lines()
    {
        var study = Studies.Of("group age = child, adult; h[age] = 5%; h[adult] = 7%; S[age](0) = 10; S -> at h");
        var adopted = After(
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
    public void A_flow_out_of_what_is_not_split_into_what_is_asks_about_it()
    {
        var study = Studies.Of("group age = child, adult; W(0) = 100; S[age](0) = 0; W -> S at 0.1");
        var finding = Assert.Single(Lowering.Lower(study).Findings, one =>
            one.Message.Contains("once for each member", StringComparison.Ordinal)
        );
        var mended = After(study, finding.Fixes[0].Edit);
        Assert.Equal(100 * Math.Exp(-0.1 * 90), Run(mended, "W")[3], 1e-6);
    }
}
