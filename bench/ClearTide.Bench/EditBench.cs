using BenchmarkDotNet.Attributes;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Bench;

/// <summary>What the core does for each edit of a model of 60 compartments and 150 flows: check it, compile it, run it for its
/// curves.</summary>
public class EditBench
{
    private readonly StudyDocument _study = LargeModel.Study();
    private int _edit;

    /// <summary>An edit of a value: the compiled functions are those of the edit before.</summary>
    [Benchmark]
    public object ValueEdit() =>
        StudyRun.Of(_study.With(_study.DefinitionBySymbol("beta")! with { Text = $"0.{4000 + ++_edit % 1000} per day" }));

    /// <summary>An edit of a formula: everything is compiled anew.</summary>
    [Benchmark]
    public object FormulaEdit() => StudyRun.Of(_study.With(_study.Flows[0] with { Rate = $"lambda_v * S_v * (1 + 0.{++_edit} * t)" }));

    /// <summary>The check alone: names, units, findings.</summary>
    [Benchmark]
    public object CheckOnly() => Lowering.Lower(_study);
}
