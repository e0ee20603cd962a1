using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using ClearTide.Core.Language;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Sbml;

/// <summary>Reads the MathML of SBML (Level 3 Version 2 core, section 3.4) into trees of the formula language.</summary>
/// <param name="functions">The function definitions of the model: their arguments and bodies.</param>
internal sealed class MathReader(IReadOnlyDictionary<string, XElement> functions)
{
    public static readonly XNamespace Space = "http://www.w3.org/1998/Math/MathML";

    /// <summary>Avogadro's number as SBML Level 3 Version 2 gives it (section 3.4.6).</summary>
    private const double Avogadro = 6.02214179e23;

    /// <summary>How the rate of change of a symbol stands in trees.</summary>
    public const string RateOf = "rateOf";

    private const int Deepest = 200;

    /// <summary>Functions that call functions grow fast when they are written out: all formulas of a file have so many terms
    /// together.</summary>
    private const int MostTerms = 400_000;

    private readonly Dictionary<Syntax, long> _lengths = new(ReferenceEqualityComparer.Instance);

    private int _depth,
        _terms;

    /// <summary>The tree of a math element.</summary>
    /// <param name="locals">Names that stand for others here: local parameters, arguments of functions.</param>
    /// <exception cref="SbmlException">Something in it is no mathematics that SBML has.</exception>
    public Syntax Read(XElement math, IReadOnlyDictionary<string, Syntax>? locals = null)
    {
        var content = math.Name.LocalName == "math" ? math.Elements().FirstOrDefault() ?? throw Wrong(math, "holds no formula") : math;
        return Node(content, locals ?? new Dictionary<string, Syntax>());
    }

    private static SbmlException Wrong(XElement at, string what) =>
        new($"Line {((IXmlLineInfo)at).LineNumber}: the MathML element “{at.Name.LocalName}” {what}.");

    private Syntax Node(XElement element, IReadOnlyDictionary<string, Syntax> locals)
    {
        if (++_terms > MostTerms)
            throw TooLong(element);
        if (++_depth > Deepest)
            throw Wrong(element, $"stands more than {Deepest} deep, or a function definition calls itself");
        try
        {
            var made = element.Name.LocalName switch
            {
                "cn" => Number(element),
                "ci" => Name(element, locals),
                "csymbol" => Symbol(element),
                "apply" => Apply(element, locals),
                "piecewise" => Piecewise(element, locals),
                "semantics" => Node(element.Elements().FirstOrDefault() ?? throw Wrong(element, "is empty"), locals),
                "true" => Of(1),
                "false" => Of(0),
                "pi" => Of(Math.PI),
                "exponentiale" => Of(Math.E),
                "infinity" => Of(double.PositiveInfinity),
                "notanumber" => Of(double.NaN),
                _ => throw Wrong(element, "is none that SBML has"),
            };
            // What is given to a function stands in its tree once, and counts wherever the function uses it.
            return Length(made) <= MostTerms ? made : throw TooLong(element);
        }
        finally
        {
            _depth--;
        }
    }

    private static SbmlException TooLong(XElement at) =>
        Wrong(at, $"is too much: the formulas of this file have more than {MostTerms:N0} terms when their functions are written out");

    private long Length(Syntax tree)
    {
        if (_lengths.TryGetValue(tree, out var known))
            return known;
        return _lengths[tree] = 1 + tree.Children.Sum(Length);
    }

    public static NumberSyntax Of(double value) => new(default, value, TypedNumber.Exact(value), false, null);

    private static Syntax Number(XElement element)
    {
        double Parse(string text) => SbmlText.Number(text) ?? throw Wrong(element, $"holds “{text.Trim()}”, which is no number");
        var parts = element
            .Nodes()
            .Aggregate(new List<string> { "" }, (texts, node) =>
            {
                if (node is XElement)
                    texts.Add("");
                else if (node is XText text)
                    texts[^1] += text.Value;
                return texts;
            });
        return ((string?)element.Attribute("type") ?? "real") switch
        {
            "e-notation" when parts.Count == 2 => Of(Parse($"{parts[0].Trim()}e{parts[1].Trim()}")),
            "rational" when parts.Count == 2 => Of(Parse(parts[0]) / Parse(parts[1])),
            "real" or "integer" when parts.Count == 1 => Of(Parse(parts[0])),
            _ => throw Wrong(element, "is of a kind that SBML does not have"),
        };
    }

