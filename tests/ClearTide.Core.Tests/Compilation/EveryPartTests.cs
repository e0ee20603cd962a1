using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;

namespace ClearTide.Core.Tests.Compilation;

/// <summary>What holds for values and graphs of every kind of part.</summary>
public class EveryPartTests
{
    private static StudyDocument Discrete()
    {
        var document = Studies.Of("N -> at 0.1; M(0) = the rest of 50; N(0) = 10; K(0) = 3; M -> N at 0.2; K -> : 0 * K", 20) with
        {
            Solver = new(Method.Discrete, 1, 1e-8),
        };
        return document.With(document.CompartmentBySymbol("K")! with { Next = "4" });
    }

    [Fact]
    public void The_study_of_every_part_is_whole_and_runs()
    {
        var lowered = EveryPart.Lowered();
        Assert.False(
            lowered.IsProvisional,
            string.Join("; ", lowered.Findings.Where(finding => finding.Severity == Severity.Unfinished).Select(finding => finding.Message))
        );
        var run = StudyRun.Of(EveryPart.Study());
        Assert.Null(run.Failure);
        var document = lowered.Document;
        Assert.All(
            new[]
            {
                document.Compartments.Length,
                document.Flows.Length,
                document.Reactions.Length,
                document.Definitions.Length,
                document.Inputs.Length,
                document.Curves.Length,
                document.RandomInputs.Length,
                document.Events.Length,
                document.Assumptions.Length,
                document.Expectations.Length,
            },
            count => Assert.True(count > 0)
        );
    }

    [Fact]
    public void Every_value_that_is_adopted_is_what_it_was_adopted_as_and_nothing_else_changes()
    {
        foreach (var document in new[] { EveryPart.Study(), Discrete() })
        {
            var before = Lowering.Lower(document).Network;
            Assert.Contains(before.Values, value => value.Address.Field != ValueField.Own);
            foreach (var value in before.Values)
            {
                var adopted = value.Value * 0.9375 + 0.001;
                var result = new AdoptValues(new Dictionary<ValueAddress, double> { [value.Address] = adopted }).Apply(document);
                Assert.True(result.Refusal is null, result.Refusal);
                var after = Lowering.Lower(result.Document!).Network;
                foreach (var other in after.Values)
                {
                    // Written with all digits; a unit's size may cost the last one.
                    var expected = other.Address == value.Address ? adopted : before.Values[before.IndexOf(other.Address)].Value;
                    Assert.True(
                        Math.Abs(other.Value - expected) <= 1e-14 * Math.Abs(expected),
                        $"{other.Address} is {other.Value:R} instead of {expected:R} after adopting {value.Address}"
                    );
                }
                Assert.Equal(before.Values.Count, after.Values.Count);
            }
        }
    }

    [Fact]
    public void What_is_compiled_is_written_to_by_nobody()
    {
        var lowered = EveryPart.Lowered();
        var model = new CompiledModel(lowered.Network);
        var count = lowered.Network.Graph.Count;
        Assert.Throws<InvalidOperationException>(() => lowered.Network.Graph.Constant(123.456));
        // All that derives from it later, on several threads at once.
        var values = lowered.Network.ValueVector();
        Parallel.For(0, 8, k =>
        {
            var settings = SolverSettings.Default with { Method = k % 2 == 0 ? Method.Stiff : Method.Automatic };
            Engines.Run(new(model, values, [0, 30]) { Settings = settings });
            model.Jacobian();
            _ = Propensities.Of(model).SumCount;
            ConservedTotal.Of(lowered.Network);
        });
        Assert.Equal(count, lowered.Network.Graph.Count);
    }
}
