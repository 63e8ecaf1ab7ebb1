namespace Narbit.Core;

/// <summary>What went wrong, in words a person can act on: what happened, to which record, and what to do.</summary>
/// <param name="Code">A stable word for programs, e.g. <c>unreachable</c>.</param>
/// <param name="Message">One or two plain sentences.</param>
public sealed record Fault(string Code, string Message);

/// <summary>
/// Either a value or the <see cref="Core.Fault"/> that stood in its way. Expected errors travel this way; exceptions are for defects.
/// </summary>
/// <typeparam name="T">The type of the value.</typeparam>
public readonly record struct Outcome<T>
{
    private readonly T? _value;

    private Outcome(T? value, Fault? fault) => (_value, Fault) = (value, fault);

    /// <summary>The fault, or null where there is a value.</summary>
    public Fault? Fault { get; }

    /// <summary>Whether there is a value.</summary>
    public bool Ok => Fault is null;

    /// <summary>The value.</summary>
    /// <exception cref="InvalidOperationException">There is a fault instead.</exception>
    public T Value => Fault is null ? _value! : throw new InvalidOperationException($"No value: {Fault.Message}");

    /// <summary>The value, or the type's default where there is a fault.</summary>
    public T? ValueOrDefault => _value;

    /// <summary>A value.</summary>
    public static implicit operator Outcome<T>(T value) => new(value, null);

    /// <summary>A fault.</summary>
    public static implicit operator Outcome<T>(Fault fault) => new(default, fault);
}

/// <summary>Names the conversion to <see cref="Outcome{T}"/> for values whose type is an interface.</summary>
public static class Outcome
{
    /// <summary>A value.</summary>
    public static Outcome<T> Of<T>(T value) => value;
}
