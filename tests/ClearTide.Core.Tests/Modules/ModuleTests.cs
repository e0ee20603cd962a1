using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Modules;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Modules;

public class ModuleTests
{
    private static StudyDocument Typed(string lines) =>
        new AddLines(lines).Apply(new StudyDocument { Title = "Reeds", End = 60 }) is { Document: { } document }
            ? document
            : throw new InvalidOperationException(new AddLines(lines).Apply(new StudyDocument { Title = "Reeds" }).Refusal);

    private static StudyDocument Done(Edit edit, StudyDocument document) =>
        edit.Apply(document) is { Document: { } next } ? next : throw new InvalidOperationException(edit.Apply(document).Refusal);

    private static string[] Ids(StudyDocument document, params string[] symbols) =>
        [.. symbols.Select(symbol => document.PartBySymbol(symbol)!.Id)];

    /// <summary>All amounts at the end, by symbol.</summary>
    private static Dictionary<string, double> Ends(StudyDocument document)
    {
        var run = StudyRun.Of(document);
        Assert.Null(run.Failure);
        var last = run.Run!.Times.Count - 1;
        return document
            .Compartments.Select((part, k) => (part.Symbol, Value: run.Run.State(last, k)))
            .ToDictionary(one => one.Symbol, one => one.Value);
    }

    private const string Marsh =
        "W(0) = 500; F(0) = 40; E(0) = 0; k = 0.05 per day; half = 200; grow = 0.3 per day; die = 0.1 per day; "
        + "intake = k * W / (half + W); W -> F : intake * F * 10; F -> E at die; E -> W at grow; "
        + "at 20: F = F / 2; R(0) = 10; W -> R at 0.01 per day; total = F + E";

    [Fact]
    public void A_selection_becomes_a_module_that_runs_as_before()
    {
        var plain = Typed(Marsh);
        var made = Done(new MakeModule("reeds", "Reed bed", [.. Ids(plain, "F", "E")]), plain);
        Assert.Equal(["E", "F", "R", "W"], made.Compartments.Select(part => ModuleName.Inner(part.Symbol)).Order());
        // What only the module uses came along; what others use, and what flows of the outside use, did not.
        Assert.NotNull(made.PartBySymbol("reeds.die"));
        Assert.NotNull(made.PartBySymbol("k"));
        Assert.NotNull(made.PartBySymbol("intake"));
        Assert.Equal("at 20: reeds.F = reeds.F / 2", made.Events[0].Text);
        var (before, after) = (Ends(plain), Ends(made));
        // The same sums in the same order: the same bits.
        Assert.Equal(before["F"], after["reeds.F"]);
        Assert.Equal(before["W"], after["W"]);
        var border = ModuleBorder.Of(made, "reeds");
        Assert.Equal(["W → reeds.F"], border.FlowsIn.Select(made.Describe));
        Assert.Equal(["reeds.E → W"], border.FlowsOut.Select(made.Describe));
        Assert.Equal("reeds: Reed bed", made.Regions.Single().Label);
    }

    [Fact]
    public void A_module_names_what_it_takes_and_offers()
    {
        var plain = Typed(
            "S(0) = 990; I(0) = 10; beta = 0.4 per day; gamma = 0.2 per day; N = S + I; force = beta * I / N; "
                + "S -> I : force * S; I -> S at gamma; other = 2 * beta"
        );
        var made = Done(new MakeModule("pond", "", [.. Ids(plain, "S", "I", "N")]), plain);
        var border = ModuleBorder.Of(made, "pond");
        Assert.Equal(["beta"], border.Entries);
        Assert.Equal(["pond.N", "pond.force"], border.Offers);
        Assert.True(border.IsClosed);
        Assert.Equal("pond.beta", new ValueAddress("pond.beta").ToString());
        // An outer line may use what it offers.
        var used = Done(new AddLines("share = pond.I / pond.N"), made);
        Assert.Equal(["pond.I", "pond.N"], ModuleBorder.Of(used, "pond").Used.Order());
        Assert.Equal(["pond.I", "pond.N"], Formula.Read("pond.I / pond.N").Tree!.Names().Select(name => name.Name));
    }

