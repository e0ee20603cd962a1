using System.Collections.Immutable;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Core.Stochastic;
using ClearTide.Core.Units;

namespace ClearTide.Formats.Sbml;

/// <summary>
/// Makes a study of an SBML model. Species that change become compartments in amounts, reactions flows, rules quantities; a symbol under
/// a rate rule is a
/// compartment that a flow from outside moves. A reaction that moves several things at once stays one. What is not taken over,
/// or in another way, stays with the study as notes.
/// </summary>
public sealed partial class SbmlImport
{
    private readonly SbmlModel _model;
    private readonly Dictionary<string, SbmlSpecies> _species;
    private readonly Dictionary<string, SbmlCompartment> _sizes;
    private readonly Dictionary<string, Syntax> _assigned,
        _rates,
        _starting;
    private readonly Dictionary<string, SbmlReaction> _reactions;
    private readonly HashSet<string> _amounts = [],
        _states = [],
        _changing = [],
        _read = [];
    private readonly List<string> _notes;
    private readonly SbmlSymbols _symbols;
    private readonly SbmlUnitWords _units;
    private StudyDocument _study;

    private SbmlImport(SbmlModel model, string name)
    {
        _model = model;
        _species = model.Species.ToDictionary(part => part.Id);
        _sizes = model.Compartments.ToDictionary(part => part.Id);
        _assigned = model.AssignmentRules.ToDictionary(rule => rule.Variable, rule => rule.Math);
        _rates = model.RateRules.ToDictionary(rule => rule.Variable, rule => rule.Math);
        _starting = model.InitialAssignments.GroupBy(rule => rule.Variable).ToDictionary(group => group.Key, group => group.First().Math);
        _reactions = model.Reactions.ToDictionary(part => part.Id);
        _notes = [.. model.Notes.Select(note => $"Line {note.Line} of the file: {note.Message}"), .. model.Unread];
        // The same plan of what is a state as for a run of the file itself; what cannot be run is told here.
        foreach (var state in SbmlLowering.Lower(model).Network.States)
        {
            _states.Add(state.PartId);
            if (state.IsAmount && _species.ContainsKey(state.PartId))
                _amounts.Add(state.PartId);
        }
        foreach (
            var id in model
                .Events.SelectMany(one => one.Assignments)
                .Select(set => set.Variable)
                .Concat(_rates.Keys)
                .Concat(_assigned.Keys)
                .Concat(_states)
        )
            _changing.Add(id);
        _symbols = new(model);
        _units = new(model);
        if (_units.TimeIsOpen)
            _notes.Add(
                "The file does not say what its time is counted in: it is read as seconds. Choose the unit under the study's title; "
                    + "“Relabel” leaves all numbers as they are."
            );
        TellKinds();
        TellUnits();
        var title =
            model.Name.Length > 0 ? model.Name
            : model.Id.Length > 0 ? SbmlText.Id(model.Id)
            : name;
        _study = new()
        {
            Title = title.Length <= SetQuestion.LongestTitle ? title : title[..SetQuestion.LongestTitle],
            Description = model.Note,
            TimeUnit = _units.Time,
            Units = _units.Rules,
        };
    }

    /// <param name="name">What the study is called where the file gives it no name.</param>
    /// <exception cref="SbmlException">The model cannot be run; the message says why.</exception>
    public static StudyDocument Read(SbmlModel model, string name) =>
        SbmlGroups.Study(model) is { } grouped ? grouped
        : model.Grouped.Length == 0 ? new SbmlImport(model, name).All()
        : new SbmlImport(
            model with
            {
                Unread =
                [
                    .. model.Unread,
                    "The groups that it was written with: it was changed since, so that each member is a part of its own.",
                ],
            },
            name
        ).All();

    private StudyDocument All()
    {
        SolveAlgebra();
        FindFans();
        foreach (var species in _model.Species)
            Add(species);
        foreach (var parameter in _model.Parameters)
            Number(parameter, parameter.Value);
        foreach (var local in _model.Reactions.SelectMany(reaction => reaction.Locals))
            Number(local, local.Value);
        // What changes has to be there before flows and events; what stays is added last, and only where something reads it.
        foreach (var size in _model.Compartments.Where(size => _changing.Contains(size.Id)))
            Number(size, SizeNumber(size));
        var references = References().Where(reference => reference.Id is not null).DistinctBy(reference => reference.Id).ToList();
        foreach (var reference in references.Where(reference => _changing.Contains(reference.Id!) && !_shares.Contains(reference.Id!)))
            Number(reference.Id!, "", reference.Stoichiometry, null);
        foreach (var (id, rate) in _rates)
            Flow("", null, [new(Symbol(id))], RateKind.Whole, Text(rate), "");
        foreach (var reaction in _model.Reactions)
            Add(reaction);
        foreach (var one in _model.Events)
            Add(one);
        foreach (var constraint in _model.Constraints)
            Add(constraint);
        foreach (var reference in references.Where(reference => !_changing.Contains(reference.Id!) && _read.Contains(reference.Id!)))
            Number(reference.Id!, "", reference.Stoichiometry, null);
        foreach (
            var size in _model.Compartments.Where(size =>
                !_changing.Contains(size.Id) && (_read.Contains(size.Id) || size.Size is not (null or 1))
            )
        )
            Number(size, SizeNumber(size));
        if (_study.Parts.Count() is var count && count > AddLines.MostParts)
            throw new SbmlException(
                $"This model would make a study of {count:N0} parts; {AddLines.MostParts:N0} is the limit. The command line "
                    + "simulates the file as it is."
            );
        return _study with { FileNotes = [.. _notes.Distinct()] };
    }

