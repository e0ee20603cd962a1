using System.Diagnostics;
using ClearTide.Formats.Sbml;

namespace ClearTide.Formats.Tests.Sbml;

/// <summary>The standard's own library reads what is written, and finds no error in it.</summary>
public class ValidityTests
{
    [Fact]
    public async Task Every_shipped_study_is_valid_SBML()
    {
        var folder = Directory.CreateTempSubdirectory("clear-tide-");
        try
        {
            var files = StudyFileTests
                .Shipped()
                .Select(row => row.Data)
                .Select(path =>
                {
                    var file = Path.Combine(folder.FullName, Path.GetFileName(path) + ".xml");
                    File.WriteAllText(file, SbmlWriter.Write(SbmlExport.Of(StudyExportTests.Read(path)).Model));
                    return file;
                })
                .ToList();
            Assert.NotEmpty(files);
            using var python = Process.Start(
                new ProcessStartInfo("/usr/bin/python3", [StudyFileTests.Root("tests/browser/support/validate-sbml.py"), .. files])
                {
                    RedirectStandardOutput = true,
                    RedirectStandardError = true,
                }
            )!;
            var complaints = python.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
            var errors = await python.StandardOutput.ReadToEndAsync(TestContext.Current.CancellationToken);
            await python.WaitForExitAsync(TestContext.Current.CancellationToken);
            Assert.Equal("", await complaints);
            Assert.Equal(0, python.ExitCode);
            Assert.Equal("", errors);
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }
}
