using System.Collections.Immutable;
using System.Xml;
using System.Xml.Linq;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>Reads SBML Level 2 (versions 1 to 5) and Level 3 (versions 1 and 2) core into one model, whichever it was.</summary>
public sealed partial class SbmlReader
{
    public const int LongestFile = 20_000_000;

    /// <summary>Deeper than any formula that is read, with what stands around it.</summary>
    private const int Deepest = 400;

    private readonly List<SbmlNote> _notes = [];
    private readonly Dictionary<string, XElement> _functions = [];
    private readonly XElement _model;
    private readonly XNamespace _space;
    private readonly int _level;
    private readonly MathReader _math;

    private SbmlReader(XElement root)
    {
        (_space, _level) = (root.Name.Namespace, Level(root));
        _model = root.Element(_space + "model") ?? throw new SbmlException("This SBML file holds no model.");
        foreach (var definition in List(_model, "listOfFunctionDefinitions"))
        {
            if (definition.Element(MathReader.Space + "math")?.Elements().FirstOrDefault() is { Name.LocalName: "lambda" } lambda)
                _functions[Id(definition)] = lambda;
            else if (
                definition.Element(MathReader.Space + "math")?.Descendants(MathReader.Space + "lambda").FirstOrDefault() is { } wrapped
            )
                _functions[Id(definition)] = wrapped;
            else
                Note(definition, $"The function {Id(definition)} has no formula.");
        }
        _math = new(_functions);
    }

    /// <exception cref="SbmlException">The text is no SBML that can be read; the message says why, with the line.</exception>
    public static SbmlModel Read(string text) => Read(text.Length, safe => XmlReader.Create(new StringReader(text), safe));

    /// <inheritdoc cref="Read(string)"/>
    /// <param name="file">The bytes of the file, which says itself how they stand for letters.</param>
    public static SbmlModel Read(Stream file) => Read(file.Length, safe =>
        {
            file.Position = 0;
            return XmlReader.Create(file, safe);
        });

