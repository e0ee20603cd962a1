using System.Reflection.Emit;

namespace ClearTide.Core.Expressions;

/// <summary>
/// A compiled set of expressions too large for one method: several methods called in turn, which leave what later ones need in scratch
/// memory
/// of the calling thread.
/// </summary>
internal sealed unsafe class ChunkedFunction
{
    private delegate void Chunk(double time, double* state, double* parameters, double* results, double* scratch);

    [ThreadStatic]
    private static double[]? _scratch;

    private readonly Chunk[] _chunks;
    private readonly int _places;

    private ChunkedFunction(Chunk[] chunks, int places) => (_chunks, _places) = (chunks, places);

    /// <param name="graph">The expressions.</param>
    /// <param name="outputs">The nodes that it computes, in order.</param>
    /// <param name="size">How many nodes go into one method.</param>
    public static VectorFunction Compile(ExpressionGraph graph, IReadOnlyList<int> outputs, int size)
    {
        var tables = graph.Tables.ToArray();
        var byNode = Enumerable.Range(0, outputs.Count).ToLookup(k => outputs[k]);
        var places = new int[graph.Count];
        Array.Fill(places, -1);
        var (chunks, next, node) = (new List<Chunk>(), 0, 0);
        GraphEmitter? before = null;
        bool[]? needed = null;
        while (node < graph.Count)
        {
            var method = new DynamicMethod(
                "formulas",
                typeof(void),
                [typeof(TableFunction[]), typeof(double), typeof(double*), typeof(double*), typeof(double*), typeof(double*)],
                typeof(ChunkedFunction).Module,
                skipVisibility: true
            );
            var il = method.GetILGenerator();
            var emitter = before is null ? new GraphEmitter(graph, outputs, il) : new GraphEmitter(before, places, il);
            needed ??= emitter.Count();
            var kept = new List<(int Node, int Place)>();
            for (var taken = 0; node < graph.Count && taken < size; node++)
            {
                if (!needed[node])
                    continue;
                taken++;
                if (emitter.EmitIfShared(node))
                {
                    emitter.Keep(node, next);
                    kept.Add((node, next++));
                }
                foreach (var output in byNode[node])
                {
                    emitter.EmitOutput(output);
                    taken++;
                }
            }
            il.Emit(OpCodes.Ret);
            chunks.Add(method.CreateDelegate<Chunk>(tables));
            // Only the parts that follow read them from memory: in this one they stand in locals.
            foreach (var (known, place) in kept)
                places[known] = place;
            before = emitter;
        }
        return new ChunkedFunction([.. chunks], next).Call;
    }

    private void Call(double time, double* state, double* parameters, double* results)
    {
        if (_scratch is null || _scratch.Length < _places)
            _scratch = GC.AllocateArray<double>(_places, pinned: true);
        fixed (double* scratch = _scratch)
        {
            foreach (var chunk in _chunks)
                chunk(time, state, parameters, results, scratch);
        }
    }
}
