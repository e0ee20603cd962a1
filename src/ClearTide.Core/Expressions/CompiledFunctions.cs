using System.Buffers;
using System.Runtime.InteropServices;
using System.Security.Cryptography;

namespace ClearTide.Core.Expressions;

/// <summary>
/// Compiled functions by the content of their graph, the least recently used dropped first. An edit of a value leaves the graph as it is,
/// so that most edits compile nothing. Functions have no state: sharing them changes no result.
/// </summary>
internal static class CompiledFunctions
{
    /// <summary>A compiled function takes some kilobytes; this many stay well under ten megabytes.</summary>
    public const int Capacity = 512;

    private static readonly Dictionary<string, LinkedListNode<(string Key, VectorFunction Function)>> Known = [];
    private static readonly LinkedList<(string Key, VectorFunction Function)> ByUse = [];
    private static readonly Lock Gate = new();

    /// <param name="graph">The expressions, for their content.</param>
    /// <param name="outputs">The nodes that it computes, in order.</param>
    /// <param name="form">What sets functions of one content apart: over how many numbers at once they go.</param>
    /// <param name="compile">Makes the function where no such one is known.</param>
    public static VectorFunction GetOrCompile(ExpressionGraph graph, IReadOnlyList<int> outputs, string form, Func<VectorFunction> compile)
    {
        var key = form + Key(graph, outputs);
        lock (Gate)
        {
            if (Known.TryGetValue(key, out var found))
            {
                ByUse.Remove(found);
                ByUse.AddFirst(found);
                return found.Value.Function;
            }
        }
        // Compiled outside the lock: two threads may both compile the same function, which costs time and nothing else.
        var made = compile();
        lock (Gate)
        {
            if (Known.ContainsKey(key))
                return made;
            Known[key] = ByUse.AddFirst((key, made));
            if (Known.Count > Capacity)
            {
                Known.Remove(ByUse.Last!.Value.Key);
                ByUse.RemoveLast();
            }
        }
        return made;
    }

    /// <summary>A hash of the nodes that the outputs need, renumbered in their order, and of the outputs.</summary>
    private static string Key(ExpressionGraph graph, IReadOnlyList<int> outputs)
    {
        var needed = graph.Reachable(outputs);
        var place = new int[graph.Count];
        // Written down first and hashed at once: a call of the hash for each node costs more than the hashing.
        var packed = new ArrayBufferWriter<long>(5 * graph.Count + outputs.Count + 1);
        var next = 0;
        for (var k = 0; k < graph.Count; k++)
        {
            if (!needed[k])
                continue;
            place[k] = next++;
            var node = graph[k];
            var leaf = node.Operation is Operation.State or Operation.Parameter;
            packed.Write([
                (long)node.Operation,
                node.A < 0 ? -1
                : leaf ? node.A
                : place[node.A],
                node.B < 0 ? -1 : place[node.B],
                node.C < 0 ? -1 : place[node.C],
                BitConverter.DoubleToInt64Bits(node.Value),
            ]);
            if (ExpressionGraph.IsTable(node.Operation))
                packed.Write(MemoryMarshal.Cast<byte, long>(SHA256.HashData(graph.Tables[(int)node.Value].Key)));
        }
        foreach (var output in outputs)
            packed.Write([place[output]]);
        return Convert.ToHexString(SHA256.HashData(MemoryMarshal.AsBytes(packed.WrittenSpan)));
    }
}
