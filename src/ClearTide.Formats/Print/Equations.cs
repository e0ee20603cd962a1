using System.Net;
using System.Text;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Print;

/// <summary>One equation of a model: what stands left of the equals sign, in three scripts, and the formula to its right.</summary>
/// <param name="Group">Under which heading it stands.</param>
/// <param name="Label">What the line is about, in words.</param>
public sealed record Equation(string Group, string Label, string Text, string MathMl, string Latex)
{
    /// <summary>Whether it is said in words, which wrap where a formula does not.</summary>
    public bool IsWords => MathMl.StartsWith("<mtext>", StringComparison.Ordinal);
}

/// <summary>
/// The complete list of a model's equations, the balance of each compartment assembled from its flows: what a reader needs to write the
/// model
/// down again.
/// </summary>
public static class Equations
{
    public static IReadOnlyList<Equation> Of(StudyDocument document)
    {
        var all = new List<Equation>();
        all.AddRange(GroupEquations.Of(document));
        document = GroupEquations.Indexed(document);
        foreach (var part in document.Compartments)
            all.Add(Balance(document, part));
        foreach (var flow in document.Flows.Where(flow => flow.Stages > 1))
        {
            all.Add(
                Words(
                    "Balances",
                    flow.Label,
                    $"{document.Describe(flow)} is passed in {flow.Stages} stages, each at {flow.Stages} times the rate: an "
                        + "Erlang-distributed stay."
                )
            );
        }
        foreach (var flow in document.Flows.Where(flow => flow.Limited))
        {
            all.Add(
                Words(
                    "Balances",
                    flow.Label,
                    $"{document.Describe(flow)} is limited: never below zero, and out of an empty compartment no more than flows in."
                )
            );
        }
        foreach (var flow in document.Flows.Where(flow => flow.NoiseIntensity > 0))
        {
            all.Add(
                Words(
                    "Balances",
                    flow.Label,
                    $"{document.Describe(flow)} is noisy by chance: over a step h its rate counts as its mean times g/h, "
                        + $"g gamma-distributed with mean h and variance {TypedNumber.Short(flow.NoiseIntensity * flow.NoiseIntensity)} h."
                )
            );
        }
        foreach (var part in document.Compartments)
            all.Add(Start(part));
        foreach (var part in document.Reactions)
            all.Add(Of(part));
        foreach (var part in document.Definitions.OrderBy(part => Formula.Read(part.Text).HasNames))
            all.Add(Plain(Formula.Read(part.Text).HasNames ? "Quantities" : "Parameters", part.Label, part.Symbol, part.Text));
        foreach (var part in document.Curves)
            all.Add(Curve(part));
        foreach (var part in document.Inputs)
            all.Add(Words("Inputs", part.Label, $"{part.Symbol}(t) = {LineText.Points(part)}"));
        foreach (var part in document.RandomInputs)
            all.Add(Words("Random inputs", part.Label, $"{part.Symbol} = {part.Text}"));
        foreach (var part in document.Events)
            all.Add(Words("Events", part.Label, part.Text));
        return all;
    }

    /// <summary>All equations as plain text, heading by heading.</summary>
    public static string Text(StudyDocument document) => Grouped(document, heading => heading, equation => equation.Text);

    public static string Latex(StudyDocument document) =>
        Grouped(document, heading => $"% {heading}", equation => $"\\[ {equation.Latex} \\]");

    public static string MathMlPage(StudyDocument document) =>
        Grouped(document, heading => $"<!-- {heading} -->", equation => $"<math display=\"block\">{equation.MathMl}</math>");

    private static string Grouped(StudyDocument document, Func<string, string> heading, Func<Equation, string> line)
    {
        var text = new StringBuilder();
        foreach (var group in Of(document).GroupBy(equation => equation.Group))
        {
            if (text.Length > 0)
                text.Append('\n');
            text.Append(heading(group.Key)).Append('\n');
            foreach (var equation in group)
                text.Append(line(equation)).Append('\n');
        }
        return text.ToString();
    }

    private static Equation Words(string group, string label, string sentence) =>
        new(group, label, sentence, $"<mtext>{WebUtility.HtmlEncode(sentence)}</mtext>", $"\\text{{{Print.Latex.Escape(sentence)}}}");

    /// <param name="argument">What stands in parentheses behind the symbol, if anything.</param>
    private static Equation Plain(string group, string label, string symbol, string line, string argument = "")
    {
        var of = argument.Length == 0 ? "" : $"({argument})";
        return Formula.Read(line).Tree is { } tree
            ? new(
                group,
                label,
                $"{symbol}{of} = {line}",
                $"<mrow>{At(symbol, argument)}<mo>=</mo>{MathMl.Inner(tree)}</mrow>",
                $"{Print.Latex.Symbol(symbol)}{of} = {Print.Latex.Of(tree)}"
            )
            : Words(group, label, $"{symbol}{of} = {(line.Length == 0 ? "?" : line)}");
    }

