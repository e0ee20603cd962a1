using ClearTide.Core.Compilation;
using ClearTide.Core.Conversion;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;

namespace ClearTide.Core.Tests.Conversion;

public class ContactTests
{
    private const string ByShare =
        "S -> I : beta * S * I / N; I -> R after 5 days; beta = 0.4 per day; N = S + I + R; S(0) = 995 people; I(0) = 5";

    private static StudyDocument Change(StudyDocument document, ContactChange change) =>
        Studies.With(document, new SetContact(document.Flows[0].Id, change));

    private static double[] Infectious(StudyDocument document) => StudyRun.Of(document).Run!.AmountColumn(1);

    [Fact]
    public void The_two_forms_are_one_model_where_the_population_is_closed()
    {
        var share = Studies.Of(ByShare);
        var number = Change(share, ContactChange.ByNumber);
        Assert.Equal(
            ("beta * S * I", "0.0004 per day"),
            (number.Flows[0].Rate, number.PartBySymbol("beta") is Definition beta ? beta.Text : "")
        );
        // Two solves of one closed model, each good to about 1e-8.
        foreach (var (a, b) in Infectious(share).Zip(Infectious(number)))
            Assert.Equal(a, b, 1e-4);
        Assert.Equal("beta * S * I / N", Change(number, ContactChange.ByShare).Flows[0].Rate);
    }

    [Fact]
    public void A_total_is_made_where_there_is_none()
    {
        var document = Change(Studies.Of("S -> I : beta * S * I; beta = 0.0004; S(0) = 995; I(0) = 5"), ContactChange.ByShare);
        Assert.Equal(("beta * S * I / N", "S + I"), (document.Flows[0].Rate, document.DefinitionBySymbol("N")!.Text));
        Assert.Equal("0.4 per day", document.DefinitionBySymbol("beta")!.Text);
    }

    [Fact]
    public void Beta_is_split_into_contacts_and_chance()
    {
        var document = Change(Studies.Of(ByShare), ContactChange.Split);
        Assert.Equal(
            ("contacts * chance", "0.4 per day", "100%"),
            (
                document.DefinitionBySymbol("beta")!.Text,
                document.DefinitionBySymbol("contacts")!.Text,
                document.DefinitionBySymbol("chance")!.Text
            )
        );
        Assert.Empty(Lowering.Lower(document).Findings);
        foreach (var (a, b) in Infectious(Studies.Of(ByShare)).Zip(Infectious(document)))
            Assert.Equal(a, b, 1e-9);
    }

    [Fact]
    public void Other_flows_have_no_such_form()
    {
        var document = Studies.Of("S -> I : 0.4 * S; beta = 1");
        Assert.Null(Contact.Of(document, document.Flows[0]));
        Assert.NotNull(new SetContact(document.Flows[0].Id, ContactChange.Split).Apply(document).Refusal);
    }
}
