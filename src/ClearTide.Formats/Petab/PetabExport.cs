using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Formats.Sbml;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Petab;

/// <summary>A study as the files of a problem, by name, and what of it the format does not say, a sentence each.</summary>
public sealed record PetabFiles(ImmutableDictionary<string, string> Files, ImmutableArray<string> Left);

/// <summary>Writes a study with its data as a problem. What stood at times under normal laws can be said; what was counted over intervals,
/// and laws of counts, cannot.</summary>
public sealed class PetabExport
{
    private const string Everybody = "all";

    private readonly StudyBundle _study;
    private readonly StudyDocument _document;
    private readonly SbmlExported _model;
    private readonly List<string> _left;
    private readonly List<string[]> _parameters = [],
        _observables = [],
        _measurements = [];

    /// <summary>Columns of the conditions, each with what it says of a subject.</summary>
    private readonly List<(string Head, Func<string, string> Cell)> _conditions = [];

    private PetabExport(StudyBundle study)
    {
        (_study, _document) = (study, study.Document);
        _model = SbmlExport.Of(_document);
        _left = [.. _model.Left.Where(one => !one.Contains("data", StringComparison.Ordinal))];
    }

    /// <param name="name">What its files are called.</param>
    /// <exception cref="PetabException">Nothing of its data can be said.</exception>
    /// <exception cref="SbmlException">Its model cannot be written.</exception>
    public static PetabFiles Write(StudyBundle study, string name) => new PetabExport(study).All(name);

    private PetabFiles All(string name)
    {
        foreach (var series in Series.Of(_document, _study.DataSets))
            Add(series);
        if (_measurements.Count == 0)
            throw new PetabException("Of these data nothing can be said in this format. " + string.Join(" ", _left));
        foreach (var parameter in _document.Fit.Parameters)
            Add(parameter);
        if (!_document.Fit.Ties.IsEmpty)
            _left.Add("Values that follow from others are not said: write them into the model first.");
        var subjects = Series.Of(_document, _study.DataSets).SelectMany(one => one.Data.Subjects).DistinctBy(one => one.Name).ToList();
        foreach (var symbol in subjects.SelectMany(one => one.Covariates.Keys).Distinct())
        {
            if (Id(symbol) is { } id)
                _conditions.Add(
                    (id, subject =>
                        subjects.Find(one => Condition(one.Name) == subject)?.Covariates.TryGetValue(symbol, out var value) == true
                            ? Text(value)
                            : Text(ValueOf(symbol))
                    )
                );
        }
        if (subjects.Exists(one => one.Doses.Count > 0))
            _left.Add("Doses of subjects are not said.");
        var conditions = _measurements.Select(row => row[1]).Distinct().ToList();
        string[] files =
        [
            $"{name}.xml",
            $"{name}-parameters.tsv",
            $"{name}-conditions.tsv",
            $"{name}-observables.tsv",
            $"{name}-measurements.tsv",
        ];
        var written = ImmutableDictionary.CreateBuilder<string, string>();
        written[$"{name}.yaml"] =
            $"format_version: 1\nparameter_file: {files[1]}\nproblems:\n  - sbml_files: [{files[0]}]\n    condition_files: [{files[2]}]\n"
            + $"    observable_files: [{files[3]}]\n    measurement_files: [{files[4]}]\n";
        written[files[0]] = SbmlWriter.Write(_model.Model);
        written[files[1]] = PetabTable.Write(
            [
                "parameterId",
                "parameterScale",
                "lowerBound",
                "upperBound",
                "nominalValue",
                "estimate",
                "objectivePriorType",
                "objectivePriorParameters",
            ],
            _parameters
        );
        written[files[2]] = PetabTable.Write(
            ["conditionId", .. _conditions.Select(one => one.Head)],
            conditions.Select(id => (IReadOnlyList<string>)[id, .. _conditions.Select(one => one.Cell(id))])
        );
        written[files[3]] = PetabTable.Write(
            ["observableId", "observableName", "observableFormula", "observableTransformation", "noiseFormula", "noiseDistribution"],
            _observables
        );
        written[files[4]] = PetabTable.Write(
            ["observableId", "simulationConditionId", "measurement", "time", "noiseParameters"],
            _measurements
        );
        return new(written.ToImmutable(), [.. _left.Distinct()]);
    }

