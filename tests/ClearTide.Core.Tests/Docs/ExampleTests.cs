using System.Text.RegularExpressions;
using System.Xml.Linq;

namespace ClearTide.Core.Tests.Docs;

/// <summary>The examples in the docs of the main types are those that <see cref="Examples"/> compiles and runs.</summary>
public partial class ExampleTests
{
    [GeneratedRegex(@"// docs: (?<type>\w+)\n(?<code>.*?)\n\s*// end", RegexOptions.Singleline)]
    private static partial Regex Marked();

    private static IReadOnlyDictionary<string, string> Compiled()
    {
        using var source = typeof(ExampleTests).Assembly.GetManifestResourceStream("Examples.cs")!;
        var text = new StreamReader(source).ReadToEnd().ReplaceLineEndings("\n");
        return Marked().Matches(text).ToDictionary(match => match.Groups["type"].Value, match => Flush(match.Groups["code"].Value));
    }

    private static IReadOnlyDictionary<string, string> Documented() =>
        XDocument
            .Load(Path.Combine(AppContext.BaseDirectory, "ClearTide.Core.xml"))
            .Descendants("member")
            .Where(member =>
                member.Attribute("name")!.Value.StartsWith("T:", StringComparison.Ordinal) && member.Element("example") is not null
            )
            .ToDictionary(
                member => member.Attribute("name")!.Value.Split('.')[^1],
                member => Flush(member.Element("example")!.Element("code")!.Value.Trim('\n', '\r'))
            );

    /// <summary>Code without what all its lines are set in by.</summary>
    private static string Flush(string code)
    {
        var lines = code.ReplaceLineEndings("\n").Split('\n').Select(line => line.TrimEnd()).ToList();
        while (lines.Count > 0 && lines[^1].Length == 0)
            lines.RemoveAt(lines.Count - 1);
        var inset = lines.Where(line => line.Length > 0).Min(line => line.Length - line.TrimStart().Length);
        return string.Join('\n', lines.Select(line => line.Length > inset ? line[inset..] : ""));
    }

    [Fact]
    public void Each_example_in_the_docs_is_compiled_as_it_stands()
    {
        var (compiled, documented) = (Compiled(), Documented());
        Assert.Equal(10, compiled.Count);
        Assert.Equal(compiled.Keys.Order(), documented.Keys.Order());
        foreach (var (type, code) in compiled)
            Assert.Equal(code, documented[type]);
    }
}