    /// <summary>A symbol with an argument behind it, in MathML.</summary>
    private static string At(string symbol, string argument) =>
        argument.Length == 0
            ? MathMl.Symbol(symbol)
            : $"<mrow>{MathMl.Symbol(symbol)}<mo>(</mo>{string.Concat(argument.Split(' ').Select(sign => sign == "+" ? "<mo>+</mo>" : sign == "0" ? "<mn>0</mn>" : $"<mi>{sign}</mi>"))}<mo>)</mo></mrow>";

    private static Equation Start(Compartment part)
    {
        var start = StartLine.Read(part.Start);
        if (start.AtEquilibrium)
            return Words("Initial amounts", part.Label, $"{part.Symbol}(0): {part.Start}");
        var rest = start.TheRest ? "the rest of " : "";
        if (start.Formula.Tree is not { } tree)
            return Words("Initial amounts", part.Label, $"{part.Symbol}(0) = {(part.Start.Length == 0 ? "?" : part.Start)}");
        return new(
            "Initial amounts",
            part.Label,
            $"{part.Symbol}(0) = {part.Start}",
            $"<mrow>{At(part.Symbol, "0")}<mo>=</mo>{(rest.Length > 0 ? $"<mtext>{rest}\u00a0</mtext>" : "")}{MathMl.Inner(tree)}</mrow>",
            $"{Print.Latex.Symbol(part.Symbol)}(0) = {(rest.Length > 0 ? $"\\text{{{rest}}}" : "")}{Print.Latex.Of(tree)}"
        );
    }

    private static Equation Curve(ResponseCurve part)
    {
        string Line(PartField field) => Formula.Read(part.Line(field)).Tree is null ? "?" : part.Line(field);
        var law = part.Law switch
        {
            CurveLaw.Linear => $"({Line(PartField.Low)}) + ({Line(PartField.Slope)}) * x",
            CurveLaw.Exponential => $"({Line(PartField.Low)}) * exp(({Line(PartField.Slope)}) * x)",
            CurveLaw.Hill =>
                $"({Line(PartField.Low)}) + (({Line(PartField.High)}) - ({Line(PartField.Low)})) * x ^ ({Line(PartField.Slope)}) / "
                    + $"(({Line(PartField.Half)}) ^ ({Line(PartField.Slope)}) + x ^ ({Line(PartField.Slope)}))",
            CurveLaw.Logistic => $"({Line(PartField.Low)}) + (({Line(PartField.High)}) - ({Line(PartField.Low)})) / (1 + "
                + $"exp(-({Line(PartField.Slope)}) * (x - ({Line(PartField.Half)}))))",
            _ => "",
        };
        if (law.Length == 0 || Formula.Read(law).Tree is not { } tree)
            return Words("Response curves", part.Label, LineText.Of(new StudyDocument { Title = "" }, part));
        return new(
            "Response curves",
            part.Label,
            $"{part.Symbol}(x) = {FormulaText.Of(tree)}",
            $"<mrow>{At(part.Symbol, "x")}<mo>=</mo>{MathMl.Inner(tree)}</mrow>",
            $"{Print.Latex.Symbol(part.Symbol)}(x) = {Print.Latex.Of(tree)}"
        );
    }

