using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using ClearTide.Core.Compilation;
using ClearTide.Core.Data;
using ClearTide.Core.Groups;
using ClearTide.Core.Language;
using ClearTide.Core.Lines;
using ClearTide.Core.Model;

namespace ClearTide.Core.Reports;

/// <summary>Hashes of the content that numbers depend on: formulas, amounts, data and settings, not labels, notes or positions.</summary>
public static class Fingerprints
{
    /// <summary>The content behind a fit: the values that it estimates, or that follow from these, count by their address alone, so that
    /// adopting estimates does not outdate it.</summary>
    /// <param name="document">The study; not changed.</param>
    /// <param name="series">The observations with their rows.</param>
    public static string Of(StudyDocument document, IReadOnlyList<Series> series)
    {
        var text = new StringBuilder();
        Content(
            text,
            document,
            series,
            [.. document.Fit.Parameters.Select(parameter => parameter.Address), .. document.Fit.Ties.Select(tie => tie.Address)]
        );
        text.Append(document.Fit.Law).Append('\n');
        foreach (var parameter in document.Fit.Parameters)
        {
            text.Append(CultureInfo.InvariantCulture, $"{parameter.Address} {parameter.Lower:R} {parameter.Upper:R}\n");
            if (parameter.Own)
                text.Append("own\n");
            if (parameter.Prior is { } prior)
                text.Append(CultureInfo.InvariantCulture, $"{prior.Law} {prior.Mean:R} {prior.Spread:R}\n");
        }
        foreach (var tie in document.Fit.Ties)
            text.Append(tie.Address).Append(" follows ").Append(tie.Formula).Append('\n');
        if (document.Fit.Shuffle != 0)
            text.Append(CultureInfo.InvariantCulture, $"shuffle {document.Fit.Shuffle}\n");
        if (document.Fit.Starts != FitSetup.UsualStarts)
            text.Append(CultureInfo.InvariantCulture, $"starts {document.Fit.Starts}\n");
        if (document.Fit.Bootstrap > 0)
            text.Append(CultureInfo.InvariantCulture, $"bootstrap {document.Fit.Bootstrap}\n");
        return Hash(text.ToString());
    }

    /// <summary>Model, observations and data as text for hashing, every value included.</summary>
    internal static string OfContent(StudyDocument document, IReadOnlyList<Series> series)
    {
        var text = new StringBuilder();
        Content(text, document, series, []);
        return text.ToString();
    }

    /// <summary>The data of a fit alone: fits of the same rows can be compared by their likelihoods.</summary>
    /// <param name="series">The observations with their rows.</param>
    public static string OfData(IReadOnlyList<Series> series)
    {
        var text = new StringBuilder();
        foreach (var (observation, data) in series)
        {
            text.Append(observation.Label).Append('\n');
            Rows(text, data);
        }
        return Hash(text.ToString());
    }

    /// <summary>The content behind a run: the model with all its values, the span, the settings of the solver and the build that computes
    /// it.</summary>
    /// <param name="document">The study; not changed.</param>
    public static string OfRun(StudyDocument document)
    {
        var text = new StringBuilder();
        Model(text, document, []);
        text.Append(
            CultureInfo.InvariantCulture,
            $"{document.End:R} {document.Solver.Method} {document.Solver.Step:R} {document.Solver.Tolerance:R}\n"
        );
        text.Append(typeof(Fingerprints).Assembly.ManifestModule.ModuleVersionId);
        return Hash(text.ToString());
    }

    private static void Content(StringBuilder text, StudyDocument document, IReadOnlyList<Series> series, HashSet<ValueAddress> estimated)
    {
        Model(text, document, estimated);
        foreach (var (observation, data) in series)
        {
            text.Append(observation.FlowId).Append(' ').Append(observation.Reporting);
            foreach (var other in observation.OtherFlows)
                text.Append(' ').Append(other);
            if (observation.Seen != ObservedAs.Flowed)
                text.Append(' ').Append(observation.Seen).Append(' ').Append(observation.Formula);
            foreach (var day in observation.Weekdays)
                text.Append(" by day ").Append(day);
            if (observation.Delay.Length > 0)
                text.Append(CultureInfo.InvariantCulture, $" late by {observation.Delay} in {observation.DelayStages}");
            if (observation.DosesInto.Length > 0)
                text.Append(" doses into ").Append(observation.DosesInto);
            if (observation.Law is { } law)
                text.Append(' ').Append(law);
            if (observation.Spread is { } spread)
                text.Append(CultureInfo.InvariantCulture, $" spread {spread:R}");
            text.Append('\n');
            Rows(text, data);
        }
    }

