using ClearTide.Core.Compilation;
using ClearTide.Core.Data;

namespace ClearTide.Core.Model;

/// <summary>
/// How a column of data relates to the model: the amount that moved along a flow, or by a reaction, in each row's own interval, times a
/// reporting fraction.
/// </summary>
/// <param name="DataSet">Id of the version of the data that is used.</param>
/// <param name="Label">What was counted: “Reported cases”.</param>
/// <param name="FlowId">The flow or reaction that is counted.</param>
/// <param name="Reporting">The reporting fraction as a line, often the symbol of a parameter.</param>
public sealed record Observation(string Id, string DataSet, string Label, string FlowId, string Reporting) : Stored;
