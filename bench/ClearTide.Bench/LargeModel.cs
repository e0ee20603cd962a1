using ClearTide.Core.Model;
using ClearTide.Formats.Studies;

namespace ClearTide.Bench;

/// <summary>The large demo study: 60 compartments and 150 flows.</summary>
public static class LargeModel
{
    public static StudyDocument Study() =>
        StudyFile.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "demo", "round-the-estuary.study.json"))).Document;
}
