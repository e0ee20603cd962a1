using ClearTide.Core.Models;

namespace ClearTide.Web.Studies;

/// <summary>What the quick line would add, or what is wrong with it.</summary>
public sealed record QuickPreview(IReadOnlyList<string> Said, EditResult? Result);
