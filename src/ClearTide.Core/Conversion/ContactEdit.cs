using ClearTide.Core.Compilation;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Conversion;

/// <summary>How contact is said in a flow: by number (β S I) or by share (β S I / N). The coefficients differ by the size of the
/// population.</summary>
/// <param name="Coefficient">The parameter it is scaled by.</param>
/// <param name="Total">The symbol it is divided by, or null where contact goes by number.</param>
public sealed record Contact(Definition Coefficient, string? Total)
{
    /// <summary>The form of a flow's rate, or null where it is no product of a parameter, the compartment it leaves, and another
    /// one.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="flow">The flow.</param>
    public static Contact? Of(StudyDocument document, Flow flow)
    {
        if (flow.Kind != RateKind.Whole || document.Compartment(flow.From) is not { } from || Formula.Read(flow.Rate).Tree is not { } tree)
            return null;
        var (factors, divisors) = (new List<Syntax>(), new List<Syntax>());
        Collect(tree, factors, divisors);
        if (factors.Count != 3 || divisors.Count > 1 || factors.Concat(divisors).Any(part => part is not NameSyntax))
            return null;
        var names = factors.Select(part => ((NameSyntax)part).Name).ToList();
        var coefficient = names.Select(document.DefinitionBySymbol).OfType<Definition>().SingleOrDefault();
        if (coefficient is null || !names.Contains(from.Symbol) || names.Count(name => document.CompartmentBySymbol(name) is not null) != 2)
            return null;
        return new(coefficient, divisors.Count == 0 ? null : ((NameSyntax)divisors[0]).Name);
    }

    private static void Collect(Syntax tree, List<Syntax> factors, List<Syntax> divisors)
    {
        switch (tree)
        {
            case BinarySyntax { Operator: BinaryOperator.Multiply } product:
                Collect(product.Left, factors, divisors);
                Collect(product.Right, factors, divisors);
                break;
            case BinarySyntax { Operator: BinaryOperator.Divide } quotient:
                Collect(quotient.Left, factors, divisors);
                divisors.Add(quotient.Right);
                break;
            default:
                factors.Add(tree);
                break;
        }
    }
}

/// <summary>Which change of how contact is said.</summary>
public enum ContactChange
{
    /// <summary>Contacts are shared out by what part of everybody is met.</summary>
    ByShare,

    /// <summary>Contacts grow with how many are there.</summary>
    ByNumber,

    /// <summary>The coefficient becomes contacts per head and a probability.</summary>
    Split,
}

/// <summary>
/// Says contact the other way, its coefficient scaled by the size of the population at the start so that the run begins alike; or splits
/// the
/// coefficient into contacts per time and the chance that one infects.
/// </summary>
/// <param name="PartId">Id of the flow.</param>
/// <param name="Change">What is to be said otherwise.</param>
public sealed record SetContact(string PartId, ContactChange Change) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (document.Flow(PartId) is not { } flow || Contact.Of(document, flow) is not { } contact)
            return EditResult.Refused("This flow is no contact of two compartments: its rate is not a parameter times both of them.");
        if (Formula.Read(contact.Coefficient.Text) is not { HasNames: false, Tree: not null })
            return EditResult.Refused($"{contact.Coefficient.Symbol} is made of others already; change those.");
        return Change == ContactChange.Split ? Split(document, contact.Coefficient) : Convert(document, flow, contact);
    }

    private EditResult Convert(StudyDocument document, Flow flow, Contact contact)
    {
        if ((contact.Total is null) == (Change == ContactChange.ByNumber))
            return document;
        var total = contact.Total;
        if (total is null)
        {
            var sum = string.Join(" + ", document.Compartments.Select(part => part.Symbol));
            total = document
                .Definitions.FirstOrDefault(part =>
                    Formula.Read(part.Text).Tree is BinarySyntax { Operator: BinaryOperator.Add } tree
                    && tree.Names().Any(name => name.Name == document.Compartment(flow.From)!.Symbol)
                )
                ?.Symbol;
            if (total is null)
            {
                total = Free(document, "N");
                document = document with
                {
                    Definitions = document.Definitions.Add(new("v" + document.NextId, total, "Everybody", sum)),
                    NextId = document.NextId + 1,
                };
            }
        }
        var lowered = Lowering.Lower(document);
        var size = StartOf(lowered, total);
        if (!(size > 0))
            return EditResult.Refused(
                $"{total} is nothing at the start, so that there is no size of the population to go by. Give the compartments their "
                    + "initial amounts first."
            );
        var value = lowered.Network.Values[lowered.Network.IndexOf(new(contact.Coefficient.Symbol))].Value;
        var time = document.TimeUnit.Singular;
        var (rate, scaled) = contact.Total is null
            ? ($"{flow.Rate} / {total}", value * size)
            : (flow.Rate[..flow.Rate.LastIndexOf('/')].TrimEnd(), value / size);
        return document
            .With(flow with { Rate = rate })
            .With(contact.Coefficient with { Text = $"{TypedNumber.Short(scaled)} per {time}", Unit = "" });
    }

    /// <summary>A quantity or a compartment at the start.</summary>
    private static double StartOf(LoweredModel lowered, string symbol)
    {
        var network = lowered.Network;
        var values = network.ValueVector();
        var state = network.Initial.Select(node => network.Graph.Evaluate(node, lowered.Document.Start, [], values)).ToArray();
        var named = network.Quantities.Concat(network.Amounts).FirstOrDefault(candidate => candidate.Symbol == symbol);
        return named is not null ? network.Graph.Evaluate(named.Node, lowered.Document.Start, state, values)
            : network.IndexOf(new(symbol)) is var index && index >= 0 ? values[index]
            : double.NaN;
    }

    private static StudyDocument Split(StudyDocument document, Definition coefficient)
    {
        var (contacts, chance) = (Free(document, "contacts"), Free(document, "chance"));
        var next = document.NextId;
        return document.With(coefficient with { Text = $"{contacts} * {chance}", Unit = "" }) with
        {
            NextId = next + 2,
            Definitions = document
                .Definitions.Put(coefficient with { Text = $"{contacts} * {chance}", Unit = "" })
                .Add(new("v" + next, contacts, "Contacts", coefficient.Text, coefficient.Origin) { Unit = coefficient.Unit })
                .Add(new("v" + (next + 1), chance, "Chance that a contact infects", "100%")),
        };
    }

    private static string Free(StudyDocument document, string symbol)
    {
        var free = symbol;
        for (var number = 2; document.PartBySymbol(free) is not null; number++)
            free = symbol + number;
        return free;
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        "contact "
        + Change switch
        {
            ContactChange.ByShare => "by share",
            ContactChange.ByNumber => "by number",
            _ => "split into contacts and chance",
        };
}
