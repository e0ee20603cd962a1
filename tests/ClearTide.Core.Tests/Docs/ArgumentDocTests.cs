using System.Reflection;
using System.Xml.Linq;

namespace ClearTide.Core.Tests.Docs;

/// <summary>
/// The compiler asks for a line on each argument only where one of them has one. Here each argument of what others than the core can
/// call is asked for.
/// </summary>
public class ArgumentDocTests
{
    private static readonly Assembly Core = typeof(ClearTide.Core.Model.StudyDocument).Assembly;

    [Fact]
    public void Each_argument_of_public_members_says_what_it_is()
    {
        var docs = XDocument
            .Load(Path.ChangeExtension(Core.Location, ".xml"))
            .Descendants("member")
            .ToDictionary(member => (string)member.Attribute("name")!);
        var exported = Core.GetExportedTypes().ToDictionary(type => type.FullName!.Replace('+', '.'));

        var asked = docs.Where(member => member.Key.StartsWith("M:", StringComparison.Ordinal) && member.Key.Contains('('))
            .Where(member => exported.GetValueOrDefault(TypeOf(member.Key)) is { } type && IsSeen(type, member.Key))
            .ToList();
        // Some six hundred are there; a parser of names that finds none would find nothing wrong either.
        Assert.True(asked.Count > 400, $"only {asked.Count} members with arguments were found");
        var silent = asked
            .Where(member =>
                !member.Value.Descendants("inheritdoc").Any()
                && member.Value.Elements("param").Count(line => line.Value.Trim().Length > 0) < ArgumentsOf(member.Key)
            )
            .Select(member => member.Key);
        Assert.Equal("", string.Join('\n', silent));
    }

    /// <summary>The type in a name like <c>M:Room.Type.Member(System.Int32)</c>.</summary>
    private static string TypeOf(string name)
    {
        var path = name[2..name.IndexOf('(', StringComparison.Ordinal)];
        return path[..path.LastIndexOf('.')].TrimEnd('.');
    }

    /// <summary>Whether others than the core can call it: a public member of this name with so many arguments, or one to derive from.</summary>
    private static bool IsSeen(Type type, string name)
    {
        var path = name[2..name.IndexOf('(', StringComparison.Ordinal)];
        var member = path[(path.LastIndexOf('.') + 1)..].Replace('#', '.').Split('`')[0];
        return type.GetMembers(BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Instance | BindingFlags.Static)
            .OfType<MethodBase>()
            .Any(one =>
                (one.IsPublic || one.IsFamily || one.IsFamilyOrAssembly)
                && one.Name == member
                && one.GetParameters().Length == ArgumentsOf(name)
            );
    }

    /// <summary>How many arguments such a name lists: commas that are inside of no brackets, and one more.</summary>
    private static int ArgumentsOf(string name)
    {
        var (depth, count) = (0, 1);
        foreach (var sign in name[(name.IndexOf('(', StringComparison.Ordinal) + 1)..])
        {
            depth += sign switch
            {
                '{' or '[' or '(' => 1,
                '}' or ']' or ')' => -1,
                _ => 0,
            };
            if (depth < 0)
                break;
            if (sign == ',' && depth == 0)
                count++;
        }
        return count;
    }
}
