using System.Collections;
using System.Text.Json.Serialization.Metadata;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;

namespace ClearTide.Formats.Studies;

/// <summary>
/// Leaves out of a file what reading it puts back by itself: empty texts and lists, and switches in their usual position. Files stay
/// short, and
/// their differences show what was changed. What a file holds besides is read along and written again.
/// </summary>
internal static class LeaveOutDefaults
{
    /// <summary>Numbers whose usual value is one.</summary>
    private static readonly HashSet<string> UsuallyOne = ["stages", "delayStages", "seed"];

    public static void Modify(JsonTypeInfo type)
    {
        if (type.Kind != JsonTypeInfoKind.Object || type.Type.Namespace?.StartsWith("ClearTide", StringComparison.Ordinal) != true)
            return;
        var required = type
            .Type.GetConstructors()
            .SelectMany(constructor => constructor.GetParameters())
            .Where(parameter => !parameter.HasDefaultValue)
            .Select(parameter => parameter.Name!.ToLowerInvariant())
            .ToHashSet();
        // Made when something is written: whoever only reads a study need not wait for it.
        var blank = new Lazy<object?>(() => Blank(type.Type));
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
            if (required.Contains(property.Name.ToLowerInvariant()) || property.IsRequired)
                continue;
            var (name, get) = (property.Name, property.Get);
            var usual = new Lazy<object?>(() => blank.Value is { } empty ? get?.Invoke(empty) : null);
            property.ShouldSerialize = (_, value) => !IsDefault(name, value, usual.Value);
        }
    }

    /// <summary>One as it is when only what it must have is given, for the usual values of all else; null for what cannot be made
    /// so.</summary>
    private static object? Blank(Type type)
    {
        if (
            type.IsAbstract
            || type.GetConstructors().OrderByDescending(constructor => constructor.GetParameters().Length).FirstOrDefault()
                is not { } constructor
        )
        {
            return null;
        }
        return constructor.Invoke([
            .. constructor
                .GetParameters()
                .Select(parameter =>
                    parameter.HasDefaultValue ? parameter.DefaultValue
                    : parameter.ParameterType.IsValueType ? Activator.CreateInstance(parameter.ParameterType)
                    : null
                ),
        ]);
    }

    private static bool IsDefault(string name, object? value, object? usual) =>
        value switch
        {
            null => true,
            // An empty text says something where the usual one is not empty.
            "" => usual is null or "",
            string => false,
            bool on => usual is bool usually ? on == usually : !on,
            int starts when name == "starts" => starts == FitSetup.UsualStarts,
            int or long => UsuallyOne.Contains(name)
                ? Convert.ToInt64(value, System.Globalization.CultureInfo.InvariantCulture) == 1
                : name is "colour" or "captionSize" or "bootstrap" or "shuffle"
                    && Convert.ToInt64(value, System.Globalization.CultureInfo.InvariantCulture) == 0,
            Enum choice => Convert.ToInt32(choice, System.Globalization.CultureInfo.InvariantCulture) == 0,
            SolverChoice choice => choice == SolverChoice.Usual,
            IEnumerable list => !list.GetEnumerator().MoveNext(),
            _ => false,
        };
}
