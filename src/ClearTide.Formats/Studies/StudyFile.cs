using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using ClearTide.Core.Data;
using ClearTide.Core.Language;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Studies;

/// <summary>A study with the data it refers to, as one file holds them.</summary>
public sealed record StudyBundle(StudyDocument Document, ImmutableArray<DataSet> DataSets);

/// <summary>A file that is not a study; the message says what to do.</summary>
public sealed class StudyFileException(string message) : Exception(message);

/// <summary>Reads and writes <c>*.study.json</c>: the whole study, readable and diffable.</summary>
public static class StudyFile
{
    public const string Format = "clear-tide-study";
    public const int Version = 1;
    public const int LongestFile = 20_000_000;

    internal static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        MaxDepth = 32,
        IgnoreReadOnlyProperties = true,
        // What is stored was checked when it came in; should it not be a study after all, it is told when it is read and not later.
        RespectNullableAnnotations = true,
        RespectRequiredConstructorParameters = true,
        Converters =
        {
            new TimeUnitConverter(),
            new FlowEndsConverter(),
            new System.Text.Json.Serialization.JsonStringEnumConverter(JsonNamingPolicy.CamelCase),
        },
        NewLine = "\n",
        TypeInfoResolver = new System.Text.Json.Serialization.Metadata.DefaultJsonTypeInfoResolver
        {
            Modifiers = { LeaveOutDefaults.Modify },
        },
    };

    public static string Write(StudyBundle bundle)
    {
        var root = new JsonObject
        {
            ["format"] = Format,
            ["version"] = Version,
            ["study"] = JsonSerializer.SerializeToNode(bundle.Document, Options),
            ["dataSets"] = JsonSerializer.SerializeToNode(bundle.DataSets, Options),
        };
        BesideFields.Write(root);
        return root.ToJsonString(Options) + "\n";
    }

    /// <exception cref="StudyFileException">The text is not a study that this version can read.</exception>
    public static StudyBundle Read(string text) => Read(text, held: true);

    /// <summary>
    /// A study that ships with the application. It is not held against the schema while somebody waits for the application to start
    /// (preparing the schema takes longer than all shipped studies): a test does that with each of them.
    /// </summary>
    /// <exception cref="StudyFileException">The text is not a study that this version can read.</exception>
    public static StudyBundle ReadShipped(string text) => Read(text, held: false);

    private static StudyBundle Read(string text, bool held)
    {
        var (document, root) = ReadRoot(
            text,
            Format,
            "This is not a Clear Tide study: it lacks the line \"format\": \"clear-tide-study\".",
            held
        );
        return new(
            BesideFields.Read(root, document),
            Guarded(() => root["dataSets"] is { } sets ? StudyChecks.Require(sets.Deserialize<ImmutableArray<DataSet>>(Options)) : [])
        );
    }

    /// <summary>The document of a text of one of our formats, with all the text holds.</summary>
    /// <param name="held">Whether it is held against the schema.</param>
    internal static (StudyDocument Document, JsonObject Root) ReadRoot(string text, string format, string otherwise, bool held = true)
    {
        if (text.Length > LongestFile)
            throw new StudyFileException($"This file has {text.Length:N0} characters; {LongestFile:N0} is the limit.");
        return Guarded(() =>
        {
            var root =
                JsonNode.Parse(text, documentOptions: new() { MaxDepth = 32, CommentHandling = JsonCommentHandling.Skip }) as JsonObject;
            if (root?["format"]?.GetValue<string>() != format)
                throw new StudyFileException(otherwise);
            var version = root["version"]?.GetValue<int>() ?? 0;
            if (version > Version)
                throw new StudyFileException(
                    $"This study was written by a newer Clear Tide (file version {version}; this one reads up to {Version}). Open it there."
                );
            if (root["study"] is null)
                throw new StudyFileException("This file holds no study.");
            // Holding a file against the schema and reading it take about as long as each other, and neither needs the other. What
            // departs from the schema is told first: it has a place and a sentence.
            var check = held ? Task.Run(() => SchemaCheck.Require(root, format)) : Task.CompletedTask;
            StudyDocument? document;
            try
            {
                document = ReadStudy(text);
            }
            finally
            {
                check.GetAwaiter().GetResult();
            }
            if (document is null)
                throw new StudyFileException("This file holds no study.");
            return (StudyChecks.Require(document), root);
        });
    }

    /// <summary>The study in a file's text, read beside those who look at its nodes: these are not made for two at once.</summary>
    private static StudyDocument? ReadStudy(string text)
    {
        using var file = JsonDocument.Parse(text, new() { MaxDepth = 32, CommentHandling = JsonCommentHandling.Skip });
        return file.RootElement.GetProperty("study").Deserialize<StudyDocument>(Options);
    }

    private static T Guarded<T>(Func<T> read)
    {
        try
        {
            return read();
        }
        catch (JsonException broken)
        {
            throw new StudyFileException(
                $"This file is broken at line {broken.LineNumber + 1}: it cannot be read as JSON there. Export it again where it came from."
            );
        }
        catch (Exception wrong) when (wrong is InvalidOperationException or FormatException or NotSupportedException or ArgumentException)
        {
            throw new StudyFileException(
                "A field of this file stands there twice or holds something of the wrong kind. Export it again where it came from."
            );
        }
    }

    /// <summary>One document without its data, on one line, for storage.</summary>
    public static string WriteDocument(StudyDocument document) => JsonSerializer.Serialize(document, Compact);

    /// <summary>What <see cref="WriteDocument"/> has written. It is not held against the schema again, but lacks nothing that a document
    /// has.</summary>
    /// <exception cref="StudyFileException">The text is no document.</exception>
    public static StudyDocument ReadDocument(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<StudyDocument>(text, Compact) is { } document
                ? StudyChecks.Whole(document)
                : throw new StudyFileException("There is nothing in it.");
        }
        catch (Exception wrong)
            when (wrong is JsonException or InvalidOperationException or FormatException or NotSupportedException or ArgumentException)
        {
            var place = (wrong as JsonException)?.Path is { Length: > 1 } path ? $" at {path[2..]}" : "";
            throw new StudyFileException($"Something is missing or damaged in it{place}.");
        }
    }

    private static readonly JsonSerializerOptions Compact = new(Options) { WriteIndented = false };
}
