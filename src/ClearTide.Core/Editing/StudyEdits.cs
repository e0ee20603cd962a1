using System.Collections.Immutable;
using System.Globalization;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using ClearTide.Core.Units;

namespace ClearTide.Core.Editing;

/// <summary>Sets what the study is about.</summary>
/// <param name="Title">What stands on the shelf; not empty.</param>
/// <param name="Question">What the study is to answer.</param>
/// <param name="Description">Anything else that a reader should know.</param>
/// <param name="Tags">Separated by commas.</param>
/// <param name="Origin">The date of time zero as year-month-day; empty for none.</param>
public sealed record SetQuestion(string Title, string Question, string Description = "", string Tags = "", string Origin = "") : Edit
{
    /// <summary>Characters that a title has at most.</summary>
    public const int LongestTitle = 120;

    /// <summary>Limits of the words about a study, in characters, and of its tags.</summary>
    public const int LongestQuestion = 2000,
        LongestDescription = 20_000,
        LongestTag = 40,
        MostTags = 20;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var title = Title.Trim();
        if (title.Length is 0 or > LongestTitle)
            return EditResult.Refused($"A title has between 1 and {LongestTitle} characters.");
        if (Question.Length > LongestQuestion)
        {
            return EditResult.Refused($"A question has at most {LongestQuestion} characters; put the rest into the description.");
        }
        if (Description.Length > LongestDescription)
        {
            return EditResult.Refused($"A description has at most {LongestDescription:N0} characters.");
        }
        var tags = Tags.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Distinct().ToImmutableArray();
        if (tags.Length > MostTags || tags.Any(tag => tag.Length > LongestTag))
        {
            return EditResult.Refused($"At most {MostTags} tags of up to {LongestTag} characters each, separated by commas.");
        }
        DateOnly? origin = null;
        if (Origin.Trim().Length > 0)
        {
            if (!DateOnly.TryParseExact(Origin.Trim(), "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date))
                return EditResult.Refused($"“{Origin.Trim()}” is no day of the calendar. Write year-month-day.");
            origin = date;
        }
        return document with { Title = title, Question = Question.Trim(), Description = Description.Trim(), Tags = tags, Origin = origin };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => before.Title != Title.Trim() ? $"title: {Title.Trim()}" : "question";
}

/// <summary>Sets the span of time that is run.</summary>
/// <param name="Start">The first time, in the unit of the study.</param>
/// <param name="End">The last time, after the first.</param>
public sealed record SetSpan(double Start, double End) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (!double.IsFinite(Start) || !double.IsFinite(End))
            return EditResult.Refused("A time span is two numbers, as in 0 and 150.");
        if (End <= Start)
            return EditResult.Refused(
                $"The span must end after it starts at {Start.ToString(CultureInfo.InvariantCulture)}. Type a later end."
            );
        if (Math.Abs(Start) > 1e9 || Math.Abs(End) > 1e9)
            return EditResult.Refused("The span lies further than a thousand million units of time from zero. Use a larger unit of time.");
        return document with { Start = Start, End = End };
    }

    /// <inheritdoc/>
    public override string Topic => "span";

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        string.Create(CultureInfo.InvariantCulture, $"span: {before.Start}–{before.End} → {Start}–{End}");
}

/// <summary>Gives random inputs another seed, and with it other draws.</summary>
/// <param name="Seed">Any whole number.</param>
public sealed record SetSeed(long Seed) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        Seed is < 0 or > 999_999_999
            ? EditResult.Refused("A seed is a whole number from 0 to 999 999 999.")
            : document with
            {
                Seed = Seed,
            };

    /// <inheritdoc/>
    public override string Topic => "seed";

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"seed: {before.Seed} → {Seed}";
}

/// <summary>Adds a unit to the study, or says anew what one of its own units means.</summary>
/// <param name="Word">How the unit is written in formulas.</param>
/// <param name="Meaning">Empty for a count noun, “200 mg” for so many of another, “person” for another spelling.</param>
public sealed record SetUnit(string Word, string Meaning) : Edit
{
    /// <summary>Units that a study may add to those built in.</summary>
    public const int MostUnits = 200;

    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        var rule = new UnitRule(Symbols.Normalize(Word.Trim()), Meaning.Trim());
        if (UnitTable.Refusal(rule.Word) is { } refusal)
            return EditResult.Refused(refusal);
        var at = document
            .Units.Select((known, place) => (known, place))
            .Where(pair => pair.known.Word == rule.Word)
            .Select(pair => pair.place)
            .FirstOrDefault(-1);
        if (at < 0 && document.Units.Length >= MostUnits)
            return EditResult.Refused($"A study has at most {MostUnits} units of its own.");
        var units = at < 0 ? document.Units.Add(rule) : document.Units.SetItem(at, rule);
        var problem = new UnitTable(document.TimeUnit, units).Problems.FirstOrDefault(pair => pair.Rule == rule);
        return problem.Message is { } message ? EditResult.Refused(message) : document with { Units = units };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Meaning.Length == 0 ? $"adds the unit {Word}" : $"adds the unit {Word} = {Meaning}";
}

/// <summary>Takes one of the study's own units away; what used it is marked.</summary>
/// <param name="Word">The word of the unit.</param>
public sealed record RemoveUnit(string Word) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document) =>
        document.Units.All(rule => rule.Word != Word)
            ? EditResult.Refused($"“{Word}” is not one of the study's own units.")
            : document with
            {
                Units = document.Units.RemoveAll(rule => rule.Word == Word),
            };

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) => $"takes away the unit {Word}";
}
