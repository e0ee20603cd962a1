using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Reports;

/// <summary>What expectations look at along one run.</summary>
/// <param name="Times">Output times of the run.</param>
/// <param name="Columns">By its text what each expression is at the times; an expression that cannot be computed is not there.</param>
/// <param name="Failure">Why the run could not be made, in a sentence, or null.</param>
internal sealed record ExpectedRun(IReadOnlyList<double> Times, IReadOnlyDictionary<string, double[]> Columns, string? Failure);

/// <summary>
/// The runs that expectations are checked along. One model holds every expression that any of them speaks of and is compiled once; there is
/// one run for each set of values, however many expectations look at it.
/// </summary>
internal sealed class ExpectationRuns
{
    private readonly StudyDocument _document;
    private readonly Dictionary<string, string> _ids = [];
    private readonly Dictionary<string, ExpectedRun> _made = [];

    /// <param name="document">The study whose runs are looked at.</param>
    /// <param name="texts">The expressions.</param>
    public ExpectationRuns(StudyDocument document, IEnumerable<string> texts)
    {
        var added = new List<Definition>();
        foreach (var text in texts)
        {
            var id = $"expected{_ids.Count}";
            if (_ids.TryAdd(text, id))
                added.Add(new(id, FreeSymbol.In(document, id), "", text));
        }
        // What is looked at becomes quantities of the model, so that it is computed like any other.
        _document = document with { Definitions = document.Definitions.AddRange(added), Expectations = [] };
    }

    /// <summary>The run with other lines for some definitions.</summary>
    public ExpectedRun With(IReadOnlyList<(Definition Part, Syntax Line)> set, CancellationToken cancel)
    {
        var key = string.Join('\n', set.Select(pair => $"{pair.Part.Id} {FormulaText.Of(pair.Line)}"));
        return _made.TryGetValue(key, out var known) ? known : _made[key] = Make(set, cancel);
    }

    private ExpectedRun Make(IReadOnlyList<(Definition Part, Syntax Line)> set, CancellationToken cancel)
    {
        var lowered = ByValues(set)
            ?? Lowering.Lower(
                set.Aggregate(_document, (changed, pair) => changed.With(pair.Part with { Text = FormulaText.Of(pair.Line) }))
            );
        var network = lowered.Network;
        try
        {
            var path = Engines.Run(StudyRequest.Of(lowered) with { Rows = Rows.WithJumps }, cancel: cancel);
            var columns = new Dictionary<string, double[]>();
            foreach (var (text, id) in _ids)
            {
                var quantity = network.Quantities.ToList().FindIndex(candidate => candidate.PartId == id);
                // A formula without names is a number, and no quantity.
                if (quantity >= 0)
                    columns[text] = path.QuantityColumn(quantity);
                else if (network.Values.FirstOrDefault(value => value.PartId == id) is { } number)
                    columns[text] = [.. Enumerable.Repeat(number.Value, path.Times.Count)];
            }
            return new(path.Times, columns, null);
        }
        catch (SimulationException failure)
        {
            return new([], new Dictionary<string, double[]>(), RunFailure.Say(failure, lowered));
        }
    }

    /// <summary>The same compiled model with other numbers; null where a line is a formula or takes the place of one.</summary>
    private LoweredModel? ByValues(IReadOnlyList<(Definition Part, Syntax Line)> set)
    {
        var (lowered, units) = (Lowering.Lower(_document), _document.UnitTable());
        var values = new Dictionary<ValueAddress, double>();
        foreach (var (part, line) in set)
        {
            if (line.Names().Any() || lowered.Network.Values.FirstOrDefault(value => value.PartId == part.Id) is not { } value)
                return null;
            values[value.Address] = ValueReader.NumberOf(line, part.Unit, units);
        }
        return values.Count == 0 ? lowered : lowered.With(values);
    }
}
