using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Conversion;

/// <summary>
/// Changes the study's unit of time. Converting keeps what every number means: bare ones get the old unit written behind them, tables and
/// spans
/// are scaled. Relabelling keeps the numbers, which then mean something else; numbers typed with a unit of time convert by themselves
/// either way.
/// </summary>
/// <param name="Unit">The new unit of time.</param>
/// <param name="Convert">Whether numbers keep what they mean, rather than their digits.</param>
/// <param name="DataSets">By the id of each version of data on the model, that of the one with its times in the new unit, where they are
/// converted.</param>
public sealed record SetTimeUnit(TimeUnit Unit, bool Convert, IReadOnlyDictionary<string, string>? DataSets = null) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (Unit == document.TimeUnit)
            return EditResult.Refused($"Time is counted in {Unit.Plural} already. Choose another unit.");
        if (!Convert)
            return document with { TimeUnit = Unit };
        var ratio = document.TimeUnit.Seconds / Unit.Seconds;
        var explicitTimes = new TimeUnitConversion(document).Explicit();
        var converted = explicitTimes with
        {
            TimeUnit = Unit,
            Start = document.Start * ratio,
            End = document.End * ratio,
            Solver = document.Solver with { Step = document.Solver.Step * ratio },
            Inputs =
            [
                .. explicitTimes.Inputs.Select(input =>
                    input with
                    {
                        Points = [.. input.Points.Select(point => point with { X = point.X * ratio })],
                    }
                ),
            ],
            // The square of noise goes with time.
            Flows =
            [
                .. explicitTimes.Flows.Select(flow =>
                    flow.NoiseIntensity > 0 ? flow with { Noise = TypedNumber.Short(flow.NoiseIntensity * Math.Sqrt(ratio)) } : flow
                ),
            ],
            Scenarios =
            [
                .. explicitTimes.Scenarios.Select(scenario =>
                    scenario with
                    {
                        Measures =
                        [
                            .. scenario.Measures.Select(measure =>
                                measure with
                                {
                                    From = measure.From * ratio,
                                    Until = measure.Until * ratio,
                                }
                            ),
                        ],
                    }
                ),
            ],
            Observations =
            [
                .. explicitTimes.Observations.Select(observation =>
                    observation with
                    {
                        DataSet = DataSets?.GetValueOrDefault(observation.DataSet) ?? observation.DataSet,
                    }
                ),
            ],
        };
        return RangeConversion.Scale(document, TimeUnitConversion.Settle(document, converted, ratio), ratio);
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"time in {Unit.Plural}, numbers {(Convert ? "converted" : "relabelled")}";
}