    [Fact]
    public void Used_twice_each_has_values_of_its_own()
    {
        var plain = Typed("A(0) = 100; B(0) = 0; k = 0.1 per day; A -> B at k");
        var once = Done(new MakeModule("one", "", [.. Ids(plain, "A", "B")]), plain);
        var twice = Done(UseModule.Again(once, once.Modules[0], "two"), once);
        twice = Done(new SetField(twice.PartBySymbol("two.k")!.Id, PartField.Text, "0.3 per day"), twice);
        var ends = Ends(twice);
        // Exponential decay over 60 days; the solver's tolerance of 1e-8 leaves seven digits.
        Assert.Equal(100 * Math.Exp(-0.1 * 60), ends["one.A"], 1e-6);
        Assert.Equal(100 * Math.Exp(-0.3 * 60), ends["two.A"], 1e-6);
        Assert.Equal(2, twice.Regions.Length);
        Assert.Contains("There is a module two already", UseModule.Again(twice, twice.Modules[0], "two").Apply(twice).Refusal);
    }

    [Fact]
    public void An_update_brings_what_the_source_changed_and_keeps_what_was_changed_here()
    {
        var plain = Typed("A(0) = 100; B(0) = 0; k = 0.1 per day; A -> B at k");
        var once = Done(new MakeModule("one", "", [.. Ids(plain, "A", "B")]), plain);
        var study = Done(UseModule.Again(once, once.Modules[0], "two"), once);
        study = Done(new SetField(study.PartBySymbol("two.k")!.Id, PartField.Text, "0.3 per day"), study);
        // The source gets another start, another value, one more compartment, and a flow.
        study = Done(new SetField(study.PartBySymbol("one.A")!.Id, PartField.Start, "200"), study);
        study = Done(new SetField(study.PartBySymbol("one.k")!.Id, PartField.Text, "0.2 per day"), study);
        study = Done(new AddLines("one.B -> one.C at one.k / 2; one.C(0) = 5"), study);
        var update = new UpdateModule("two", ModuleParts.Selection(study, "one"), "one");
        var changes = update.Changes(study).ToDictionary(change => change.Key);
        Assert.Equal(["A", "B → C", "C", "k"], changes.Keys.Order(StringComparer.Ordinal));
        Assert.True(changes["k"].IsKept);
        Assert.Equal((SourceChange.Changed, "A(0) = 100", "A(0) = 200"), (changes["A"].Kind, changes["A"].Here, changes["A"].There));
        var updated = Done(update, study);
        Assert.Equal("200", updated.CompartmentBySymbol("two.A")!.Start);
        Assert.Equal("0.3 per day", updated.DefinitionBySymbol("two.k")!.Text);
        Assert.Equal("5", updated.CompartmentBySymbol("two.C")!.Start);
        Assert.Contains("two.B → two.C", updated.Flows.Select(updated.Describe));
        // What was kept stays kept; nothing else is left to bring.
        Assert.DoesNotContain(new UpdateModule("two", ModuleParts.Selection(updated, "one"), "one").Changes(updated), change =>
            !change.IsKept
        );
        // What the source takes out goes.
        var less = Done(new RemoveParts(updated.CompartmentBySymbol("one.C")!.Id), updated);
        var shorter = Done(new UpdateModule("two", ModuleParts.Selection(less, "one"), "one"), less);
        Assert.Null(shorter.CompartmentBySymbol("two.C"));
        Assert.Equal(["one.A → one.B", "two.A → two.B"], shorter.Flows.Select(shorter.Describe).Order());
    }

