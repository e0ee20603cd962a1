using System.Collections.Immutable;
using ClearTide.Core.Compilation;
using ClearTide.Core.Model;

namespace ClearTide.Core.Ensembles;

/// <summary>How subjects differ, how many there are, and what is looked at.</summary>
/// <param name="Group">The subjects as they shall be.</param>
public sealed record SetSubjects(SubjectGroup Group) : Edit
{
    /// <inheritdoc/>
    public override EditResult Apply(StudyDocument document)
    {
        if (Group.Count is < 1 or > SubjectGroup.Most)
            return EditResult.Refused($"From 1 to {SubjectGroup.Most:N0} subjects can be drawn.");
        if (Group.Varying.Length > SubjectGroup.MostValues)
            return EditResult.Refused($"Up to {SubjectGroup.MostValues} values can differ between subjects.");
        if (Group.Varying.GroupBy(one => one.Address).FirstOrDefault(group => group.Count() > 1) is { } twice)
            return EditResult.Refused($"{twice.Key} stands twice among what differs. Take one of them out.");
        if (Group.Correlations.Any(one => !(Math.Abs(one.Correlation) < 1)))
            return EditResult.Refused("A correlation lies between −1 and 1.");
        if (Group.TargetLow >= Group.TargetHigh)
            return EditResult.Refused("The ends of the target cross. Type an upper one above the lower one.");
        if (Group.Of.Length > 0 && document.Part(Group.Of) is null)
            return EditResult.Refused("The curve that is looked at is no longer in the model. Choose another one.");
        var known = Group.Varying.Select(one => one.Address).ToHashSet();
        var tidy = Group with
        {
            Correlations = [.. Group.Correlations.Where(one => known.Contains(one.First) && known.Contains(one.Second))],
        };
        try
        {
            var lowered = Lowering.Lower(document);
            // The first subject shows whether any can be drawn.
            new SubjectDraws(lowered, tidy, lowered.Network.ValueVector()).Own(1);
        }
        catch (ArgumentException refusal)
        {
            return EditResult.Refused(refusal.Message);
        }
        return document with { Subjects = tidy };
    }

    /// <inheritdoc/>
    public override string Describe(StudyDocument before) =>
        Group.Varying.IsEmpty ? "subjects: nothing differs" : "subjects: " + string.Join(", ", Group.Varying.Select(one => one.Address));
}

/// <summary>The nearest correlations that can hold at once.</summary>
public static class NearestCorrelations
{
    /// <summary>The group with them, to three digits.</summary>
    /// <param name="group">The group.</param>
    public static SubjectGroup Of(SubjectGroup group)
    {
        var nearest = Sampling.CorrelationMatrix.Nearest(group.Matrix());
        // Digits that are cut off may take it out again: a little nearer to zero it surely is one.
        for (var shrink = 1.0; shrink > 0.9; shrink -= 0.001)
        {
            var list = ImmutableArray.CreateBuilder<ValueCorrelation>();
            for (var a = 0; a < group.Varying.Length; a++)
            {
                for (var b = 0; b < a; b++)
                {
                    if (Math.Round(shrink * nearest[a, b], 3) is var rounded and not 0)
                        list.Add(new(group.Varying[a].Address, group.Varying[b].Address, rounded));
                }
            }
            var rounder = group with { Correlations = list.ToImmutable() };
            if (Sampling.CorrelationMatrix.Root(rounder.Matrix()) is not null)
                return rounder;
        }
        return group with { Correlations = [] };
    }
}
