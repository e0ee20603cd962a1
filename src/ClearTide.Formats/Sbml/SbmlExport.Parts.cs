using System.Collections.Immutable;
using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <content>States, numbers and reactions.</content>
public sealed partial class SbmlExport
{
    private SbmlSpecies Species(int state, SbmlUnits units)
    {
        var variable = _form.States[state];
        var part = _document.Compartment(variable.PartId);
        var stages = part is null ? [] : Enumerable.Range(0, _states.Length).Where(other => _form.States[other].PartId == part.Id).ToList();
        var first = stages.Count > 0 && stages[0] == state;
        return new(
            _states[state],
            stages.Count > 1 ? $"{part!.Label}, stage {stages.IndexOf(state) + 1}" : part?.Label ?? "",
            Everything,
            NeedsFormula(state) ? null : _initial[state],
            null,
            true,
            _form.Rules.Any(rule => rule.State == state),
            false,
            null
        )
        {
            Note = first ? part!.Note : "",
            Units = part is not null && _lowered.Units.Of(part.Id).Unit is { } unit ? units.Of(unit) : "",
            Plate = first ? new(part!.X, part.Y, part.Colour) : null,
            Symbol = stages.Count == 1 ? part!.Symbol : "",
        };
    }

    /// <summary>Whether a state starts from more than a number of its own.</summary>
    private bool NeedsFormula(int state)
    {
        if (_form.Equilibria.Any(start => start.State == state))
            return false;
        var node = _form.Initial[state];
        return !_form.Graph.IsConstant(node, out _)
            && !(_form.Graph[node].Operation == Operation.Parameter && IsOwn(state, _form.Graph[node].A));
    }

    /// <summary>Whether a number is nothing but the initial amount of a state.</summary>
    private bool IsOwn(int state, int parameter) =>
        parameter < _form.Values.Count
        && _form.Values[parameter].PartId == _form.States[state].PartId
        && _document.Compartment(_form.Values[parameter].PartId) is not null;

    private Syntax StartTree(int state) => PlainTree(_form.Initial[state]);

    private SbmlReaction Reaction(Process process)
    {
        var part = _document.Part(process.Id);
        if (part is ClearTide.Core.Model.Reaction own)
        {
            return new(
                _ids.For(own),
                own.Label == own.Symbol ? "" : own.Label,
                References(process, gains: false),
                References(process, gains: true),
                Tree(process.Rate, defines: true),
                []
            )
            {
                Note = own.Note,
                Symbol = own.Symbol,
            };
        }
        var ends = part is Flow flow ? _document.Describe(flow).Replace(" → ", "_to_").Replace(", ", "_") : process.Name;
        return new(
            _ids.Free(process.IsExit || process.Stage == 0 && part is not Flow ? ends : $"{ends}_stage_{process.Stage + 1}"),
            part?.Label ?? "",
            References(process, gains: false),
            References(process, gains: true),
            Tree(process.Rate),
            []
        )
        {
            Note = part?.Note ?? "",
        };
    }

    private ImmutableArray<SbmlReference> References(Process process, bool gains) =>
        [
            .. process
                .Changes.Where(change => change.Coefficient > 0 == gains)
                .Select(change =>
                {
                    var count = Math.Abs((double)change.Coefficient);
                    var factor = Factor(change);
                    if (factor < 0)
                        return new SbmlReference(null, _states[change.State], count, null, true);
                    if (_form.Graph.IsConstant(factor, out var plain))
                        return new(null, _states[change.State], count * plain, null, true);
                    var tree = Tree(factor);
                    return new(
                        null,
                        _states[change.State],
                        double.NaN,
                        count == 1 ? tree : new BinarySyntax(default, BinaryOperator.Multiply, MathReader.Of(count), tree),
                        false
                    );
                }),
        ];

    /// <summary>All numbers: definitions in the order of the study, then whatever formulas read besides.</summary>
    private ImmutableArray<SbmlParameter> Parameters(SbmlUnits units, ImmutableArray<SbmlRule> assigned, IReadOnlyList<SbmlEvent> events)
    {
        var changing = assigned
            .Select(rule => rule.Variable)
            .Concat(events.SelectMany(one => one.Assignments).Select(set => set.Variable))
            .ToHashSet();
        var all = ImmutableArray.CreateBuilder<SbmlParameter>();
        var written = new HashSet<string>(_states.Where((_, state) => _form.States[state].IsAmount));
        void Add(string id, string name, double? value, ISymbolPart? part = null)
        {
            if (!written.Add(id))
                return;
            all.Add(
                new(id, name, assigned.Any(rule => rule.Variable == id) ? null : value, !changing.Contains(id) && !_states.Contains(id))
                {
                    Note = part?.Note ?? "",
                    Units = part is not null && _lowered.Units.Of(part.Id).Unit is { } unit ? units.Of(unit) : "",
                    Symbol = part?.Symbol ?? "",
                }
            );
        }
        double? Number(string id) => Array.IndexOf(_parameters, id) is var k and >= 0 ? _values[k] : null;
        foreach (var part in _document.SymbolParts.Where(part => part is not (ResponseCurve or ClearTide.Core.Model.Reaction)))
        {
            if (Number(_ids.For(part)) is { } value)
                Add(_ids.For(part), part.Label, value, part);
            else if (changing.Contains(_ids.For(part)))
                Add(_ids.For(part), part.Label, null, part);
        }
        for (var k = 0; k < _form.States.Count; k++)
        {
            if (!_form.States[k].IsAmount)
                Add(_states[k], "", NeedsFormula(k) ? null : _initial[k]);
        }
        foreach (var (id, value) in _helpers)
            Add(id, "", value);
        for (var k = 0; k < _parameters.Length; k++)
        {
            if (_read.Contains(_parameters[k]) || changing.Contains(_parameters[k]))
                Add(_parameters[k], k < _form.Values.Count ? _form.Values[k].Address.ToString() : "", _values[k]);
        }
        return all.ToImmutable();
    }
}
