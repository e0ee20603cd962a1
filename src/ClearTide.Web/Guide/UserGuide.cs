using System.Text.RegularExpressions;
using Markdig;

namespace ClearTide.Web.Guide;

/// <summary>One page of the guide.</summary>
/// <param name="Key">Its name in addresses.</param>
/// <param name="Html">The page as it is shown, its heading included.</param>
/// <param name="Text">Its source, which searches look in.</param>
public sealed record GuidePage(string Key, string Title, string Html, string Text);

/// <summary>A place where a search found its words.</summary>
/// <param name="Around">The line that holds the first of them.</param>
public sealed record GuideHit(GuidePage Page, string Around);

/// <summary>The user guide that ships: Markdown pages in the order of their names, read once.</summary>
public sealed partial class UserGuide
{
    private readonly Lazy<IReadOnlyList<GuidePage>> _pages = new(Read);

    /// <summary>Where the pages and their pictures lie.</summary>
    public static string Folder => Path.Combine(AppContext.BaseDirectory, "guide");

    /// <summary>All pages in the order of reading.</summary>
    public IReadOnlyList<GuidePage> Pages => _pages.Value;

    /// <summary>The page of this name, or null.</summary>
    public GuidePage? Find(string key) => Pages.FirstOrDefault(page => page.Key == key);

    /// <summary>Pages that hold all of these words, each with a line that holds one.</summary>
    public IReadOnlyList<GuideHit> Search(string text)
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        bool Holds(string line, string word) => line.Contains(word, StringComparison.OrdinalIgnoreCase);
        return words.Length == 0
            ? []
            :
            [
                .. Pages
                    .Where(page => words.All(word => Holds(page.Text, word)))
                    .Select(page => new GuideHit(
                        page,
                        Plain(
                            page.Text.Split('\n')
                                .Where(line => words.Any(word => Holds(line, word)))
                                .MaxBy(line => words.Count(word => Holds(line, word)))!
                        )
                    )),
            ];
    }

    private static IReadOnlyList<GuidePage> Read()
    {
        var pipeline = new MarkdownPipelineBuilder().UsePipeTables().DisableHtml().Build();
        return
        [
            .. Directory
                .EnumerateFiles(Folder, "*.md")
                .Order(StringComparer.Ordinal)
                .Select(file =>
                {
                    var text = File.ReadAllText(file);
                    var html = Markdown.ToHtml(
                        text.Replace("](../screenshots/", "](/guide/screenshots/", StringComparison.Ordinal),
                        pipeline
                    );
                    return new GuidePage(
                        Number().Replace(Path.GetFileNameWithoutExtension(file), ""),
                        Plain(text.Split('\n')[0]),
                        html,
                        text
                    );
                }),
        ];
    }

    /// <summary>A line of Markdown without its marks.</summary>
    private static string Plain(string line) => Marks().Replace(line, "").Trim();

    [GeneratedRegex(@"^\d+-")]
    private static partial Regex Number();

    [GeneratedRegex(@"^[#\-\s>]+|^\d+\.\s|\*\*|`|\||!?\[|\]\([^)]*\)")]
    private static partial Regex Marks();
}
