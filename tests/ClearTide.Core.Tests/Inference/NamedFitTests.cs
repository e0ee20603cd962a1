using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Inference;

public class NamedFitTests
{
    private static readonly FitSetup Alone = new(ErrorLaw.Poisson, [new("k", 0.1, 1)]);

    private static readonly FitSetup Both = new(ErrorLaw.Poisson, [new("k", 0.1, 1), new("A.start", 1, 100)]);

    private static StudyDocument Study() => Studies.Of("A -> at k; A(0) = 10; k = 0.5", 10);

    private static StudyDocument Edited(StudyDocument study, Edit edit)
    {
        var result = edit.Apply(study);
        Assert.True(result.Refusal is null, result.Refusal);
        return result.Document!;
    }

    [Fact]
    public void A_fit_is_called_something_and_something_else_and_nothing()
    {
        var study = Edited(Edited(Study(), new NameFit(Alone, " Only k ")), new NameFit(Both, "Both"));
        Assert.Equal(["Only k", "Both"], study.Fits.Select(one => one.Name));
        study = Edited(study, new NameFit(new(ErrorLaw.Poisson, [new("k", 0.1, 1)]), "Rate alone"));
        Assert.Equal(["Rate alone", "Both"], study.Fits.Select(one => one.Name));
        Assert.Equal(["Both"], Edited(study, new NameFit(Alone, "")).Fits.Select(one => one.Name));
    }

    [Fact]
    public void A_name_is_that_of_one_fit_and_not_too_long()
    {
        var study = Edited(Study(), new NameFit(Alone, "Only k"));
        Assert.Contains("Another fit is called Only k", new NameFit(Both, "Only k").Apply(study).Refusal);
        Assert.Contains("up to 60 characters", new NameFit(Both, new string('x', 61)).Apply(study).Refusal);
    }

    [Fact]
    public void Fits_with_names_follow_their_values_to_new_symbols_and_units()
    {
        var study = Edited(Study(), new NameFit(Both, "Both"));
        var renamed = Edited(study, new SetField(study.DefinitionBySymbol("k")!.Id, PartField.Symbol, "decay"));
        Assert.Equal(["decay", "A.start"], renamed.Fits[0].Setup.Parameters.Select(one => one.Address.ToString()));
        // A tenth a day is 0.7 a week.
        var weeks = Edited(
            Edited(study, new SetField(study.DefinitionBySymbol("k")!.Id, PartField.Text, "0.5 per day")),
            new SetTimeUnit(TimeUnit.Find("week")!, Convert: true)
        );
        Assert.Equal((0.7, 7.0), (weeks.Fits[0].Setup.Parameters[0].Lower, weeks.Fits[0].Setup.Parameters[0].Upper));
    }
}
