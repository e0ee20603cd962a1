using System.Globalization;

namespace ClearTide.Core.Models;

/// <summary>Sets the title and the question of a study.</summary>
public sealed record SetQuestion(string Title, string Question) : Edit
{
    public override EditResult Apply(StudyDocument document)
    {
        var title = Title.Trim();
        if (title.Length is 0 or > 120) return EditResult.Refused("A title has between 1 and 120 characters.");
        if (Question.Length > 2000) return EditResult.Refused("A question has at most 2000 characters; put the rest into notes.");
        return document with { Title = title, Question = Question.Trim() };
    }

    public override string Describe(StudyDocument before) => before.Title != Title.Trim() ? $"title: {Title.Trim()}" : "question";
}

/// <summary>Sets the span of time that is run.</summary>
public sealed record SetSpan(double Start, double End) : Edit
{
    public override EditResult Apply(StudyDocument document)
    {
        if (!double.IsFinite(Start) || !double.IsFinite(End)) return EditResult.Refused("A time span is two numbers, as in 0 and 150.");
        if (End <= Start) return EditResult.Refused($"The span must end after it starts at {Start.ToString(CultureInfo.InvariantCulture)}. Type a later end.");
        if (Math.Abs(Start) > 1e9 || Math.Abs(End) > 1e9) return EditResult.Refused("The span lies further than a thousand million units of time from zero. Use a larger unit of time.");
        return document with { Start = Start, End = End };
    }

    public override string Describe(StudyDocument before) =>
        string.Create(CultureInfo.InvariantCulture, $"span: {before.Start}–{before.End} → {Start}–{End}");
}