    private static SbmlModel Read(long length, Func<XmlReaderSettings, XmlReader> open)
    {
        if (length > LongestFile)
            throw new SbmlException($"This file has {length:N0} bytes; {LongestFile:N0} is the limit.");
        XDocument document;
        try
        {
            // No entities, nothing from outside: a model needs neither.
            var safe = new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Prohibit,
                XmlResolver = null,
                MaxCharactersFromEntities = 0,
            };
            // Looked through once before it becomes a tree: a deep tree takes its depth again for each of its nodes.
            using (var look = open(safe))
                while (look.Read())
                    if (look.Depth > Deepest)
                        throw new SbmlException(
                            $"Line {((IXmlLineInfo)look).LineNumber}: elements stand more than {Deepest} deep in one another, which "
                                + "no model needs."
                        );
            using var reader = open(safe);
            document = XDocument.Load(reader, LoadOptions.SetLineInfo);
        }
        catch (XmlException broken)
        {
            throw new SbmlException(
                broken.Message.Contains("DTD", StringComparison.Ordinal)
                    ? "This file has a document type of its own, which SBML does not use and which is not read. Take out the line "
                        + "that begins with <!DOCTYPE."
                    : $"This file is broken at line {broken.LineNumber}: it cannot be read as XML there. Export it again where it "
                        + "came from."
            );
        }
        if (document.Root is not { Name.LocalName: "sbml" } root)
            throw new SbmlException("This is not SBML: it does not begin with an element “sbml”.");
        return new SbmlReader(root).Model();
    }

    private int Level(XElement root)
    {
        var (level, version) = ((string?)root.Attribute("level"), (string?)root.Attribute("version"));
        if (level is not ("2" or "3"))
            throw new SbmlException(
                $"This file is SBML Level {level ?? "unknown"}. Levels 2 and 3 are read: convert it with a tool of the standard."
            );
        if (level == "3" && version is not ("1" or "2"))
            throw new SbmlException($"This file is SBML Level 3 Version {version ?? "unknown"}; versions 1 and 2 are read.");
        foreach (
            var required in root.Attributes()
                .Where(attribute => attribute.Name.LocalName == "required" && attribute.Name.Namespace != XNamespace.None)
        )
        {
            // It brings mathematics of Version 2 to Version 1, which is read in either.
            if (required.Name.NamespaceName.EndsWith("/l3v2extendedmath/version1", StringComparison.Ordinal))
                continue;
            var package = required
                .Name.NamespaceName.Split('/')
                .Reverse()
                .Skip(1)
                .FirstOrDefault(part => !part.StartsWith("version", StringComparison.Ordinal))
                ?? required.Name.NamespaceName;
            if (required.Value is "true" or "1")
                throw new SbmlException(
                    $"This model needs the SBML package “{package}”, which is not read. Without it the model would mean something else."
                );
            Note(root, $"What the SBML package “{package}” says is not read; the model does not need it.");
        }
        return int.Parse(level, System.Globalization.CultureInfo.InvariantCulture);
    }

    private void Note(XElement at, string message) => _notes.Add(new(((IXmlLineInfo)at).LineNumber, message));

    private IEnumerable<XElement> List(XElement parent, string name) =>
        parent.Element(_space + name)?.Elements().Where(child => child.Name.Namespace == _space) ?? [];

    private static string Id(XElement element) => ((string?)element.Attribute("id"))?.Trim() ?? "";

    /// <summary>An attribute that names something else, in the words of formulas.</summary>
    private static string? Reference(XElement element, string attribute) =>
        (string?)element.Attribute(attribute) is { Length: > 0 } id ? SbmlText.Alias(id.Trim()) : null;

    private static string Own(XElement element) => SbmlText.Alias(Id(element));

    /// <summary>What is shown of a part: as long as a label may be.</summary>
    private static string Name(XElement element) =>
        (string?)element.Attribute("name") switch
        {
            null => "",
            { Length: > SetField.LongestLabel } name => name[..(SetField.LongestLabel - 1)] + "…",
            var name => name,
        };

    private static bool Truth(XElement element, string attribute, bool otherwise) =>
        ((string?)element.Attribute(attribute))?.Trim() switch
        {
            "true" or "1" => true,
            "false" or "0" => false,
            _ => otherwise,
        };

    private double? Number(XElement element, string attribute)
    {
        var text = (string?)element.Attribute(attribute);
        if (string.IsNullOrWhiteSpace(text))
            return null;
        return SbmlText.Number(text)
            ?? throw new SbmlException(
                $"Line {((IXmlLineInfo)element).LineNumber}: {attribute} of {Id(element)} is “{text}”, which is no number."
            );
    }

    private Syntax? Math(XElement? parent, IReadOnlyDictionary<string, Syntax>? locals = null) =>
        parent?.Element(MathReader.Space + "math") is { } math && math.Elements().Any() ? _math.Read(math, locals) : null;

    private SbmlModel Model()
    {
        var model = new SbmlModel(Id(_model), Name(_model))
        {
            Note = SbmlAnnotations.Note(_model),
            Grouped = SbmlAnnotations.Groups(_model).Study,
            GroupedDigest = SbmlAnnotations.Groups(_model).Digest,
            UnitDefinitions = [.. List(_model, "listOfUnitDefinitions").Select(UnitDefinition)],
            TimeUnits = Units(_model, "timeUnits", _level == 2 ? "time" : ""),
            SubstanceUnits = Units(_model, "substanceUnits", _level == 2 ? "substance" : ""),
            VolumeUnits = Units(_model, "volumeUnits", _level == 2 ? "volume" : ""),
            Compartments =
            [
                .. List(_model, "listOfCompartments")
                    .Select(part =>
                        With(
                            part,
                            new SbmlCompartment(
                                Own(part),
                                Name(part),
                                Number(part, "size"),
                                Number(part, "spatialDimensions") ?? 3,
                                Truth(part, "constant", true)
                            )
                        )
                    ),
            ],
            Species = [.. List(_model, "listOfSpecies").Select(Species)],
            Parameters =
            [
                .. List(_model, "listOfParameters")
                    .Select(part =>
                        With(part, new SbmlParameter(Own(part), Name(part), Number(part, "value"), Truth(part, "constant", true)))
                    ),
            ],
            Reactions = [.. List(_model, "listOfReactions").Select(Reaction)],
            InitialAssignments = Rules(List(_model, "listOfInitialAssignments"), "symbol"),
            AssignmentRules = Rules(List(_model, "listOfRules").Where(rule => rule.Name.LocalName == "assignmentRule"), "variable"),
            RateRules = Rules(List(_model, "listOfRules").Where(rule => rule.Name.LocalName == "rateRule"), "variable"),
            AlgebraicRules =
            [
                .. List(_model, "listOfRules")
                    .Where(rule => rule.Name.LocalName == "algebraicRule")
                    .Select(rule => Math(rule))
                    .OfType<Syntax>(),
            ],
            Events = [.. List(_model, "listOfEvents").Select(Event).OfType<SbmlEvent>()],
            Constraints = [.. List(_model, "listOfConstraints").Select(Constraint).OfType<SbmlConstraint>()],
            ConversionFactor = Reference(_model, "conversionFactor"),
            Lines = Lines(),
            Unread = [.. SbmlUnread.Of(_model)],
        };
        CheckIds(model);
        return Sized(model) with { Notes = [.. _notes] };
    }

    /// <summary>A size that neither the file nor anything in it gives is one: amounts and concentrations are then the same
    /// numbers.</summary>
    private SbmlModel Sized(SbmlModel model)
    {
        var given = model
            .InitialAssignments.Concat(model.AssignmentRules)
            .Concat(model.RateRules)
            .Concat(model.Events.SelectMany(one => one.Assignments))
            .Select(rule => rule.Variable)
            .ToHashSet();
        bool IsOpen(SbmlCompartment part) => part.Size is null && part.Dimensions != 0 && !given.Contains(part.Id);
        foreach (
            var open in model
                .Compartments.Where(IsOpen)
                .Where(open => model.Species.Any(species => species.Compartment == open.Id && !species.SubstanceOnly))
        )
        {
            _notes.Add(
                new(model.Lines.GetValueOrDefault(open.Id), $"The compartment {SbmlText.Id(open.Id)} has no size; 1 stands in its place.")
            );
        }
        return model with { Compartments = [.. model.Compartments.Select(part => IsOpen(part) ? part with { Size = 1 } : part)] };
    }

    private ImmutableDictionary<string, int> Lines()
    {
        var lines = ImmutableDictionary.CreateBuilder<string, int>();
        foreach (var element in _model.Descendants().Where(element => element.Name.Namespace == _space))
        {
            if ((Reference(element, "variable") ?? Reference(element, "symbol") ?? Reference(element, "id")) is { } id)
                lines[id] = ((IXmlLineInfo)element).LineNumber;
        }
        return lines.ToImmutable();
    }

    /// <summary>One thing, one id; what is named is there.</summary>
    private static void CheckIds(SbmlModel model)
    {
        var ids = model
            .Compartments.Select(part => part.Id)
            .Concat(model.Species.Select(part => part.Id))
            .Concat(model.Parameters.Select(part => part.Id))
            .Concat(model.Reactions.Select(part => part.Id))
            .ToList();
        if (ids.GroupBy(id => id).FirstOrDefault(group => group.Count() > 1) is { } twice)
            throw new SbmlException($"{model.At(twice.Key)}The id “{SbmlText.Id(twice.Key)}” stands for two things in this model.");
        if (model.Species.FirstOrDefault(part => model.Compartments.All(other => other.Id != part.Compartment)) is { } lost)
            throw new SbmlException(
                $"{model.At(lost.Id)}The species {lost.Id} is in the compartment “{lost.Compartment}”, which is not in the model."
            );
        foreach (var reaction in model.Reactions)
        {
            if (
                reaction
                    .Reactants.Concat(reaction.Products)
                    .FirstOrDefault(reference => model.Species.All(part => part.Id != reference.Species)) is
                { } missing
            )
                throw new SbmlException(
                    $"{model.At(reaction.Id)}The reaction {reaction.Id} names the species “{missing.Species}”, which is not in the model."
                );
        }
        if (
            model.AssignmentRules.Concat(model.RateRules).GroupBy(rule => rule.Variable).FirstOrDefault(group => group.Count() > 1) is
            { } ruled
        )
            throw new SbmlException($"{model.At(ruled.Key)}Two rules say what {ruled.Key} is.");
    }

    private static string Units(XElement part, string attribute, string otherwise = "") =>
        ((string?)part.Attribute(attribute))?.Trim() ?? otherwise;

    private static T With<T>(XElement part, T read)
        where T : SbmlPart =>
        read with
        {
            Note = SbmlAnnotations.Note(part),
            Units = Units(part, "units"),
            Plate = SbmlAnnotations.Plate(part),
            Symbol = SbmlAnnotations.Symbol(part),
        };
}
