using System.Collections;
using System.Collections.Concurrent;
using System.Globalization;
using System.Reflection;
using ClearTide.Core.Language;

namespace ClearTide.Core.Model;

/// <summary>One field that two documents hold differently; empty where a document has nothing there.</summary>
/// <param name="Field">The field, by its name in the file of the study.</param>
/// <param name="Before">The text before, empty for none.</param>
/// <param name="After">The text after, empty for none.</param>
public sealed record FieldDifference(string Field, string Before, string After);

/// <summary>A part that two documents hold differently.</summary>
/// <param name="Name">The part as sentences speak of it.</param>
/// <param name="Kind">What kind of part it is, with its article; “the study” for the document itself.</param>
/// <param name="Presence">In which of the two it is.</param>
/// <param name="Fields">What differs; empty for a part that only one of them holds.</param>
public sealed record PartDifference(string Name, string Kind, PartPresence Presence, IReadOnlyList<FieldDifference> Fields);

/// <summary>In which of two documents a part is.</summary>
public enum PartPresence
{
    /// <summary>In both, but not the same.</summary>
    Changed,

    /// <summary>In the second alone.</summary>
    Added,

    /// <summary>In the first alone.</summary>
    Removed,
}

/// <summary>Two documents side by side, part by part. Parts are the same where their ids are.</summary>
public static class DocumentComparison
{
    private static readonly ConcurrentDictionary<Type, IReadOnlyList<PropertyInfo>> Known = [];

    /// <summary>All parts that differ, in the order of the ledger, what was removed last; the study's own fields come first.</summary>
    /// <param name="before">The document before.</param>
    /// <param name="after">The document after.</param>
    public static IReadOnlyList<PartDifference> Of(StudyDocument before, StudyDocument after)
    {
        var differences = new List<PartDifference>();
        var study = Fields(before, after, before, after).Where(field => field.Field is not "next id").ToList();
        if (study.Count > 0)
            differences.Add(new("Study", "the study", PartPresence.Changed, study));
        var old = before.Parts.ToDictionary(part => part.Id);
        foreach (var part in after.Parts)
        {
            if (!old.Remove(part.Id, out var was))
                differences.Add(new(after.Describe(part), PartKinds.Noun(part), PartPresence.Added, Fields(null, part, before, after)));
            else if (was.GetType() != part.GetType() || !was.Equals(part))
            {
                var fields = Fields(was, part, before, after);
                if (fields.Count > 0)
                    differences.Add(new(after.Describe(part), PartKinds.Noun(part), PartPresence.Changed, fields));
            }
        }
        differences.AddRange(
            old.Values.Select(part => new PartDifference(
                before.Describe(part),
                PartKinds.Noun(part),
                PartPresence.Removed,
                Fields(part, null, before, after)
            ))
        );
        return differences;
    }

    private static List<FieldDifference> Fields(object? before, object? after, StudyDocument first, StudyDocument second)
    {
        var fields = new List<FieldDifference>();
        foreach (var property in Known.GetOrAdd((before ?? after)!.GetType(), Stored))
        {
            var (was, now) = (
                before is null ? "" : Text(property.GetValue(before), first),
                after is null ? "" : Text(property.GetValue(after), second)
            );
            if (was != now)
                fields.Add(new(Words(property.Name), was, now));
        }
        return fields;
    }

    /// <summary>What is stored of a record, but for ids and lists of parts, which are compared one by one.</summary>
    private static IReadOnlyList<PropertyInfo> Stored(Type type) =>
        [
            .. type.GetProperties()
                .Where(property => property.CanWrite && property.Name is not ("Id" or "Unknown") && !IsPartList(property.PropertyType)),
        ];

    private static bool IsPartList(Type type) =>
        type.IsGenericType && type.GetGenericArguments() is [var element] && typeof(IPart).IsAssignableFrom(element);

    private static string Text(object? value, StudyDocument document) =>
        value switch
        {
            null => "",
            string id when document.Compartment(id) is { } part => part.Symbol,
            string text => text,
            ValueAddress address => address.ToString(),
            bool on => on ? "yes" : "no",
            double number => TypedNumber.Exact(number),
            Target target => (document.Compartment(target.Id)?.Symbol ?? "outside")
                + (target.Share.Length > 0 ? $" {target.Share}" : "")
                + (target.Bend is null ? "" : ", bent")
                + (target.Caption is null ? "" : ", caption moved")
                + (target.CaptionSize > 0 ? $", caption {target.CaptionSize}" : ""),
            Offset offset => $"{Text(offset.X, document)}, {Text(offset.Y, document)}",
            Enum or DateOnly or IFormattable => Words(((IFormattable)value).ToString(null, CultureInfo.InvariantCulture)),
            // A default immutable array cannot be walked; it holds nothing.
            IEnumerable list => value.GetType().GetProperty("IsDefault")?.GetValue(value) is true
                ? ""
                : string.Join("; ", list.Cast<object?>().Select(one => Text(one, document))),
            _ when value.GetType().Namespace?.StartsWith("ClearTide", StringComparison.Ordinal) == true => string.Join(
                ", ",
                value
                    .GetType()
                    .GetProperties()
                    .Where(property =>
                        property.CanRead
                        && property.GetIndexParameters().Length == 0
                        && property.Name is not ("EqualityContract" or "Unknown")
                    )
                    .Select(property => Text(property.GetValue(value), document))
                    .Where(text => text.Length > 0)
            ),
            _ => value.ToString() ?? "",
        };

    /// <summary>A name of code as words: “NeverBelowZero” as “never below zero”.</summary>
    private static string Words(string name) =>
        string.Concat(
            name.Select(
                (letter, k) =>
                    k > 0 && char.IsUpper(letter) && char.IsLower(name[k - 1]) ? $" {char.ToLowerInvariant(letter)}"
                    : k == 0 ? char.ToLowerInvariant(letter).ToString()
                    : letter.ToString()
            )
        );
}
