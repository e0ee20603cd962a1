using System.Runtime.InteropServices;
using System.Security.Cryptography;

namespace ClearTide.Core.Formulas;

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

    public static VectorFunction GetOrCompile(ExpressionGraph graph, IReadOnlyList<int> outputs, Func<VectorFunction> compile)
    {
        var key = Key(graph, outputs);
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
            if (Known.ContainsKey(key)) return made;
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
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var next = 0;
        Span<long> packed = stackalloc long[5];
        for (var k = 0; k < graph.Count; k++)
        {
            if (!needed[k]) continue;
            place[k] = next++;
            var node = graph[k];
            var leaf = node.Operation is Operation.State or Operation.Parameter;
            packed[0] = (long)node.Operation;
            packed[1] = node.A < 0 ? -1 : leaf ? node.A : place[node.A];
            packed[2] = node.B < 0 ? -1 : place[node.B];
            packed[3] = node.C < 0 ? -1 : place[node.C];
            packed[4] = BitConverter.DoubleToInt64Bits(node.Value);
            hash.AppendData(MemoryMarshal.AsBytes(packed));
            if (ExpressionGraph.IsTable(node.Operation)) hash.AppendData(graph.Tables[(int)node.Value].Key);
        }
        foreach (var output in outputs)
        {
            packed[0] = place[output];
            hash.AppendData(MemoryMarshal.AsBytes(packed[..1]));
        }
        return Convert.ToHexString(hash.GetHashAndReset());
    }
}
