using System.Runtime.CompilerServices;
using ClearTide.Formats.Studies;

namespace ClearTide.Formats.Tests;

/// <summary>The schemas that ship say what the types of today say.</summary>
public class SchemaTests
{
    private const string HowTo =
        "The types that study files are read into have changed. Set CLEAR_TIDE_WRITE_SCHEMA=1 and run this test to write the schemas anew.";

    [Fact]
    public void The_schema_of_studies_is_that_of_the_types() => Require("study.schema.json", SchemaOfTypes.Study(), StudySchema.Text);

    [Fact]
    public void The_schema_of_copied_parts_is_that_of_the_types() => Require("parts.schema.json", SchemaOfTypes.Parts(), StudySchema.Parts);

    private static void Require(string name, string made, string shipped, [CallerFilePath] string here = "")
    {
        if (Environment.GetEnvironmentVariable("CLEAR_TIDE_WRITE_SCHEMA") is { Length: > 0 })
        {
            var folder = Path.Combine(Path.GetDirectoryName(here)!, "../../src/ClearTide.Formats/Studies");
            File.WriteAllText(Path.Combine(folder, name), made);
            return;
        }
        Assert.True(made == shipped, HowTo);
    }
}
