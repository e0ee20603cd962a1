using System.Text.RegularExpressions;

namespace ClearTide.Formats.Tables;

/// <summary>Words that a heading tells by what its column is.</summary>
internal static partial class ColumnHeadings
{
    [GeneratedRegex(@"^\s*(t|time|day|days|week|hour|hours|month|year|date|minute|when)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex TimeHeading();

    [GeneratedRegex(@"(^|[\s_.(-])(sd|se|sem|std|stderr|error|err)([\s_.)]|$)|standard (deviation|error)", RegexOptions.IgnoreCase)]
    internal static partial Regex ErrorHeading();

    [GeneratedRegex(@"^\s*(id|subject|patient|volunteer|participant|animal|person)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex SubjectHeading();

    [GeneratedRegex(@"^\s*(dose|doses|amt|given)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex DoseHeading();

    [GeneratedRegex(@"^\s*(occasion|occ|period|visit|session)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex OccasionHeading();

    [GeneratedRegex(@"^\s*(out of|denominator)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex OutOfHeading();

    [GeneratedRegex(@"^\s*(tested|examined|screened|sampled|looked at)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex TestedHeading();

    [GeneratedRegex(@"posit|preval|share|proportion|carrier|infected|found", RegexOptions.IgnoreCase)]
    internal static partial Regex PartHeading();

    [GeneratedRegex(@"^\s*(weighting|(row|fit) weights?)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex WeightHeading();

    [GeneratedRegex(@"^\s*(duration|over|infusion)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex DurationHeading();

    [GeneratedRegex(@"^[^\s(,;\[]*")]
    internal static partial Regex FirstWord();

    [GeneratedRegex(@"^\s*(id|subject|patient|volunteer|place|site|group|series|who|name|hive|ward)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex NameHeading();

    [GeneratedRegex(@"^\s*(to|until|till|through|ends?|finish(ed|es)?)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex EndHeading();

    [GeneratedRegex(@"^\s*(from|since|starts?|begins?|beginning)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex StartHeading();

    [GeneratedRegex(@"^\s*(into|target|site|route)\b", RegexOptions.IgnoreCase)]
    internal static partial Regex TargetHeading();

    [GeneratedRegex(
        @"^\s*(below|censored|undetected|detection limit|limit of (detection|quantification)|lo[dq]|lloq)\b",
        RegexOptions.IgnoreCase
    )]
    internal static partial Regex BelowHeading();
}
