using System.Diagnostics;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>What a model of 16 ages by 2 sexes by 4 places with 6 states costs (768 states with a matrix of contacts): an edit until its
/// numbers are there (target 150 ms), compiling (40 ms), a year's run (15 ms), with sensitivities of five values (10 runs). And 60 ages
/// over
/// 100 years, whose total is to stay to every digit.</summary>
internal static class GroupsBench
{
    private const int Rounds = 9;

    public static void Run()
    {
        var study = Large();
        Report("written out", () => new object(), _ => WrittenOut.Of(study with { Title = Guid.NewGuid().ToString() }));
        Report("lowered", () => Changed(study), Lowering.Lower);
        Report("lowered and compiled", () => Changed(study), changed => Lowering.Lower(changed).Compiled);
        Report("an edit until its run is there", () => Changed(study), changed => StudyRun.Of(changed));
        var lowered = Lowering.Lower(study);
        double[] times = [.. Enumerable.Range(0, 366).Select(day => (double)day)];
        RunRequest Request() => new(lowered.Compiled, lowered.Network.ValueVector(), times) { ScaleToStart = true };
        var run = Report("a year's run", Request, request => Engines.Run(request));
        ValueAddress[] five = ["q", "stay", "gamma", "h", "m"];
        ObservedModel Observed(ValueAddress[] chosen) =>
            new(
                lowered,
                [
                    new(
                        new("o", "data", "cases", study.Flows[0].Id, "1"),
                        new("data", "cases", [.. Enumerable.Range(0, 52).Select(week => new DataRow(7 * week, 7 * week + 7, 0))])
                    ),
                ],
                chosen
            );
        double[] values = [.. five.Select(one => lowered.Network.Values[lowered.Network.IndexOf(one)].Value)];
        var (plain, tangents) = (Observed([]), Observed(five));
        run = Report("a year of weekly counts", () => plain, model => model.Predict([]));
        var with = Report("with sensitivities of five values", () => tangents, model => model.Predict(values));
        Console.WriteLine(
            $"sensitivities are {with / run:0.0} runs; {lowered.Network.States.Count} states, {lowered.Network.Processes.Count} processes"
        );
        Ages();
    }

    private static StudyDocument Lines(string lines, double end) =>
        new AddLines(lines).Apply(new StudyDocument { Title = "Ages", End = end }) is { Document: { } study }
            ? study
            : throw new InvalidOperationException("The model of the bench cannot be read.");

    private static StudyDocument Large()
    {
        var ages = Enumerable.Range(0, 16).Select(k => $"a{5 * k}").ToList();
        // Contacts fall with the distance of ages.
        var rows = ages.Select(
            (_, i) =>
                string.Join(
                    ' ',
                    ages.Select(
                        (_, j) =>
                            (4 * Math.Exp(-0.3 * Math.Abs(i - j)) + 0.2).ToString(
                                "0.###",
                                System.Globalization.CultureInfo.InvariantCulture
                            )
                    )
                )
        );
        return Lines(
            $"""
            group age = {string.Join(", ", ages)}
            group sex = f, m
            group place = vorrin, tesk, ammelow, quay
            S[age, sex, place](0) = 100
            E[age, sex, place](0) = 0
            I[age, sex, place](0) = 1
            H[age, sex, place](0) = 0
            R[age, sex, place](0) = 0
            D[age, sex, place](0) = 0
            C[age, age] = table {string.Join(", ", rows)}
            N[age, place] = sum(s in sex, S[s] + E[s] + I[s] + H[s] + R[s])
            lambda[age, place] = q * sum(j in age, C[age, j] * sum(s in sex, I[j, s]) / N[j])
            q = 0.03
            stay = 8
            gamma = 0.2
            h = 0.05
            m = 0.1
            S -> E : lambda * S
            E -> I after 3
            I -> R : (1 - h) * gamma * I
            I -> H : h * gamma * I
            H -> R : (1 - m) * H / stay
            H -> D : m * H / stay
            """,
            365
        );
    }

    /// <summary>The study after an edit of one value.</summary>
    private static StudyDocument Changed(StudyDocument study) =>
        study.With(
            study.DefinitionBySymbol("q")! with
            {
                Text = (0.03 + 1e-6 * Stopwatch.GetTimestamp() % 1e-3).ToString("R", System.Globalization.CultureInfo.InvariantCulture),
            }
        );

    private static double Report<TIn, TOut>(string what, Func<TIn> prepare, Func<TIn, TOut> work)
    {
        var taken = new List<double>();
        for (var round = -3; round < Rounds; round++)
        {
            var input = prepare();
            var watch = Stopwatch.StartNew();
            GC.KeepAlive(work(input));
            if (round >= 0)
                taken.Add(watch.Elapsed.TotalMilliseconds);
        }
        taken.Sort();
        Console.WriteLine($"{what}: {taken[Rounds / 2]:0.0} ms, {taken[^1]:0.0} at most");
        return taken[Rounds / 2];
    }

    private static void Ages()
    {
        var ages = Enumerable.Range(0, 60).Select(k => $"a{k}");
        var study = Lines($"group age = {string.Join(", ", ages)}; N[age](0) = 1000; along age after 1", 100);
        var run = StudyRun.Of(study).Run!;
        var worst = Enumerable
            .Range(0, run.Times.Count)
            .Max(row => Math.Abs(Enumerable.Range(0, 60).Sum(age => run.Amount(row, age)) - 60_000) / 60_000);
        Console.WriteLine($"60 ages over 100 years keep their total to {worst:0.0e+0}");
    }
}
