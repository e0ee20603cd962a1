using ClearTide.Core.Editing;
using ClearTide.Core.Language;

namespace ClearTide.Storage.Tests;

public sealed class SettingsStoreTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Fact]
    public void Settings_are_kept_over_a_restart()
    {
        Assert.Equal("day", new SettingsStore(new Database(_folder.Path)).Load().TimeUnit);
        var (settings, problem) = StudyDefaults.Read("week", "52", "villager\ntablet = 200 mg");
        Assert.Null(problem);
        new SettingsStore(new Database(_folder.Path)).Save(settings!);
        var begun = new SettingsStore(new Database(_folder.Path)).Load().Begin();
        Assert.Equal(("week", 52.0, 2), (begun.TimeUnit.Singular, begun.End, begun.Units.Length));
    }

    [Theory]
    [InlineData("fortnight", "52", "", "units of time")]
    [InlineData("day", "soon", "", "a number above zero")]
    [InlineData("day", "52", "tablet = 3 grumble", "no unit “grumble”")]
    public void What_cannot_be_kept_is_said(string unit, string end, string units, string words) =>
        Assert.Contains(words, StudyDefaults.Read(unit, end, units).Problem);
}
