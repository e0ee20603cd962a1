using System.Text;
using System.Xml;
using System.Xml.Linq;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>Writes a model as SBML Level 3 Version 2 core.</summary>
public sealed class SbmlWriter
{
    private static readonly XNamespace Space = "http://www.sbml.org/sbml/level3/version2/core";

    private readonly SbmlModel _model;
    private readonly HashSet<string> _ids;
    private readonly List<(string Id, Syntax Formula)> _computed = [];

    private SbmlWriter(SbmlModel model)
    {
        _model = model;
        _ids =
        [
            .. model.Compartments.Select(part => part.Id),
            .. model.Species.Select(part => part.Id),
            .. model.Parameters.Select(part => part.Id),
            .. model.Reactions.Select(part => part.Id),
            .. model
                .Reactions.SelectMany(reaction => reaction.Reactants.Concat(reaction.Products))
                .Select(reference => reference.Id)
                .OfType<string>(),
            .. model.Events.Select(part => part.Id),
        ];
    }

    public static string Write(SbmlModel model)
    {
        var document = new XDocument(
            new XElement(Space + "sbml", new XAttribute("level", 3), new XAttribute("version", 2), new SbmlWriter(model).Model())
        );
        var text = new StringBuilder();
        using (
            var writer = XmlWriter.Create(
                new Utf8Text(text),
                new()
                {
                    Indent = true,
                    IndentChars = "  ",
                    NewLineChars = "\n",
                }
            )
        )
            document.Save(writer);
        return text.Append('\n').ToString();
    }

    /// <summary>Says UTF-8 at the head of the file, which is how files are saved.</summary>
    private sealed class Utf8Text(StringBuilder text) : StringWriter(text, System.Globalization.CultureInfo.InvariantCulture)
    {
        public override Encoding Encoding => Encoding.UTF8;
    }

    private XElement Model()
    {
        var changing = _model
            .AssignmentRules.Concat(_model.RateRules)
            .Concat(_model.Events.SelectMany(one => one.Assignments))
            .Select(rule => rule.Variable)
            .ToHashSet();
        var reactions = _model.Reactions.Select(reaction => Reaction(reaction, changing)).ToList();
        var rules = _model
            .AssignmentRules.Select(rule => Rule("assignmentRule", rule))
            .Concat(_model.RateRules.Select(rule => Rule("rateRule", rule)))
            .Concat(_model.AlgebraicRules.Select(rule => Element("algebraicRule", MathWriter.Math(rule))))
            .Concat(_computed.Select(one => Rule("assignmentRule", new(one.Id, one.Formula))))
            .ToList();
        return Element(
            "model",
            Optional("id", SbmlText.Id(_model.Id)),
            Optional("name", _model.Name),
            Optional("substanceUnits", Given(_model.SubstanceUnits)),
            Optional("timeUnits", Given(_model.TimeUnits)),
            Optional("volumeUnits", Given(_model.VolumeUnits)),
            Optional("extentUnits", Given(_model.SubstanceUnits)),
            Optional("conversionFactor", _model.ConversionFactor is { } factor ? SbmlText.Id(factor) : ""),
            SbmlAnnotations.NoteElement(Space, _model.Note),
            SbmlAnnotations.GroupsElement(Space, _model.Grouped, _model.GroupedDigest),
            List("listOfUnitDefinitions", _model.UnitDefinitions.Select(Definition)),
            List("listOfCompartments", _model.Compartments.Select(Compartment)),
            List("listOfSpecies", _model.Species.Select(Species)),
            List(
                "listOfParameters",
                _model.Parameters.Select(part =>
                    Part(
                        "parameter",
                        part,
                        part.Id,
                        part.Name,
                        Optional("value", part.Value),
                        Optional("units", part.Units),
                        Truth("constant", part.Constant)
                    )
                )
            ),
            List(
                "listOfInitialAssignments",
                _model.InitialAssignments.Select(rule =>
                    Element("initialAssignment", Text("symbol", SbmlText.Id(rule.Variable)), MathWriter.Math(rule.Math))
                )
            ),
            List("listOfRules", rules),
            List(
                "listOfConstraints",
                _model.Constraints.Select(constraint =>
                    Element(
                        "constraint",
                        MathWriter.Math(constraint.Math),
                        SbmlAnnotations.NoteElement(Space, constraint.Message, "message")
                    )
                )
            ),
            List("listOfReactions", reactions),
            List("listOfEvents", _model.Events.Select(Event))
        );
    }

    private static XElement Element(string name, params object?[] content) => new(Space + name, content);

    private static XElement? List(string name, IEnumerable<XElement> members) =>
        members.ToList() is { Count: > 0 } all ? Element(name, all) : null;

    private static XAttribute Text(string name, string value) => new(name, value);

    private static XAttribute? Optional(string name, string value) => value.Length == 0 ? null : new(name, value);

    private static XAttribute? Optional(string name, double? value) => value is { } number ? new(name, MathWriter.Number(number)) : null;

    private static XAttribute Truth(string name, bool value) => new(name, value ? "true" : "false");

    /// <summary>Words that Level 2 takes for granted mean nothing in Level 3 where no definition gives them a meaning.</summary>
    private string Given(string unit) =>
        unit switch
        {
            "time" or "substance" or "volume" when _model.UnitDefinitions.All(definition => definition.Id != unit) => unit switch
            {
                "time" => "second",
                "substance" => "mole",
                _ => "litre",
            },
            _ => unit,
        };

