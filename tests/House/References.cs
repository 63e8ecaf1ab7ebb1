using System.Reflection;
using System.Reflection.Emit;

namespace Narbit.House;

/// <summary>Which types of Narbit refer to which, read from an assembly as it was compiled: signatures, attributes and bodies.</summary>
internal static class References
{
    private const BindingFlags Declared =
        BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Static | BindingFlags.Instance | BindingFlags.DeclaredOnly;

    private static readonly Dictionary<short, OpCode> OpCodes = typeof(OpCodes)
        .GetFields(BindingFlags.Public | BindingFlags.Static)
        .Select(f => (OpCode)f.GetValue(null)!)
        .ToDictionary(c => c.Value);

    /// <summary>Each type that a person wrote, with the types of Narbit that it, and what the compiler made of it, refers to.</summary>
    public static IEnumerable<(Type From, Type To)> Of(Assembly assembly) =>
        assembly
            .GetTypes()
            .SelectMany(t => Uses(t).SelectMany(Parts).Select(u => (From: Outermost(t), To: Outermost(u))))
            .Where(r => r.From != r.To && r.From.Namespace?.StartsWith("Narbit", StringComparison.Ordinal) == true)
            .Where(r => r.To.Namespace?.StartsWith("Narbit", StringComparison.Ordinal) == true)
            .Distinct();

    private static Type Outermost(Type type)
    {
        while (type.DeclaringType is { } outer)
            type = outer;
        return type;
    }

    private static IEnumerable<Type> Parts(Type type)
    {
        if (type.HasElementType)
            return Parts(type.GetElementType()!);
        if (type.IsGenericParameter)
            return [];
        return type.IsGenericType ? type.GetGenericArguments().SelectMany(Parts).Append(type.GetGenericTypeDefinition()) : [type];
    }

    private static IEnumerable<Type> Uses(Type type)
    {
        if (type.BaseType is { } parent)
            yield return parent;
        foreach (var used in type.GetInterfaces().Concat(type.GetCustomAttributesData().SelectMany(Arguments)))
            yield return used;
        foreach (var field in type.GetFields(Declared))
            yield return field.FieldType;
        foreach (var property in type.GetProperties(Declared).SelectMany(p => p.GetCustomAttributesData().SelectMany(Arguments)))
            yield return property;
        foreach (var method in type.GetMethods(Declared).Cast<MethodBase>().Concat(type.GetConstructors(Declared)))
        foreach (var used in Signature(method).Concat(Body(method)))
            yield return used;
    }

    private static IEnumerable<Type> Arguments(CustomAttributeData attribute) =>
        attribute.ConstructorArguments.Select(a => a.Value).OfType<Type>().Append(attribute.AttributeType);

    private static IEnumerable<Type> Signature(MethodBase method) =>
        method.GetParameters().Select(p => p.ParameterType).Append((method as MethodInfo)?.ReturnType ?? typeof(void));

    private static IEnumerable<Type> Body(MethodBase method)
    {
        if (method.GetMethodBody() is not { } body)
            yield break;
        foreach (var local in body.LocalVariables)
            yield return local.LocalType;
        var code = body.GetILAsByteArray()!;
        var arguments = method.DeclaringType!.IsGenericType ? method.DeclaringType.GetGenericArguments() : null;
        var ofMethod = method.IsGenericMethod ? method.GetGenericArguments() : null;
        for (var at = 0; at < code.Length; )
        {
            var op = code[at] == 0xFE ? OpCodes[(short)(0xFE00 | code[at + 1])] : OpCodes[code[at]];
            at += op.Size;
            if (op.OperandType is OperandType.InlineField or OperandType.InlineMethod or OperandType.InlineTok or OperandType.InlineType)
                foreach (var used in Named(method.Module.ResolveMember(BitConverter.ToInt32(code, at), arguments, ofMethod)!))
                    yield return used;
            at += Length(op, code, at);
        }
    }

    private static IEnumerable<Type> Named(MemberInfo member) =>
        member switch
        {
            Type type => [type],
            MethodInfo { IsGenericMethod: true } method => method.GetGenericArguments().Concat([method.DeclaringType!, method.ReturnType]),
            MethodInfo method => [method.DeclaringType!, method.ReturnType],
            FieldInfo field => [field.DeclaringType!, field.FieldType],
            _ => [member.DeclaringType!],
        };

    private static int Length(OpCode op, byte[] code, int at) =>
        op.OperandType switch
        {
            OperandType.InlineNone => 0,
            OperandType.ShortInlineBrTarget or OperandType.ShortInlineI or OperandType.ShortInlineVar => 1,
            OperandType.InlineVar => 2,
            OperandType.InlineI8 or OperandType.InlineR => 8,
            OperandType.InlineSwitch => 4 + (4 * BitConverter.ToInt32(code, at)),
            _ => 4,
        };
}
