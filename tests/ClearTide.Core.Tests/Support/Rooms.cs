using Mono.Cecil;
using Mono.Cecil.Cil;

namespace ClearTide.Tests;

/// <summary>The namespaces of an assembly as rooms that stand in an order. Read from the compiled types, their members and their
/// code.</summary>
/// <param name="root">What all namespaces begin with, the point behind it included.</param>
/// <param name="order">The rooms; each may use those before it.</param>
public sealed class Rooms(string assembly, string root, string[] order) : IDisposable
{
    private readonly AssemblyDefinition _assembly = AssemblyDefinition.ReadAssembly(assembly);

    /// <summary>All rooms that hold a type.</summary>
    public IEnumerable<string> Found => _assembly.MainModule.GetTypes().Select(Room).OfType<string>().Distinct();

    /// <summary>The rooms that a type uses, by its simple name.</summary>
    public IEnumerable<string> UsedBy(string type) =>
        _assembly.MainModule.GetTypes().Where(one => one.Name == type).SelectMany(Used).Select(Room).OfType<string>().Distinct();

    /// <summary>Each use of a later room by an earlier one, a line each.</summary>
    public string Wrong()
    {
        var wrong =
            from type in _assembly.MainModule.GetTypes()
            where Room(type) is not null
            from used in Used(type)
            let here = Array.IndexOf(order, Room(type))
            let there = Array.IndexOf(order, Room(used))
            where there > here || there < 0 && Room(used) is not null
            select $"{type.FullName} uses {used.FullName}";
        return string.Join(Environment.NewLine, wrong.Distinct());
    }

    public void Dispose() => _assembly.Dispose();

    /// <summary>The room that a type stands in, or null where it is none of the assembly's own.</summary>
    private string? Room(TypeReference type)
    {
        while (type.DeclaringType is { } outer)
            type = outer;
        return type.Namespace.StartsWith(root, StringComparison.Ordinal) ? type.Namespace[root.Length..].Split('.')[0] : null;
    }

    private static IEnumerable<TypeReference> Used(TypeDefinition type)
    {
        var members = type
            .Interfaces.Select(one => one.InterfaceType)
            .Append(type.BaseType)
            .Concat(type.Fields.Select(field => field.FieldType))
            .Concat(type.CustomAttributes.Select(attribute => attribute.AttributeType))
            .Concat(type.Methods.SelectMany(Used));
        return members.Where(used => used is not null).SelectMany(Parts);
    }

    private static IEnumerable<TypeReference> Used(MethodDefinition method)
    {
        yield return method.ReturnType;
        foreach (var parameter in method.Parameters)
            yield return parameter.ParameterType;
        if (!method.HasBody)
            yield break;
        foreach (var variable in method.Body.Variables)
            yield return variable.VariableType;
        foreach (var instruction in method.Body.Instructions)
        {
            switch (instruction.Operand)
            {
                case TypeReference type:
                    yield return type;
                    break;
                case FieldReference field:
                    yield return field.DeclaringType;
                    yield return field.FieldType;
                    break;
                case GenericInstanceMethod generic:
                    yield return generic.DeclaringType;
                    foreach (var argument in generic.GenericArguments)
                        yield return argument;
                    break;
                case MethodReference called:
                    yield return called.DeclaringType;
                    yield return called.ReturnType;
                    break;
            }
        }
    }

    /// <summary>A type with what it is made of: arguments of generics, elements of arrays.</summary>
    private static IEnumerable<TypeReference> Parts(TypeReference type) =>
        type switch
        {
            GenericInstanceType generic => generic.GenericArguments.SelectMany(Parts).Append(generic.ElementType),
            TypeSpecification made => Parts(made.ElementType),
            _ => [type],
        };
}
