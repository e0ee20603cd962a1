using System.Collections.Immutable;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Petab;

/// <summary>A problem as a study with its data, and what of it a study does not hold, a sentence each.</summary>
public sealed record PetabStudy(StudyBundle Bundle, ImmutableArray<string> Left);

/// <summary>
/// Makes a study of a problem. Observables become quantities, each with a series that has seen it; conditions become subjects, whose
/// values are known of each; parameters to estimate become those of the fit.
/// </summary>
public sealed partial class PetabImport
{
    private readonly PetabProblem _problem;
    private readonly List<string> _left = [];
    private readonly List<SbmlParameter> _added = [];
    private readonly List<SbmlRule> _starts = [],
        _rules = [];
    private readonly Dictionary<string, Dictionary<string, double>> _known = [];

    /// <summary>Rows of measurements that a study can hold.</summary>
    private readonly List<int> _rows = [];
    private readonly Dictionary<string, int> _parameters;

    private PetabImport(PetabProblem problem)
    {
        _problem = problem;
        _parameters = Enumerable
            .Range(0, problem.Parameters.Count)
            .GroupBy(row => problem.Parameters[row, "parameterId"])
            .ToDictionary(group => group.Key, group => group.First());
    }

    /// <param name="name">What the study is called where the model has no name.</param>
    /// <exception cref="PetabException">It cannot be said as a study at all; the message says why.</exception>
    /// <exception cref="SbmlException">Its model cannot be run.</exception>
    public static PetabStudy Read(PetabProblem problem, string name) => new PetabImport(problem).All(name);

    private PetabStudy All(string name)
    {
        TakeRows();
        var observables = Observables();
        var model = WithConditions(WithNominal(_problem.Model));
        model = model with
        {
            Parameters = [.. model.Parameters, .. _added.Where(one => model.Parameters.All(other => other.Id != one.Id))],
            InitialAssignments =
            [
                .. model.InitialAssignments.Where(one => _starts.All(start => start.Variable != one.Variable)),
                .. _starts,
            ],
            AssignmentRules = [.. model.AssignmentRules, .. _rules],
        };
        var symbols = new SbmlSymbols(model);
        var study = SbmlImport.Read(model, name);
        var subjects = Subjects(symbols);
        var (sets, seen) = (new List<DataSet>(), new List<Observation>());
        foreach (var observable in observables)
        {
            List<DataRow> rows = [.. observable.Rows.OrderBy(row => row.End)];
            var id = $"petab-{sets.Count + 1}";
            sets.Add(new(id, observable.Id, rows) { Subjects = subjects });
            seen.Add(
                new($"o{study.NextId + sets.Count}", id, observable.Name, "", "1")
                {
                    Seen = ObservedAs.Standing,
                    Formula = symbols.Of(observable.Id),
                    Law = observable.Law,
                    KnownSpread = observable.Spread is { } spread ? TypedNumber.Exact(spread) : "",
                    Column = observable.Id,
                }
            );
        }
        if (sets.Count == 0)
            throw new PetabException("None of the measurements can be held by a study: " + string.Join(" ", _left));
        var last = sets.Max(set => set.Rows.Max(row => row.End));
        study = study with
        {
            End = Math.Max(last, 1e-9),
            Observations = [.. seen],
            NextId = study.NextId + sets.Count + 1,
            Fit = new(ErrorLaw.Poisson, [.. Estimated(study, symbols)]),
        };
        return new(new(study, [.. sets]), [.. _left.Distinct()]);
    }

    /// <summary>Measurements at a time, of a run that begins with its condition.</summary>
    private void TakeRows()
    {
        var table = _problem.Measurements;
        var (steady, before) = (0, 0);
        for (var row = 0; row < table.Count; row++)
        {
            if (table[row, "time"].Trim().TrimStart('+').StartsWith("inf", StringComparison.OrdinalIgnoreCase))
                steady++;
            else if (table[row, "preequilibrationConditionId"] is { Length: > 0 } one && one != table[row, "simulationConditionId"])
                before++;
            else
                _rows.Add(row);
        }
        if (steady > 0)
            _left.Add($"{steady} measurements in the steady state are left out: a series of a study stands at times.");
        if (before > 0)
            _left.Add($"{before} measurements after an equilibration under another condition are left out.");
    }

    private sealed record Observable(string Id, string Name, ErrorLaw Law, double? Spread, List<DataRow> Rows);

