using BenchmarkDotNet.Columns;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using ClearTide.Core.Language;

if (args is ["work-precision", ..])
{
    ClearTide.Bench.WorkPrecision.Report.Write(args.Length > 1 ? args[1] : "docs");
    return;
}

if (args is ["pairs", ..])
{
    ClearTide.Bench.Pairs.Run(args);
    return;
}

if (args is ["fits", ..])
{
    ClearTide.Bench.Fits.Run();
    return;
}

if (args is ["large-fit", ..])
{
    ClearTide.Bench.LargeFit.Run(Path.Combine(AppContext.BaseDirectory, "demo"));
    return;
}

if (args is ["groups", ..])
{
    ClearTide.Bench.GroupsBench.Run();
    return;
}

if (args is ["subjects", ..])
{
    ClearTide.Bench.Subjects.Run();
    return;
}

if (args is ["ensembles", ..])
{
    ClearTide.Bench.Ensembles.Run(args.Length > 1 ? args[1] : "");
    return;
}

if (args is ["many-flows", ..])
{
    ClearTide.Bench.ManyFlows.Run();
    return;
}

// Simulates epidemics, fits and projects them, and counts how many futures lie in the bands.
if (args is ["calibration", ..])
{
    ClearTide.Bench.Calibration.Run(args.Length > 1 ? int.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture) : 500);
    return;
}

// Simulates data by a fitted law many times over, and counts how often the intervals hold the truth.
if (args is ["coverage", ..])
{
    ClearTide.Bench.Coverage.Run(args.Length > 1 ? int.Parse(args[1], System.Globalization.CultureInfo.InvariantCulture) : 4000);
    return;
}

if (args is ["tables", ..])
{
    ClearTide.Bench.Tables.Run();
    return;
}

// Prints the numbers of every shipped study, to be held against those of another build of the same machine.
if (args is ["reference", ..])
{
    foreach (var run in ClearTide.Bench.ReferenceRuns.All(Path.Combine(AppContext.BaseDirectory, "demo")))
        Console.WriteLine(run);
    return;
}

// One process for all variants, so that ratios compare like with like; medians, since other work on the machine only ever adds time.
var config = DefaultConfig
    .Instance.AddJob(Job.Default.WithToolchain(InProcessEmitToolchain.Instance).WithWarmupCount(6).WithIterationCount(20))
    .AddColumn(StatisticColumn.Median);
BenchmarkSwitcher.FromAssembly(typeof(Program).Assembly).Run(args.Length > 0 ? args : ["--filter", "*"], config);
