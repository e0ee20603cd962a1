using ClearTide.Core.Formulas;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Models;

/// <summary>A document in the form that solvers know, and what was found on the way.</summary>
/// <param name="Unfinished">Ids of the parts that are not finished, or depend on one that is not: their curves are provisional.</param>
public sealed record LoweredModel(StudyDocument Document, GeneralForm Form, IReadOnlyList<Finding> Findings, IReadOnlySet<string> Unfinished)
{
    /// <summary>Whether any part still lacks something: fits and projections refuse such a model.</summary>
    public bool IsProvisional => Findings.Any(finding => finding.Severity == Severity.Unfinished);
}

/// <summary>
/// Turns a document into the general form. Never throws: a part that cannot be read counts as zero and is reported.
/// </summary>
public static class Lowering
{
    public static LoweredModel Lower(StudyDocument document) => new Run(document).Lower();

    private sealed class Run(StudyDocument document)
    {
        private readonly ExpressionGraph _graph = new();
        private readonly List<ModelValue> _values = [];
        private readonly FindingList _findings = new(document);
        private readonly Dictionary<string, Formula> _definitions = [];
        private readonly Dictionary<string, int> _definitionValues = [];
        private readonly Dictionary<string, StartLine> _starts = [];
        private readonly Dictionary<string, int> _startValues = [];

        public LoweredModel Lower()
        {
            ReadTexts();
            var running = new NameScope(this, atStart: false);
            var starting = new NameScope(this, atStart: true);
            var processes = document.Flows.Select(flow => LowerFlow(flow, running)).ToList();
            var quantities = document.Definitions.Where(part => !_definitionValues.ContainsKey(part.Symbol))
                .Select(part => new NamedExpression(part.Symbol, part.Id, running.Node(part.Symbol, part.Id, PartField.Text))).ToList();
            var initial = document.Compartments.Select(part => starting.Start(part, part.Id)).ToList();
            var form = new GeneralForm
            {
                Graph = _graph,
                States = [.. document.Compartments.Select(part => new StateVariable(part.Symbol, part.Id))],
                Values = _values,
                Initial = initial,
                Processes = processes,
                Quantities = quantities,
            };
            return new(document, form, _findings.All, Provisional.Parts(document, _findings.All));
        }

        private void ReadTexts()
        {
            foreach (var part in document.Definitions)
            {
                var formula = Formula.Read(part.Text);
                _definitions[part.Symbol] = formula;
                if (formula.Problem is { } problem) _findings.Slip(part.Id, PartField.Text, part.Text, problem, $"{part.Symbol} has no value yet. Type a number, as in “0.4 per day”, or a formula.");
                else if (!formula.HasNames) _definitionValues[part.Symbol] = AddValue(part.Symbol, formula.Tree!, part.Id);
            }
            foreach (var part in document.Compartments)
            {
                var start = StartLine.Read(part.Start);
                _starts[part.Symbol] = start;
                if (start.Formula.Problem is { } problem) _findings.Slip(part.Id, PartField.Start, part.Start, problem, $"{part.Symbol} has no initial amount yet. Type a number, a formula, or “the rest of” a total.");
                else if (!start.Formula.HasNames) _startValues[part.Symbol] = AddValue($"{part.Symbol}.{(start.TheRest ? "total" : "start")}", start.Formula.Tree!, part.Id);
            }
            var rests = document.Compartments.Where(part => _starts[part.Symbol].TheRest).ToList();
            foreach (var extra in rests.Skip(1))
            {
                _findings.Add(extra.Id, PartField.Start, Severity.Unfinished, null, $"{rests[0].Symbol} already takes the rest; only one compartment can. Type an amount for {extra.Symbol}.", ("Start at 0", "0"));
            }
        }

        private int AddValue(string address, Syntax plain, string partId)
        {
            _values.Add(new(address, FormulaBinder.ValueOf(plain, document.TimeUnit), partId));
            return _graph.Parameter(_values.Count - 1);
        }

        private Process LowerFlow(Flow flow, NameScope scope)
        {
            var formula = Formula.Read(flow.Rate);
            var from = document.Compartment(flow.From);
            var to = document.Compartment(flow.To);
            var rate = _graph.Constant(0);
            if (formula.Problem is { } problem)
            {
                _findings.Slip(flow.Id, PartField.Rate, flow.Rate, problem, $"The flow {document.Describe(flow)} has no rate yet. Type one, as in “after 5 days”.");
            }
            else
            {
                rate = formula.HasNames ? scope.Bind(formula.Tree!, flow.Id, PartField.Rate) : AddValue(FlowAddress(flow), formula.Tree!, flow.Id);
                if (RateDimension.Misuse(document, flow.Kind, formula.Tree!, flow.Rate) is { } misuse)
                {
                    _findings.Add(flow.Id, PartField.Rate, Severity.Unfinished, misuse.Span, misuse.Message, [.. misuse.Fixes.Select(fix => (fix.Label, fix.Replacement))]);
                }
                if (flow.Kind == RateKind.Whole && from is not null && !MentionsThroughQuantities(formula.Tree!, from.Symbol, []))
                {
                    _findings.Add(flow.Id, PartField.Rate, Severity.Doubt, null, $"This takes from {from.Symbol} however little is left there, since the formula does not mention {from.Symbol}.",
                        ($"Per head of {from.Symbol}", RateLine.Write(RateKind.PerHead, flow.Rate)));
                }
                if (flow.Kind != RateKind.Whole)
                {
                    var amount = from is null ? _graph.Constant(0) : scope.Node(from.Symbol, flow.Id, PartField.Rate);
                    if (from is null) _findings.Add(flow.Id, PartField.Rate, Severity.Unfinished, null, "A flow from outside has nothing to be per head of. Write its amount per unit of time.", ("As a whole formula", ": " + flow.Rate));
                    rate = flow.Kind == RateKind.PerHead ? _graph.Multiply(rate, amount) : _graph.Divide(amount, rate);
                }
            }
            var changes = new List<(int, int)>();
            if (from is not null) changes.Add((document.Compartments.IndexOf(from), -1));
            if (to is not null) changes.Add((document.Compartments.IndexOf(to), 1));
            return new(flow.Id, document.Describe(flow), rate, changes);
        }

