using ClearTide.Core.Data;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Simulation;
using ClearTide.Formats.Studies;
using ClearTide.Storage;

namespace ClearTide.Web.Studies;

/// <summary>The study files that ship: the demo studies and the starting patterns.</summary>
public sealed class StudyLibrary(StudyStore studies, Shelf shelf, DataSetStore dataSets, ILogger<StudyLibrary> log)
{
    private static string Folder => Path.Combine(AppContext.BaseDirectory, "demo");

    /// <summary>The demo study that a newcomer meets first.</summary>
    private const string FirstDemo = "marram-fever";

    /// <summary>How many demo studies ship.</summary>
    public static int DemoStudies => Files("").Count();

    /// <summary>Other points of a series left out of fits, or other values in it: its next version, and the edit that takes it up; null
    /// where nothing changes.</summary>
    /// <param name="rows">All rows of the series.</param>
    public ChangeSeries? Leaving(string studyId, Series series, IReadOnlyList<DataRow> rows)
    {
        if (rows.SequenceEqual(series.Data.Rows))
            return null;
        var (left, stored) = (rows.Count(row => row.LeftOut), dataSets.AddVersion(studyId, series.Data with { Rows = rows }));
        var typed = rows.Zip(series.Data.Rows).Count(pair => pair.First with { LeftOut = false } != pair.Second with { LeftOut = false });
        return new(
            series.Observation with
            {
                DataSet = stored.Id,
            },
            typed > 0 ? $"{typed} {(typed == 1 ? "value" : "values")} changed by hand"
                : left == 0 ? "all points used"
                : $"{left} {(left == 1 ? "point" : "points")} left out"
        );
    }

    private readonly Lazy<IReadOnlyDictionary<string, StudyDocument>> _patterns = new(() =>
        Files("patterns").ToDictionary(Name, file => StudyFile.ReadShipped(File.ReadAllText(file)).Document)
    );

    /// <summary>Starting patterns by the name of their file.</summary>
    public IReadOnlyDictionary<string, StudyDocument> Patterns => _patterns.Value;

    /// <summary>Models that can be part of another: starting patterns and the studies on the shelf, each with its id and title.</summary>
    public IEnumerable<(string Id, string Title)> Models =>
        Patterns
            .Select(pattern => (PatternId + pattern.Key, $"pattern: {pattern.Value.Title}"))
            .Concat(shelf.List().Select(study => (study.Id, study.Title)));

    /// <summary>What the ids of patterns begin with among those of studies.</summary>
    private const string PatternId = "pattern ";

    /// <summary>One of <see cref="Models"/> as it is now; null where it is not there any more.</summary>
    public StudyDocument? Model(string id)
    {
        if (id.StartsWith(PatternId, StringComparison.Ordinal))
            return Patterns.GetValueOrDefault(id[PatternId.Length..]);
        try
        {
            return studies.Load(id)?.Document;
        }
        catch (UnreadableStudyException)
        {
            return null;
        }
    }

    /// <summary>Puts the demo studies on a shelf that has never held one.</summary>
    public void AddDemoStudies(bool wanted)
    {
        if (!wanted || shelf.Count(archived: false) + shelf.Count(archived: true) > 0)
            return;
        // The last one added stands first on the shelf.
        foreach (var file in Files("").OrderBy(file => Name(file) != FirstDemo).Reverse())
        {
            Add(StudyFile.ReadShipped(File.ReadAllText(file)));
            log.LogInformation("Added the demo study {Name}", Name(file));
        }
    }

    /// <summary>Stores a study with its data; returns its id.</summary>
    /// <param name="copyOf">The study that it begins as a copy of; null for none.</param>
    public string Add(StudyBundle bundle, string? copyOf = null) => studies.Add(bundle.Document, bundle.DataSets, copyOf);

    /// <summary>Rows of all data sets that are kept at hand.</summary>
    private const int MostRows = 500_000;

    private readonly SizedCache<(string Study, string Id), DataSet> _data = new(MostRows, data => 10 + data.Rows.Count);

    /// <summary>The observations of a document with the data they refer to; those whose data are gone are left out.</summary>
    public IReadOnlyList<Series> SeriesOf(string studyId, StudyDocument document) =>
        document.Observations.IsEmpty
            ? []
            : Series.Of(
                document,
                document.Observations.Select(one => one.DataSet).Distinct().Select(id => Find(studyId, id)).OfType<DataSet>()
            );

    /// <summary>A version of data that the study has; null where it has not.</summary>
    public DataSet? Find(string studyId, string dataSet)
    {
        var key = (studyId, dataSet);
        if (_data.Find(key) is { } known)
            return known;
        if (dataSets.Find(studyId, dataSet) is not { } data)
            return null;
        _data.Keep(key, data);
        return data;
    }

    /// <summary>A study with the data it refers to; null where there is none.</summary>
    public StudyBundle? Bundle(string id) =>
        studies.Load(id) is { } state
            ? new(state.Document, [.. SeriesOf(id, state.Document).Select(one => one.Data).DistinctBy(data => data.Id)])
            : null;

    /// <summary>A second study like another one; its id, or null where there is none.</summary>
    public string? Duplicate(string id)
    {
        if (Bundle(id) is not { } bundle)
            return null;
        var title = bundle.Document.Title.Length <= 110 ? bundle.Document.Title : bundle.Document.Title[..110];
        return Add(bundle with { Document = bundle.Document with { Title = title + ", copy" } }, copyOf: id);
    }

    /// <summary>New versions of the data on a model with their times in another unit: by the id of each version, that of the new
    /// one.</summary>
    public IReadOnlyDictionary<string, string> Rescaled(string studyId, StudyDocument document, TimeUnit unit)
    {
        var ratio = document.TimeUnit.Seconds / unit.Seconds;
        return SeriesOf(studyId, document)
            .Select(one => one.Data)
            .DistinctBy(data => data.Id)
            .ToDictionary(
                data => data.Id,
                data =>
                    dataSets
                        .AddVersion(
                            studyId,
                            data with
                            {
                                Rows = [.. data.Rows.Select(row => row with { Start = row.Start * ratio, End = row.End * ratio })],
                                Subjects = [.. data.Subjects.Select(subject => subject.Scaled(ratio))],
                            }
                        )
                        .Id
            );
    }

    private static string Name(string file) => Path.GetFileName(file).Split('.')[0];

    private static IEnumerable<string> Files(string folder)
    {
        var path = Path.Combine(Folder, folder);
        return Directory.Exists(path) ? Directory.EnumerateFiles(path, "*.study.json").Order(StringComparer.Ordinal) : [];
    }
}
