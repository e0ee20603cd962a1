using ClearTide.Core.Language;

namespace ClearTide.Core.Units;

/// <summary>Reads units that stand alone: in a unit field, or as the meaning of a study's own unit.</summary>
internal static class UnitReader
{
    /// <summary>Reads <c>mg/L</c>, <c>1/day</c>, <c>people per day</c>.</summary>
    public static (UnitText? Unit, FormulaProblem? Problem) Read(string text)
    {
        var (number, unit, problem) = ReadScaled(text);
        if (unit is not null && number != 1)
            return (
                null,
                new(
                    new(0, text.Length),
                    "A unit has no number before it. A unit that is so many of another is added under the study's units."
                )
            );
        return (unit, problem);
    }

    /// <summary>Reads an optional number, then a unit: <c>200 mg</c>.</summary>
    public static (double Number, UnitText? Unit, FormulaProblem? Problem) ReadScaled(string text)
    {
        try
        {
            var parser = new Parser(text, Lexer.Read(text));
            var number = 1.0;
            var words = new List<UnitWord>();
            if (parser.Here.Kind == TokenKind.Number)
                number = parser.Take().Value;
            if (parser.Here.Is("/") && number == 1)
            {
                parser.Take();
                words.AddRange(parser.UnitHere().Words.Select(word => word with { Power = -word.Power }));
            }
            else
                words.AddRange(parser.UnitHere().Words);
            while (parser.Here.IsWord("per"))
            {
                parser.Take();
                words.AddRange(parser.UnitHere().Words.Select(word => word with { Power = -word.Power }));
            }
            parser.ExpectEnd();
            if (!(number > 0))
                return (0, null, new(new(0, text.Length), "A unit is a positive number of another."));
            return (number, new(text.Trim(), words), null);
        }
        catch (FormulaException wrong)
        {
            return (0, null, new(wrong.Problem.Span, "A unit is written like mg/L, people or 1/day.", []));
        }
    }
}
