using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests.Model;

public class KindTableTests
{
    [Fact]
    public void A_kind_without_an_entry_is_named()
    {
        var refused = Assert.Throws<InvalidOperationException>(() =>
            new KindTable<int, string>.Filling().On<Flow>((_, _) => "").On<Compartment>((_, _) => "").Whole()
        );
        Assert.Contains("Reaction", refused.Message);
    }

    [Fact]
    public void A_kind_has_one_entry() =>
        Assert.Throws<ArgumentException>(() => new KindTable<int, string>.Filling().On<Flow>((_, _) => "").On<Flow>((_, _) => ""));

    [Fact]
    public void Every_kind_is_found_by_its_parts()
    {
        var study = Studies.Of(
            "S(0) = 9; I(0) = 1; S -> I at b; b = 0.1; N = S + I; reaction r: 2 S -> I : b; u = points 0 0, 5 1; "
                + "c(x) = points 0 0, 5 1; z = normal(1, 0.1) every 2 days; at 3: S -> I : 1; assume: nobody leaves; expect: S >= 0; "
                + "group age = young, old"
        );
        foreach (var kind in PartKinds.All)
        {
            var part = Assert.Single(kind.In(study).Take(1));
            Assert.Same(kind, PartKinds.Of(part));
            Assert.Equal(part.GetType(), kind.PartType);
            Assert.NotEqual("", LineText.Of(study, part));
        }
    }
}
