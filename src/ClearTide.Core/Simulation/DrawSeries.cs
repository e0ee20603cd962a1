using ClearTide.Core.Expressions;

namespace ClearTide.Core.Simulation;

/// <summary>The values that the random inputs of a run take, as functions of time: what the seed draws in the first replicate.</summary>
public static class DrawSeries
{
    /// <summary>At most this many draws are written down.</summary>
    public const int Most = 5000;

    /// <summary>One stepped table for each draw of the network, from the start to the end of a span.</summary>
    /// <param name="network">The model.</param>
    /// <param name="start">Where the span begins, in the model's unit of time.</param>
    /// <param name="end">Where it ends.</param>
    /// <param name="values">The values and slots of the network.</param>
    /// <returns>Null where there are more draws than <see cref="Most"/>.</returns>
    /// <exception cref="SimulationException">A distribution has arguments that cannot be.</exception>
    public static IReadOnlyList<TableFunction>? Of(ReactionNetwork network, double start, double end, double[] values)
    {
        var parameters = (double[])values.Clone();
        var draws = new Draws(network, start, 0, parameters);
        var points = network.Draws.Select(_ => new List<CurvePoint>()).ToList();
        for (var rows = 0; draws.Next <= end; rows++)
        {
            if (rows > Most)
                return null;
            var time = draws.Next;
            draws.Make(time, parameters);
            for (var k = 0; k < points.Count; k++)
            {
                var value = parameters[network.Draws[k].Slot];
                if (points[k].Count == 0 || points[k][^1].Y != value)
                    points[k].Add(new(time, value));
            }
        }
        return [.. points.Select(own => new TableFunction([.. own], Between.Step))];
    }
}
