using System.Runtime.CompilerServices;
using ClearTide.Core.Units;

namespace ClearTide.Core.Model;

/// <summary>The unit words of a study.</summary>
public static class StudyUnits
{
    private static readonly ConditionalWeakTable<StudyDocument, UnitTable> Known = [];

    /// <summary>The study's own units with those built in; worked out once for each document.</summary>
    /// <param name="document">The study; not changed.</param>
    public static UnitTable UnitTable(this StudyDocument document) =>
        document.Units.IsEmpty
            ? Units.UnitTable.Of(document.TimeUnit)
            : Known.GetValue(document, study => new UnitTable(study.TimeUnit, study.Units));
}