    [Fact]
    public void A_study_that_is_a_module_of_another_says_what_it_said_until_it_is_changed()
    {
        var source = Typed(
            "S(0) = the rest of 100; I(0) = 5; N = S + I; S -> I : 0.4 * S * I / N; at 9: I = I / 2; assume: all meet; "
                + "expect: N stays; expect: the total stays"
        );
        UseModule Use(StudyDocument study) => new("pond", "", PartSelection.Whole(study, TimeUnit.Day), "", "s1", study.Title);
        UpdateModule Update(StudyDocument study) => new("pond", PartSelection.Whole(study, TimeUnit.Day), "");
        var study = Done(Use(source), Typed("A(0) = 1; N = 7"));
        Assert.Empty(Update(source).Changes(study));
        var changed = Done(new SetField(source.Events[0].Id, PartField.Text, "at 12: I = 0"), source);
        changed = Done(new SetField(changed.CompartmentBySymbol("I")!.Id, PartField.Start, "8"), changed);
        Assert.Equal(
            ["I", "at 12: I = 0", "at 9: I = I / 2"],
            Update(changed).Changes(study).Select(change => change.Key).Order(StringComparer.Ordinal)
        );
        var updated = Done(Update(changed), study);
        Assert.Equal(["at 12: pond.I = 0"], updated.Events.Select(rule => rule.Text));
        Assert.Equal("8", updated.CompartmentBySymbol("pond.I")!.Start);
        Assert.Empty(Update(changed).Changes(updated));
    }

    [Fact]
    public void Modules_nest_are_renamed_and_come_apart_again()
    {
        var plain = Typed("A(0) = 100; B(0) = 0; k = 0.1 per day; A -> B at k; D(0) = 3; B -> D at 0.2 per day");
        var inner = Done(new MakeModule("pond", "", [.. Ids(plain, "A", "B")]), plain);
        Assert.Contains("Select all of the module", new MakeModule("farm", "", [.. Ids(inner, "pond.A", "D")]).Apply(inner).Refusal);
        var nested = Done(new MakeModule("farm", "", [.. Ids(inner, "pond.A", "pond.B", "pond.k", "D")]), inner);
        Assert.Equal(["farm", "farm.pond"], ModuleParts.Of(nested).Select(module => module.Symbol));
        Assert.Equal(Ends(plain)["D"], Ends(nested)["farm.D"]);
        var renamed = Done(new RenameModule("farm.pond", "lake", "Upper lake"), nested);
        Assert.NotNull(renamed.CompartmentBySymbol("farm.lake.A"));
        var open = Done(new DissolveModule("farm"), renamed);
        Assert.Equal(["lake"], ModuleParts.Of(open).Select(module => module.Symbol));
        var apart = Done(new DissolveModule("lake"), open);
        Assert.Equal(LineText.Of(plain), LineText.Of(apart));
        Assert.Empty(apart.Modules);
        // A name that is taken gets the module's behind it.
        var taken = Done(new DissolveModule("lake"), Done(new AddLines("A = 4"), open));
        Assert.Equal(["A_lake", "B", "D"], taken.Compartments.Select(part => part.Symbol).Order());
    }

    [Fact]
    public void Lines_of_a_study_with_modules_are_read_again()
    {
        var plain = Typed(Marsh);
        var made = Done(new MakeModule("reeds", "Reed bed", [.. Ids(plain, "F", "E")]), plain);
        var again = Typed(LineText.Of(made));
        Assert.Equal(LineText.Of(made), LineText.Of(again));
        Assert.Equal(["reeds"], ModuleParts.Of(again).Select(module => module.Symbol));
    }

