using ClearTide.Core.Language;

namespace ClearTide.Web.Studies;

/// <summary>Names of files that are taken away.</summary>
public static class FileNames
{
    /// <summary>A title in small letters, with hyphens between words, and an ending.</summary>
    public static string Of(string title, string ending)
    {
        var words = string.Concat(title.ToLowerInvariant().Select(letter => char.IsLetterOrDigit(letter) ? letter : ' '))
            .Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return $"{(words.Length == 0 ? "study" : string.Join('-', words))}.{ending}";
    }
}
