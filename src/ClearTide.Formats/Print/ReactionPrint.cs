using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Print;

/// <summary>What a reaction takes and makes, in print.</summary>
public static class ReactionPrint
{
    /// <summary>As MathML without its outermost element: <c>A + 2 B → C</c>.</summary>
    public static string MathMl(ReactionLine line) => $"{Side(line.Takes)}<mo>→</mo>{Side(line.Makes)}";

    public static string Latex(ReactionLine line) => $"{LatexSide(line.Takes)} \\rightarrow {LatexSide(line.Makes)}";

    private static string Side(IReadOnlyList<ReactionEnd> ends) =>
        ends.Count == 0
            ? "<mtext>outside</mtext>"
            : string.Join(
                "<mo>+</mo>",
                ends.Select(end =>
                    Count(end, Print.MathMl.Inner, "<mo>(</mo>", "<mo>)</mo>", "<mspace width=\"0.2em\"></mspace>")
                    + Print.MathMl.Symbol(end.Name.Name)
                )
            );

    private static string LatexSide(IReadOnlyList<ReactionEnd> ends) =>
        ends.Count == 0
            ? "\\text{outside}"
            : string.Join(" + ", ends.Select(end => $"{Count(end, Print.Latex.Of, "(", ")")} {Print.Latex.Symbol(end.Name.Name)}".Trim()));

    private static string Count(ReactionEnd end, Func<Syntax, string> print, string open, string close, string space = "") =>
        end.Count switch
        {
            null or NumberSyntax { Value: 1 } => "",
            NumberSyntax => print(end.Count) + space,
            _ => $"{open}{print(end.Count)}{close}",
        };
}
