using System.Text.Json;
using System.Text.Json.Nodes;
using ClearTide.Core.Inference;
using ClearTide.Core.Model;

namespace ClearTide.Formats.Tables;

/// <summary>A fit as JSON, with all that it found; what the names mean stands in the documentation of fitting files.</summary>
public static class FitFile
{
    private static readonly JsonSerializerOptions Options = new() { WriteIndented = true };

    /// <param name="series">What was fitted.</param>
    public static void Write(TextWriter output, FitResult fit, IReadOnlyList<Series> series) =>
        output.WriteLine(Of(fit, series).ToJsonString(Options));

    private static JsonObject Of(FitResult fit, IReadOnlyList<Series> series)
    {
        var file = new JsonObject
        {
            ["format"] = "clear-tide-fit",
            ["version"] = 1,
            ["logLikelihood"] = Number(fit.LogLikelihood),
            ["aic"] = Number(fit.Aic),
            ["starts"] = fit.Starts,
            ["estimates"] = List(fit.Estimates.Select((one, k) => Estimate(fit, one, k))),
            ["covariance"] = Covariance(fit),
            ["subjects"] = List(
                (fit.Detail?.Subjects is { IsDefaultOrEmpty: false } own ? own : []).Select(one =>
                {
                    var addresses = fit.Detail!.Setup.Parameters.Where(parameter => parameter.Own).Select(parameter => parameter.Address);
                    return (JsonNode)
                        new JsonObject
                        {
                            ["subject"] = one.Subject,
                            ["values"] = new JsonObject(
                                addresses.Select((address, k) => KeyValuePair.Create(address.ToString(), Number(one.Values[k])))
                            ),
                            ["standardErrors"] = new JsonObject(
                                addresses.Select(
                                    (address, k) => KeyValuePair.Create(address.ToString(), Number(one.Errors[k] ?? double.NaN))
                                )
                            ),
                            ["profileEnds"] = one.Ends.IsDefaultOrEmpty
                                ? null
                                : new JsonObject(
                                    addresses.Select(
                                        (address, k) =>
                                            KeyValuePair.Create(
                                                address.ToString(),
                                                (JsonNode?)
                                                    new JsonObject
                                                    {
                                                        ["low95"] = Number(one.Ends[k].Low),
                                                        ["high95"] = Number(one.Ends[k].High),
                                                    }
                                            )
                                    )
                                ),
                        };
                })
            ),
            ["combinations"] = List(
                fit.Combinations.Select(one => new JsonObject
                {
                    ["expression"] = one.Expression,
                    ["value"] = Number(one.Value),
                    ["low"] = Number(one.Low),
                    ["high"] = Number(one.High),
                })
            ),
            ["series"] = List(
                series.Select(
                    (one, k) =>
                        new JsonObject
                        {
                            ["name"] = one.Observation.Label,
                            ["law"] = one.Observation.LawIn(fit.Detail?.Setup ?? FitSetup.Empty).ToString(),
                            ["spread"] = fit.Spreads.IsDefault ? null : Number(fit.Spreads[k]?.Main),
                            ["addedSpread"] =
                                fit.Spreads.IsDefault || fit.Spreads[k] is not { Added: > 0 } spread ? null : Number(spread.Added),
                        }
                )
            ),
        };
        if (fit.Detail is not { } detail)
            return file;
        file["logPrior"] = Number(detail.LogPrior);
        file["aicc"] = Number(FitCriteria.Corrected(fit.Aic, detail.Free, detail.Rows));
        file["bic"] = Number(FitCriteria.Bayesian(fit.LogLikelihood, detail.Free, detail.Rows));
        file["estimatedNumbers"] = detail.Free;
        file["evaluations"] = detail.Evaluations;
        file["optima"] = List(
            detail.Optima.Select(one => new JsonObject
            {
                ["height"] = Number(one.Height),
                ["starts"] = one.Count,
                ["values"] = new JsonObject(
                    fit.Estimates.Select((estimate, j) => KeyValuePair.Create(estimate.Address.ToString(), Number(one.Values[j])))
                ),
                ["atBounds"] = List(one.Bounds.Select(bound => JsonValue.Create($"{bound.Address} {(bound.IsUpper ? "upper" : "lower")}"))),
            })
        );
        file["failedStarts"] = List(detail.Failures.Select(one => new JsonObject { ["start"] = one.Start, ["reason"] = one.Reason }));
        file["rows"] = List(Rows(fit, detail, series));
        file["derived"] = List(
            detail.Derived.Select(one => new JsonObject
            {
                ["quantity"] = one.Symbol,
                ["value"] = Number(one.Value),
                ["low95"] = Number(one.Low),
                ["high95"] = Number(one.High),
            })
        );
        file["warnings"] = List(detail.Patterns.Select(words => JsonValue.Create(words)));
        file["measureNext"] = List(
            detail.Next.Select(one => new JsonObject
            {
                ["series"] = series.FirstOrDefault(other => other.Observation.Id == one.ObservationId)?.Observation.Label,
                ["from"] = Number(one.Start),
                ["to"] = Number(one.End),
                ["expected"] = Number(one.Expected),
                ["subject"] = one.Subject,
                ["value"] = one.Address.ToString(),
                ["ownOf"] = one.OwnOf,
                ["halfWidthNow"] = Number(one.Before),
                ["halfWidthThen"] = Number(one.After),
            })
        );
        file["forecast"] = detail.Forecast is not { } score
            ? null
            : new JsonObject
            {
                ["from"] = Number(score.From),
                ["rows"] = score.Rows,
                ["logScore"] = Number(score.LogScore),
                ["crps"] = Number(score.Crps),
                ["within50"] = score.Within50,
                ["within90"] = score.Within90,
                ["subjects"] = score.Subjects,
            };
        return file;
    }