    private static void Rows(StringBuilder text, DataSet data)
    {
        foreach (var row in data.Rows)
        {
            text.Append(CultureInfo.InvariantCulture, $"{row.Start:R} {row.End:R} {row.Value:R}");
            if (row.Error is { } error)
                text.Append(CultureInfo.InvariantCulture, $" {error:R}");
            if (row.OutOf is { } number)
                text.Append(CultureInfo.InvariantCulture, $" out of {number:R}");
            if (row.GivenWeight is { } weight)
                text.Append(CultureInfo.InvariantCulture, $" weight {weight:R}");
            if (row.Below)
                text.Append(" below");
            if (row.Subject is { } name)
                text.Append(" of ").Append(name);
            text.Append(row.LeftOut ? " left out\n" : "\n");
        }
        foreach (var subject in data.Subjects)
        {
            text.Append(subject.Name);
            foreach (var (symbol, value) in subject.Covariates)
                text.Append(CultureInfo.InvariantCulture, $" {symbol}={value:R}");
            foreach (var dose in subject.Doses)
            {
                text.Append(CultureInfo.InvariantCulture, $" {dose.Time:R}:{dose.Amount:R}/{dose.Duration:R}");
                if (dose.Into is { } into)
                    text.Append(" into ").Append(into);
            }
            text.Append('\n');
        }
    }

    private static void Model(StringBuilder text, StudyDocument document, HashSet<ValueAddress> estimated)
    {
        var start = estimated.Contains(FreedValues.StartDay) ? "?" : document.Start.ToString("R", CultureInfo.InvariantCulture);
        text.Append(document.TimeUnit.Singular).Append(CultureInfo.InvariantCulture, $" {start} {document.Seed} {document.Origin}\n");
        var written = WrittenOut.Of(document);
        var network = estimated.Count == 0 ? null : Lowering.Lower(FreedValues.With(document, estimated)).Network;
        document = written.Document;
        var open = network is null
            ? []
            : network.Values.Where(value => estimated.Contains(value.Address)).Select(value => value.PartId).ToHashSet();
        foreach (var unit in document.Units)
            text.Append(unit.Word).Append('=').Append(unit.Meaning).Append('\n');
        foreach (var part in document.Parts)
        {
            if (part is Assumption or Expectation)
                continue;
            text.Append(part.Id)
                .Append(' ')
                .Append(
                    open.Contains(part.Id) || open.Contains(written.BaseOf(part.Id))
                        ? Open(document, part, estimated)
                        : LineText.Of(document, part)
                );
            if (part is ISymbolPart named)
                text.Append(" in ").Append(named.Unit);
            if (part is Flow { SpreadStart: true })
                text.Append(" spread");
            if (part is Compartment compartment)
                text.Append(CultureInfo.InvariantCulture, $" {compartment.NeverBelowZero} {compartment.WholeUnits}");
            if (part is EventRule rule)
                text.Append(
                    CultureInfo.InvariantCulture,
                    $" {rule.Priority} {rule.ValuesAtTrigger} {rule.Together} {rule.ActsAtStart} {rule.DroppedWhenFalse} "
                        + $"{rule.StopsWhenShort}"
                );
            text.Append('\n');
        }
    }

    /// <summary>A part whose numbers are estimated: what it is, without them.</summary>
    private static string Open(StudyDocument document, IPart part, HashSet<ValueAddress> estimated) =>
        part switch
        {
            // Of a table only those numbers are left out that are estimated.
            Input input => LineText.Of(
                document,
                input with
                {
                    Points =
                    [
                        .. input.Points.Select(
                            (point, k) => estimated.Contains(FreedValues.Point(input, k)) ? point with { Y = 0 } : point
                        ),
                    ],
                }
            ) + $" ? {string.Join(' ', estimated.Where(one => one.Symbol == input.Symbol).OrderBy(one => one.Twin))}",
            Flow flow => $"{document.Describe(flow)} {flow.Kind} {flow.Stages} {flow.Limited} {flow.Noise} ?",
            ResponseCurve curve => $"{curve.Symbol} {curve.Law} ?",
            _ => $"{part.Name} ?",
        };

    /// <summary>The SHA-256 of a text, in hexadecimal digits.</summary>
    /// <param name="text">The text as typed.</param>
    public static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
