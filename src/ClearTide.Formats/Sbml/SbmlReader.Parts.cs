using System.Collections.Immutable;
using System.Xml;
using System.Xml.Linq;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>The parts of a model, each from its element.</summary>
public sealed partial class SbmlReader
{
    private SbmlUnitDefinition UnitDefinition(XElement part) =>
        new(
            Id(part),
            [
                .. List(part, "listOfUnits")
                    .Select(unit => new SbmlUnit(
                        Units(unit, "kind"),
                        Number(unit, "exponent") ?? 1,
                        (int)(Number(unit, "scale") ?? 0),
                        Number(unit, "multiplier") ?? 1
                    )),
            ],
            SbmlAnnotations.UnitText(part)
        );

    private SbmlSpecies Species(XElement part) =>
        With(
            part,
            new SbmlSpecies(
                Own(part),
                Name(part),
                Reference(part, "compartment") ?? "",
                Number(part, "initialAmount"),
                Number(part, "initialConcentration"),
                Truth(part, "hasOnlySubstanceUnits", false),
                Truth(part, "boundaryCondition", false),
                Truth(part, "constant", false),
                Reference(part, "conversionFactor")
            )
        ) with
        {
            Units = Units(part, "substanceUnits"),
        };

    private SbmlReaction Reaction(XElement part)
    {
        var law = part.Element(_space + "kineticLaw");
        var own = law is null ? [] : List(law, "listOfLocalParameters").Concat(List(law, "listOfParameters")).ToList();
        ImmutableArray<SbmlParameter> locals =
        [
            .. own.Select(local => With(local, new SbmlParameter($"{Own(part)}.{Id(local)}", Name(local), Number(local, "value"), true))),
        ];
        if (Truth(part, "fast", false))
            Note(part, $"The reaction {Id(part)} is marked as fast; it goes at its rate like any other.");
        var names = own.Select(Id).Zip(locals).ToDictionary(pair => pair.First, pair => (Syntax)new NameSyntax(default, pair.Second.Id));
        return With(
            part,
            new SbmlReaction(
                Own(part),
                Name(part),
                [.. List(part, "listOfReactants").Select(Stoichiometry)],
                [.. List(part, "listOfProducts").Select(Stoichiometry)],
                Math(law, names),
                locals
            )
        );
    }

    private SbmlReference Stoichiometry(XElement part) =>
        new(
            Reference(part, "id"),
            Reference(part, "species") ?? "",
            Number(part, "stoichiometry") ?? (_level == 2 ? 1 : double.NaN),
            Math(part.Element(_space + "stoichiometryMath")),
            Truth(part, "constant", true)
        );

    private ImmutableArray<SbmlRule> Rules(IEnumerable<XElement> rules, string attribute)
    {
        var all = ImmutableArray.CreateBuilder<SbmlRule>();
        foreach (var rule in rules)
        {
            if (Math(rule) is { } math)
                all.Add(new(Reference(rule, attribute) ?? "", math));
            else
                Note(rule, $"What is said of {Reference(rule, attribute)} has no formula and is left out.");
        }
        return all.ToImmutable();
    }

    private SbmlConstraint? Constraint(XElement part)
    {
        if (Math(part) is { } condition)
            return new(condition, SbmlAnnotations.Words(part.Element(_space + "message")), ((IXmlLineInfo)part).LineNumber);
        Note(part, "A constraint has no formula and is left out.");
        return null;
    }

    private SbmlEvent? Event(XElement part)
    {
        var trigger = part.Element(_space + "trigger");
        if (Math(trigger) is not { } condition)
        {
            Note(part, $"{(Id(part).Length > 0 ? $"The event {Id(part)}" : "An event")} has no trigger and never happens.");
            return null;
        }
        return With(
            part,
            new SbmlEvent(
                Own(part),
                Name(part),
                condition,
                Truth(trigger!, "initialValue", true),
                Truth(trigger!, "persistent", true),
                Math(part.Element(_space + "delay")),
                Math(part.Element(_space + "priority")),
                Truth(part, "useValuesFromTriggerTime", true),
                Rules(List(part, "listOfEventAssignments"), "variable")
            )
        );
    }
}
