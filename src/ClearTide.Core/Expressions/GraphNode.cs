namespace ClearTide.Core.Expressions;

/// <summary>One operation with up to three operands (indices of earlier nodes), or a leaf with a value or an index. For tables the value
/// is the table's number.</summary>
/// <param name="Operation">What it does.</param>
/// <param name="A">Node of the first operand, or the index of a leaf.</param>
/// <param name="B">Node of the second operand.</param>
/// <param name="C">Node of the third operand.</param>
/// <param name="Value">Of a number; for tables the number of the table.</param>
public readonly record struct GraphNode(Operation Operation, int A, int B, int C, double Value);
