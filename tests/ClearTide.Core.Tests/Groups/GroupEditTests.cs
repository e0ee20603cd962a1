using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using static ClearTide.Core.Tests.GroupRuns;

namespace ClearTide.Core.Tests;

/// <summary>Edits of groups: whatever is split, merged or renamed, the totals and the run stay what they were.</summary>
public class GroupEditTests
{
    [Fact]
    public void Merging_two_members_keeps_the_totals()
    {
        var study = Fever();
        var merged = Studies.With(study, new MergeMember(study.Groups[0].Id, "old", "adult"));
        Assert.Equal(["child", "adult"], merged.Groups[0].Members.Select(member => member.Symbol));
        AssertSame(study, merged);
        Assert.Equal(2 * Run(merged, "S[child]")[0], Run(merged, "S[adult]")[0], 2.0);
    }

    [Fact]
    public void A_member_that_is_split_off_takes_its_share()
    {
        var study = Fever();
        var more = Studies.With(study, new AddMember(study.Groups[0].Id, "teen", "", "child", 0.25));
        Assert.Equal(["child", "teen", "adult", "old"], more.Groups[0].Members.Select(member => member.Symbol));
        AssertSame(study, more);
        Assert.Equal(Math.Floor(0.25 * Run(study, "S[child]")[0]), Math.Floor(Run(more, "S[teen]")[0]), 1.0);
    }

    [Fact]
    public void Taking_a_group_out_brings_back_the_whole()
    {
        var study = Fever();
        var whole = Studies.With(study, new RemoveGroup(study.Groups[0].Id));
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
        var mixed = Studies.With(
            byAge,
            new SetMixing(byAge.Flows[0].Id, byAge.Groups[0].Id, "7.4 4.9 0.7\n2.1 6.7 1.1\n0.6 2.5 2.0", true, 1)
        );
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
        var twice = Studies.With(study, new AddCopies(PartSelection.Of(study, ids)));
        Assert.Single(twice.Groups);
        Assert.Equal(Run(study, "S[child]")[0], Run(twice, "S2[child]")[0]);
        // Into a study that has another group of that name it comes under one of its own.
        var other = Studies.With(Studies.Of("group age = young, aged"), new AddCopies(PartSelection.Of(study, ids)));
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
        var renamed = Studies.With(study, new RenameMember(study.Groups[0].Id, "old", "elder", "Elders"));
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
        var renamed = Studies.With(study, new SetField(study.Groups[0].Id, PartField.Symbol, "years_old"));
        Assert.Equal("sum(j in years_old, C[years_old, j] * I[j])", renamed.DefinitionBySymbol("x")!.Text);
        Assert.Equal(Run(study, "x[b]"), Run(renamed, "x[b]"));
        Assert.Contains("already", new SetField(study.Groups[0].Id, PartField.Symbol, "I").Apply(study).Refusal, StringComparison.Ordinal);
        Assert.NotNull(new SetField(study.CompartmentBySymbol("I")!.Id, PartField.Symbol, "age").Apply(study).Refusal);
    }

    [Fact]
    public void What_is_removed_takes_its_split_along_and_a_group_what_it_splits()
    {
        var study = Fever();
        var without = Studies.With(study, new RemoveParts(study.CompartmentBySymbol("R")!.Id));
        Assert.Equal(3, without.Splits.Length);
        var whole = Studies.With(study, new RemoveParts(study.Groups[0].Id));
        Assert.Empty(whole.Splits);
        AssertSame(study, whole);
    }

    [Fact]
    public void Taken_apart_each_member_is_a_part_of_its_own_and_the_run_has_the_same_bits()
    {
        var study = Studies.Of("along age after 900 days; h[age] = 0.1; h[old] = 0.2; R -> : h * R; share = I[old] / total(I)", Fever());
        var plain = Studies.With(study, new DissolveGroups());
        Assert.Empty(plain.Groups);
        Assert.Equal(Run(study, "S[child]"), Run(plain, "S_child"));
        Assert.Equal(Run(study, "share"), Run(plain, "share"));
        Assert.All(plain.Parts, part => Assert.DoesNotContain('.', part.Id));
        Assert.Equal(plain.Parts.Count(), plain.Parts.Select(part => part.Id).Distinct().Count());
        Assert.DoesNotContain(Lowering.Lower(plain).Findings, finding => finding.Severity == Severity.Unfinished);
    }

    [Fact]
    public void Order_is_what_is_passed_along()
    {
        var study = Studies.Of("group age = a, b, c; N[age](0) = 0; N[a](0) = 90; along age after 10");
        var moved = Studies.With(study, new MoveMember(study.Groups[0].Id, "c", -1));
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
    public void A_table_may_have_heads_and_goes_on_in_the_unit_of_the_line_for_all()
    {
        var study = Studies.Of("group age = child, adult; C[age, age] = 2 per day; h[age] = 5%");
        var (matrix, column) = (study.DefinitionBySymbol("C")!.Id, study.DefinitionBySymbol("h")!.Id);
        study = Studies.With(study, new SetTable(matrix, "\tchild\tadult\nchild\t1\t2\nadult\t3\t4"));
        Assert.Equal("3 per day", study.SplitOf(matrix)!.LineOf("adult,child"));
        // A bare number goes on in the unit of all, another unit stays.
        study = Studies.With(study, new SetField($"{matrix}.child.adult", PartField.Text, "7.5"));
        Assert.Equal("7.5 per day", study.SplitOf(matrix)!.LineOf("child,adult"));
        study = Studies.With(study, new SetField($"{matrix}.child.adult", PartField.Text, "9 per week"));
        Assert.Equal("9 per week", study.SplitOf(matrix)!.LineOf("child,adult"));
        study = Studies.With(study, new SetTable(column, "4% 16%"));
        Assert.Equal("16%", study.SplitOf(column)!.LineOf("adult"));
    }

    [Fact]
    public void A_flow_out_of_what_is_not_split_into_what_is_asks_about_it()
    {
        var study = Studies.Of("group age = child, adult; W(0) = 100; S[age](0) = 0; W -> S at 0.1");
        var finding = Assert.Single(Lowering.Lower(study).Findings, one =>
            one.Message.Contains("once for each member", StringComparison.Ordinal)
        );
        var mended = Studies.With(study, finding.Fixes[0].Edit);
        Assert.Equal(100 * Math.Exp(-0.1 * 90), Run(mended, "W")[3], 1e-6);
    }
}
