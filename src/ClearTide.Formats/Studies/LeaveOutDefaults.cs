using System.Collections;
using System.Text.Json.Serialization.Metadata;
using ClearTide.Core.Models;

namespace ClearTide.Formats.Studies;

/// <summary>
/// Leaves out of a file what reading it puts back by itself: empty texts and lists, and switches in their usual position. Files stay short, and
/// their differences show what was changed. What a file holds besides is read along and written again.
/// </summary>
internal static class LeaveOutDefaults
{
    /// <summary>Switches whose usual position is on, and numbers whose usual value is one.</summary>
    private static readonly HashSet<string> UsuallyOn = ["wholeUnits"], UsuallyOne = ["stages", "seed"];

    public static void Modify(JsonTypeInfo type)
    {
        if (type.Kind != JsonTypeInfoKind.Object || type.Type.Namespace?.StartsWith("ClearTide", StringComparison.Ordinal) != true) return;
        var required = type.Type.GetConstructors().SelectMany(constructor => constructor.GetParameters()).Where(parameter => !parameter.HasDefaultValue)
            .Select(parameter => parameter.Name!.ToLowerInvariant()).ToHashSet();
        foreach (var property in type.Properties)
        {
            if (property.Name == "unknown")
            {
                property.IsExtensionData = true;
                continue;
            }
            if (property.Set is null)
            {
                // What follows from the rest is not written.
                property.ShouldSerialize = (_, _) => false;
                continue;
            }
            if (required.Contains(property.Name.ToLowerInvariant()) || property.IsRequired) continue;
            var name = property.Name;
            property.ShouldSerialize = (_, value) => !IsDefault(name, value);
        }
    }

    private static bool IsDefault(string name, object? value) => value switch
    {
        null or "" => true,
        bool on => on == UsuallyOn.Contains(name),
        int or long => UsuallyOne.Contains(name) ? Convert.ToInt64(value, System.Globalization.CultureInfo.InvariantCulture) == 1 : name is "colour" or "captionSize" && (int)value == 0,
        Enum choice => Convert.ToInt32(choice, System.Globalization.CultureInfo.InvariantCulture) == 0,
        string => false,
        SolverChoice choice => choice == SolverChoice.Usual,
        IEnumerable list => !list.GetEnumerator().MoveNext(),
        _ => false,
    };
}
