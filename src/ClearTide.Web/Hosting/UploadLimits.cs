namespace ClearTide.Web.Hosting;

/// <summary>How much may come in at once.</summary>
public static class UploadLimits
{
    /// <summary>The largest request that is read at all.</summary>
    public const long RequestBytes = 64_000_000;

    /// <summary>The largest study file.</summary>
    public const long StudyBytes = 20_000_000;

    /// <summary>The most fields of a form: many series of a table, each with its week, and rows that are mended.</summary>
    public const int FormFields = 8192;

    /// <summary>The largest table of data.</summary>
    public const long TableBytes = 5_000_000;
}
