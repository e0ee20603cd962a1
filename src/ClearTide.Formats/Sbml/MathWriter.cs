using System.Globalization;
using System.Xml.Linq;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>Writes trees of the formula language as the MathML of SBML (Level 3 Version 2 core, section 3.4).</summary>
internal static class MathWriter
{
    private static readonly XNamespace Space = MathReader.Space;

    public static XElement Math(Syntax tree) => new(Space + "math", Node(tree));

    /// <summary>A number that reads back as the same bits.</summary>
    public static string Number(double value) =>
        double.IsNaN(value) ? "NaN"
        : double.IsPositiveInfinity(value) ? "INF"
        : double.IsNegativeInfinity(value) ? "-INF"
        : TypedNumber.Exact(value);

    private static XElement Node(Syntax tree) =>
        tree switch
        {
            NumberSyntax number => Constant(number.Value),
            NameSyntax { Name: "t" } => Symbol("time"),
            NameSyntax name => Name(name.Name),
            UnarySyntax { Operator: UnaryOperator.Negate } unary => Apply("minus", unary.Operand),
            UnarySyntax unary => Apply("not", unary.Operand),
            BinarySyntax binary => Binary(binary),
            CallSyntax { Function.Name: "if" } => Piecewise(tree),
            CallSyntax { Function.Name: Functions.Delay } delay => Applied(Symbol("delay"), delay.Arguments.Take(2)),
            CallSyntax call => Call(call),
            UserCallSyntax { Callee.Name: MathReader.RateOf } rate => Applied(Symbol("rateOf"), rate.Arguments),
            _ => throw new InvalidOperationException($"A {tree.GetType().Name} cannot be written."),
        };

    private static XElement Name(string name)
    {
        // Local parameters are known to trees by their reaction's name and their own.
        var dot = name.IndexOf('.', StringComparison.Ordinal);
        return new(Space + "ci", SbmlText.Id(dot < 0 ? name : name[(dot + 1)..]));
    }

    private static XElement Constant(double value)
    {
        if (double.IsNaN(value))
            return new(Space + "notanumber");
        if (double.IsPositiveInfinity(value))
            return new(Space + "infinity");
        if (double.IsNegativeInfinity(value))
            return new(Space + "apply", new XElement(Space + "minus"), new XElement(Space + "infinity"));
        var text = Number(value);
        var power = text.IndexOf('E', StringComparison.Ordinal);
        return power < 0
            ? new(Space + "cn", text)
            : new(
                Space + "cn",
                new XAttribute("type", "e-notation"),
                text[..power],
                new XElement(Space + "sep"),
                text[(power + 1)..].TrimStart('+')
            );
    }

    private static XElement Symbol(string name) =>
        new(
            Space + "csymbol",
            new XAttribute("encoding", "text"),
            new XAttribute("definitionURL", $"http://www.sbml.org/sbml/symbols/{name}"),
            name
        );

    private static XElement Applied(XElement head, IEnumerable<Syntax> arguments) => new(Space + "apply", head, arguments.Select(Node));

    private static XElement Apply(string operation, params IEnumerable<Syntax> arguments) => Applied(new(Space + operation), arguments);

    private static XElement Binary(BinarySyntax binary) =>
        binary.Operator switch
        {
            // Sums and products of many are one element: a file stays flat.
            BinaryOperator.Add or BinaryOperator.Multiply or BinaryOperator.And or BinaryOperator.Or => Apply(
                Names[binary.Operator],
                Chain(binary, binary.Operator)
            ),
            _ => Apply(Names[binary.Operator], binary.Left, binary.Right),
        };

    /// <summary>The members of a chain from left to right, which reads back as the same tree.</summary>
    private static List<Syntax> Chain(Syntax tree, BinaryOperator operation)
    {
        var members = new List<Syntax>();
        while (tree is BinarySyntax binary && binary.Operator == operation && members.Count < 98)
        {
            members.Add(binary.Right);
            tree = binary.Left;
        }
        members.Add(tree);
        members.Reverse();
        return members;
    }

    private static readonly Dictionary<BinaryOperator, string> Names = new()
    {
        [BinaryOperator.Add] = "plus",
        [BinaryOperator.Subtract] = "minus",
        [BinaryOperator.Multiply] = "times",
        [BinaryOperator.Divide] = "divide",
        [BinaryOperator.Power] = "power",
        [BinaryOperator.Less] = "lt",
        [BinaryOperator.LessOrEqual] = "leq",
        [BinaryOperator.Greater] = "gt",
        [BinaryOperator.GreaterOrEqual] = "geq",
        [BinaryOperator.Equal] = "eq",
        [BinaryOperator.NotEqual] = "neq",
        [BinaryOperator.And] = "and",
        [BinaryOperator.Or] = "or",
    };

    /// <summary>Choices in the other branch of a choice are further pieces of one element.</summary>
    private static XElement Piecewise(Syntax tree)
    {
        var element = new XElement(Space + "piecewise");
        while (tree is CallSyntax { Function.Name: "if" } choice)
        {
            element.Add(new XElement(Space + "piece", Node(choice.Arguments[1]), Node(choice.Arguments[0])));
            tree = choice.Arguments[2];
        }
        if (tree is not NumberSyntax { Value: double.NaN })
            element.Add(new XElement(Space + "otherwise", Node(tree)));
        return element;
    }

    private static XElement Call(CallSyntax call) =>
        call.Function.Name switch
        {
            "sqrt" => Apply("root", call.Arguments),
            "root" => new(
                Space + "apply",
                new XElement(Space + "root"),
                new XElement(Space + "degree", Node(call.Arguments[0])),
                Node(call.Arguments[1])
            ),
            "ceil" => Apply("ceiling", call.Arguments),
            "asin" or "acos" or "atan" or "asinh" or "acosh" or "atanh" => Apply($"arc{call.Function.Name[1..]}", call.Arguments),
            "ln" or "exp" or "abs" or "floor" or "factorial" or "sin" or "cos" or "tan" or "sinh" or "cosh" or "tanh" or "min" or "max" =>
                Apply(call.Function.Name, call.Arguments),
            var other => throw new InvalidOperationException($"{other} cannot be written."),
        };
}