    private static JsonObject Estimate(FitResult fit, Estimate estimate, int k) =>
        new()
        {
            ["value"] = estimate.Address.ToString(),
            ["estimate"] = Number(estimate.Value),
            ["standardError"] = Number(estimate.StandardError),
            ["observedStandardError"] = Number(fit.Detail?.ObservedErrors[k]),
            ["low95"] = Number(estimate.Low),
            ["high95"] = Number(estimate.High),
            ["knowledge"] = estimate.Knowledge.ToString(),
            ["words"] = estimate.Sentence,
            ["profile"] = fit.Detail is { } detail
                ? List(detail.Profiles[k].Select(point => new JsonArray(Number(point.Value), Number(point.Fall))))
                : null,
        };

    /// <summary>Of the values in their own units, by the delta method; null where there is none.</summary>
    private static JsonArray? Covariance(FitResult fit)
    {
        if (fit.Correlations is not { } correlations)
            return null;
        var count = fit.Estimates.Length;
        return List(
            Enumerable
                .Range(0, count)
                .Select(a =>
                    List(
                        Enumerable
                            .Range(0, count)
                            .Select(b =>
                                Number(correlations[a * count + b] * fit.Estimates[a].StandardError * fit.Estimates[b].StandardError)
                            )
                    )
                )
        );
    }

    private static IEnumerable<JsonNode?> Rows(FitResult fit, FitDetail detail, IReadOnlyList<Series> series)
    {
        var at = 0;
        foreach (var one in series)
        {
            foreach (var row in one.Data.Used)
            {
                var fitted = detail.Fitted[at];
                yield return new JsonObject
                {
                    ["series"] = one.Observation.Label,
                    ["from"] = Number(row.Start),
                    ["to"] = Number(row.End),
                    ["observed"] = Number(row.Value),
                    ["expected"] = Number(fit.Means[at]),
                    ["expectedLow95"] = Number(fitted.MeanLow),
                    ["expectedHigh95"] = Number(fitted.MeanHigh),
                    ["seenLow95"] = Number(fitted.Low),
                    ["seenHigh95"] = Number(fitted.High),
                    ["residual"] = Number(fitted.Residual),
                };
                at++;
            }
        }
    }

    private static JsonArray List(IEnumerable<JsonNode?> entries) => [.. entries];

    /// <summary>JSON has no numbers that are none: they are null.</summary>
    private static JsonNode? Number(double? value) => value is { } number && double.IsFinite(number) ? JsonValue.Create(number) : null;
}
