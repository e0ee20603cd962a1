namespace ClearTide.Formats.Tables;

/// <summary>A table that cannot be read; the message says what to do.</summary>
public sealed class TableException(string message) : Exception(message);
