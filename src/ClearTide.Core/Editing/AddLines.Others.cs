using ClearTide.Core.Expressions;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Editing;

public sealed partial record AddLines
{
    /// <summary>Inputs, curves, random inputs, events, statements and units.</summary>
    private sealed partial class Adding
    {
        private FormulaProblem? AddInput(QuickInput item)
        {
            var (points, problem) = PointsLine.Values(item.Points.Pairs, Document.UnitTable());
            if (problem is not null)
                return Whole(item.Text, problem);
            var known = Document.PartBySymbol(item.Symbol);
            if (known is not (null or Input))
                return Other(item.Symbol, item.Text);
            var made = (known as Input ?? new Input(NextId("i"), item.Symbol, item.Symbol, points)) with
            {
                Points = points,
                Between = item.Points.Between,
                Before = item.Points.Before,
                After = item.Points.After ?? Beyond.Hold,
                AfterIsChosen = item.Points.After is not null,
                Period = item.Points.Period,
            };
            Document = Document.With(made);
            Said.Add(
                $"{(known is null ? "adds" : "changes")} the input {item.Symbol} with {points.Length} "
                    + $"{(points.Length == 1 ? "point" : "points")}"
            );
            return null;
        }

        private FormulaProblem? AddCurve(QuickCurve item)
        {
            var known = Document.PartBySymbol(item.Symbol);
            if (known is not (null or ResponseCurve))
                return Other(item.Symbol, item.Text);
            var curve = (known as ResponseCurve ?? new ResponseCurve(NextId("r"), item.Symbol, item.Symbol, item.Law, [])) with
            {
                Law = item.Law,
                From = item.From,
                Until = item.Until,
            };
            if (item.Points is not null)
            {
                var (points, problem) = PointsLine.Values(item.Points.Pairs, Document.UnitTable());
                if ((problem ?? ResponseCurves.TooFew(points)) is { } wrong)
                    return Whole(item.Text, wrong);
                curve = curve with { Points = points, Between = item.Points.Between };
            }
            for (var k = 0; k < item.Lines.Length; k++)
                curve = ResponseCurves.WithLine(curve, curve.Fields[k], item.Lines[k]);
            Document = Document.With(curve);
            Said.Add($"{(known is null ? "adds" : "changes")} the response curve {item.Symbol}");
            return null;
        }

        private FormulaProblem? AddRandom(QuickRandom item)
        {
            var known = Document.PartBySymbol(item.Symbol);
            if (known is not (null or RandomInput))
                return Other(item.Symbol, item.Text);
            var made = known is RandomInput random
                ? random with
                {
                    Text = item.Line,
                }
                : new RandomInput(NextId("n"), item.Symbol, item.Symbol, item.Line);
            Document = Document.With(made);
            Said.Add($"{(known is null ? "adds" : "changes")} the random input {item.Symbol}");
            return null;
        }

        private FormulaProblem? AddEvent(QuickEvent item)
        {
            var id = NextId("e");
            Document = Document with { Events = Document.Events.Add(new(id, "", item.Text.Trim())) };
            Said.Add($"adds the event {item.Text.Trim()}");
            return null;
        }

        private FormulaProblem? AddStatement(QuickStatement item)
        {
            if (item.Statement.Length > Assumption.LongestText)
                return Whole(item.Text, $"A statement has at most {Assumption.LongestText} characters. Put the rest into its note.");
            var id = NextId(item.Expected ? "x" : "a");
            Document = item.Expected
                ? Document with
                {
                    Expectations = Document.Expectations.Add(new(id, item.Statement)),
                }
                : Document with
                {
                    Assumptions = Document.Assumptions.Add(new(id, item.Statement, [])),
                };
            Said.Add(item.Expected ? $"expects: {item.Statement}" : $"assumes: {item.Statement}");
            return null;
        }

        private FormulaProblem? AddUnit(QuickUnit item)
        {
            var result = new SetUnit(item.Rule.Word, item.Rule.Meaning).Apply(Document);
            if (result.Document is null)
                return Whole(item.Text, result.Refusal!);
            Document = result.Document;
            Said.Add($"adds the unit {item.Rule.Word}");
            return null;
        }
    }
}