    /// <summary>
    /// Says which species are counted otherwise than in the file, and which are not: amounts and concentrations differ by the size.
    /// </summary>
    private void TellKinds()
    {
        var concentrations = _model.Species.Where(species => !species.SubstanceOnly && HasSize(species)).ToList();
        string Names(IEnumerable<SbmlSpecies> species) => string.Join(", ", species.Select(part => Symbol(part.Id)));
        var (amounts, kept) = (
            concentrations.Where(species => _amounts.Contains(species.Id)).ToList(),
            concentrations.Where(species => !_amounts.Contains(species.Id)).ToList()
        );
        var sizes = string.Join(", ", amounts.Select(species => species.Compartment).Distinct().Select(Symbol));
        if (amounts.Count > 0)
            _notes.Add(
                $"Concentrations of the file are amounts here: {Names(amounts)}. Each is the concentration times the size ({sizes}), "
                    + "and formulas divide by it again."
            );
        if (kept.Count > 0 && _amounts.Count > 0)
            _notes.Add($"These stay concentrations, beside amounts: {Names(kept)}.");
    }

    /// <summary>Says which units of the file have no counterpart.</summary>
    private void TellUnits()
    {
        var parts = _model
            .Species.Select(part => (part.Id, Unit: part.Units.Length > 0 ? part.Units : _model.SubstanceUnits))
            .Concat(_model.Parameters.Select(part => (part.Id, Unit: part.Units)))
            .Concat(_model.Compartments.Select(part => (part.Id, Unit: part.Units)));
        foreach (var group in parts.Where(part => part.Unit.Length > 0 && _units.IsLost(part.Unit)).GroupBy(part => part.Unit))
            _notes.Add(
                $"The unit “{group.Key}” has no counterpart here and is not kept: "
                    + $"{string.Join(", ", group.Select(part => Symbol(part.Id)))}."
            );
    }

    private static double? SizeNumber(SbmlCompartment size) => size.Size ?? (size.Dimensions == 0 ? 1 : null);

    private IEnumerable<SbmlReference> References() =>
        _model.Reactions.SelectMany(reaction => reaction.Reactants.Concat(reaction.Products));

    private string Symbol(string id) => _symbols.Of(id);

    private string NextId(string kind)
    {
        var id = kind + _study.NextId;
        _study = _study with { NextId = _study.NextId + 1 };
        return id;
    }

    private string FileId(string id) => _symbols.Of(id) == SbmlText.Id(id) ? "" : SbmlText.Id(id);

    private void Add(SbmlSpecies species)
    {
        if (_amounts.Contains(species.Id))
        {
            var start =
                _starting.TryGetValue(species.Id, out var formula) ? Text(AmountOf(species, AtStart(formula)))
                : species.InitialAmount is { } amount ? Plain(species.Id, amount)
                : species.InitialConcentration is { } concentration ? OfConcentration(species, concentration)
                : Unknown(species.Id);
            Compartment(species, species.Name, start, species.Plate);
            return;
        }
        // What is no amount that reactions move is spoken of as formulas speak of it.
        if (_assigned.ContainsKey(species.Id) || _states.Contains(species.Id) || _starting.ContainsKey(species.Id))
            Number(species, null);
        else
            Number(species, species.InitialAmount ?? species.InitialConcentration);
    }

    /// <summary>An amount that is given as a concentration: it goes with the size, and says its unit where the file does.</summary>
    private string OfConcentration(SbmlSpecies species, double concentration)
    {
        if (!HasSize(species) || concentration == 0)
            return Plain(species.Id, concentration);
        var (amount, size) = (
            _units.Text(species.Units.Length > 0 ? species.Units : _model.SubstanceUnits),
            _units.Text(_sizes[species.Compartment].Units.Length > 0 ? _sizes[species.Compartment].Units : _model.VolumeUnits)
        );
        var unit = amount.Length > 0 && size.Length > 0 && !amount.Contains('/') && !size.Contains('/') ? $" {amount}/{size}" : "";
        return $"{Plain(species.Id, concentration)}{unit} * {Text(SizeOf(species))}";
    }

