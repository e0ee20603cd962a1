using System.Reflection;
using System.Reflection.Emit;
using System.Runtime.Intrinsics;

namespace ClearTide.Core.Expressions;

/// <summary>The same instructions over four numbers at once: each place of state, parameters and results holds four doubles, one for each
/// lane.</summary>
internal sealed class LaneEmitter(ExpressionGraph graph, IReadOnlyList<int> outputs, ILGenerator il) : GraphEmitter(graph, outputs, il)
{
    private static readonly Type Lanes = typeof(Vector256<double>);

    protected override Type NumberType => Lanes;

    protected override int NumberSize => 4 * sizeof(double);

    protected override void EmitConstant(double value)
    {
        Il.Emit(OpCodes.Ldc_R8, value);
        EmitSpread();
    }

    protected override void EmitTime()
    {
        Il.Emit(OpCodes.Ldarg_1);
        EmitSpread();
    }

    private void EmitSpread() => Il.Emit(OpCodes.Call, typeof(Vector256).GetMethod(nameof(Vector256.Create), [typeof(double)])!);

    protected override void EmitRead() => Il.Emit(OpCodes.Ldobj, Lanes);

    protected override void EmitWrite() => Il.Emit(OpCodes.Stobj, Lanes);

    protected override void EmitOperation(Operation operation) =>
        Il.Emit(OpCodes.Call, typeof(LaneMath).GetMethod(operation.ToString(), BindingFlags.Static | BindingFlags.Public)!);

    protected override void EmitChoose(GraphNode node)
    {
        Load(node.A);
        Load(node.B);
        Load(node.C);
        Il.Emit(OpCodes.Call, typeof(LaneMath).GetMethod(nameof(LaneMath.Choose))!);
    }
}