    private static Syntax Name(XElement element, IReadOnlyDictionary<string, Syntax> locals)
    {
        var id = element.Value.Trim();
        return locals.TryGetValue(id, out var known) ? known : new NameSyntax(default, SbmlText.Alias(id));
    }

    private static Syntax Symbol(XElement element) =>
        ((string?)element.Attribute("definitionURL") ?? "").Split('/')[^1] switch
        {
            "time" => new NameSyntax(default, "t"),
            "avogadro" => Of(Avogadro),
            var other => throw Wrong(element, $"names “{other}”, which stands for no value in SBML"),
        };

    private Syntax Piecewise(XElement element, IReadOnlyDictionary<string, Syntax> locals)
    {
        // Where no piece holds and there is no other, the value is undefined.
        var result = element.Element(Space + "otherwise") is { } otherwise ? Node(otherwise.Elements().First(), locals) : Of(double.NaN);
        foreach (var piece in element.Elements(Space + "piece").Reverse())
        {
            var parts = piece.Elements().ToList();
            if (parts.Count != 2)
                throw Wrong(piece, "needs a value and a condition");
            result = Call("if", Node(parts[1], locals), Node(parts[0], locals), result);
        }
        return result;
    }

    public static CallSyntax Call(string name, params Syntax[] arguments) => new(default, Functions.Find(name)!, arguments);

    private static BinarySyntax Two(BinaryOperator operation, Syntax left, Syntax right) => new(default, operation, left, right);

    private static Syntax Inverse(Syntax of) => Two(BinaryOperator.Divide, Of(1), of);

    private Syntax Apply(XElement element, IReadOnlyDictionary<string, Syntax> locals)
    {
        var head = element.Elements().FirstOrDefault() ?? throw Wrong(element, "is empty");
        var rest = element.Elements().Skip(1).Where(child => child.Name.LocalName is not ("degree" or "logbase")).ToList();
        var a = rest.Select(argument => Node(argument, locals)).ToList();
        Syntax Qualifier(string name, double otherwise) =>
            element.Element(Space + name) is { } found ? Node(found.Elements().First(), locals) : Of(otherwise);
        Syntax One() => a.Count == 1 ? a[0] : throw Wrong(head, "takes one argument");
        (Syntax, Syntax) Pair() => a.Count == 2 ? (a[0], a[1]) : throw Wrong(head, "takes two arguments");
        Syntax Fold(BinaryOperator operation, double empty) =>
            a.Count == 0 ? Of(empty) : Folded(a, (left, right) => Two(operation, left, right));
        // A chain of comparisons holds where each neighbouring pair does.
        Syntax Chain(BinaryOperator operation) =>
            a.Count < 2
                ? Of(1)
                : Folded([.. Enumerable.Range(0, a.Count - 1).Select(k => (Syntax)Two(operation, a[k], a[k + 1]))], (left, right) =>
                    Two(BinaryOperator.And, left, right)
                );
        Syntax Not(Syntax what) => new UnarySyntax(default, UnaryOperator.Not, what);
        switch (head.Name.LocalName)
        {
            case "ci":
                return Function(head, a);
            case "csymbol":
                return Delayed(head, a);
            case "plus":
                return Fold(BinaryOperator.Add, 0);
            case "times":
                return Fold(BinaryOperator.Multiply, 1);
            case "minus":
                return a.Count == 1
                    ? new UnarySyntax(default, UnaryOperator.Negate, a[0])
                    : Two(BinaryOperator.Subtract, Pair().Item1, Pair().Item2);
            case "divide":
                return Two(BinaryOperator.Divide, Pair().Item1, Pair().Item2);
            case "power":
                return Two(BinaryOperator.Power, Pair().Item1, Pair().Item2);
            case "root":
                return element.Element(Space + "degree") is null ? Call("sqrt", One()) : Call("root", Qualifier("degree", 2), One());
            case "log":
                return Two(BinaryOperator.Divide, Call("ln", One()), Call("ln", Qualifier("logbase", 10)));
            case "ln" or "exp" or "abs" or "floor" or "factorial" or "sin" or "cos" or "tan" or "sinh" or "cosh" or "tanh":
                return Call(head.Name.LocalName, One());
            case "ceiling":
                return Call("ceil", One());
            case "arcsin" or "arccos" or "arctan" or "arcsinh" or "arccosh" or "arctanh":
                return Call("a" + head.Name.LocalName[3..], One());
            case "sec":
                return Inverse(Call("cos", One()));
            case "csc":
                return Inverse(Call("sin", One()));
            case "cot":
                return Inverse(Call("tan", One()));
            case "sech":
                return Inverse(Call("cosh", One()));
            case "csch":
                return Inverse(Call("sinh", One()));
            case "coth":
                return Inverse(Call("tanh", One()));
            case "arcsec":
                return Call("acos", Inverse(One()));
            case "arccsc":
                return Call("asin", Inverse(One()));
            case "arccot":
                return Call("atan", Inverse(One()));
            case "arcsech":
                return Call("acosh", Inverse(One()));
            case "arccsch":
                return Call("asinh", Inverse(One()));
            case "arccoth":
                return Call("atanh", Inverse(One()));
            case "min" or "max":
                return a.Count == 0
                    ? throw Wrong(head, "takes an argument")
                    : Folded(a, (left, right) => Call(head.Name.LocalName, left, right));
            case "quotient":
                return Whole(Two(BinaryOperator.Divide, Pair().Item1, Pair().Item2));
            case "rem":
                return Two(
                    BinaryOperator.Subtract,
                    Pair().Item1,
                    Two(BinaryOperator.Multiply, Pair().Item2, Whole(Two(BinaryOperator.Divide, Pair().Item1, Pair().Item2)))
                );
            case "lt":
                return Chain(BinaryOperator.Less);
            case "leq":
                return Chain(BinaryOperator.LessOrEqual);
            case "gt":
                return Chain(BinaryOperator.Greater);
            case "geq":
                return Chain(BinaryOperator.GreaterOrEqual);
            case "eq":
                return Chain(BinaryOperator.Equal);
            case "neq":
                return Two(BinaryOperator.NotEqual, Pair().Item1, Pair().Item2);
            case "and":
                return Fold(BinaryOperator.And, 1);
            case "or":
                return Fold(BinaryOperator.Or, 0);
            case "not":
                return Not(One());
            case "implies":
                return Two(BinaryOperator.Or, Not(Pair().Item1), Pair().Item2);
            case "xor":
                return a.Count == 0 ? Of(0) : Folded(a, (left, right) => Two(BinaryOperator.NotEqual, Not(left), Not(right)));
            default:
                throw Wrong(head, "is no operation that SBML has");
        }
    }