    [Fact]
    public void The_rest_of_a_total_is_that_of_its_module()
    {
        var town = Typed("S(0) = the rest of 1000; I(0) = 5; R(0) = 20; S -> I : 0.4 * S * I / 1000; I -> R after 5 days; W(0) = 70");
        // Made of all but W: what the rest counted outside is taken off in words, so that the run stays the same.
        var made = Done(new MakeModule("north", "", [.. Ids(town, "S", "I", "R")]), town);
        Assert.Equal("the rest of 1000 - (70)", made.CompartmentBySymbol("north.S")!.Start);
        Assert.Equal(Ends(town)["S"], Ends(made)["north.S"]);
        // Once more: each is the rest of its own, and the first does not notice the second.
        var twice = Done(UseModule.Again(made, made.Modules[0], "south"), made);
        Assert.DoesNotContain(Lowering.Lower(twice).Findings, finding => finding.PartId == twice.CompartmentBySymbol("south.S")!.Id);
        // Twice the states make other steps: equal to the tolerance of the solver, 1e-8 of a thousand, many times over.
        Assert.Equal(Ends(made)["north.S"], Ends(twice)["north.S"], 1e-5);
        Assert.Equal(Ends(made)["north.S"], Ends(twice)["south.S"], 1e-5);
        // Compartments that leave a total for a module without a rest of its own still count in it.
        var part = Done(new MakeModule("ward", "", [.. Ids(town, "R")]), town);
        Assert.Equal(Ends(town)["S"], Ends(part)["S"]);
        // Taken apart, it stays what it was though another rest lies outside.
        var mixed = Done(new DissolveModule("south"), Done(new AddLines("X(0) = the rest of 300"), twice));
        Assert.Equal("1000 - (70) - (5) - (20)", mixed.CompartmentBySymbol("S")!.Start);
        Assert.Equal(Ends(twice)["south.S"], Ends(mixed)["S"], 1e-5);
    }

    [Theory]
    [InlineData("", "needs a name")]
    [InlineData("9", "cannot be a symbol")]
    [InlineData("at", "a meaning of its own")]
    [InlineData("k", "is the symbol of a part already")]
    [InlineData("a.b.c.d.e.f", "deep at most")]
    public void A_name_that_cannot_be_is_refused(string name, string why)
    {
        var plain = Typed("A(0) = 100; k = 0.1 per day; A -> at k");
        Assert.Contains(why, new MakeModule(name, "", [.. Ids(plain, "A")]).Apply(plain).Refusal);
    }

    [Fact]
    public void A_compartment_that_is_called_like_one_of_its_numbers_has_to_be_renamed_first()
    {
        var plain = Typed("A(0) = 100; stay(0) = 2; A -> stay at 0.1 per day; m = 3");
        Assert.Contains("Rename it first", new MakeModule("ward", "", [.. Ids(plain, "A", "stay")]).Apply(plain).Refusal);
        Assert.Null(new MakeModule("ward", "", [.. Ids(plain, "A", "m")]).Apply(plain).Refusal);
    }

    [Fact]
    public void Nothing_selected_is_refused()
    {
        var plain = Typed("A(0) = 100; A -> at 0.1 per day");
        Assert.Contains("select some of them", new MakeModule("pond", "", [plain.Flows[0].Id]).Apply(plain).Refusal);
    }

    [Theory]
    [InlineData("pond.N", "pond.N", ValueField.Own, "")]
    [InlineData("pond.I.start", "pond.I", ValueField.Start, "")]
    [InlineData("ward.stay.own", "ward.stay", ValueField.Own, "")]
    [InlineData("pond.I.share.pond.R", "pond.I", ValueField.Share, "pond.R")]
    [InlineData("I.share.R", "I", ValueField.Share, "R")]
    [InlineData("I.rate.pond.R", "I", ValueField.Rate, "pond.R")]
    [InlineData("farm.pond.S.inflow", "farm.pond.S", ValueField.Inflow, "")]
    public void Addresses_of_values_in_modules_are_read_as_they_are_written(string text, string symbol, ValueField field, string end)
    {
        var address = ValueAddress.Read(text);
        Assert.Equal((symbol, field, end), (address.Symbol, address.Field, address.End));
        Assert.Equal(text, address.ToString());
    }
}