    private static XElement Part(string element, SbmlPart part, string id, string name, params object?[] content) =>
        Element(
            element,
            Optional("id", SbmlText.Id(id[(id.IndexOf('.', StringComparison.Ordinal) + 1)..])),
            Optional("name", name),
            content.OfType<XAttribute>(),
            SbmlAnnotations.NoteElement(Space, part.Note),
            SbmlAnnotations.PartElement(Space, part, id),
            content.OfType<XElement>()
        );

    private static XElement Definition(SbmlUnitDefinition definition) =>
        Element(
            "unitDefinition",
            Text("id", definition.Id),
            SbmlAnnotations.UnitElement(Space, definition.Text),
            List(
                "listOfUnits",
                definition.Factors.Select(unit =>
                    Element(
                        "unit",
                        Text("kind", unit.Kind),
                        new XAttribute("exponent", MathWriter.Number(unit.Exponent)),
                        new XAttribute("scale", unit.Scale),
                        new XAttribute("multiplier", MathWriter.Number(unit.Multiplier))
                    )
                )
            )
        );

    private static XElement Compartment(SbmlCompartment part) =>
        Part(
            "compartment",
            part,
            part.Id,
            part.Name,
            new XAttribute("spatialDimensions", MathWriter.Number(part.Dimensions)),
            Optional("size", part.Size),
            Optional("units", part.Units),
            Truth("constant", part.Constant)
        );

    private static XElement Species(SbmlSpecies part) =>
        Part(
            "species",
            part,
            part.Id,
            part.Name,
            Text("compartment", SbmlText.Id(part.Compartment)),
            Optional("initialAmount", part.InitialAmount),
            Optional("initialConcentration", part.InitialAmount is null ? part.InitialConcentration : null),
            Optional("substanceUnits", part.Units),
            Truth("hasOnlySubstanceUnits", part.SubstanceOnly),
            Truth("boundaryCondition", part.Boundary),
            Truth("constant", part.Constant),
            Optional("conversionFactor", part.ConversionFactor is { } factor ? SbmlText.Id(factor) : "")
        );

    private static XElement Rule(string name, SbmlRule rule) =>
        Element(name, Text("variable", SbmlText.Id(rule.Variable)), MathWriter.Math(rule.Math));

    private XElement Reaction(SbmlReaction reaction, HashSet<string> changing)
    {
        var own = reaction.Reactants.Concat(reaction.Products).Select(reference => reference.Species).ToHashSet();
        // Whatever species a rate reads besides those it moves has to be named.
        var read = reaction.Rate is null
            ? []
            : reaction
                .Rate.Names()
                .Select(name => name.Name)
                .Where(name => !own.Contains(name) && _model.Species.Any(species => species.Id == name))
                .Distinct();
        return Part(
            "reaction",
            reaction,
            reaction.Id,
            reaction.Name,
            Truth("reversible", false),
            List("listOfReactants", reaction.Reactants.Select(reference => Reference(reaction, reference, changing))),
            List("listOfProducts", reaction.Products.Select(reference => Reference(reaction, reference, changing))),
            List("listOfModifiers", read.Select(id => Element("modifierSpeciesReference", Text("species", SbmlText.Id(id))))),
            reaction.Rate is null
                ? null
                : Element(
                    "kineticLaw",
                    MathWriter.Math(reaction.Rate),
                    List(
                        "listOfLocalParameters",
                        reaction.Locals.Select(local =>
                            Part(
                                "localParameter",
                                local,
                                local.Id,
                                local.Name,
                                Optional("value", local.Value),
                                Optional("units", local.Units)
                            )
                        )
                    )
                )
        );
    }

    private XElement Reference(SbmlReaction reaction, SbmlReference reference, HashSet<string> changing)
    {
        var id = reference.Id;
        if (reference.Formula is { } formula)
            _computed.Add((id = NewId($"{reaction.Id}_{reference.Species}"), formula));
        return Element(
            "speciesReference",
            Optional("id", id is null ? "" : SbmlText.Id(id)),
            Text("species", SbmlText.Id(reference.Species)),
            reference.Formula is null && !double.IsNaN(reference.Stoichiometry) ? Optional("stoichiometry", reference.Stoichiometry) : null,
            Truth("constant", reference.Formula is null && (reference.Id is null || reference.Constant && !changing.Contains(reference.Id)))
        );
    }

    private string NewId(string wanted)
    {
        var id = wanted;
        for (var twin = 2; !_ids.Add(id); twin++)
            id = $"{wanted}_{twin}";
        return id;
    }

    private static XElement Event(SbmlEvent one) =>
        Part(
            "event",
            one,
            one.Id,
            one.Name,
            Truth("useValuesFromTriggerTime", one.ValuesAtTrigger),
            Element("trigger", Truth("initialValue", one.InitialValue), Truth("persistent", one.Persistent), MathWriter.Math(one.Trigger)),
            one.Priority is null ? null : Element("priority", MathWriter.Math(one.Priority)),
            one.Delay is null ? null : Element("delay", MathWriter.Math(one.Delay)),
            List(
                "listOfEventAssignments",
                one.Assignments.Select(assignment =>
                    Element("eventAssignment", Text("variable", SbmlText.Id(assignment.Variable)), MathWriter.Math(assignment.Math))
                )
            )
        );
}
