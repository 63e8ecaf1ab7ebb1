namespace Narbit.Core;

/// <summary>
/// Either a value or the <see cref="Reason"/> that stood in its way. Expected errors travel this way; exceptions are for defects.
/// </summary>
/// <typeparam name="T">The type of the value.</typeparam>
public readonly record struct Outcome<T>
{
    private readonly T? _value;

    private Outcome(T? value, Reason? fault) => (_value, Fault) = (value, fault);

    /// <summary>What stood in the way, or null where there is a value.</summary>
    public Reason? Fault { get; }

    /// <summary>Whether there is a value.</summary>
    public bool Ok => Fault is null;

    /// <summary>The value.</summary>
    /// <exception cref="InvalidOperationException">There is a fault instead.</exception>
    public T Value => Fault is null ? _value! : throw new InvalidOperationException($"No value: {Fault.Words}");

    /// <summary>The value, or the type's default where there is a fault.</summary>
    public T? ValueOrDefault => _value;

    /// <summary>A value.</summary>
    public static implicit operator Outcome<T>(T value) => new(value, null);

    /// <summary>A fault.</summary>
    public static implicit operator Outcome<T>(Reason fault) => new(default, fault);
}

/// <summary>Names the conversion to <see cref="Outcome{T}"/> for values whose type is an interface.</summary>
public static class Outcome
{
    /// <summary>A value.</summary>
    public static Outcome<T> Of<T>(T value) => value;
}
