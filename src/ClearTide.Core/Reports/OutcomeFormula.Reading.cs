using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Reports;

public sealed partial class OutcomeFormula
{
    private static bool Says(Syntax tree) =>
        tree switch
        {
            UnarySyntax { Operator: UnaryOperator.Not } => true,
            BinarySyntax binary => binary.Operator <= BinaryOperator.NotEqual,
            UserCallSyntax call => RunReductions.Named(call.Callee.Name) is RunReduction.Ever or RunReduction.Always,
            _ => false,
        };

    /// <summary>A name outside all functions: a value of the model.</summary>
    private int Whole(string name)
    {
        if (_lowered.Network.IndexOf(new(name)) is var index and >= 0)
            return _whole.Parameter(index);
        _problem ??= Output(name) is not null
            ? $"“{name}” changes along a run. Say what of it: peak({name}), end({name}), ever({name} > 40), first_time({name} < 1)."
            : Unknown(name);
        return _whole.Constant(0);
    }

    private string Unknown(string name) =>
        $"There is no “{name}” in the model. Use its symbols within {RunReductions.Names}, and total(flow(S, R)) for what a flow "
        + "has moved.";

    private int Reduce(Syntax syntax, FormulaBinder binder)
    {
        if (syntax is not UserCallSyntax call || RunReductions.Named(call.Callee.Name) is not { } kind)
        {
            _problem ??= $"Over a run there are {RunReductions.Names} besides the usual functions.";
            return _whole.Constant(0);
        }
        var wanted = kind == RunReduction.Value ? 2 : 1;
        if (call.Arguments.Count != wanted)
        {
            _problem ??=
                $"“{call.Callee.Name}” takes {(wanted == 2 ? "two things: what, and the time, as in value(I, 60)" : "one thing")}.";
            return _whole.Constant(0);
        }
        if (
            kind == RunReduction.Total
            && call.Arguments[0] is UserCallSyntax { Callee.Name: FlowCall, Arguments: [NameSyntax from, NameSyntax to] }
        )
            return Kept(new(kind, -1, -1, Processes(from.Name, to.Name)) { Flows = Flows(from.Name, to.Name) });
        var at = wanted == 2 ? binder.Bind(call.Arguments[1]) : -1;
        var row = new FormulaBinder(_rows, _lowered.Document.UnitTable(), Row, NoCall).Bind(_lowered.Network.Spell(call.Arguments[0]));
        _rowRoots.Add(row);
        return Kept(new(kind, _rowRoots.Count - 1, at, []));
    }

    private int Kept(Reduction reduction)
    {
        _reductions.Add(reduction);
        return _whole.State(_reductions.Count - 1);
    }

    /// <summary>A name within a function: an amount, a quantity, or a value.</summary>
    private int Row(string name)
    {
        if (Output(name) is { } output)
        {
            if (!_outputs.Contains(output))
                _outputs.Add(output);
            return _rows.State(_outputs.IndexOf(output));
        }
        if (_lowered.Network.IndexOf(new(name)) is var index and >= 0)
            return _rows.Parameter(index);
        _problem ??= Unknown(name);
        return _rows.Constant(0);
    }

    private int NoCall(Syntax syntax, FormulaBinder binder)
    {
        _problem ??= syntax is UserCallSyntax { Callee.Name: FlowCall }
            ? "By chance a flow comes in single units. Ask for what it has moved: total(flow(S, R))."
            : $"Within these functions there are names of the model and the usual functions, none of {RunReductions.Names}.";
        return _rows.Constant(0);
    }

    private int? Output(string name)
    {
        var network = _lowered.Network;
        for (var k = 0; k < network.Amounts.Count; k++)
            if (network.Amounts[k].Symbol == name)
                return k;
        for (var k = 0; k < network.Quantities.Count; k++)
            if (network.Quantities[k].Symbol == name)
                return network.Amounts.Count + network.Flows.Count + k;
        return null;
    }

    private int[] Flows(string from, string to)
    {
        var network = _lowered.Network;
        var ids = FlowsBetween.Ids(_lowered, from, to);
        return
        [
            .. Enumerable
                .Range(0, network.Flows.Count)
                .Where(k => ids.Contains(network.Flows[k].PartId))
                .Select(k => network.Amounts.Count + k),
        ];
    }

    /// <summary>The exits of the flows between two compartments, or the outside.</summary>
    private int[] Processes(string from, string to)
    {
        var network = _lowered.Network;
        var ids = FlowsBetween.Ids(_lowered, from, to);
        if (ids.Count == 0)
            _problem ??= $"There is no flow from {from} to {to}.";
        return
        [
            .. Enumerable
                .Range(0, network.Processes.Count)
                .Where(k => network.Processes[k].IsExit && ids.Contains(network.Processes[k].Id)),
        ];
    }
}