    /// <summary>The observables that were measured, each a rule of the model under its id.</summary>
    private List<Observable> Observables()
    {
        var (table, measured) = (_problem.Observables, _problem.Measurements);
        var found = new List<Observable>();
        for (var place = 0; place < table.Count; place++)
        {
            var id = table[place, "observableId"];
            var rows = _rows.Where(row => measured[row, "observableId"] == id).ToList();
            if (rows.Count == 0)
                continue;
            var formula = table[place, "observableFormula"];
            var given = rows.Select(row => PetabFormula.Fill(formula, "observableParameter", id, measured[row, "observableParameters"]))
                .Distinct()
                .ToList();
            if (given.Count > 1)
            {
                _left.Add($"{id} is left out: its formula has other numbers in other rows. Make an observable of each.");
                continue;
            }
            if (Law(place, id, rows) is not var (law, errors, spread))
                continue;
            var tree = PetabFormula.Read(given[0], $"observableFormula of {id}");
            foreach (var missing in tree.Names().Select(one => SbmlText.Id(one.Name)).Where(one => one != "t" && !IsInModel(one)))
                Add(missing);
            _rules.Add(new(id, tree));
            _added.Add(new(id, table[place, "observableName"], null, Constant: false));
            var name = table[place, "observableName"];
            found.Add(
                new(
                    id,
                    name.Length is > 0 and <= 80 ? name : id,
                    law,
                    spread,
                    [
                        .. rows.Select(
                            (row, k) =>
                            {
                                var time = measured.Require(row, "time");
                                return new DataRow(time, time, measured.Require(row, "measurement"))
                                {
                                    Error = errors?[k],
                                    Subject = measured[row, "simulationConditionId"],
                                };
                            }
                        ),
                    ]
                )
            );
        }
        var known = Ids(table, "observableId");
        foreach (var row in _rows.Where(row => !known.Contains(measured[row, "observableId"])).Take(1))
            throw new PetabException(
                $"{measured.Name}, row {row + 2}: there is no observable “{measured[row, "observableId"]}”. Add it to {table.Name}."
            );
        return found;
    }

    private bool IsEstimated(int row) => _problem.Parameters[row, "estimate"] is "1" or "1.0";

    private static HashSet<string> Ids(PetabTable table, string head) =>
        [.. Enumerable.Range(0, table.Count).Select(row => table[row, head])];

    private bool IsInModel(string id)
    {
        var model = _problem.Model;
        return model.Parameters.Any(one => one.Id == id)
            || model.Species.Any(one => one.Id == id)
            || model.Compartments.Any(one => one.Id == id)
            || model.Reactions.Any(one => one.Id == id)
            || _added.Exists(one => one.Id == id);
    }

    /// <summary>A parameter that tables speak of and the model does not have.</summary>
    private void Add(string id)
    {
        if (!_parameters.TryGetValue(id, out var row))
            throw new PetabException($"“{id}” is neither in the model nor in {_problem.Parameters.Name}. Add it to one of them.");
        if (!_added.Exists(one => one.Id == id))
            _added.Add(
                new(id, _problem.Parameters[row, "parameterName"], _problem.Parameters.Number(row, "nominalValue") ?? 1, Constant: true)
            );
    }

    private List<Subject> Subjects(SbmlSymbols symbols) =>
        [
            .. _rows
                .Select(row => _problem.Measurements[row, "simulationConditionId"])
                .Distinct()
                .Select(id => new Subject(id)
                {
                    Covariates = _known.GetValueOrDefault(id, []).ToImmutableDictionary(pair => symbols.Of(pair.Key), pair => pair.Value),
                }),
        ];

    private IEnumerable<FitParameter> Estimated(StudyDocument study, SbmlSymbols symbols)
    {
        var table = _problem.Parameters;
        foreach (var row in Enumerable.Range(0, table.Count).Where(IsEstimated))
        {
            var id = table[row, "parameterId"];
            // Those of noise alone are spreads of laws.
            if (!IsInModel(id))
                continue;
            if (study.DefinitionBySymbol(symbols.Of(id)) is null)
            {
                _left.Add($"{id} is not estimated: in the study it is no value of its own.");
                continue;
            }
            var (low, high) = (table.Require(row, "lowerBound"), table.Require(row, "upperBound"));
            yield return new(new ValueAddress(symbols.Of(id)), low, high) { Prior = PriorOf(row, id) };
        }
    }

    private Prior? PriorOf(int row, string id)
    {
        var table = _problem.Parameters;
        var (type, numbers) = (
            table[row, "objectivePriorType"],
            table[row, "objectivePriorParameters"].Split(';').Select(PetabTable.Number).OfType<double>().ToList()
        );
        if (type is "" or "uniform" or "parameterScaleUniform")
            return null;
        var scale = table[row, "parameterScale"];
        var onLog = type == "parameterScaleNormal" && scale is "log" or "log10";
        if (numbers.Count != 2 || !(numbers[1] > 0) || type is not ("normal" or "logNormal" or "parameterScaleNormal"))
        {
            _left.Add($"The prior of {id}, {type}, is left out: a study has none of the kind.");
            return null;
        }
        if (type == "normal" || type == "parameterScaleNormal" && !onLog)
            return new(PriorLaw.Normal, numbers[0], numbers[1]);
        // By mean and deviation of the natural logarithm: those of the value itself follow.
        var ten = type == "parameterScaleNormal" && scale == "log10" ? Math.Log(10) : 1;
        var (mean, deviation) = (numbers[0] * ten, numbers[1] * ten);
        var (middle, variance) = (Math.Exp(mean + 0.5 * deviation * deviation), Math.Exp(deviation * deviation) - 1);
        return new(PriorLaw.LogNormal, middle, middle * Math.Sqrt(variance));
    }
}
