using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Ensembles;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using ClearTide.Formats.Studies;

namespace ClearTide.Bench;

/// <summary>The numbers of one run of a study.</summary>
/// <param name="Name">The study's file and the method.</param>
/// <param name="Bits">A hash over every bit of the run: the same on one machine as long as no operation changes.</param>
/// <param name="Numbers">The amounts half way and at the end; of a chance run how many transitions it took, too.</param>
public sealed record ReferenceRun(string Name, ulong Bits, double[] Numbers)
{
    public override string ToString() =>
        string.Join(
            ' ',
            [
                Name,
                Bits.ToString("x16", CultureInfo.InvariantCulture),
                .. Numbers.Select(number => number.ToString("R", CultureInfo.InvariantCulture)),
            ]
        );

    public static ReferenceRun Parse(string line)
    {
        var words = line.Split(' ');
        return new(
            words[0],
            ulong.Parse(words[1], NumberStyles.HexNumber, CultureInfo.InvariantCulture),
            [.. words.Skip(2).Select(word => double.Parse(word, CultureInfo.InvariantCulture))]
        );
    }
}

/// <summary>
/// One run of every shipped study by every kind of method, so that a change of the code can be held against the numbers before it.
/// </summary>
public static class ReferenceRuns
{
    private static readonly Method[] Methods = [Method.Automatic, Method.Adaptive, Method.Stiff, Method.RungeKutta4];

    /// <param name="folder">The folder of the demo studies.</param>
    public static IEnumerable<ReferenceRun> All(string folder)
    {
        var files = Directory.GetFiles(folder, "*.study.json", SearchOption.AllDirectories).OrderBy(file => file, StringComparer.Ordinal);
        foreach (var file in files)
        {
            var name = Path.GetFileName(file).Replace(".study.json", "", StringComparison.Ordinal);
            foreach (var run in Of(name, StudyFile.Read(File.ReadAllText(file)).Document))
                yield return run;
        }
    }

    public static IEnumerable<ReferenceRun> Of(string name, StudyDocument document)
    {
        foreach (var method in document.Solver.IsDiscrete ? [Method.Discrete] : Methods)
        {
            var run = StudyRun.Of(document with { Solver = document.Solver with { Method = method } }).Run;
            if (run is not null)
                yield return Of($"{name}/{method}", run);
        }
        if (ChanceRefusal.Of(Lowering.Lower(document)) is null)
            yield return ByChance($"{name}/Exact", document);
    }

    private static ReferenceRun Of(string name, Trajectory run)
    {
        var columns = Enumerable
            .Range(0, run.Network.Amounts.Count + run.Network.Flows.Count + run.Network.Quantities.Count)
            .Select(run.OutputColumn);
        var (half, last) = (run.Times.Count / 2, run.Times.Count - 1);
        var amounts = Enumerable.Range(0, run.Network.Amounts.Count).ToList();
        return new(
            name,
            Hash(columns.Prepend([.. run.Times]).SelectMany(column => column)),
            [.. amounts.Select(k => run.Amount(half, k)), .. amounts.Select(k => run.Amount(last, k))]
        );
    }

    private static ReferenceRun ByChance(string name, StudyDocument document)
    {
        var lowered = Lowering.Lower(document);
        var (model, values) = (new CompiledModel(lowered.Network), lowered.Network.ValueVector());
        var start = model.InitialState(values, document.Start);
        WholeUnits.Round(lowered.Network, start, 0.5);
        var times = OutputTimes.Every(document.Start, document.End, (document.End - document.Start) / 8);
        var run = new NextReactionSimulator(model).Run(
            new(model, values, times)
            {
                Start = start,
                Seed = 11,
                Replicate = 3,
            }
        );
        var (half, last) = (times.Length / 2, times.Length - 1);
        double[] At(int row) => run.States[(row * model.StateCount)..((row + 1) * model.StateCount)];
        return new(name, Hash([.. run.States, .. run.Counts]), [.. At(half), .. At(last), run.Transitions]);
    }

    /// <summary>FNV-1a over the bits of numbers.</summary>
    private static ulong Hash(IEnumerable<double> numbers)
    {
        var hash = 14695981039346656037UL;
        foreach (var number in numbers)
            hash = (hash ^ BitConverter.DoubleToUInt64Bits(number)) * 1099511628211UL;
        return hash;
    }
}