        /// <summary><c>E.stay</c>, <c>I.rate</c>; with the to-end behind it where the compartment has several such exits.</summary>
        private string FlowAddress(Flow flow)
        {
            var field = flow.Kind == RateKind.MeanStay ? "stay" : "rate";
            var owner = document.Compartment(flow.From)?.Symbol ?? document.Compartment(flow.To)?.Symbol ?? flow.Id;
            var address = $"{owner}.{field}";
            if (flow.From is null) address = $"{owner}.inflow";
            else if (document.Flows.Count(other => other.From == flow.From && other.Kind == flow.Kind) > 1) address += "." + (document.Compartment(flow.To)?.Symbol ?? "out");
            for (var twin = 2; _values.Any(value => value.Address == address); twin++) address = address.TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9').TrimEnd('_') + "_" + twin;
            return address;
        }

        private bool MentionsThroughQuantities(Syntax tree, string symbol, HashSet<string> seen)
        {
            foreach (var name in tree.Names())
            {
                if (name.Name == symbol) return true;
                if (seen.Add(name.Name) && _definitions.TryGetValue(name.Name, out var formula) && formula.Tree is not null && MentionsThroughQuantities(formula.Tree, symbol, seen)) return true;
            }
            return false;
        }

        /// <summary>Binds names either along a run or at its start, where a compartment stands for its initial amount.</summary>
        private sealed class NameScope(Run run, bool atStart)
        {
            private readonly Dictionary<string, int> _nodes = [];
            private readonly List<string> _open = [];

            public int Bind(Syntax tree, string partId, PartField field)
            {
                foreach (var name in tree.Names()) ReportUnknown(name, partId, field);
                return new FormulaBinder(run._graph, run.Document.TimeUnit, name => Node(name, partId, field)).Bind(tree);
            }

            private void ReportUnknown(NameSyntax name, string partId, PartField field)
            {
                if (name.Name == "t" || run._definitions.ContainsKey(name.Name) || run._starts.ContainsKey(name.Name)) return;
                run._findings.Unknown(partId, field, name);
            }

            public int Node(string symbol, string partId, PartField field)
            {
                if (_nodes.TryGetValue(symbol, out var known)) return known;
                if (run.Document.CompartmentBySymbol(symbol) is { } compartment)
                {
                    return atStart ? Start(compartment, partId) : run._graph.State(run.Document.Compartments.IndexOf(compartment));
                }
                if (run._definitionValues.TryGetValue(symbol, out var value)) return value;
                if (!run._definitions.TryGetValue(symbol, out var formula) || formula.Tree is null) return -1;
                var owner = run.Document.DefinitionBySymbol(symbol)!;
                return Guarded(symbol, owner.Id, PartField.Text, () => Bind(formula.Tree, owner.Id, PartField.Text));
            }

            public int Start(Compartment part, string askedBy)
            {
                _ = askedBy;
                var start = run._starts[part.Symbol];
                if (start.Formula.Tree is null) return run._graph.Constant(0);
                return Guarded(part.Symbol, part.Id, PartField.Start, () =>
                {
                    var amount = run._startValues.TryGetValue(part.Symbol, out var value) ? value : Bind(start.Formula.Tree, part.Id, PartField.Start);
                    if (!start.TheRest) return amount;
                    foreach (var other in run.Document.Compartments)
                    {
                        if (other.Id != part.Id && !run._starts[other.Symbol].TheRest) amount = run._graph.Subtract(amount, Start(other, part.Id));
                    }
                    return amount;
                });
            }

            private int Guarded(string symbol, string partId, PartField field, Func<int> make)
            {
                if (_nodes.TryGetValue(symbol, out var known)) return known;
                if (_open.IndexOf(symbol) is var at && at >= 0)
                {
                    var circle = string.Join(" → ", _open.Skip(at).Append(symbol));
                    run._findings.Add(partId, field, Severity.Unfinished, null, $"{symbol} depends on itself: {circle}. Take one of them out of the other's formula.");
                    return run._graph.Constant(0);
                }
                if (_open.Count > FormulaLimits.Depth)
                {
                    run._findings.Add(partId, field, Severity.Unfinished, null, $"Formulas lean on each other more than {FormulaLimits.Depth} deep here. Write some of them out.");
                    return run._graph.Constant(0);
                }
                _open.Add(symbol);
                var node = make();
                _open.RemoveAt(_open.Count - 1);
                return _nodes[symbol] = node;
            }
        }

        private StudyDocument Document => document;
    }
}
