using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Editing;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Conversion;

/// <summary>
/// Lets a flow meet the members of a group by a matrix of contacts: what its rate says of all members together, <c>total(I) / N</c>,
/// becomes
/// <c>sum(j in age, C[age, j] * I[j] / N[j])</c>. A matrix whose largest eigenvalue is 1 leaves the growth of the early epidemic as it was.
/// </summary>
/// <param name="PartId">Id of the flow.</param>
/// <param name="GroupId">Id of the group.</param>
/// <param name="Table">The matrix as pasted, a row for who meets and a column for whom; or one number from 0 to 1 for the share of contacts
/// that is kept for one's own group.</param>
/// <param name="IsBalanced">Whether contacts are made mutual by the sizes at the start.</param>
/// <param name="Eigenvalue">What the matrix is scaled to; null to keep it as it is.</param>
public sealed record SetMixing(string PartId, string GroupId, string Table, bool IsBalanced, double? Eigenvalue) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Flow(PartId) is not { } flow || document.Groups.FirstOrDefault(group => group.Id == GroupId) is not { } group)
            return EditResult.Refused("This flow or this group is no longer in the study.");
        if (Eigenvalue is { } asked && !(asked > 0 && double.IsFinite(asked)))
            return EditResult.Refused("The largest eigenvalue is a number above zero.");
        if (
            document.Compartment(flow.From) is not { } from
            || !document.GroupsOf(from.Id).Contains(group)
            || flow.Kind == RateKind.MeanStay
        )
            return EditResult.Refused($"Contacts by a matrix belong to a flow out of a compartment that is split by {group.Symbol}.");
        var product = new Product(document, group, flow.Rate);
        if (product.Problem is { } why)
            return EditResult.Refused(why);
        // The whole of a population that is divided by becomes that of each member.
        if (
            product.Totals.Where(part => !document.GroupsOf(part.Id).Contains(group)).Select(part => part.Id).ToImmutableArray() is
            { IsEmpty: false } split
        )
        {
            if (new SplitParts(group.Id, split, []).Apply(document) is { Document: { } made })
                document = made;
            flow = document.Flow(PartId)!;
            product = new(document, group, flow.Rate);
        }
        var sizes = Sizes(document, group, product);
        var (matrix, problem) = Matrix(group, sizes);
        if (matrix is null)
            return EditResult.Refused(problem!);
        return Written(document, flow, group, product, matrix);
    }

    private (double[,]? Matrix, string? Problem) Matrix(Group group, IReadOnlyList<double> sizes)
    {
        var count = group.Members.Length;
        double[,] numbers;
        if (TypedNumber.Read(Table.Trim().TrimEnd('%')) is { } kept && count > 1)
        {
            kept = Table.Trim().EndsWith('%') ? kept / 100 : kept;
            if (!(kept is >= 0 and <= 1))
                return (null, "The share of contacts that is kept for one's own group lies between 0 and 1.");
            numbers = MixingMatrix.Assortative(kept, sizes);
        }
        else
        {
            var pasted = PastedMatrix.Read(Table, count, count);
            if (pasted.Problem is { } wrong)
                return (null, wrong);
            numbers = pasted.Numbers();
        }
        foreach (var number in numbers)
        {
            if (!(number >= 0) || double.IsInfinity(number))
                return (null, $"{TypedNumber.Short(number)} cannot be a number of contacts: they lie from zero on.");
        }
        if (IsBalanced)
        {
            if (sizes.Any(size => !(size > 0)))
                return (
                    null,
                    "A group that holds nobody at the start has no contacts to balance. Give all members "
                        + "initial amounts, or do not balance."
                );
            numbers = MixingMatrix.Balanced(numbers, sizes);
        }
        var largest = MixingMatrix.LargestEigenvalue(numbers);
        if (!(largest > 0))
            return (null, "All of these contacts are zero, so that nothing is met. Paste a matrix with numbers above zero.");
        if (Eigenvalue is { } wanted)
        {
            for (var i = 0; i < count; i++)
            {
                for (var j = 0; j < count; j++)
                    numbers[i, j] *= wanted / largest;
            }
        }
        return (numbers, null);
    }

    /// <summary>Digits of an entry that was balanced or scaled: more than contacts are known to, and few enough to be read.</summary>
    private const int Digits = 6;

    private static StudyDocument Written(StudyDocument document, Flow flow, Group group, Product product, double[,] matrix)
    {
        var symbol = Free(document, "C");
        var id = $"v{document.NextId}";
        var lines = ImmutableArray.CreateBuilder<MemberLine>();
        for (var i = 0; i < group.Members.Length; i++)
        {
            for (var j = 0; j < group.Members.Length; j++)
                lines.Add(new($"{group.Members[i].Symbol},{group.Members[j].Symbol}", TypedNumber.Short(matrix[i, j], Digits)));
        }
        var variable = Free(document, "j");
        return document.With(flow with { Rate = product.With(symbol, variable) }) with
        {
            Definitions = document.Definitions.Add(
                new(id, symbol, $"Contacts of one (row) with each {group.Symbol} (column)", lines[0].Text)
            ),
            Splits = document.Splits.Add(new(id, [group.Id, group.Id]) { Lines = lines.ToImmutable() }),
            NextId = document.NextId + 1,
        };
    }

    private static string Free(StudyDocument document, string wanted) =>
        new[] { wanted }
            .Concat(Enumerable.Range(2, 999).Select(number => $"{wanted}{number}"))
            .First(symbol => document.PartBySymbol(symbol) is null && document.GroupBySymbol(symbol) is null);

    /// <summary>How many are in each member at the start: of what the rate divides by, or of all compartments that are split.</summary>
    private static double[] Sizes(StudyDocument document, Group group, Product product)
    {
        var lowered = Lowering.Lower(document);
        var network = lowered.Network;
        var values = network.ValueVector();
        var state = network.Initial.Select(node => network.Graph.Evaluate(node, document.Start, [], values)).ToArray();
        double Of(string member)
        {
            if (product.Totals.FirstOrDefault() is { } total)
            {
                var ids = lowered.Written.Members(total.Id).Where(one => one.Members.Contains(member)).Select(one => one.Id).ToHashSet();
                var parts = network.Quantities.Concat(network.Amounts).Where(one => ids.Contains(one.PartId)).ToList();
                if (parts.Count > 0)
                    return parts.Sum(part => network.Graph.Evaluate(part.Node, document.Start, state, values));
            }
            return document
                .Compartments.SelectMany(part => lowered.Written.Members(part.Id))
                .Where(one => one.Members.Contains(member))
                .Sum(one =>
                    network
                        .Amounts.Where(amount => amount.PartId == one.Id)
                        .Sum(amount => network.Graph.Evaluate(amount.Node, document.Start, state, values))
                );
        }
        return [.. group.Members.Select(member => Of(member.Symbol))];
    }

    /// <summary>A rate as a product: factors that speak of all members together, the rest, and what it is divided by.</summary>
    private sealed class Product
    {
        private readonly StudyDocument _document;
        private readonly List<Syntax> _met = [];
        private readonly List<Syntax> _others = [];
        private readonly List<Syntax> _divisors = [];

        public Product(StudyDocument document, Group group, string rate)
        {
            _document = document;
            if (Formula.Read(rate).Tree is not { } tree)
            {
                Problem = "This flow has no rate yet. Type one, as in “beta * S * total(I) / N”.";
                return;
            }
            Collect(tree, false);
            if (_met is [SumSyntax])
                Problem = "Contacts are by a sum over members already. Change the matrix in it, in the ledger.";
            else if (_met.Count != 1)
                Problem =
                    _met.Count == 0
                        ? $"Nothing in this rate is met: it names no sum over {group.Symbol}, as {IndexedFormula.Total}(I) is one. "
                            + "Write it as a product, as in “beta * S * total(I) / N”."
                        : "This rate is a product of several sums, and contacts are with one. Write it as in “beta * S * total(I) / N”.";
        }

        public string? Problem { get; }

        /// <summary>What it divides by: populations, which become those of each member.</summary>
        public IReadOnlyList<Definition> Totals => [.. _divisors.Select(Population).OfType<Definition>()];

        private void Collect(Syntax tree, bool below)
        {
            switch (tree)
            {
                case BinarySyntax { Operator: BinaryOperator.Multiply } product:
                    Collect(product.Left, below);
                    Collect(product.Right, below);
                    break;
                case BinarySyntax { Operator: BinaryOperator.Divide } quotient:
                    Collect(quotient.Left, below);
                    Collect(quotient.Right, !below);
                    break;
                default:
                    (
                        below ? _divisors
                        : IsMet(tree) ? _met
                        : _others
                    ).Add(tree);
                    break;
            }
        }

        private static bool IsMet(Syntax tree) =>
            tree.All().Any(node => node is UserCallSyntax { Callee.Name: IndexedFormula.Total } or SumSyntax);

        /// <summary>The quantity that a divisor is, where it is a sum of split compartments.</summary>
        private Definition? Population(Syntax divisor)
        {
            var name = divisor switch
            {
                NameSyntax plain => plain.Base,
                UserCallSyntax { Callee.Name: IndexedFormula.Total, Arguments: [NameSyntax whole] } => whole.Base,
                _ => "",
            };
            return
                _document.DefinitionBySymbol(name) is { } part
                && Formula.Read(part.Text).Tree is { } tree
                && tree.Names().Any()
                && tree.Names().All(one => _document.CompartmentBySymbol(one.Base) is { } held && !_document.GroupsOf(held.Id).IsEmpty)
                ? part
                : null;
        }

        public string With(string matrix, string variable)
        {
            var group = "";
            var inner = Inside(_met[0], variable, ref group);
            var populations = _divisors.Where(divisor => Population(divisor) is not null).ToList();
            var below = string.Concat(populations.Select(divisor => $" / {Population(divisor)!.Symbol}[{variable}]"));
            var rest = string.Concat(_divisors.Except(populations).Select(divisor => $" / {Bracketed(divisor)}"));
            return string.Join(
                    " * ",
                    _others.Select(Bracketed).Append($"sum({variable} in {group}, {matrix}[{group}, {variable}] * {inner}{below})")
                ) + rest;
        }

        /// <summary>Sums over all members as the member that is met.</summary>
        private string Inside(Syntax met, string variable, ref string group)
        {
            var names = met.All().OfType<UserCallSyntax>().Where(call => call.Callee.Name == IndexedFormula.Total).ToList();
            group = _document.GroupsOf(_document.PartBySymbol(((NameSyntax)names[0].Arguments[0]).Base)?.Id) is [var first, ..]
                ? first.Symbol
                : "";
            var text = FormulaText.Of(met);
            foreach (var call in names)
            {
                var name = (NameSyntax)call.Arguments[0];
                text = text.Replace(FormulaText.Of(call), $"{name.Base}[{variable}]", StringComparison.Ordinal);
            }
            return met is UserCallSyntax ? text : $"({text})";
        }

        private static string Bracketed(Syntax tree) =>
            tree is BinarySyntax or PerSyntax or UnarySyntax ? $"({FormulaText.Of(tree)})" : FormulaText.Of(tree);
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        $"{(before.Flow(PartId) is { } flow ? before.Describe(flow) : "flow")}: contacts by a matrix";
}
