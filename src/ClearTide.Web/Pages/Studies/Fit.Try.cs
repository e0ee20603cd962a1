using System.Text.Json;
using ClearTide.Core.Compilation;
using ClearTide.Core.Inference;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Reports;
using ClearTide.Core.Simulation;
using ClearTide.Web.Hosting;
using ClearTide.Web.Words;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Values that are tried against the data before a search, or after it.</summary>
public sealed partial class FitModel
{
    /// <summary>The data against values that are tried.</summary>
    /// <param name="set">Numbers by address, as JSON.</param>
    public IActionResult OnPostTry(string? set)
    {
        var values = Tried(set);
        if (values is null)
            return BadRequest();
        try
        {
            var trial = InTime(
                WorkTime.Run,
                cancel => Trial.At(Document, Series, values, cancel),
                why => throw new FitRefusedException(why)
            );
            var curves = Lines(values, []);
            var expected = Series.Zip(Expected(trial.Means)).ToDictionary(one => one.First.Observation.Id, one => one.Second);
            return new JsonResult(
                new
                {
                    words = double.IsFinite(trial.LogLikelihood)
                        ? $"With these values the log-likelihood is {FitWords.Height(trial.LogLikelihood)}."
                        : "With these values the data are impossible: something was seen where nothing is expected.",
                    series = Pictures.Select(one => new
                    {
                        id = one.Key,
                        expected = one.Places.Select(place => expected[one.Series.Observation.Id]?[place]),
                        times = curves.GetValueOrDefault(one.Key)?.Times,
                        curve = curves.GetValueOrDefault(one.Key)?.Expected,
                    }),
                }
            );
        }
        catch (SimulationException failure)
        {
            return new JsonResult(new { words = RunFailure.Say(failure, Lowering.Lower(Document)), series = Array.Empty<object>() });
        }
        catch (Exception wrong) when (wrong is ArgumentException or FitRefusedException)
        {
            return new JsonResult(new { words = wrong.Message, series = Array.Empty<object>() });
        }
    }

    /// <summary>What the data can tell of the values that are ticked, before anything is fitted; null where nothing is ticked or there are
    /// no data. What a fit would refuse is said at once.</summary>
    public string? Foreseen
    {
        get
        {
            if (Series.Count == 0 || Document.Fit.Parameters.IsEmpty)
                return null;
            try
            {
                var told = InTime(WorkTime.Run, cancel => Foresight.Of(Document, Series, cancel), _ => (IReadOnlyList<string>)[]);
                return told.Count == 0 ? null : $"If the model’s own values were right, these data would tell {string.Join("; ", told)}.";
            }
            catch (FitRefusedException refusal)
            {
                return refusal.Message;
            }
        }
    }

    /// <summary>Writes values that were tried into the model: a search starts from there.</summary>
    public IActionResult OnPostTake(long version, string? set) =>
        Tried(set) is { Count: > 0 } values ? Answer(Save(version, new AdoptValues(values, Origin.Guess))) : BadRequest();

    /// <summary>Null for what is no list of finite numbers.</summary>
    private static Dictionary<ValueAddress, double>? Tried(string? set)
    {
        try
        {
            var read = JsonSerializer.Deserialize<Dictionary<string, double>>(set ?? "{}") ?? [];
            return read.Values.All(double.IsFinite) ? read.ToDictionary(pair => ValueAddress.Read(pair.Key), pair => pair.Value) : null;
        }
        catch (Exception wrong) when (wrong is JsonException or ArgumentException or FormatException)
        {
            return null;
        }
    }
}
