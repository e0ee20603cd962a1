using ClearTide.Core.Units;

namespace ClearTide.Core.Language;

public enum UnaryOperator
{
    Negate,
    Not,
}

public enum BinaryOperator
{
    Or,
    And,
    Less,
    LessOrEqual,
    Greater,
    GreaterOrEqual,
    Equal,
    NotEqual,
    Add,
    Subtract,
    Multiply,
    Divide,
    Power,
}

/// <summary>A formula as a tree, each node with its place in the text as typed.</summary>
public abstract record Syntax(TextSpan Span)
{
    /// <summary>The parts of this node, left to right.</summary>
    public abstract IReadOnlyList<Syntax> Children { get; }

    /// <summary>All names in the tree, in order of appearance: those of the language left out, functions of the study included.</summary>
    public IEnumerable<NameSyntax> Names() => this is NameSyntax name ? [name] : Children.SelectMany(child => child.Names());

    /// <summary>This node and all below it.</summary>
    public IEnumerable<Syntax> All() => Children.SelectMany(child => child.All()).Prepend(this);

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
public sealed record NumberSyntax(TextSpan Span, double Value, string Text, bool Percent, UnitText? Unit) : Syntax(Span)
{
    public override IReadOnlyList<Syntax> Children => [];
}

public sealed record NameSyntax(TextSpan Span, string Name) : Syntax(Span)
{
    public override IReadOnlyList<Syntax> Children => [];
}

public sealed record UnarySyntax(TextSpan Span, UnaryOperator Operator, Syntax Operand) : Syntax(Span)
{
    public override IReadOnlyList<Syntax> Children => [Operand];
}

public sealed record BinarySyntax(TextSpan Span, BinaryOperator Operator, Syntax Left, Syntax Right) : Syntax(Span)
{
    public override IReadOnlyList<Syntax> Children => [Left, Right];
}

public sealed record CallSyntax(TextSpan Span, FunctionDefinition Function, IReadOnlyList<Syntax> Arguments) : Syntax(Span)
{
    public override IReadOnlyList<Syntax> Children => Arguments;
}

/// <summary>A call of a function that the study defines, an input or a response curve: <c>vaccination(t)</c>.</summary>
public sealed record UserCallSyntax(TextSpan Span, NameSyntax Callee, IReadOnlyList<Syntax> Arguments) : Syntax(Span)
{
    public override IReadOnlyList<Syntax> Children => [Callee, .. Arguments];
}

/// <summary><c>line per 1000</c> (Number set) or <c>line per day</c> (Unit set): divides the whole line before it.</summary>
public sealed record PerSyntax(TextSpan Span, Syntax Inner, double? Number, UnitText? Unit) : Syntax(Span)
{
    public override IReadOnlyList<Syntax> Children => [Inner];
}
