namespace ClearTide.Core.Model;

/// <summary>What files keep: fields that a later version has written and this one does not know stay with what they belong to.</summary>
public abstract record Stored
{
    /// <summary>Those fields by name, as the file held them; null where there are none.</summary>
    public IDictionary<string, object>? Unknown { get; init; }

    /// <summary>The id that it has in the file it was imported from, where formulas cannot hold that id: files and heads of columns keep
    /// it.</summary>
    public string FileId { get; init; } = "";
}
