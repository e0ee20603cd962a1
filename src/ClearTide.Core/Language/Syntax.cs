namespace ClearTide.Core.Language;

/// <summary>Operators before one formula.</summary>
public enum UnaryOperator
{
    /// <summary>The number with the other sign.</summary>
    Negate,

    /// <summary>True where it is not.</summary>
    Not,
}

/// <summary>Operators between two formulas.</summary>
public enum BinaryOperator
{
    /// <summary>One or both are true.</summary>
    Or,

    /// <summary>Both are true.</summary>
    And,

    /// <summary>The first is below the second.</summary>
    Less,

    /// <summary>The first is not above the second.</summary>
    LessOrEqual,

    /// <summary>The first is above the second.</summary>
    Greater,

    /// <summary>The first is not below the second.</summary>
    GreaterOrEqual,

    /// <summary>Both are the same number.</summary>
    Equal,

    /// <summary>They are different numbers.</summary>
    NotEqual,

    /// <summary>The sum.</summary>
    Add,

    /// <summary>The difference.</summary>
    Subtract,

    /// <summary>The product.</summary>
    Multiply,

    /// <summary>The quotient.</summary>
    Divide,

    /// <summary>The first to the power of the second.</summary>
    Power,
}

/// <summary>A formula as a tree, each node with its place in the text as typed.</summary>
/// <param name="Span">Where it stands in the text.</param>
public abstract record Syntax(TextSpan Span)
{
    /// <summary>The parts of this node, left to right.</summary>
    public abstract IReadOnlyList<Syntax> Children { get; }

    /// <summary>All names in the tree, in order of appearance: those of the language left out, functions of the study included.</summary>
    public IEnumerable<NameSyntax> Names() => All().OfType<NameSyntax>();

    /// <summary>This node and all below it, each before what it is made of, left to right. Sums over large groups lie deep, so that
    /// nothing here recurs.</summary>
    public IEnumerable<Syntax> All()
    {
        var open = new Stack<Syntax>();
        open.Push(this);
        while (open.TryPop(out var node))
        {
            yield return node;
            for (var k = node.Children.Count - 1; k >= 0; k--)
                open.Push(node.Children[k]);
        }
    }

    /// <summary>All units typed in the tree.</summary>
    public IEnumerable<UnitText> Units() =>
        All()
            .Select(node =>
                node switch
                {
                    NumberSyntax number => number.Unit,
                    PerSyntax per => per.Unit,
                    _ => null,
                }
            )
            .OfType<UnitText>();
}

/// <summary>A number as typed: <c>12</c>, <c>2%</c> (Value is 0.02), <c>90 days</c> (Unit is set).</summary>
/// <param name="Span">Where it stands in the text.</param>
/// <param name="Value">The number that it stands for.</param>
/// <param name="Text">Its digits as typed.</param>
/// <param name="Percent">Whether a percent sign stands behind it.</param>
/// <param name="Unit">The unit behind it, or null.</param>
public sealed record NumberSyntax(TextSpan Span, double Value, string Text, bool Percent, UnitText? Unit) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => [];
}

/// <summary>A name of the model. With indices it names one member of a part that is split by groups: <c>C[child, j]</c> has the name
/// <c>C[child,j]</c>.</summary>
/// <param name="Span">Where it stands in the text.</param>
/// <param name="Name">The name with its indices.</param>
public sealed record NameSyntax(TextSpan Span, string Name) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => [];

    /// <summary>The name without indices.</summary>
    public string Base => MemberName.BaseOf(Name);

    /// <summary>Its indices as typed, each a member, a group or the variable of a sum; empty where there are none.</summary>
    public IReadOnlyList<string> Indices => MemberName.IndicesOf(Name);
}

/// <summary><c>sum(j in age, C[age, j] * I[j])</c>: a formula summed over the members of a group.</summary>
/// <param name="Span">Where in the text it stands.</param>
/// <param name="Variable">What stands for the member in the formula.</param>
/// <param name="Group">The group that is summed over.</param>
/// <param name="Term">The formula for one member.</param>
public sealed record SumSyntax(TextSpan Span, NameSyntax Variable, NameSyntax Group, Syntax Term) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => [Term];
}

/// <summary>An operator with the formula behind it.</summary>
/// <param name="Span">Where it stands in the text.</param>
/// <param name="Operator">The operator.</param>
/// <param name="Operand">What stands behind it.</param>
public sealed record UnarySyntax(TextSpan Span, UnaryOperator Operator, Syntax Operand) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => [Operand];
}

/// <summary>An operator between two formulas.</summary>
/// <param name="Span">Where it stands in the text.</param>
/// <param name="Operator">The operator.</param>
/// <param name="Left">What stands before it.</param>
/// <param name="Right">What stands behind it.</param>
public sealed record BinarySyntax(TextSpan Span, BinaryOperator Operator, Syntax Left, Syntax Right) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => [Left, Right];
}

/// <summary>A function of formulas.</summary>
/// <param name="Span">Where it stands in the text.</param>
/// <param name="Function">The function.</param>
/// <param name="Arguments">One formula for each argument.</param>
public sealed record CallSyntax(TextSpan Span, FunctionDefinition Function, IReadOnlyList<Syntax> Arguments) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => Arguments;
}

/// <summary>A call of a function that the study defines, an input or a response curve: <c>vaccination(t)</c>.</summary>
/// <param name="Span">Where it stands in the text.</param>
/// <param name="Callee">The name of the function.</param>
/// <param name="Arguments">One formula for each argument.</param>
public sealed record UserCallSyntax(TextSpan Span, NameSyntax Callee, IReadOnlyList<Syntax> Arguments) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => [Callee, .. Arguments];
}

/// <summary><c>line per 1000</c> (Number set) or <c>line per day</c> (Unit set): divides the whole line before it.</summary>
/// <param name="Span">Where it stands in the text.</param>
/// <param name="Inner">What is divided.</param>
/// <param name="Number">The divisor, or null where that is a unit.</param>
/// <param name="Unit">The unit, or null where that is a number.</param>
public sealed record PerSyntax(TextSpan Span, Syntax Inner, double? Number, UnitText? Unit) : Syntax(Span)
{
    /// <inheritdoc/>
    public override IReadOnlyList<Syntax> Children => [Inner];
}