    private void Add(Series series)
    {
        var (seen, rows) = (series.Observation, series.Data.Used);
        var law = seen.LawIn(_document.Fit);
        string? Refusal() =>
            seen.Seen != ObservedAs.Standing ? "it was seen over intervals, and measurements stand at times"
            : law is ErrorLaw.Poisson or ErrorLaw.NegativeBinomial or ErrorLaw.Binomial ? "its law of counts is none of this format"
            : rows.Any(row => row.Below) ? "some of its values are below a limit"
            : rows.Any(row => row.GivenWeight is not null) ? "its rows have weights"
            : null;
        if (Refusal() is { } why)
        {
            _left.Add($"{seen.Label} is left out: {why}.");
            return;
        }
        var id = $"observable_{_observables.Count + 1}";
        var formula = Written(seen);
        if (formula is null)
            return;
        var errors = law == ErrorLaw.Normal && rows.All(row => row.Error is not null);
        if (law == ErrorLaw.Normal && !errors && seen.Spread is null && rows.Any(row => row.Error is not null))
            _left.Add($"{seen.Label} have errors in some rows and not in others: one is estimated for all.");
        var known = seen.Spread is { } spread ? Text(spread) : null;
        if (known is not null && law == ErrorLaw.Normal && rows.Any(row => row.Error is not null) && !errors)
            _left.Add($"{seen.Label} have errors in some rows and a known spread in others: the spread is written for all.");
        var noise = law switch
        {
            ErrorLaw.Normal when errors => $"noiseParameter1_{id}",
            ErrorLaw.Proportional => $"{known ?? Noise(id, "cv")} * abs({formula})",
            ErrorLaw.AdditiveProportional => $"sqrt({Noise(id, "sd")}^2 + ({Noise(id, "cv")} * ({formula}))^2)",
            _ => known ?? Noise(id, "sd"),
        };
        _observables.Add([id, seen.Label, formula, law == ErrorLaw.LogNormal ? "log" : "lin", noise, "normal"]);
        foreach (var row in rows)
            _measurements.Add([id, Condition(row.Subject), Text(row.Value), Text(row.End), errors ? Text(row.Error!.Value) : ""]);
    }

    private static string Condition(string? subject) =>
        subject is null ? Everybody : "c_" + string.Concat(subject.Select(sign => char.IsAsciiLetterOrDigit(sign) ? sign : '_'));

    /// <summary>A spread that is estimated: a parameter of the problem.</summary>
    private string Noise(string observable, string kind)
    {
        var id = $"{kind}_{observable}";
        _parameters.Add([id, "log10", "1e-8", "1e8", "1", "1", "", ""]);
        return id;
    }

    /// <summary>What was seen, in ids of the model; null where it cannot be said.</summary>
    private string? Written(Observation seen)
    {
        var text = seen.Reporting.Trim() == "1" ? seen.Formula : $"({seen.Reporting}) * ({seen.Formula})";
        var tree = Formula.Read(text).Tree;
        if (tree is null || tree.Units().Any() || tree.All().Any(one => one is UserCallSyntax))
        {
            _left.Add(
                $"{seen.Label} is left out: its formula holds units or functions of the study. Give it a name in Build, and observe that."
            );
            return null;
        }
        foreach (var name in tree.Names().OrderByDescending(name => name.Span.Start))
        {
            var id = name.Name == "t" ? "time" : Id(name.Name);
            if (id is null)
            {
                _left.Add($"{seen.Label} is left out: the model has nothing called {name.Name} in SBML.");
                return null;
            }
            text = text[..name.Span.Start] + id + text[name.Span.End..];
        }
        return text.Replace("ln(", "log(", StringComparison.Ordinal);
    }

    /// <summary>The id of a symbol in the model that is written; null where it has none.</summary>
    private string? Id(string symbol) =>
        _model
            .Model.Parameters.Cast<SbmlPart>()
            .Concat(_model.Model.Species)
            .FirstOrDefault(part => part.Symbol == symbol || Named(part) == symbol)
            is { } found
            ? Named(found)
            : null;

    private static string Named(SbmlPart part) =>
        part switch
        {
            SbmlParameter one => one.Id,
            SbmlSpecies one => one.Id,
            _ => "",
        };

    private double ValueOf(string symbol)
    {
        var network = Lowering.Lower(_document).Network;
        return network.IndexOf(new(symbol)) is >= 0 and var index ? network.Values[index].Value : double.NaN;
    }

    private void Add(FitParameter parameter)
    {
        var network = Lowering.Lower(_document).Network;
        var value = network.IndexOf(parameter.Address) is >= 0 and var index ? network.Values[index].Value : double.NaN;
        var symbol = parameter.Address.Symbol;
        var id = Id(symbol);
        if (parameter.Own)
            _left.Add($"{parameter.Address} is shared by all: that each subject has its own is not said.");
        if (parameter.Address.Field == ValueField.Start && id is not null)
        {
            // A start that is estimated is a parameter that the conditions give to the species.
            var start = $"{id}_start";
            _conditions.Add((id, _ => start));
            id = start;
        }
        else if (parameter.Address.Field != ValueField.Own || id is null)
        {
            _left.Add($"{parameter.Address} is not said as estimated: give the number a name of its own in Build.");
            return;
        }
        var prior = Prior(parameter);
        var scale = parameter.Lower > 0 ? "log10" : "lin";
        _parameters.Add([id, scale, Text(parameter.Lower), Text(parameter.Upper), Text(value), "1", prior.Type, prior.Numbers]);
    }

    private (string Type, string Numbers) Prior(FitParameter parameter)
    {
        switch (parameter.Prior)
        {
            case { Law: PriorLaw.Normal } normal:
                return ("normal", $"{Text(normal.Mean)};{Text(normal.Spread)}");
            case { Law: PriorLaw.LogNormal } log:
                var variance = Math.Log(1 + Math.Pow(log.Spread / log.Mean, 2));
                return ("logNormal", $"{Text(Math.Log(log.Mean) - 0.5 * variance)};{Text(Math.Sqrt(variance))}");
            case { } other:
                _left.Add($"The prior of {parameter.Address}, {other}, is none of this format.");
                break;
        }
        return ("", "");
    }

    private static string Text(double number) => number.ToString("R", CultureInfo.InvariantCulture);
}
