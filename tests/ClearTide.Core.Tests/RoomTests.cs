using Mono.Cecil;
using Mono.Cecil.Cil;

namespace ClearTide.Core.Tests;

/// <summary>The rooms of the core: each namespace uses only those before it. Read from the compiled types, their members and their
/// code.</summary>
public class RoomTests
{
    private const string Core = "ClearTide.Core.";

    private static readonly string[] Rooms =
    [
        "Expressions",
        "Language",
        "Units",
        "Data",
        "Sampling",
        "Simulation",
        "Stochastic",
        "Model",
        "Lines",
        "Editing",
        "Diagnostics",
        "Compilation",
        "Reports",
        "Interventions",
        "Inference",
        "Ensembles",
        "Analysis",
        "Conversion",
    ];

    [Fact]
    public void A_room_uses_only_those_before_it()
    {
        using var assembly = AssemblyDefinition.ReadAssembly(typeof(Core.Model.StudyDocument).Assembly.Location);
        var types = assembly.MainModule.GetTypes().Where(type => Room(type) is not null).ToList();
        // The reading itself must see code: a run is made by the core's own engines.
        Assert.Contains("Simulation", types.Where(type => type.Name == "StudyRun").SelectMany(Used).Select(Room));
        var wrong =
            from type in types
            from used in Used(type)
            let here = Array.IndexOf(Rooms, Room(type))
            let there = Array.IndexOf(Rooms, Room(used))
            where there > here || there < 0 && Room(used) is not null
            select $"{type.FullName} uses {used.FullName}";
        var said = string.Join(Environment.NewLine, wrong.Distinct());
        Assert.True(said.Length == 0, said);
    }

    [Fact]
    public void Every_namespace_is_a_room()
    {
        using var assembly = AssemblyDefinition.ReadAssembly(typeof(Core.Model.StudyDocument).Assembly.Location);
        Assert.Equal(Rooms.Order(), assembly.MainModule.GetTypes().Select(Room).OfType<string>().Distinct().Order());
    }

    /// <summary>The room that a type stands in, or null where it is none of the core's own.</summary>
    private static string? Room(TypeReference type)
    {
        while (type.DeclaringType is { } outer)
            type = outer;
        return type.Namespace.StartsWith(Core, StringComparison.Ordinal) ? type.Namespace[Core.Length..].Split('.')[0] : null;
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
