using ClearTide.Core.Model;

namespace ClearTide.Web.Ledger;

/// <summary>What the quick line would add, or what is wrong with it.</summary>
public sealed record QuickPreview(IReadOnlyList<string> Said, EditResult? Result);
