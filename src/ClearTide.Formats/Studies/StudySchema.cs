namespace ClearTide.Formats.Studies;

/// <summary>The JSON Schema of study files, as it ships.</summary>
public static class StudySchema
{
    private static readonly Lazy<string> Study = new(() => Shipped("study.schema.json")),
        CopiedParts = new(() => Shipped("parts.schema.json"));

    /// <summary>The schema of study files as text.</summary>
    public static string Text => Study.Value;

    /// <summary>The schema of parts on the clipboard as text.</summary>
    internal static string Parts => CopiedParts.Value;

    private static string Shipped(string name)
    {
        using var reader = new StreamReader(typeof(StudySchema).Assembly.GetManifestResourceStream(name)!);
        return reader.ReadToEnd();
    }
}
