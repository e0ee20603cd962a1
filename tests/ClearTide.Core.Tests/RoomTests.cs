using System.Runtime.CompilerServices;
using ClearTide.Core.Model;
using ClearTide.Tests;

namespace ClearTide.Core.Tests;

/// <summary>The rooms of the core: each namespace uses only those before it. Read from the compiled types, their members and their
/// code.</summary>
public class RoomTests
{
    private static readonly string[] Order =
    [
        "Expressions",
        "Language",
        "Units",
        "Data",
        "Sampling",
        "Simulation",
        "Stochastic",
        "Model",
        "Lines",
        "Groups",
        "Editing",
        "Diagnostics",
        "Compilation",
        "Reports",
        "Interventions",
        "Inference",
        "Ensembles",
        "Analysis",
        "Conversion",
        "Modules",
    ];

    private static Rooms Core() => new(typeof(StudyDocument).Assembly.Location, "ClearTide.Core.", Order);

    [Fact]
    public void A_room_uses_only_those_before_it()
    {
        using var rooms = Core();
        // The reading itself must see code: a run is made by the core's own engines.
        Assert.Contains("Simulation", rooms.UsedBy("StudyRun"));
        var wrong = rooms.Wrong();
        Assert.True(wrong.Length == 0, wrong);
    }

    [Fact]
    public void Every_namespace_is_a_room()
    {
        using var rooms = Core();
        Assert.Equal(Order.Order(), rooms.Found.Order());
    }

    /// <summary>A file that has grown beyond this holds more than one idea, and nobody reads it from end to end.</summary>
    [Fact]
    public void No_file_is_longer_than_three_hundred_lines() => RequireShortFiles();

    private static void RequireShortFiles([CallerFilePath] string here = "")
    {
        var source = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", "..", "src", "ClearTide.Core"));
        var files = Directory
            .EnumerateFiles(source, "*.cs", SearchOption.AllDirectories)
            .Where(file => !file.Contains($"{Path.DirectorySeparatorChar}obj{Path.DirectorySeparatorChar}", StringComparison.Ordinal))
            .ToList();
        Assert.True(files.Count > 300, $"only {files.Count} files were found below {source}");
        Assert.Empty(files.Where(file => File.ReadLines(file).Count() > 300).Select(file => Path.GetRelativePath(source, file)));
    }
}
