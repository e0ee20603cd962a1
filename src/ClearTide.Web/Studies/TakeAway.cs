namespace ClearTide.Web.Studies;

/// <summary>What can be taken away from a view: its picture, and its numbers.</summary>
/// <param name="Figure">Selects what holds the charts.</param>
/// <param name="Title">What stands above the picture, and what its file is named after.</param>
/// <param name="Tables">What each table is of, and where it is read.</param>
public sealed record TakeAway(string Figure, string Title, params (string Words, string Address)[] Tables);
