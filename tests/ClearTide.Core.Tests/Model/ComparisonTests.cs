using ClearTide.Core.Editing;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Core.Tests.Model;

public class ComparisonTests
{
    private static readonly StudyDocument Before = Studies.Of(Studies.Latent);

    private static StudyDocument With(params Edit[] edits) => edits.Aggregate(Before, (document, edit) => edit.Apply(document).Document!);

    [Fact]
    public void The_same_document_has_no_differences() => Assert.Empty(DocumentComparison.Of(Before, Before));

    [Fact]
    public void A_changed_field_is_told_with_both_its_texts()
    {
        var part = Assert.Single(
            DocumentComparison.Of(Before, With(new SetField(Before.DefinitionBySymbol("beta")!.Id, PartField.Text, "0.5 per day")))
        );
        Assert.Equal(("beta", "a parameter", PartPresence.Changed), (part.Name, part.Kind, part.Presence));
        Assert.Equal([new FieldDifference("text", "0.36 per day", "0.5 per day")], part.Fields.Where(field => field.Field == "text"));
    }

    [Fact]
    public void Added_and_removed_parts_are_told_as_such()
    {
        var after = With(new AddLines("R -> S after 90 days"), new RemoveParts(Before.DefinitionBySymbol("rho")!.Id));
        Assert.Equal(
            [("R → S", PartPresence.Added), ("rho", PartPresence.Removed)],
            DocumentComparison.Of(Before, after).Select(part => (part.Name, part.Presence))
        );
    }

    [Fact]
    public void A_compartment_is_named_by_its_symbol_where_a_flow_leads_elsewhere()
    {
        var flow = Before.Flows[2];
        var after = With(new SetField(flow.Id, PartField.Target, "S", 0));
        var field = Assert.Single(Assert.Single(DocumentComparison.Of(Before, after)).Fields);
        Assert.Equal(new FieldDifference("to", "R", "S"), field);
    }

    [Fact]
    public void The_studys_own_fields_come_first()
    {
        var after = With(new SetSpan(0, 77), new AddLines("kappa = 3"));
        var differences = DocumentComparison.Of(Before, after);
        Assert.Equal(
            ("the study", "end", "100", "77"),
            (differences[0].Kind, differences[0].Fields[0].Field, differences[0].Fields[0].Before, differences[0].Fields[0].After)
        );
        Assert.Equal("kappa", differences[1].Name);
    }
}
