using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;

namespace ClearTide.Core.Tests.Inference;

/// <summary>Derivatives of predictions where the model jumps, has kinks or a past.</summary>
public class JumpGradientTests
{
    private static readonly DataSet Weeks = new(
        "d",
        "d",
        [.. Enumerable.Range(0, 4).Select(week => new DataRow(7 * week, 7 * week + 7, 10))]
    );

    private static Prediction Predict(string lines, string flow, params ValueAddress[] chosen)
    {
        var document = Studies.Of(lines, 30);
        var lowered = Lowering.Lower(document);
        var observed = document.Flows.First(part => document.Describe(part) == flow).Id;
        var model = new ObservedModel(lowered, [new(new("o", "d", "count", observed, "1"), Weeks)], chosen);
        return model.Predict([.. model.Chosen.Select(index => model.Values[index])]);
    }

    [Fact]
    public void An_event_at_a_threshold_moves_with_the_rate()
    {
        // X = 100 e^(-kt) reaches 50 at ln 2 / k; from there Y gains 1 a day. In the second week at k = 0.1 that is 14 - ln 2 / k, so
        // d/dk = ln 2 / k².
        var prediction = Predict("X -> at k; k = 0.1; -> Y : on; on = 0; when X < 50: on = 1; X(0) = 100", "outside → Y", "k");
        Assert.Equal(7 - Math.Log(2) / 0.1 + 0, prediction.Mean[0], 1e-6);
        // Central differences with a step of 3e-4: the third derivative leaves about 1e-7 of the value, the solver 1e-5.
        Assert.Equal(Math.Log(2) / 0.01, prediction.Gradient[0, 0], 1e-2);
    }

    [Fact]
    public void A_kink_needs_no_differences()
    {
        // A' = min(k, 1): below the kink the count of a week is 7 k and its slope 7.
        var prediction = Predict("-> A : min(k, 1); k = 0.5", "outside → A", "k");
        Assert.Equal(3.5, prediction.Mean[1], 1e-9);
        Assert.Equal(7, prediction.Gradient[1, 0], 1e-9);
    }

    [Fact]
    public void The_numbers_of_a_response_curve_have_tangents()
    {
        var prediction = Predict("A -> B : f(A) * A per day; f(x) = hill(0.2, 0, 50, 2); A(0) = 100", "A → B", "f.half");
        double Mean(double half) =>
            Predict(
                $"A -> B : f(A) * A per day; f(x) = hill(0.2, 0, {half.ToString(System.Globalization.CultureInfo.InvariantCulture)}, "
                    + "2); A(0) = 100",
                "A → B"
            ).Mean[1];
        // A central difference over a fiftieth: what continuous output leaves of 1e-7 weighs fifty times as much.
        Assert.Equal((Mean(50.01) - Mean(49.99)) / 0.02, prediction.Gradient[1, 0], 5e-5);
    }

    [Fact]
    public void A_delayed_flow_is_predicted_and_differentiated()
    {
        // Nothing of the past is there for the first week: what leaves is k * 100 a day.
        var prediction = Predict("A -> B : k * delay(A, 7); k = 0.01; A(0) = 100", "A → B", "k");
        Assert.Equal(7, prediction.Mean[0], 1e-6);
        Assert.Equal(700, prediction.Gradient[0, 0], 0.05);
    }
}
