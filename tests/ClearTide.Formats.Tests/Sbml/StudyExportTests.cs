using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Editing;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Studies as SBML: what is written runs as the study does.</summary>
public class StudyExportTests
{
    public static TheoryData<string> Shipped() => StudyFileTests.Shipped();

    internal static StudyDocument Read(string path) => StudyFile.Read(File.ReadAllText(StudyFileTests.Root(path))).Document;

    internal static StudyDocument Of(string lines, double end = 60)
    {
        var result = new AddLines(lines).Apply(new StudyDocument { Title = "Test", End = end });
        Assert.Null(result.Refusal);
        return result.Document!;
    }

    /// <summary>The amounts in all compartments of a study, and the same columns of the file it becomes.</summary>
    internal static void RunsTheSame(StudyDocument document, double tolerance)
    {
        var lowered = Lowering.Lower(document);
        Assert.Empty(lowered.Findings.Where(finding => finding.Severity == Severity.Unfinished).Select(finding => finding.Message));
        var times = OutputTimes.Every(document.Start, document.End, (document.End - document.Start) / 40);
        var settings = SolverSettings.Default with { RelativeTolerance = 1e-10, AbsoluteTolerance = 1e-12 };
        var model = new CompiledModel(lowered.Network);
        var values = lowered.Network.ValueVector();
        var run = Engines.Run(new(model, values, times) { Settings = settings });
        var (form, columns) = SbmlLowering.Lower(SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(document).Model)));
        var other = new CompiledModel(form);
        var numbers = form.ValueVector();
        var again = Engines.Run(new(other, numbers, times) { Settings = settings });
        var written = lowered.Document.Compartments;
        for (var k = 0; k < written.Length; k++)
        {
            // A member is named by its indices, a part of a module by that.
            var id = written[k].Symbol.Replace('[', '_').Replace('.', '_').TrimEnd(']');
            var column = columns.Single(column => column.Id == id);
            var (ours, theirs) = (run.AmountColumn(k), again.QuantityColumn(column.Amount));
            var size = Math.Max(ours.Max(Math.Abs), 1e-300);
            for (var row = 0; row < times.Length; row++)
                Assert.True(
                    Math.Abs(ours[row] - theirs[row]) <= tolerance * size,
                    $"{written[k].Symbol} at {times[row]}: {ours[row]:R} and {theirs[row]:R}"
                );
        }
    }

    [Theory]
    [MemberData(nameof(Shipped))]
    // The formulas are the same ones, and so are the bits, but for one of them, which groups a product otherwise: rounding, which the
    // epidemic makes grow; and an infusion under way sums up its steps from another place.
    public void A_shipped_study_runs_the_same(string name) => RunsTheSame(Read(name), 1e-11);

    [Theory]
    [InlineData("S(0) = 990; I(0) = 10; D(0) = 0; R(0) = 0; S -> I : 0.4 * S * I / (S + I + R); I -> R 98%, D the rest after 5 days", 1e-9)]
    [InlineData("E(0) = 100; I(0) = 0; E -> I after 8 days in 4 stages; E -> at 0.02 per day", 1e-9)]
    [InlineData("-> N : 1; N(0) = 0; when N >= 10 at most 3 times: N -> : 5", 1e-9)]
    [InlineData("-> N : 1; N(0) = 0; when N >= 10 at most every 12 days: N -> : 5", 1e-9)]
    [InlineData("-> N : 1; N(0) = 0; when N >= 10 at most every 7 days at most 4 times: N -> : 2", 1e-9)]
    [InlineData("A(0) = 50; A -> at 0.1; every 6 days at most 4 times: -> A : 10", 1e-9)]
    [InlineData("A(0) = 100; f(0) = 0; v = points 0 1, 10 3, 20 2; A -> B : v(t) * 2", 1e-9)]
    [InlineData(
        "G(0) = 0; C(0) = 0; at 5: -> G : 200; every 12 from 10 until 50: -> G : 100; G -> C at 0.8 per day; C -> at 0.2 per day",
        1e-7
    )]
    [InlineData("C(0) = 0; at 2: -> C : 100 over 4, -> C : 30 over 10 after 1; C -> at 0.3 per day", 1e-7)]
    [InlineData("A(0) = 1; A -> : 0.1 * A - 0.02 * delay(A, 3)", 1e-6)]
    [InlineData("A(0) = 1; A -> : 0.1 * A - 0.02 * delay(A, 3, 5)", 1e-6)]
    [InlineData("A(0) = 1; k = 0.1; q = smooth(A, 4, 2); A -> : k * q", 1e-9)]
    [InlineData("H(0) = 10; beta = 0.3 per day; -> H : beta * H * (1 - H / 100); while H > 40: beta = 0.1", 1e-7)]
    [InlineData("H(0) = 10; -> H : 3; when H > 50: H = 20, H = H + 5", 1e-7)]
    [InlineData("H(0) = 10; X(0) = 0; k = 0.5 per day; -> H : k * 4; when H > 30 once: k = 0.1, H -> X : 7", 1e-7)]
    [InlineData("S(0) = the rest of 1000; I(0) = 5; S -> I : 0.0004 * S * I; I -> S at 0.2 per day", 1e-9)]
    [InlineData("A(0) = at equilibrium; B(0) = 3; -> A : 4; A -> B at 0.5 per day; B -> at 0.1 per day", 1e-8)]
    [InlineData("r = normal(1, 0.2) every 7 days; A(0) = 1; -> A : r", 1e-9)]
    [InlineData("A(0) = 1; -> A : min(3, max(1, t / 10)) + abs(sin(t)) + floor(t / 20) + mod(t, 7)", 1e-7)]
    [InlineData("S(0) = 5; S -> : 1 limited", 1e-7)]
    [InlineData(
        "S(0) = 9; Q(0) = 4; -> S : 0.5; S -> Q : 2 limited; S -> : 1 limited; Q -> : 1.5 + sin(t / 5) limited; Q -> at 0.02",
        1e-7
    )]
    [InlineData(
        "S(0) = 9; Q(0) = 0; P(0) = 0; -> S : 1 + sin(t / 3); S -> Q 70%, P the rest : 1.2 limited; Q -> : 0.3 limited; P -> : 0.4 + "
            + "0.3 * sin(t / 4) limited",
        1e-7
    )]
    [InlineData("reaction r: A + 2 B -> 3 C + D : 0.01 * A * B; A(0) = 9; B(0) = 14; twice = 2 * r", 1e-10)]
    [InlineData("reaction r: A -> (n) B + C : 0.1 * A; n = 1 + t / 60; A(0) = 9; at 20: A = A + 1", 1e-7)]
    public void What_a_study_can_say_runs_the_same(string lines, double tolerance) => RunsTheSame(Of(lines), tolerance);

    [Theory]
    [InlineData(Between.Step, Beyond.Hold, Beyond.Repeat)]
    [InlineData(Between.Line, Beyond.Repeat, Beyond.Repeat)]
    [InlineData(Between.Line, Beyond.Trend, Beyond.Trend)]
    [InlineData(Between.Smooth, Beyond.Zero, Beyond.Zero)]
    [InlineData(Between.Smooth, Beyond.Hold, Beyond.Repeat)]
    public void An_input_runs_the_same_between_before_and_after_its_points(Between between, Beyond before, Beyond after)
    {
        var study = Of("A(0) = 0; v = points 10 1, 16 4, 20 2.5, 24 3; -> A : v(t)");
        study = study with
        {
            Inputs =
            [
                study.Inputs[0] with
                {
                    Between = between,
                    Before = before,
                    After = after,
                    Period = after == Beyond.Repeat ? "18" : "",
                },
            ],
        };
        // Conditions on time alone are found to the last digits; what is left are the places of steps.
        RunsTheSame(study, 1e-8);
    }

    [Theory]
    [MemberData(nameof(Shipped))]
    public void A_shipped_study_comes_back_as_a_study_that_runs_the_same(string name)
    {
        var study = Read(name);
        var back = SbmlImport.Read(SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(study).Model)), "other");
        Assert.Equal((study.Title, study.TimeUnit), (back.Title, back.TimeUnit));
        var (units, others) = (Lowering.Lower(study).Units, Lowering.Lower(back));
        Assert.Empty(others.Findings.Where(finding => finding.Severity == Severity.Unfinished).Select(finding => finding.Message));
        var own = StudyRun.Of(study).Run!;
        var run = StudyRun.Of(back with { Start = study.Start, End = study.End, Solver = study.Solver }).Run!;
        for (var k = 0; k < study.Compartments.Length; k++)
        {
            var part = study.Compartments[k];
            // The sum of stages comes back as a quantity over the stages.
            if (back.CompartmentBySymbol(part.Symbol) is not { } same)
                continue;
            Assert.Equal((part.Label, part.Note, part.X, part.Y), (same.Label, same.Note, same.X, same.Y));
            Assert.Equal(units.Of(part.Id).Unit?.Text(), others.Units.Of(same.Id).Unit?.Text());
            var (ours, theirs) = (own.AmountColumn(k), run.AmountColumn(back.Compartments.IndexOf(same)));
            // Formulas keep their order but for numbers that have got names; a tenth of the tolerance of the run.
            Assert.Equal(ours[^1], theirs[^1], 1e-7 * ours.Max(Math.Abs));
        }
    }

    [Fact]
    public void Reactions_and_fan_outs_come_back_as_what_they_are()
    {
        var study = Of(
            "reaction r: A + 2 B -> 3 C + D : k * A * B; k = 0.01; A(0) = 9; B(0) = 14; twice = 2 * r; A -> C at 0.1; C -> D 98%, B "
                + "1.5%, E the rest after 5 days"
        );
        var back = SbmlImport.Read(SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(study).Model)), "other");
        Assert.Equal(("r", "A + 2 B -> 3 C + D : k * A * B"), (back.Reactions.Single().Symbol, back.Reactions.Single().Text));
        Assert.Equal("2 * r", back.DefinitionBySymbol("twice")!.Text);
        Assert.Equal(["A → C", "C → D, B, E"], back.Flows.Select(back.Describe));
        Assert.Equal("", back.Flows[1].To[2].Share);
        Assert.All(back.Flows, flow => Assert.Equal("", flow.Label));
        Assert.Equal((0.98, 0.015), (Share(back, 0), Share(back, 1)));
        Assert.Equal(study.Flows.Select(study.Describe), back.Flows.Select(back.Describe));
        // Chance takes it as it is: whole units of each.
        Assert.Null(ChanceRefusal.Of(Lowering.Lower(back)));
    }

    /// <summary>A share, which may stand under a name of its own.</summary>
    private static double Share(StudyDocument study, int end)
    {
        var text = study.Flows[1].To[end].Share;
        return double.Parse(study.DefinitionBySymbol(text)?.Text ?? text, System.Globalization.CultureInfo.InvariantCulture);
    }

    [Fact]
    public void An_expectation_that_compares_is_a_constraint()
    {
        var back = SbmlImport.Read(
            SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(Of("β = 2; S(0) = 5; S -> at 0.1; expect: S + β <= 8 and t >= 0")).Model)),
            "other"
        );
        Assert.Equal("S + β <= 8 and t >= 0", back.Expectations.Single().Text);
    }

    [Fact]
    public void What_SBML_does_not_say_is_listed()
    {
        var study = Of(
            "S(0) = 5; S -> Q : 1 limited; Q -> S : 2 limited; expect: S >= 0; expect: Q never falls; assume: nothing comes back; r "
                + "= normal(1, 0.1) every 5 days; q = r * 2"
        );
        var left = SbmlExport.Of(study with { Start = 2 }).Left;
        foreach (var word in new[] { "limited", "random inputs", "assumptions", "Q never falls", "begins at 2" })
            Assert.Contains(left, sentence => sentence.Contains(word, StringComparison.Ordinal));
    }

    [Fact]
    public void Symbols_that_ids_cannot_be_come_back_by_their_annotation()
    {
        var study = Of("β = 0.3 per day; β_zwölf = 2; A(0) = 1; A -> at β; x = β_zwölf * A");
        var back = SbmlImport.Read(SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(study).Model)), "other");
        Assert.Equal(study.SymbolParts.Select(part => part.Symbol).Order(), back.SymbolParts.Select(part => part.Symbol).Order());
    }

    [Fact]
    public void An_annotation_that_holds_no_symbol_is_made_one()
    {
        var text = SbmlWriter
            .Write(SbmlExport.Of(Of("β = 0.3 per day; A(0) = 1; A -> at β")).Model)
            .Replace("symbol=\"β\"", "symbol=\"a b; &lt;c\"");
        var back = SbmlImport.Read(SbmlReader.Read(text), "other");
        Assert.Equal(["A", "abc"], back.SymbolParts.Select(part => part.Symbol));
        Assert.False(Lowering.Lower(back).IsProvisional);
    }

    [Theory]
    [InlineData("next N = N * 2; N(0) = 1", "discrete steps")]
    [InlineData("A(0) = 1; A -> : missing * A", "unfinished")]
    public void What_cannot_be_exported_is_told(string lines, string word)
    {
        var study = Of(lines);
        if (word.StartsWith("discrete", StringComparison.Ordinal))
            study = study with { Solver = study.Solver with { Method = Method.Discrete } };
        Assert.Contains(word, Assert.Throws<SbmlException>(() => SbmlExport.Of(study)).Message);
    }

    /// <summary>A model of some compartments with flows of every kind between them, from a number.</summary>
    private static string Generated(int seed)
    {
        var random = new Random(seed);
        string Pick(params string[] of) => of[random.Next(of.Length)];
        string[] names = [.. "ABCDEFG"[..random.Next(2, 7)].Select(letter => letter.ToString())];
        var lines = names.Select(name => $"{name}(0) = {random.Next(1, 200)}").ToList();
        lines.AddRange([
            "k = 0.08 per day",
            "half = 60",
            $"total = {string.Join(" + ", names)}",
            "wave = points 0 1, 15 1.6, 30 0.4 then repeat 40",
        ]);
        for (var reaction = 0; reaction < random.Next(3); reaction++)
        {
            string Side(string without) =>
                string.Join(
                    " + ",
                    names
                        .Where(name => name != without)
                        .OrderBy(_ => random.Next())
                        .Take(random.Next(1, 3))
                        .Select(name => Pick("", "", "2 ", "0.5 ") + name)
                );
            lines.Add(
                $"reaction r{reaction}: {names[0]} + {Side(names[0])} -> {Side(names[^1])} : 0.02 * {names[0]} * {Pick(names)} / total"
            );
        }
        for (var flow = 0; flow < random.Next(3, 9); flow++)
        {
            var (from, to) = (Pick(names), Pick([.. names, ""]));
            if (from == to)
                to = "";
            lines.Add(
                random.Next(7) switch
                {
                    0 => $"{from} -> {to} at k",
                    1 => $"{from} -> {to} after {random.Next(3, 20)} days",
                    2 => $"{from} -> {to} : k * {from} * {Pick(names)} / total",
                    3 => $"-> {from} : {random.Next(1, 5)} * wave(t)",
                    4 => $"{from} -> {to} : 3 * {from} / (half + {from})",
                    5 when names.FirstOrDefault(name => name != from && name != to) is { } third && to.Length > 0 =>
                        $"{from} -> {to} {random.Next(10, 90)}%, {third} the rest at k",
                    _ => $"{from} -> {to} : k * {from} * exp(-{Pick(names)} / 100) * if(t > {random.Next(5, 50)}, 0.5, 1)",
                }
            );
        }
        if (random.Next(2) == 0)
            lines.Add($"every {random.Next(5, 20)} days from 3: -> {Pick(names)} : {random.Next(1, 30)}");
        if (random.Next(2) == 0)
            lines.Add($"when {names[0]} < {random.Next(1, 100)} once: {names[0]} = {names[0]} + 40, k = 0.05");
        return string.Join("; ", lines);
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void Generated_models_run_the_same_as_files_and_as_studies_read_from_them(int seed)
    {
        var study = Of(Generated(seed));
        // Times of conditions are found to about 1e-12 of the span; a jump there moves amounts by rates times that.
        RunsTheSame(study, 1e-7);
        var back = SbmlImport.Read(SbmlReader.Read(SbmlWriter.Write(SbmlExport.Of(study).Model)), "other") with { End = study.End };
        var (own, other) = (StudyRun.Of(study).Run!, StudyRun.Of(back).Run!);
        for (var k = 0; k < study.Compartments.Length; k++)
        {
            if (back.CompartmentBySymbol(study.Compartments[k].Symbol) is not { } same)
                continue;
            // Ten times the tolerance of the two runs, whose steps may fall apart at events.
            Assert.Equal(
                own.AmountColumn(k)[^1],
                other.AmountColumn(back.Compartments.IndexOf(same))[^1],
                1e-6 * own.AmountColumn(k).Max(Math.Abs)
            );
        }
    }

    public static TheoryData<int> Seeds() => [.. Enumerable.Range(1, 40)];
}