    /// <summary>What a compartment gains and loses, term by term in the order of the flows.</summary>
    private static Equation Balance(StudyDocument document, Compartment part)
    {
        var (text, mathMl, latex) = (new StringBuilder(), new StringBuilder(), new StringBuilder());
        if (document.Solver.IsDiscrete)
        {
            // One step of length h later there is what was there, and what the flows bring and take; or what is given outright.
            if (part.Next.Length > 0)
                return Plain("Balances", part.Label, part.Symbol, part.Next, "t + h");
            (text, mathMl, latex) = (new(part.Symbol), new(MathMl.Symbol(part.Symbol)), new(Print.Latex.Symbol(part.Symbol)));
        }
        foreach (var (sign, tree) in Terms(document, part))
        {
            var first = text.Length == 0;
            // What is weaker than a product would fall apart behind a sign.
            var weak = PrintStrength.Of(tree) < 6;
            text.Append(
                    first ? (sign < 0 ? "-" : "")
                    : sign < 0 ? " - "
                    : " + "
                )
                .Append(weak ? $"({FormulaText.Of(tree)})" : FormulaText.Of(tree));
            mathMl
                .Append(
                    first ? (sign < 0 ? "<mo>−</mo>" : "")
                    : sign < 0 ? "<mo>−</mo>"
                    : "<mo>+</mo>"
                )
                .Append(weak ? $"<mrow><mo>(</mo>{MathMl.Inner(tree)}<mo>)</mo></mrow>" : MathMl.Inner(tree));
            latex
                .Append(
                    first ? (sign < 0 ? "-" : "")
                    : sign < 0 ? " - "
                    : " + "
                )
                .Append(weak ? $"\\left({Print.Latex.Of(tree)}\\right)" : Print.Latex.Of(tree));
        }
        if (document.Solver.IsDiscrete)
            return new(
                "Balances",
                part.Label,
                $"{part.Symbol}(t + h) = {text}",
                $"<mrow>{At(part.Symbol, "t + h")}<mo>=</mo>{mathMl}</mrow>",
                $"{Print.Latex.Symbol(part.Symbol)}(t + h) = {latex}"
            );
        if (text.Length == 0)
            (text, mathMl, latex) = (new("0"), new("<mn>0</mn>"), new("0"));
        var symbol = MathMl.Symbol(part.Symbol);
        return new(
            "Balances",
            part.Label,
            $"d{part.Symbol}/dt = {text}",
            $"<mrow><mfrac><mrow><mi>d</mi>{(part.Symbol.Length > 1 && !Symbols.Greek.ContainsKey(part.Symbol) ? "<mspace width=\"0.15em\"></mspace>" : "")}{symbol}</mrow><mrow><mi>d</mi><mi>t</mi></mrow></mfrac><mo>=</mo>{mathMl}</mrow>",
            $"\\frac{{d {Print.Latex.Symbol(part.Symbol)}}}{{dt}} = {latex}"
        );
    }

    /// <summary>A reaction with its rate, which the balances read by its symbol.</summary>
    private static Equation Of(Reaction part)
    {
        if (ReactionLine.Read(part.Text).Line is not { } line)
            return Words("Reactions", part.Label, $"{part.Symbol}: {(part.Text.Length == 0 ? "?" : part.Text)}");
        var ends = part.Text[..^line.RateText.Length].TrimEnd(' ', ':');
        return new(
            "Reactions",
            part.Label,
            $"{part.Symbol} = {line.RateText}  ({ends})",
            $"<mrow>{MathMl.Symbol(part.Symbol)}<mo>=</mo>{MathMl.Inner(line.Rate)}<mspace "
                + $"width=\"1.5em\"></mspace><mo>(</mo>{ReactionPrint.MathMl(line)}<mo>)</mo></mrow>",
            $"{Print.Latex.Symbol(part.Symbol)} = {Print.Latex.Of(line.Rate)} \\qquad ({ReactionPrint.Latex(line)})"
        );
    }

    /// <summary>How many of a compartment a reaction makes, or takes, for each unit of it.</summary>
    private static IEnumerable<(int Sign, Syntax Tree)> Terms(Reaction part, string symbol)
    {
        if (ReactionLine.Read(part.Text).Line is not { } line)
            yield break;
        foreach (var end in line.Ends.Where(end => end.Name.Name == symbol))
        {
            var rate = new NameSyntax(default, part.Symbol);
            yield return (
                line.Makes.Contains(end) ? 1 : -1,
                end.Count is null or NumberSyntax { Value: 1 } ? rate : new BinarySyntax(default, BinaryOperator.Multiply, end.Count, rate)
            );
        }
    }

    private static IEnumerable<(int Sign, Syntax Tree)> Terms(StudyDocument document, Compartment part)
    {
        foreach (var term in document.Reactions.SelectMany(reaction => Terms(reaction, part.Symbol)))
            yield return term;
        foreach (var flow in document.Flows)
        {
            if (Rate(document, flow) is not { } rate)
                continue;
            if (flow.From == part.Id)
                yield return (-1, rate);
            for (var k = 0; k < flow.To.Length; k++)
            {
                if (flow.To[k].Id == part.Id)
                    yield return (1, flow.FansOut ? Product(Share(flow, k), rate) : rate);
            }
        }
    }

    private static Syntax? Rate(StudyDocument document, Flow flow)
    {
        if (Formula.Read(flow.Rate).Tree is not { } line)
            return null;
        if (flow.Kind == RateKind.Whole)
            return line;
        if (document.Compartment(flow.From) is not { } from)
            return null;
        var amount = new NameSyntax(default, from.Symbol);
        if (flow.Kind == RateKind.PerHead)
            return Product(line, amount);
        return new BinarySyntax(
            default,
            BinaryOperator.Divide,
            document.Solver.IsDiscrete ? Product(new NameSyntax(default, "h"), amount) : amount,
            line
        );
    }

    private static BinarySyntax Product(Syntax left, Syntax right) => new(default, BinaryOperator.Multiply, left, right);

    private static Syntax Share(Flow flow, int k)
    {
        if (flow.To[k].Share.Length > 0)
            return Formula.Read(flow.To[k].Share).Tree ?? new NumberSyntax(default, 0, "0", false, null);
        Syntax rest = new NumberSyntax(default, 1, "1", false, null);
        foreach (var target in flow.To.Where(target => target.Share.Length > 0))
        {
            if (Formula.Read(target.Share).Tree is { } share)
                rest = new BinarySyntax(default, BinaryOperator.Subtract, rest, share);
        }
        return rest;
    }
}
