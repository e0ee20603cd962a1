using ClearTide.Core.Model;

namespace ClearTide.Web.Studies;

/// <summary>The steps of a study that there are pages for, in the order of work.</summary>
public enum Step
{
    Build,
    Explore,
    Data,
    Fit,
    Subjects,
    Scenarios,
    Projections,
}

/// <summary>What the dot beside a step says.</summary>
public enum StepState
{
    Empty,
    Ready,
    Unfinished,
}

public static class Steps
{
    public static readonly IReadOnlyList<Step> All = Enum.GetValues<Step>();

    /// <param name="isUnfinished">Asked for where there is a model at all: whether a part of it still lacks something.</param>
    public static StepState State(Step step, StudyDocument document, Func<bool> isUnfinished) =>
        step switch
        {
            Step.Build => document.Compartments.IsEmpty ? StepState.Empty
            : isUnfinished() ? StepState.Unfinished
            : StepState.Ready,
            Step.Explore => document.Compartments.IsEmpty ? StepState.Empty : StepState.Ready,
            Step.Data => document.Observations.IsEmpty ? StepState.Empty : StepState.Ready,
            Step.Fit => document.Fit.Parameters.IsEmpty ? StepState.Empty : StepState.Ready,
            Step.Subjects => document.Subjects is { Varying.IsEmpty: false } ? StepState.Ready : StepState.Empty,
            Step.Scenarios => document.Scenarios.IsEmpty ? StepState.Empty : StepState.Ready,
            _ => document.Observations.Any(one => one.Seen == ObservedAs.Flowed) ? StepState.Ready : StepState.Empty,
        };

    /// <summary>The page of the guide on a step.</summary>
    public static string GuidePage(Step step) => step == Step.Build ? "an-empty-study" : step.ToString().ToLowerInvariant();

    public static string Words(StepState state) =>
        state switch
        {
            StepState.Empty => "empty",
            StepState.Ready => "ready",
            _ => "unfinished",
        };
}
