using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Editing;

/// <summary>Sets the number of a named response curve whose handle was dragged to a place.</summary>
/// <param name="PartId">Id of the part.</param>
/// <param name="Field">The number that the handle stands for.</param>
/// <param name="X">Where it was dropped, in the unit of the argument.</param>
/// <param name="Y">Where it was dropped, in the unit of the value.</param>
public sealed record DragHandle(string PartId, PartField Field, double X, double Y) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Part(PartId) is not ResponseCurve curve || !curve.Fields.Contains(Field))
            return EditResult.Refused("This curve has no such handle any more.");
        if (!double.IsFinite(X) || !double.IsFinite(Y))
            return EditResult.Refused("A place on the curve is two numbers.");
        if (Formula.Read(curve.Line(Field)).HasNames)
            return EditResult.Refused(
                $"The {Field.ToString().ToLowerInvariant()} of {curve.Symbol} is a formula; change what it is made of instead."
            );
        var units = document.UnitTable();
        double Value(PartField field, double otherwise) =>
            Formula.Read(curve.Line(field)) is { HasNames: false, Tree: { } tree } ? FormulaBinder.ValueOf(tree, units) : otherwise;
        var law = new CurveLawValues(
            curve.Law,
            Value(PartField.Low, 1),
            Value(PartField.High, 0),
            Value(PartField.Half, 0.5),
            Value(PartField.Slope, 1),
            double.NegativeInfinity,
            double.PositiveInfinity
        );
        var dragged = law.Dragged(Field, X, Y);
        return document.With(ResponseCurves.WithLine(curve, Field, TypedNumber.Short(dragged, 4)));
    }

    /// <inheritdoc/>
    public override string Topic => $"{PartId} {Field} dragged";

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"{before.Part(PartId)?.Name}: {Field.ToString().ToLowerInvariant()} dragged";
}