    /// <summary>From left to right; in halves where there are many, so that the tree is not deep.</summary>
    private static Syntax Folded(List<Syntax> a, Func<Syntax, Syntax, Syntax> two) =>
        a.Count <= 100 ? a.Aggregate(two) : two(Folded(a[..(a.Count / 2)], two), Folded(a[(a.Count / 2)..], two));

    /// <summary>The whole part, towards zero.</summary>
    private static Syntax Whole(Syntax of) => Call("if", Two(BinaryOperator.Less, of, Of(0)), Call("ceil", of), Call("floor", of));

    private static Syntax Delayed(XElement head, List<Syntax> a) =>
        ((string?)head.Attribute("definitionURL") ?? "").Split('/')[^1] switch
        {
            "delay" when a.Count == 2 => Call(Functions.Delay, a[0], a[1]),
            "rateOf" when a is [NameSyntax name] => new UserCallSyntax(default, new(default, RateOf), [name]),
            "rateOf" => throw Wrong(head, "asks for the rate of change of something that is no symbol"),
            var other => throw Wrong(head, $"names “{other}”, which is no function of SBML"),
        };

    /// <summary>A call of a function definition, written out with its arguments in place.</summary>
    private Syntax Function(XElement head, List<Syntax> arguments)
    {
        var id = head.Value.Trim();
        if (!functions.TryGetValue(id, out var lambda))
            throw Wrong(head, $"calls “{id}”, which is no function of the model");
        var names = lambda.Elements(Space + "bvar").Select(variable => variable.Value.Trim()).ToList();
        if (names.Count != arguments.Count)
            throw Wrong(head, $"calls {id} with {arguments.Count} arguments; it takes {names.Count}");
        var body = lambda.Elements().LastOrDefault(child => child.Name.LocalName is not "bvar")
            ?? throw Wrong(lambda, $"of {id} has no body");
        return Node(body, names.Zip(arguments).ToDictionary(pair => pair.First, pair => pair.Second));
    }
}
