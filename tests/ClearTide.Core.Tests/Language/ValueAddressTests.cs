using System.Text.Json;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Core.Tests;

public class ValueAddressTests
{
    [Theory]
    [InlineData("beta", "beta", ValueField.Own, "", 1)]
    [InlineData("I.start", "I", ValueField.Start, "", 1)]
    [InlineData("E.stay", "E", ValueField.Stay, "", 1)]
    [InlineData("I.share.R", "I", ValueField.Share, "R", 1)]
    [InlineData("E.rate.out", "E", ValueField.Rate, "out", 1)]
    [InlineData("S.inflow_2", "S", ValueField.Inflow, "", 2)]
    [InlineData("E.stay_3.R", "E", ValueField.Stay, "R", 3)]
    public void What_is_read_is_written_again(string text, string symbol, ValueField field, string end, int twin)
    {
        var address = ValueAddress.Read(text);
        Assert.Equal(new ValueAddress(symbol, field, end, twin), address);
        Assert.Equal(text, address.ToString());
        Assert.Equal(address, JsonSerializer.Deserialize<ValueAddress>(JsonSerializer.Serialize(address)));
    }

    [Theory]
    [InlineData("E.speed")]
    [InlineData("E.stay.")]
    [InlineData("E.stay_x")]
    [InlineData("E.stay_1")]
    [InlineData("a.b.c.d")]
    [InlineData(".")]
    public void What_names_nothing_is_kept_as_it_stands(string text)
    {
        var address = ValueAddress.Read(text);
        Assert.Equal(ValueField.Own, address.Field);
        Assert.Equal(text, address.ToString());
    }

    [Fact]
    public void Nothing_is_the_empty_text()
    {
        Assert.Equal(ValueAddress.None, ValueAddress.Read(null));
        Assert.Equal(ValueAddress.None, ValueAddress.Read("  "));
        Assert.Equal("", ValueAddress.None.ToString());
    }

    /// <summary>Fits, measures, sliders and panels follow a part to its new symbol.</summary>
    [Fact]
    public void Everything_that_names_a_value_follows_a_renamed_part()
    {
        var document = Studies.Of("S -> E : k * S; E -> R 60%, D after 4 days; k = 0.2; S(0) = 9") with
        {
            Sliders = [new("k", 0.1, 1), new("E.stay", 1, 9)],
            Panels = [new("x1", PanelKind.Sweep) { Address = "E.share.R", SecondAddress = "S.start" }],
        };
        document = document with
        {
            Fit = document.Fit with { Parameters = [new("E.stay", 1, 9)] },
            Scenarios = [new("s1", "less", [new("m1", "less", "k", 0.5, 14, 28)])],
        };
        foreach (var (symbol, renamed) in new[] { ("E", "L"), ("R", "W"), ("k", "speed"), ("S", "U") })
            document = new SetField(document.PartBySymbol(symbol)!.Id, PartField.Symbol, renamed).Apply(document).Document!;
        Assert.Equal(["speed", "L.stay"], document.Sliders.Select(slider => slider.Address.ToString()));
        Assert.Equal(("L.share.W", "U.start"), (document.Panels[0].Address.ToString(), document.Panels[0].SecondAddress.ToString()));
        Assert.Equal("L.stay", document.Fit.Parameters[0].Address.ToString());
        Assert.Equal("speed", document.Scenarios[0].Measures[0].Address.ToString());
    }
}
