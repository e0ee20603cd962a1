using ClearTide.Core.Compilation;
using ClearTide.Core.Diagnostics;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>Pieces of SBML files, and what a file's symbols are at the end of its run.</summary>
internal static class SbmlFiles
{
    internal const string Time = "<csymbol encoding=\"text\" definitionURL=\"http://www.sbml.org/sbml/symbols/time\">t</csymbol>";

    internal static string Math(string content) => $"<math xmlns=\"http://www.w3.org/1998/Math/MathML\">{content}</math>";

    internal static string Apply(string operation, params string[] arguments) => $"<apply><{operation}/>{string.Concat(arguments)}</apply>";

    internal static string Ci(string id) => $"<ci>{id}</ci>";

    internal static string Cn(double value) => $"<cn>{value.ToString("R", System.Globalization.CultureInfo.InvariantCulture)}</cn>";

    internal static string File(string model, string level = "3", string version = "2") =>
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?><sbml "
        + $"xmlns=\"http://www.sbml.org/sbml/level{level}/version{version}{(level == "3" ? "/core" : "")}\" level=\"{level}\" "
        + $"version=\"{version}\"><model id=\"m\">{model}</model></sbml>";

    internal static string Compartment(double size = 1, string more = "constant=\"true\"") =>
        $"<listOfCompartments><compartment id=\"C\" size=\"{size}\" spatialDimensions=\"3\" {more}/></listOfCompartments>";

    internal static string Species(
        string id,
        string initial,
        string more = "hasOnlySubstanceUnits=\"false\" boundaryCondition=\"false\" constant=\"false\""
    ) => $"<species id=\"{id}\" compartment=\"C\" {initial} {more}/>";

    internal static string Reaction(string id, string from, string to, string rate, string locals = "") =>
        $"<reaction id=\"{id}\" "
        + $"reversible=\"false\">{(from.Length > 0 ? $"<listOfReactants>{from}</listOfReactants>" : "")}{(to.Length > 0 ? $"<listOfProducts>{to}</listOfProducts>" : "")}<kineticLaw>{Math(rate)}{locals}</kineticLaw></reaction>";

    internal static string Of(string species, string stoichiometry = "1", string more = "") =>
        $"<speciesReference species=\"{species}\" stoichiometry=\"{stoichiometry}\" constant=\"true\" {more}/>";

    /// <summary>What a symbol is at the end of a run; written and read again, the file gives the same bits.</summary>
    internal static double End(string file, string id, double end = 2, bool amounts = false, string? set = null, double value = 0)
    {
        var model = SbmlReader.Read(file);
        var found = End(model, id, end, amounts, set, value);
        Assert.Equal(found, End(SbmlReader.Read(SbmlWriter.Write(model)), id, end, amounts, set, value));
        // The study adds and multiplies in another order here and there, and finds conditions by other switches: eight digits.
        if (set is null && EndOfStudy(file, id, end, amounts) is { } own && double.IsFinite(found))
            Assert.Equal(found, own, System.Math.Max(1e-8 * System.Math.Abs(found), 1e-12));
        return found;
    }

    /// <summary>The same symbol at the end of the study that the file becomes; null where a note says that the study holds the model in
    /// part only.</summary>
    internal static double? EndOfStudy(string file, string id, double end = 2, bool amounts = false)
    {
        var model = SbmlReader.Read(file);
        var study = SbmlImport.Read(model, "model");
        if (study.FileNotes.Any(note => note.Contains("algebraic", StringComparison.OrdinalIgnoreCase)))
            return null;
        var lowered = Lowering.Lower(study);
        Assert.Empty(
            lowered
                .Findings.Where(finding => finding.Severity == Severity.Unfinished)
                .Select(finding => $"{finding.Message} ({finding.PartId is { } part} {study.Part(finding.PartId)?.Name})")
        );
        var compiled = new CompiledModel(lowered.Network);
        var values = lowered.Network.ValueVector();
        var run = Engines.Run(new(compiled, values, [0, end]));
        double? Of(string symbol)
        {
            var part = study.SymbolParts.FirstOrDefault(part => part.FileId == symbol) ?? study.PartBySymbol(symbol);
            if (part is null)
                return null;
            var k = lowered.Network.Amounts.ToList().FindIndex(one => one.PartId == part.Id);
            if (k >= 0)
                return run.AmountColumn(k)[1];
            k = lowered.Network.Quantities.ToList().FindIndex(one => one.PartId == part.Id);
            return k >= 0 ? run.QuantityColumn(k)[1]
                : lowered.Network.IndexOf(part.Symbol) is var index and >= 0 ? values[index]
                : null;
        }
        if (Of(id) is not { } found)
            return null;
        var species = model.Species.FirstOrDefault(part => part.Id == id);
        if (species is null || species.SubstanceOnly)
            return found;
        var size = Of(species.Compartment) ?? model.Compartments.First(part => part.Id == species.Compartment).Size ?? 1;
        // Compartments of a study hold amounts; what a rule says is as formulas speak of it.
        var form = SbmlLowering.Lower(model).Network;
        var isAmount =
            form.States.Any(state => state.PartId == id && state.IsAmount)
            || species.InitialAmount is not null
                && form.States.All(state => state.PartId != id)
                && model.AssignmentRules.Concat(model.InitialAssignments).All(rule => rule.Variable != id);
        return isAmount == amounts ? found
            : amounts ? found * size
            : found / size;
    }

    private static double End(SbmlModel file, string id, double end, bool amounts, string? set, double value)
    {
        var (form, columns) = SbmlLowering.Lower(file);
        var model = new CompiledModel(form);
        var values = form.ValueVector();
        if (set is not null)
            values[form.IndexOf(set)] = value;
        var run = Engines.Run(new(model, values, [0, end]));
        var column = columns.First(column => column.Id == id);
        return run.QuantityColumn(amounts ? column.Amount : column.Concentration)[1];
    }

    internal static string Event(
        string trigger,
        string assignments,
        string more = "",
        string attributes = "useValuesFromTriggerTime=\"true\"",
        string triggerAttributes = "initialValue=\"true\" persistent=\"true\""
    ) =>
        $"<event {attributes}><trigger "
        + $"{triggerAttributes}>{Math(trigger)}</trigger>{more}<listOfEventAssignments>{assignments}</listOfEventAssignments></event>";

    internal static string Set(string variable, string math) => $"<eventAssignment variable=\"{variable}\">{Math(math)}</eventAssignment>";

    internal static string WithEvents(string events, string more = "") =>
        File(
            Compartment(2)
                + $"<listOfSpecies>{Species("A", "initialConcentration=\"1\"")}</listOfSpecies><listOfParameters><parameter id=\"p\" "
                + "value=\"1\" constant=\"false\"/><parameter id=\"x\" value=\"0\" constant=\"false\"/></listOfParameters>"
                + $"<listOfRules><rateRule variable=\"x\">{Math(Cn(1))}</rateRule></listOfRules>{more}<listOfEvents>{events}</listOfEvents>"
        );
}
