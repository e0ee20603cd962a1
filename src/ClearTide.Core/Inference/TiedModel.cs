using ClearTide.Core.Compilation;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Inference;

/// <summary>A model whose tied values follow from others: their formulas stand in the place of their numbers, so that whatever is done with
/// the model, derivatives included, is done with them.</summary>
public static class TiedModel
{
    /// <summary>The document with what its fit ties, and with what it frees; itself where it does neither. A value that is no longer there
    /// is passed over.</summary>
    /// <param name="document">The study; not changed.</param>
    public static StudyDocument Of(StudyDocument document)
    {
        document = FreedValues.Of(document);
        if (document.Fit.Ties.IsEmpty)
            return document;
        var network = Lowering.Lower(document).Network;
        var tied = document;
        foreach (var tie in document.Fit.Ties)
        {
            if (network.IndexOf(tie.Address) is >= 0 and var index)
                tied = ValueText.Write(tied, tie.Address, network.Values[index].PartId, tie.Formula, Origin.Fitted);
        }
        return tied;
    }

    /// <summary>The tied values where others are what a fit has found.</summary>
    /// <param name="document">The study with the ties of its fit.</param>
    /// <param name="found">Values by address, in the study's units.</param>
    /// <exception cref="ArgumentException">A formula cannot be worked out.</exception>
    public static IReadOnlyDictionary<ValueAddress, double> Values(StudyDocument document, IReadOnlyDictionary<ValueAddress, double> found)
    {
        var lowered = Lowering.Lower(Of(document));
        var values = lowered.With(found).Network.ValueVector();
        return document.Fit.Ties.ToDictionary(
            tie => tie.Address,
            tie =>
            {
                // What it follows from are values, or what follows from values: no amount takes part.
                var seen = new Observation("", "", tie.Address.ToString(), "", "1") { Seen = ObservedAs.Standing, Formula = tie.Formula };
                var (network, node) = SeenExpression.In(lowered.Network.Fork(), lowered.Document, seen);
                return network.Graph.Evaluate(node, document.Start, new double[network.States.Count], values);
            }
        );
    }

    /// <summary>What is wrong with a tie, in a sentence; null where nothing is.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="tie">The tie as typed.</param>
    public static string? Refusal(StudyDocument document, FitTie tie)
    {
        var network = Lowering.Lower(FreedValues.With(document, [tie.Address])).Network;
        if (FreedValues.Refusal(document, tie.Address) is { } refusal)
            return refusal;
        if (network.IndexOf(tie.Address) < 0)
            return $"There is no value “{tie.Address}” in the model any more. Take it out of the fit.";
        if (document.Fit.Parameters.Any(one => one.Address == tie.Address))
            return $"{tie.Address} is to be estimated and to follow from others. Choose one of both.";
        var read = Formula.Read(tie.Formula);
        if (read.Problem is { } problem)
            return $"What {tie.Address} follows from cannot be read. {problem.Message}";
        if (FreedValues.Holds(tie.Address) && read.HasNames)
            return $"{tie.Address} is a number of a table or of the calendar, which cannot follow from others. Hold it at a number.";
        if (!read.HasNames && !double.IsFinite(FormulaBinder.ValueOf(read.Tree!, document.UnitTable())))
            return $"{tie.Address} cannot be held at {tie.Formula}, which is no finite number. Type another one.";
        var written = WrittenOut.Of(document).Document;
        foreach (var name in read.Tree!.Names().Select(name => name.Name))
        {
            if (name == tie.Address.ToString())
                return $"{tie.Address} cannot follow from itself. Use other values.";
            if (written.DefinitionBySymbol(name) is null)
                return $"{tie.Address} follows from {name}, which is no value of the model. Use numbers and symbols of values.";
        }
        return null;
    }
}
