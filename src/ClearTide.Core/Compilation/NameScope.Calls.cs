using ClearTide.Core.Diagnostics;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Compilation;

/// <summary>Calls of inputs, response curves, and of what reads the past of a run.</summary>
internal sealed partial class NameScope
{
    private int Call(Syntax call, FormulaBinder binder, string partId, PartField field, string text)
    {
        switch (call)
        {
            case UserCallSyntax { Arguments.Count: 1 } user when build.Part(user.Callee.Name) is Input input:
                return InputAt(input, binder.Bind(user.Arguments[0]));
            case UserCallSyntax { Arguments.Count: 1 } user when build.Part(user.Callee.Name) is ResponseCurve curve:
                return CurveWithLater(curve, binder.Bind(user.Arguments[0]), partId);
            case CallSyntax { Function.Name: Functions.Delay } delay:
                return Delayed(delay, binder, partId, field, text);
            case CallSyntax { Function.Name: Functions.Smooth } smooth:
                return Smoothed(smooth, binder, partId, field, text);
            default:
                return Graph.Constant(0);
        }
    }

    private int InputAt(Input input, int place)
    {
        if (PointTables.Problem(input.Points) is not null)
            return Graph.Constant(0);
        var node = InputLater(input, place, build.InputAt(input, place));
        if (_setInputs.TryGetValue(input.Symbol, out var slots))
            node = Graph.Choose(Graph.Parameter(slots.Flag), Graph.Parameter(slots.Value), node);
        if (!_overrides.ContainsKey(input.Symbol) || atStart)
            return node;
        // Inside its own replacement a function means what it is without it.
        var key = input.Symbol + "()";
        if (_open.Contains(key))
            return node;
        _open.Add(key);
        node = Overridden(input.Symbol, node);
        _open.Remove(key);
        return node;
    }

    private int CurveAt(ResponseCurve curve, int place, string partId)
    {
        if (curve.Law == CurveLaw.Points)
        {
            if ((PointTables.Problem(curve.Points) ?? ResponseCurves.TooFew(curve.Points)) is not null)
                return Graph.Constant(0);
            if (!atStart)
                build.Ranges.Add(new(curve.Id, place, curve.Points[0].X, curve.Points[^1].X));
            return Graph.Table(Operation.Lookup, new TableFunction(curve.Points, curve.Between), place);
        }
        var (low, high) = (Range(curve.From, double.NegativeInfinity), Range(curve.Until, double.PositiveInfinity));
        if (!atStart && (double.IsFinite(low) || double.IsFinite(high)))
            build.Ranges.Add(new(curve.Id, place, low, high));
        if (double.IsFinite(low))
            place = Graph.Binary(Operation.Max, place, Graph.Constant(low));
        if (double.IsFinite(high))
            place = Graph.Binary(Operation.Min, place, Graph.Constant(high));
        int Line(PartField line) =>
            values.Value(curve.Id, line) is var own && own >= 0 ? own
            : values.Formula(curve.Id, line).Tree is { } tree
                ? Guarded($"{curve.Symbol}.{line}", curve.Id, line, () => Bind(tree, curve.Id, line, curve.Line(line)))
            : Graph.Constant(0);
        _ = partId;
        return CurveNodes.Of(Graph, curve.Law, place, Line);
    }

    private double Range(string typed, double otherwise) =>
        typed.Length > 0 && Formula.Read(typed) is { HasNames: false, Tree: { } tree }
            ? FormulaBinder.ValueOf(tree, build.Units)
            : otherwise;

    private int Delayed(CallSyntax call, FormulaBinder binder, string partId, PartField field, string text)
    {
        var expression = binder.Bind(call.Arguments[0]);
        if (atStart)
            return call.Arguments.Count == 3 ? binder.Bind(call.Arguments[2]) : expression;
        var lag = binder.Bind(call.Arguments[1]);
        if (Graph.IsConstant(lag, out var fixedLag) && !(fixedLag > 0))
        {
            build.Findings.Add(
                partId,
                field,
                Severity.Unfinished,
                call.Arguments[1].Span,
                "A delay is a time above zero, as in "
                    + $"“delay({text.Substring(call.Arguments[0].Span.Start, call.Arguments[0].Span.Length)}, 5 "
                    + $"{build.Units.Time.Plural})”."
            );
            return expression;
        }
        var history = call.Arguments.Count == 3 ? AtStart!.Bind(call.Arguments[2], partId, field, text) : -1;
        var known = build.Delays.FirstOrDefault(delay => delay.Expression == expression && delay.Lag == lag && delay.History == history);
        if (known is not null)
            return Graph.Parameter(known.Slot);
        var slot = build.AddSlot(0, "delay");
        build.Delays.Add(new(slot, expression, lag, history));
        return Graph.Parameter(slot);
    }

    /// <summary>A chain of stages, each following the one before with its share of the lag; it starts where what it follows
    /// starts.</summary>
    private int Smoothed(CallSyntax call, FormulaBinder binder, string partId, PartField field, string text)
    {
        var input = binder.Bind(call.Arguments[0]);
        if (atStart)
            return input;
        var stages = 1.0;
        if (call.Arguments.Count == 3)
        {
            var known = FormulaUnits.IsBare(call.Arguments[2]);
            stages = known ? FormulaBinder.ValueOf(call.Arguments[2], build.Units) : 0;
            if (!known || QuickLine.StageRefusal(stages) is not null)
            {
                build.Findings.Add(
                    partId,
                    field,
                    Severity.Unfinished,
                    call.Arguments[2].Span,
                    known ? QuickLine.StageRefusal(stages)! : "The number of stages is a plain whole number."
                );
                return input;
            }
        }
        var rate = Graph.Divide(Graph.Constant(stages), binder.Bind(call.Arguments[1]));
        var start = AtStart!.Bind(call.Arguments[0], partId, field, text);
        _smoothed++;
        for (var stage = 0; stage < stages; stage++)
        {
            var state = build.AddState($"smooth {_smoothed}.{stage + 1}", partId, start);
            var node = Graph.State(state);
            var change = Graph.Multiply(rate, Graph.Subtract(input, node));
            build.Rules.Add(
                (state, build.Document.Solver.IsDiscrete ? Graph.Multiply(Graph.Constant(build.Document.Solver.Step), change) : change)
            );
            input = node;
        }
        return input;
    }
}