    private void Compartment(SbmlPart part, string name, string start, SbmlPlate? plate)
    {
        var (id, symbol) = (IdOf(part), Symbol(IdOf(part)));
        // Taken before the study is made anew from what it was.
        var own = NextId("c");
        var (x, y) = plate is { } given ? (given.X, given.Y) : PlatePlacing.Next(_study.Compartments, _study.Compartments.LastOrDefault());
        _study = _study with
        {
            Compartments = _study.Compartments.Add(
                new(own, symbol, name.Length > 0 ? name : symbol, start, x, y, part.Note)
                {
                    Unit = _units.Text(
                        part.Units.Length > 0 ? part.Units
                        : part is SbmlSpecies ? _model.SubstanceUnits
                        : ""
                    ),
                    Colour = plate?.Colour ?? 0,
                    FileId = FileId(id),
                    // Whole units are what is counted: items, not moles.
                    WholeUnits = part is SbmlSpecies && _units.IsCount(part.Units.Length > 0 ? part.Units : _model.SubstanceUnits),
                }
            ),
        };
    }

    private static string IdOf(SbmlPart part) =>
        part switch
        {
            SbmlSpecies species => species.Id,
            SbmlParameter parameter => parameter.Id,
            SbmlCompartment size => size.Id,
            _ => "",
        };

    private void Number(SbmlPart part, double? value) =>
        Number(
            IdOf(part),
            part switch
            {
                SbmlSpecies species => species.Name,
                SbmlParameter parameter => parameter.Name,
                SbmlCompartment size => size.Name,
                _ => "",
            },
            value,
            part
        );

    /// <summary>A symbol that no reaction moves: a number, a quantity, or what only rules of rates, events and its start say.</summary>
    private void Number(string id, string name, double? value, SbmlPart? part)
    {
        var species = _species.GetValueOrDefault(id);
        if (
            _states.Contains(id) && !_assigned.ContainsKey(id)
            || _starting.TryGetValue(id, out var moving) && !_assigned.ContainsKey(id) && Moves(moving)
        )
        {
            var start =
                _starting.TryGetValue(id, out var formula) ? Text(AtStart(formula))
                : species is not null && (species.InitialAmount ?? species.InitialConcentration) is not null ? Text(Spoken(species))
                : value is { } plain ? Plain(id, plain)
                : Unknown(id);
            Compartment(part ?? new SbmlParameter(id, name, value, false), name, start, null);
            return;
        }
        var text =
            _assigned.TryGetValue(id, out var rule) ? Text(rule)
            : _starting.TryGetValue(id, out var once) ? Text(AtStart(once))
            : value is { } number ? Plain(id, number)
            : Unknown(id);
        Definition(id, name, text, part, species is null && part is not null ? _units.Text(part.Units) : "");
    }

    private void Definition(string id, string name, string text, SbmlPart? part, string unit = "")
    {
        var (own, symbol) = (NextId("v"), Symbol(id));
        _study = _study with
        {
            Definitions = _study.Definitions.Add(
                new(own, symbol, name.Length > 0 ? name : symbol, text, Origin.Source, part?.Note ?? "")
                {
                    Unit = unit,
                    FileId = id.Contains('.', StringComparison.Ordinal) ? "" : FileId(id),
                }
            ),
        };
    }

    /// <summary>Whether a formula that gives a start is of things that change later, so that the start has to be kept.</summary>
    private bool Moves(Syntax formula, int depth = 0) =>
        depth > 100
        || formula.All().Any(node => node is UserCallSyntax || node is CallSyntax { Function.Name: Functions.Delay })
        || formula
            .Names()
            .Any(name =>
                name.Name == "t"
                || _changing.Contains(name.Name) && !IsOfConstants(name.Name, depth)
                || _reactions.ContainsKey(name.Name)
                || _species.TryGetValue(name.Name, out var species) && _changing.Contains(species.Compartment)
            );

    private bool IsOfConstants(string id, int depth) => _assigned.TryGetValue(id, out var rule) && !Moves(rule, depth + 1);

    private string Plain(string id, double value)
    {
        if (double.IsFinite(value))
            return FormulaText.Of(Written(MathReader.Of(value)));
        _notes.Add(
            $"{Symbol(id)} is {MathWriter.Number(value)} in the file. A study holds no such number: "
                + $"{(double.IsNaN(value) ? "0" : "1e300")} stands in its place."
        );
        return double.IsNaN(value) ? "0"
            : double.IsPositiveInfinity(value) ? "1e300"
            : "-1e300";
    }

    private string Unknown(string id)
    {
        if (_algebra.TryGetValue(id, out var solved))
            return Text(solved);
        _notes.Add($"The file gives {Symbol(id)} no value: 0 stands in its place until something sets it.");
        return "0";
    }
}
