using BenchmarkDotNet.Attributes;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;

namespace ClearTide.Bench;

/// <summary>Expected weekly counts of a year of the epidemic, alone and with their derivatives by five values with error control on the
/// states (target: at most 2.5 plain solves) and on the tangents too (3.5).</summary>
public class SensitivityBench
{
    private static readonly ValueAddress[] Chosen = ["beta", "sigma", "gamma", "I.start", "S.total"];

    private readonly double[] _values;
    private readonly ObservedModel _plain = Observed([]),
        _tangents = Observed(Chosen),
        _all = Observed(Chosen, controlTangents: true);

    public SensitivityBench()
    {
        var form = Lowering.Lower(Seir.Study()).Network;
        _values = [.. Chosen.Select(address => form.Values[form.IndexOf(address)].Value)];
    }

    private static ObservedModel Observed(IReadOnlyList<ValueAddress> chosen, bool controlTangents = false)
    {
        var study = Seir.Study();
        return new(
            Lowering.Lower(study),
            [
                new(
                    new("o", "data", "cases", study.Flows[0].Id, "1"),
                    new("data", "cases", [.. Enumerable.Range(0, 52).Select(week => new DataRow(7 * week, 7 * week + 7, 0))])
                ),
            ],
            chosen,
            controlTangents
        );
    }

    [Benchmark(Baseline = true)]
    public double Plain() => _plain.Predict([]).Mean[51];

    [Benchmark]
    public double WithFiveTangents() => _tangents.Predict(_values).Mean[51];

    [Benchmark]
    public double ControlOnAll() => _all.Predict(_values).Mean[51];
}
