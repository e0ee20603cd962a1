using ClearTide.Core.Models;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Tests;

public class StudyFileTests
{
    public static TheoryData<string> Shipped() => [.. Directory.EnumerateFiles(Root("demo"), "*.study.json", SearchOption.AllDirectories).Select(path => Path.GetRelativePath(Root(""), path))];

    private static string Root(string path)
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "ClearTide.slnx"))) folder = folder.Parent!;
        return Path.Combine(folder.FullName, path);
    }

    [Theory]
    [MemberData(nameof(Shipped))]
    public void Every_shipped_study_runs_without_a_finding_and_is_written_as_it_was_read(string file)
    {
        var text = File.ReadAllText(Root(file));
        var bundle = StudyFile.Read(text);
        Assert.Equal(text, StudyFile.Write(bundle));
        var run = StudyRun.Of(bundle.Document, bundle.DataSets.FirstOrDefault());
        Assert.Empty(run.Lowered.Findings);
        Assert.NotNull(run.Run);
        Assert.Null(run.ObservedFailure);
    }

    [Theory]
    [InlineData("{", "broken")]
    [InlineData("[]", "not a Clear Tide study")]
    [InlineData("{\"format\":\"other\"}", "not a Clear Tide study")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":99}", "newer Clear Tide")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1}", "holds no study")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":7}}", "broken")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"x\",\"timeUnit\":\"fortnight\"}}", "no unit of time")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"x\",\"start\":5,\"end\":1}}", "end after it starts")]
    [InlineData("{\"format\":\"clear-tide-study\",\"version\":1,\"study\":{\"title\":\"x\",\"flows\":[{\"id\":\"f1\",\"label\":\"\",\"from\":\"c9\",\"to\":null,\"kind\":\"whole\",\"rate\":\"1\"}]}}", "an end that is not in the study")]
    public void A_broken_file_is_refused_in_words(string text, string words) =>
        Assert.Contains(words, Assert.Throws<StudyFileException>(() => StudyFile.Read(text)).Message);
}
