using System.Diagnostics;
using System.Globalization;
using System.Text;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench.WorkPrecision;

/// <summary>Requested against achieved error of the automatic method over problems with known solutions, as a table and a
/// picture.</summary>
internal static class Report
{
    private static readonly int[] Digits = [3, 4, 5, 6, 7, 8, 9, 10];

    private sealed record Run(double Error, int Steps, double Milliseconds);

    /// <param name="folder">Where <c>work-precision.md</c> and <c>work-precision.svg</c> are written.</param>
    public static void Write(string folder)
    {
        var rows = Problems
            .All.Select(problem => (problem, Runs: Digits.Select(digits => Solve(problem, Math.Pow(10, -digits))).ToList()))
            .ToList();
        var text = new StringBuilder();
        text.Append(
            """
            # Requested and achieved accuracy

            The automatic method over twelve problems whose solutions are known, at relative tolerances from 1e-3 to 1e-10; the absolute tolerance is
            the relative one times the size given. A tolerance bounds the error of one step, so that what a run ends with is some multiple of it: how
            many steps add up, and how far the problem spreads errors (the orbits spread them most). Written by
            `dotnet run -c Release --project bench/ClearTide.Bench -- work-precision`.

            At tight tolerances the stiff method takes many steps where the fast part is driven (the fast decay, Kaps): its error estimate loses its order
            there, with a constant so small that the result is far better than asked for.

            ![Achieved against requested error, a line for each problem](work-precision.svg)

            Each cell: the largest relative error of the amounts at the end, against the closed form or the published reference, and the number of steps.

            """
        );
        text.Append("| problem | size | ")
            .AppendJoin(" | ", Digits.Select(digits => $"1e-{digits}"))
            .Append(" |\n|---|---|")
            .Append(string.Concat(Digits.Select(_ => "---|")))
            .Append('\n');
        foreach (var (problem, runs) in rows)
        {
            text.Append(CultureInfo.InvariantCulture, $"| {problem.Name} | {problem.Size:0.########} | ")
                .AppendJoin(" | ", runs.Select(run => string.Create(CultureInfo.InvariantCulture, $"{run.Error:0.0E+0} · {run.Steps}")))
                .Append(" |\n");
        }
        text.Append("\nMilliseconds for a run with its continuous output at two times, median of nine:\n\n| problem | ")
            .AppendJoin(" | ", Digits.Select(digits => $"1e-{digits}"))
            .Append(" | solution from |\n|---|")
            .Append(string.Concat(Digits.Select(_ => "---|")))
            .Append("---|\n");
        foreach (var (problem, runs) in rows)
            text.Append(CultureInfo.InvariantCulture, $"| {problem.Name} | ")
                .AppendJoin(" | ", runs.Select(run => run.Milliseconds.ToString("0.000", CultureInfo.InvariantCulture)))
                .Append(CultureInfo.InvariantCulture, $" | {problem.Source} |\n");
        File.WriteAllText(Path.Combine(folder, "work-precision.md"), text.ToString().ReplaceLineEndings("\n"));
        File.WriteAllText(
            Path.Combine(folder, "work-precision.svg"),
            Picture.Of([.. rows.Select(row => (row.problem.Name, (IReadOnlyList<double>)[.. row.Runs.Select(run => run.Error)]))], Digits)
        );
    }

    private static Run Solve(Problem problem, double tolerance)
    {
        var form = Lowering
            .Lower(new AddLines(problem.Lines).Apply(new StudyDocument { Title = problem.Name, End = problem.End }).Document!)
            .Network;
        var model = new CompiledModel(form);
        var values = form.ValueVector();
        var settings = SolverSettings.Default with { RelativeTolerance = tolerance, AbsoluteTolerance = tolerance * problem.Size };
        Trajectory Once() => Engines.Run(new(model, values, [0, problem.End]) { Settings = settings });
        var run = Once();
        var error = problem.Reference.Max(pair =>
            Math.Abs(run.Amount(1, form.Amounts.ToList().FindIndex(amount => amount.Symbol == pair.Key)) - pair.Value)
            / Math.Max(Math.Abs(pair.Value), problem.Size)
        );
        var times = new List<double>();
        for (var repeat = 0; repeat < 9; repeat++)
        {
            var clock = Stopwatch.GetTimestamp();
            Once();
            times.Add(Stopwatch.GetElapsedTime(clock).TotalMilliseconds);
        }
        times.Sort();
        return new(error, run.Steps, times[4]);
    }
}
