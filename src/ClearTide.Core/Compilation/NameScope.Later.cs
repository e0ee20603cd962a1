using ClearTide.Core.Expressions;
using ClearTide.Core.Model;

namespace ClearTide.Core.Compilation;

/// <summary>Inputs and response curves that are something else from a time on.</summary>
internal sealed partial class NameScope
{
    /// <summary>An input at a place: its own table before each change, what has taken its place after it.</summary>
    private int InputLater(Input input, int place, int node) =>
        input.Later.Aggregate(node, (before, later) =>
            Graph.Choose(Graph.Binary(Operation.LessOrEqual, Graph.Constant(later.From), place), Instead(input, later, place), before)
        );

    private int Instead(Input input, Instead later, int place)
    {
        int Own(double time) => build.InputAt(input, Graph.Constant(time));
        switch (later.How)
        {
            case Beyond.Hold:
                return Own(later.From);
            case Beyond.Zero:
                return Graph.Constant(0);
            case Beyond.Trend:
                var (first, last) = LastTwo(input, later.From)!.Value;
                var slope = Graph.Divide(Graph.Subtract(Own(last), Own(first)), Graph.Constant(last - first));
                return Graph.Add(Own(last), Graph.Multiply(slope, Graph.Subtract(place, Graph.Constant(last))));
            case Beyond.Repeat:
                // Where in the stretch before it a place lies: the table itself is read there, so that points a fit has moved go along.
                var turns = Graph.Unary(
                    Operation.Floor,
                    Graph.Divide(Graph.Subtract(place, Graph.Constant(later.From)), Graph.Constant(later.Period))
                );
                var back = Graph.Multiply(Graph.Add(turns, Graph.Constant(1)), Graph.Constant(later.Period));
                return build.InputAt(input, Graph.Subtract(place, back));
            default:
                return Graph.Table(Operation.Lookup, later.Table!, place);
        }
    }

    /// <summary>The times of the last two points of an input at or before a time; null where there are fewer.</summary>
    internal static (double First, double Last)? LastTwo(Input input, double time) =>
        input.Points.Where(point => point.X <= time).Select(point => point.X).ToList() is { Count: >= 2 } known
            ? (known[^2], known[^1])
            : null;

    /// <summary>A response curve at a place: another one answers from a time on, whatever the place.</summary>
    private int CurveWithLater(ResponseCurve curve, int place, string partId) =>
        curve.Later.Aggregate(CurveAt(curve, place, partId), (before, later) =>
            Graph.Choose(
                Graph.Binary(Operation.LessOrEqual, Graph.Constant(later.From), Graph.Time()),
                Graph.Table(Operation.Lookup, later.Table!, place),
                before
            )
        );
}
