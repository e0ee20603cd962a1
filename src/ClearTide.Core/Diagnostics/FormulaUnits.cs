using ClearTide.Core.Language;
using ClearTide.Core.Units;

namespace ClearTide.Core.Diagnostics;

/// <summary>Two units that should agree and do not, somewhere in a formula.</summary>
/// <param name="Where">The part of the formula that is wrong.</param>
/// <param name="Message">A sentence that says which two disagree.</param>
/// <param name="Fix">The whole formula changed so that they agree, or null.</param>
internal sealed record UnitSlip(TextSpan Where, string Message, TextFix? Fix);

/// <summary>
/// Works out the unit of a formula, and makes equal what must be: both sides of sums and comparisons, arguments of exp and the like with
/// pure numbers. A bare number takes the unit of what it is added to or compared with; in a product it is pure.
/// </summary>
/// <param name="solver">Where unknown units are settled.</param>
/// <param name="table">The unit words of the study.</param>
/// <param name="ofName">The unit of a symbol.</param>
/// <param name="ofCall">Units of argument and result of a function of the study; null where there is none of that name.</param>
/// <param name="text">The formula as typed, for what is reported.</param>
/// <param name="report">Told of each place where units do not go together.</param>
internal sealed class FormulaUnits(
    UnitSolver solver,
    UnitTable table,
    Func<string, UnitTerm> ofName,
    Func<string, (UnitTerm Argument, UnitTerm Result)?> ofCall,
    string text,
    Action<UnitSlip> report
)
{
    /// <summary>Rank of the unknown unit of a bare number: the first to give way.</summary>
    public const int BareRank = 0;

    private static readonly HashSet<string> SameUnit = ["abs", "floor", "ceil", "round"];

    /// <summary>Whether the formula is made of numbers without units alone.</summary>
    public static bool IsBare(Syntax tree) =>
        tree switch
        {
            NumberSyntax number => number.Unit is null && !number.Percent,
            NameSyntax or UserCallSyntax => false,
            PerSyntax per => per.Unit is null && IsBare(per.Inner),
            _ => tree.Children.All(IsBare),
        };

    /// <summary>Whether a number without a unit stands in a product somewhere, where it may hide a unit.</summary>
    public static bool HidesNumbers(Syntax tree) =>
        tree.All()
            .Any(node =>
                node is BinarySyntax { Operator: BinaryOperator.Multiply or BinaryOperator.Divide } product
                && product.Children.Any(child => IsBare(child))
            );

    /// <summary>The unit of a line as a whole: one of bare numbers can be anything.</summary>
    public UnitTerm OfLine(Syntax tree) => IsBare(tree) ? solver.NewUnknown(BareRank) : Of(tree);

    private UnitTerm Of(Syntax tree)
    {
        switch (tree)
        {
            case NumberSyntax number:
                return number.Unit is null ? UnitTerm.Pure : Typed(number.Unit);
            case NameSyntax { Name: "t" }:
                return UnitTerm.Of(table.TimeMeasure);
            case NameSyntax name:
                return ofName(name.Name);
            case UnarySyntax { Operator: UnaryOperator.Negate } negation:
                return Of(negation.Operand);
            case UnarySyntax not:
                Of(not.Operand);
                return UnitTerm.Pure;
            case PerSyntax per:
                return per.Unit is null ? Of(per.Inner) : Of(per.Inner).Per(Typed(per.Unit));
            case BinarySyntax binary:
                return Binary(binary);
            case CallSyntax call:
                return Call(call);
            case UserCallSyntax call:
                return UserCall(call);
            default:
                return UnitTerm.Pure;
        }
    }

    /// <summary>A word that names no unit is reported elsewhere; here it agrees with any unit.</summary>
    private UnitTerm Typed(UnitText unit) => table.Unknown(unit) is null ? UnitTerm.Of(table.Read(unit).Unit) : solver.NewUnknown(BareRank);

    private UnitTerm Binary(BinarySyntax binary)
    {
        switch (binary.Operator)
        {
            case BinaryOperator.Multiply:
                return Of(binary.Left).Times(Of(binary.Right));
            case BinaryOperator.Divide:
                return Of(binary.Left).Per(Of(binary.Right));
            case BinaryOperator.Power:
                return Power(binary);
            case BinaryOperator.Add or BinaryOperator.Subtract:
                return Same([binary.Left, binary.Right], binary.Operator == BinaryOperator.Add ? "added" : "subtracted");
            case BinaryOperator.And or BinaryOperator.Or:
                Of(binary.Left);
                Of(binary.Right);
                return UnitTerm.Pure;
            default:
                Same([binary.Left, binary.Right], "compared");
                return UnitTerm.Pure;
        }
    }

    private UnitTerm Power(BinarySyntax power)
    {
        if (IsBare(power.Right))
            return Of(power.Left).ToPower(FormulaBinder.ValueOf(power.Right, table));
        MustBePure(power.Right, "An exponent");
        MustBePure(power.Left, "What is raised to a power that varies");
        return UnitTerm.Pure;
    }

    /// <summary>All parts in one unit, which is returned.</summary>
    private UnitTerm Same(IReadOnlyList<Syntax> parts, string done)
    {
        var first = OfLine(parts[0]);
        for (var k = 1; k < parts.Count; k++)
        {
            var other = OfLine(parts[k]);
            var agreement = solver.Equate(first, other);
            if (agreement == Agreement.Agree)
                continue;
            var (a, b) = (solver.Resolve(first), solver.Resolve(other));
            var span = TextSpan.Between(parts[0].Span, parts[k].Span);
            var message = $"{Source(parts[0])} is {Words(a)} and {Source(parts[k])} is {Words(b)}: they cannot be {done}.";
            report(
                new(
                    span,
                    agreement == Agreement.OtherSize ? $"{message.TrimEnd('.')} until one is converted." : message,
                    agreement == Agreement.OtherSize && a.IsKnown && b.IsKnown
                        ? Convert(parts[k], b.Known, a.Known)
                        : MakeRate(parts[k], b, a)
                )
            );
        }
        return first;
    }

    /// <summary>The formula with one of its parts converted to another size of unit.</summary>
    public TextFix Convert(Syntax part, Unit from, Unit to) =>
        new($"Convert {Source(part)} to {Name(to)}", Replaced(part, UnitConversion.Line(Source(part), part, from, to, table)));

    /// <summary>Where only the unit of time is missing, a fix that says it.</summary>
    public TextFix? MakeRate(Syntax part, UnitTerm got, UnitTerm wanted)
    {
        var rest = solver.Resolve(wanted.Per(got));
        if (!rest.IsKnown)
            return null;
        var written = UnitConversion.WithTime(Source(part), part, rest.Known, table);
        return written is null ? null : new($"Make it {written}", Replaced(part, IsWhole(part) ? written : $"({written})"));
    }

    private bool IsWhole(Syntax part) => part.Span.Start <= text.Length - text.TrimStart().Length && part.Span.End >= text.TrimEnd().Length;

    private string Replaced(Syntax part, string with) => text[..part.Span.Start] + with + text[part.Span.End..];

    private void MustBePure(Syntax part, string what)
    {
        var unit = OfLine(part);
        if (solver.Equate(unit, UnitTerm.Pure) == Agreement.Agree)
            return;
        report(
            new(
                part.Span,
                $"{what} is a pure number, and {Source(part)} is {Words(solver.Resolve(unit))}. Divide it by something of its own unit.",
                null
            )
        );
    }

    private UnitTerm Call(CallSyntax call)
    {
        var (name, arguments) = (call.Function.Name, call.Arguments);
        switch (name)
        {
            case "min" or "max":
                return Same(arguments, "compared");
            case "mod":
                return Same(arguments, "compared");
            case "if":
                Of(arguments[0]);
                return Same([arguments[1], arguments[2]], "chosen between");
            case "sqrt":
                return Of(arguments[0]).ToPower(0.5);
            case "root" when IsBare(arguments[0]):
                return Of(arguments[1]).ToPower(1 / FormulaBinder.ValueOf(arguments[0], table));
            case Functions.Delay or Functions.Smooth:
                var unit = OfLine(arguments[0]);
                MustBeTime(arguments[1], $"The time of {name}");
                if (arguments.Count == 3 && name == Functions.Delay)
                    return Same([arguments[0], arguments[2]], "the same thing");
                return unit;
        }
        if (SameUnit.Contains(name))
            return OfLine(arguments[0]);
        foreach (var argument in arguments)
            MustBePure(argument, $"The argument of {name}");
        return UnitTerm.Pure;
    }

    private void MustBeTime(Syntax part, string what)
    {
        var unit = OfLine(part);
        if (solver.Equate(unit, UnitTerm.Of(table.TimeMeasure)) == Agreement.Agree)
            return;
        report(
            new(
                part.Span,
                $"{what} is a duration, and {Source(part)} is {Words(solver.Resolve(unit))}. Write for instance “5 {table.Time.Plural}”.",
                null
            )
        );
    }

    private UnitTerm UserCall(UserCallSyntax call)
    {
        var units = call.Arguments.Select(OfLine).ToList();
        if (ofCall(call.Callee.Name) is not { } known)
            return solver.NewUnknown(BareRank);
        if (units.Count == 1 && solver.Equate(units[0], known.Argument) != Agreement.Agree)
        {
            report(
                new(
                    call.Arguments[0].Span,
                    $"{call.Callee.Name} is a function of {Words(solver.Resolve(known.Argument))}, and {Source(call.Arguments[0])} "
                        + $"is {Words(solver.Resolve(units[0]))}.",
                    null
                )
            );
        }
        return known.Result;
    }

    private string Source(Syntax part) => text.Substring(part.Span.Start, Math.Min(part.Span.Length, text.Length - part.Span.Start));

    /// <summary>A unit in a sentence: “in mg/L”, “a pure number”.</summary>
    public static string Words(UnitTerm term) =>
        !term.IsKnown ? "in a unit that is not known"
        : term.Known.IsPure ? "a pure number"
        : $"in {Name(term.Known)}";

    public static string Name(Unit unit) => unit.Factors.Count == 0 ? "a pure number" : unit.Text();
}
