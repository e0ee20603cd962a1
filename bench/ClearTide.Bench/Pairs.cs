using System.Diagnostics;
using System.Reflection;
using System.Runtime.Loader;
using BenchmarkDotNet.Attributes;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Bench;

/// <summary>
/// Times two ways of doing one thing in turn, in one process, and prints the median of the ratios: other work on the machine, its clock
/// and the heat
/// of its caches then meet both alike. By hand and ours in this build; and with <c>--against FOLDER</c> another build's against this one's.
/// </summary>
internal static class Pairs
{
    private const int Rounds = 41;

    /// <summary>Long enough that the clock and a switch of threads say little.</summary>
    private const double BlockMilliseconds = 15;

    private static readonly Type[] Classes =
    [
        typeof(RightHandSideBench),
        typeof(AdaptiveSolveBench),
        typeof(FixedStepBench),
        typeof(ExactBench),
        typeof(StiffBench),
        typeof(SensitivityBench),
        typeof(SweepBench),
        typeof(EditBench),
    ];

    public static void Run(string[] args)
    {
        Console.WriteLine("| what | pair | median | quarter to three quarters |");
        Console.WriteLine("|---|---|---|---|");
        foreach (var own in Classes)
        {
            var (instance, methods) = Make(own);
            var hand = methods.FirstOrDefault(method => method.GetCustomAttribute<BenchmarkAttribute>()!.Baseline);
            if (hand is null)
                continue;
            foreach (var ours in methods.Where(method => method != hand))
                Print(own.Name, $"{ours.Name} / {hand.Name}", Call(instance, ours), Call(instance, hand));
        }
        if (Array.IndexOf(args, "--against") is var at and >= 0 && at + 1 < args.Length)
            Against(Path.GetFullPath(args[at + 1]));
    }

    /// <summary>This build over another one, method by method where both have it.</summary>
    private static void Against(string folder)
    {
        var other = new OtherBuild(folder);
        var bench = other.LoadFromAssemblyPath(Path.Combine(folder, "ClearTide.Bench.dll"));
        foreach (var own in Classes)
        {
            if (bench.GetType(own.FullName!) is not { } theirs)
                continue;
            var (mine, methods) = Make(own);
            var (their, old) = Make(theirs);
            foreach (var method in methods)
            {
                if (old.FirstOrDefault(one => one.Name == method.Name) is { } before)
                    Print(own.Name, $"{method.Name}, this build / the other", Call(mine, method), Call(their, before));
            }
        }
    }

    /// <summary>Loads what lies in a folder from there, though this process has assemblies of the same names.</summary>
    private sealed class OtherBuild(string folder) : AssemblyLoadContext("other build")
    {
        protected override Assembly? Load(AssemblyName name) =>
            Path.Combine(folder, name.Name + ".dll") is var file
            && File.Exists(file)
            && !name.Name!.StartsWith("BenchmarkDotNet", StringComparison.Ordinal)
                ? LoadFromAssemblyPath(file)
                : null;
    }

    private static (object Instance, List<MethodInfo> Methods) Make(Type type) =>
        (
            Activator.CreateInstance(type)!,
            [
                .. type.GetMethods()
                    .Where(method => method.GetCustomAttributes().Any(attribute => attribute.GetType().Name == nameof(BenchmarkAttribute))),
            ]
        );

    private static Action Call(object instance, MethodInfo method) => () => method.Invoke(instance, null);

    private static void Print(string what, string pair, Action a, Action b)
    {
        var (calls, other) = (Calls(a), Calls(b));
        var ratios = new double[Rounds];
        for (var round = 0; round < Rounds; round++)
        {
            // Each goes first as often as second.
            var first = round % 2 == 0 ? Time(a, calls) : 0;
            var second = Time(b, other);
            if (round % 2 != 0)
                first = Time(a, calls);
            ratios[round] = first / second;
        }
        Array.Sort(ratios);
        var name = what.Replace("Bench", "", StringComparison.Ordinal);
        var spread = FormattableString.Invariant($"{ratios[Rounds / 4]:0.00} to {ratios[3 * Rounds / 4]:0.00}");
        Console.WriteLine(FormattableString.Invariant($"| {name} | {pair} | {ratios[Rounds / 2]:0.00} | {spread} |"));
    }

    /// <summary>How many calls make a block, found while the runtime optimises what is called often.</summary>
    private static int Calls(Action action)
    {
        var warm = Stopwatch.StartNew();
        while (warm.ElapsedMilliseconds < 600)
            action();
        var once = Time(action, 5);
        return Math.Max(1, (int)(BlockMilliseconds / Math.Max(once, 1e-6)));
    }

    /// <summary>Milliseconds for one call.</summary>
    private static double Time(Action action, int calls)
    {
        var clock = Stopwatch.StartNew();
        for (var k = 0; k < calls; k++)
            action();
        return clock.Elapsed.TotalMilliseconds / calls;
    }
}
