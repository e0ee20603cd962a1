using ClearTide.Core.Compilation;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Units;

namespace ClearTide.Core.Analysis;

/// <summary>A formula over the results of a run, row by row of its curves.</summary>
/// <param name="Name">What stands before “=”, else the formula.</param>
/// <param name="Values">One for each row; not a number where it has no value there. Empty where it cannot be read.</param>
/// <param name="Problem">What is wrong with it, or what to know of it; null where nothing is.</param>
public sealed record ResultColumn(string Name, double[] Values, string? Problem);

/// <summary>
/// Works out formulas over results: names are compartments, quantities, inputs and values of the study, <c>flow(S, E)</c> is a flow by
/// its ends, and
/// <c>total(x)</c> what x has come to since the start, by cubic pieces between the rows (Hermite's form with three-point slopes).
/// </summary>
public sealed class ResultFormula
{
    /// <summary>What a flow and a running total are written as.</summary>
    public const string FlowCall = OutcomeFormula.FlowCall,
        TotalCall = "total";

    private readonly StudyRun _run;
    private readonly ExpressionGraph _graph = new();
    private readonly List<double[]> _columns = [];
    private string? _problem;

    private ResultFormula(StudyRun run) => _run = run;

    /// <param name="run">The run whose curves the formula names.</param>
    /// <param name="text">A formula, or a name, “=” and a formula.</param>
    public static ResultColumn Of(StudyRun run, string text)
    {
        var (name, formula) = ComputedCurves.Split(text);
        if (formula.Length == 0)
            return new(name, [], "Type a formula over the results, as in “share = D / (R + D)”.");
        var read = Formula.Read(formula);
        if (read.Tree is not { } tree)
            return new(name, [], read.Problem!.Message);
        if (run.Run is null)
            return new(name, [], "There is no run to work it out from.");
        var values = new ResultFormula(run).Column(tree, out var problem);
        return new(name, values, problem);
    }

    private double[] Column(Syntax tree, out string? problem)
    {
        var node = Bind(tree);
        problem = _problem;
        if (_problem is not null)
            return [];
        var values = Evaluated(node);
        var missing = values.Count(value => !double.IsFinite(value));
        if (missing == values.Length)
            problem = "This has no value anywhere: something in it is divided by zero, or the like.";
        else if (missing > 0)
            problem = $"This has no value at {missing} of {values.Length} times, where something in it is divided by zero, or the like.";
        return [.. values.Select(value => double.IsFinite(value) ? value : double.NaN)];
    }

    private double[] Evaluated(int node)
    {
        var run = _run.Run!;
        var state = new double[_columns.Count];
        var values = new double[run.Times.Count];
        var reader = new NodeReader(_graph, node);
        for (var row = 0; row < values.Length; row++)
        {
            for (var k = 0; k < state.Length; k++)
                state[k] = _columns[k][row];
            values[row] = reader.Value(run.Times[row], state, []);
        }
        return values;
    }

    private int Bind(Syntax tree) => new FormulaBinder(_graph, _run.Lowered.Document.UnitTable(), Named, Call).Bind(tree);

    private int Column(double[] values)
    {
        _columns.Add(values);
        return _graph.State(_columns.Count - 1);
    }

    private int Named(string name)
    {
        var (network, run) = (_run.Lowered.Network, _run.Run!);
        for (var k = 0; k < network.Amounts.Count; k++)
            if (network.Amounts[k].Symbol == name)
                return Column(run.AmountColumn(k));
        for (var k = 0; k < network.Quantities.Count; k++)
            if (network.Quantities[k].Symbol == name)
                return Column(run.QuantityColumn(k));
        if (network.IndexOf(new(name)) is var index and >= 0)
            return _graph.Constant(network.Values[index].Value);
        _problem ??=
            $"There is no “{name}” among the results. Use symbols of the model, flow(S, E) for a flow, total(…) for a running total.";
        return _graph.Constant(0);
    }

    private int Call(Syntax call, FormulaBinder binder)
    {
        if (call is UserCallSyntax { Callee.Name: TotalCall, Arguments: [var inner] })
            return Column(Total(Evaluated(Bind(inner))));
        if (call is UserCallSyntax { Callee.Name: FlowCall, Arguments: [NameSyntax from, NameSyntax to] })
        {
            var ids = FlowsBetween.Ids(_run.Lowered, from.Name, to.Name);
            var rates = _run.Run!.Network.Flows.Select((flow, k) => (flow.PartId, k)).Where(one => ids.Contains(one.PartId)).ToList();
            if (rates.Count > 0)
                return rates.Select(one => Column(_run.Run!.RateColumn(one.k))).Aggregate(_graph.Add);
            _problem ??= $"There is no flow from {from.Name} to {to.Name}.";
            return _graph.Constant(0);
        }
        _problem ??= "Over results there are flow(S, E) and total(x) besides the usual functions.";
        return _graph.Constant(0);
    }

    private double[] Total(double[] values)
    {
        var times = _run.Run!.Times;
        var sums = new double[values.Length];
        for (var row = 1; row < values.Length; row++)
        {
            var h = times[row] - times[row - 1];
            // Both sides of a jump stand at one time: nothing is added there.
            sums[row] =
                sums[row - 1]
                + (
                    h > 0
                        ? 0.5 * h * (values[row - 1] + values[row])
                            + h * h / 12 * (Slope(times, values, row - 1, 1) - Slope(times, values, row, -1))
                        : 0
                );
        }
        return sums;
    }

    /// <summary>The slope at a row by the parabola through it and its neighbours, or by the straight line to the side asked for where a
    /// jump or the end leaves no other.</summary>
    private static double Slope(IReadOnlyList<double> times, double[] values, int row, int side)
    {
        bool Is(int at) => at > 0 && at < values.Length && times[at] > times[at - 1];
        double Chord(int at) => (values[at] - values[at - 1]) / (times[at] - times[at - 1]);
        var (before, after) = (Is(row), Is(row + 1));
        if (before && after)
        {
            var (h, k) = (times[row] - times[row - 1], times[row + 1] - times[row]);
            return (Chord(row) * k + Chord(row + 1) * h) / (h + k);
        }
        // The end of a parabola that its far neighbour helps to bend.
        if (side > 0 && after)
            return Is(row + 2) ? 2 * Chord(row + 1) - Slope(times, values, row + 1, 1) : Chord(row + 1);
        return Is(row - 1) ? 2 * Chord(row) - Slope(times, values, row - 1, -1) : Chord(row);
    }
}
