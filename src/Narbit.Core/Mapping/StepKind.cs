namespace Narbit.Core.Mapping;

/// <summary>A kind of step: what it is called, what it takes and gives, what it does to a missing value, and how it is done.</summary>
public sealed record StepKind
{
    /// <summary>Its name in documents.</summary>
    public required string Do { get; init; }

    /// <summary>What it does, for a menu.</summary>
    public required string Label { get; init; }

    /// <summary>The part of the menu it stands in.</summary>
    public required string Group { get; init; }

    /// <summary>The shapes it takes.</summary>
    public required Shape Takes { get; init; }

    /// <summary>The shape it gives; null: the one it got, or one that its parameters say.</summary>
    public Shape? Gives { get; init; }

    /// <summary>What it does to a missing value, in words.</summary>
    public string Missing { get; init; } = "stays missing";

    /// <summary>Its parameters.</summary>
    public IReadOnlyList<StepParameter> Parameters { get; init; } = [];

    /// <summary>Whether the step is done to a missing value too.</summary>
    internal bool SeesMissing { get; init; }

    /// <summary>The shape it gives, where it depends.</summary>
    internal Func<StepArguments, Shape>? Shaped { get; init; }

    /// <summary>Makes the step ready, or says why its parameters are wrong.</summary>
    internal Func<StepArguments, Outcome<StepRun>> Make { get; init; } = _ => new Reason("step", "it does nothing yet");
}
