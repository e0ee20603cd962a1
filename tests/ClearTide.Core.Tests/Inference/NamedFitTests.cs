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

    [Fact]
    public void A_fit_is_called_something_and_something_else_and_nothing()
    {
        var study = Studies.With(Studies.With(Study(), new NameFit(Alone, " Only k ")), new NameFit(Both, "Both"));
        Assert.Equal(["Only k", "Both"], study.Fits.Select(one => one.Name));
        study = Studies.With(study, new NameFit(new(ErrorLaw.Poisson, [new("k", 0.1, 1)]), "Rate alone"));
        Assert.Equal(["Rate alone", "Both"], study.Fits.Select(one => one.Name));
        Assert.Equal(["Both"], Studies.With(study, new NameFit(Alone, "")).Fits.Select(one => one.Name));
    }

    [Fact]
    public void A_name_is_that_of_one_fit_and_not_too_long()
    {
        var study = Studies.With(Study(), new NameFit(Alone, "Only k"));
        Assert.Contains("Another fit is called Only k", new NameFit(Both, "Only k").Apply(study).Refusal);
        Assert.Contains("up to 60 characters", new NameFit(Both, new string('x', 61)).Apply(study).Refusal);
    }

    [Fact]
    public void Fits_with_names_follow_their_values_to_new_symbols_and_units()
    {
        var study = Studies.With(Study(), new NameFit(Both, "Both"));
        var renamed = Studies.With(study, new SetField(study.DefinitionBySymbol("k")!.Id, PartField.Symbol, "decay"));
        Assert.Equal(["decay", "A.start"], renamed.Fits[0].Setup.Parameters.Select(one => one.Address.ToString()));
        // A tenth a day is 0.7 a week.
        var weeks = Studies.With(
            Studies.With(study, new SetField(study.DefinitionBySymbol("k")!.Id, PartField.Text, "0.5 per day")),
            new SetTimeUnit(TimeUnit.Find("week")!, Convert: true)
        );
        Assert.Equal((0.7, 7.0), (weeks.Fits[0].Setup.Parameters[0].Lower, weeks.Fits[0].Setup.Parameters[0].Upper));
    }
}
