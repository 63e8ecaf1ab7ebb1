namespace Narbit.Core.Mapping;

/// <summary>A parameter of a step.</summary>
/// <param name="Name">Its name in <see cref="MapStep.With"/>.</param>
/// <param name="Label">The words before its value.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Required">Whether it must be there.</param>
/// <param name="Default">What holds where it is not there.</param>
/// <param name="Choices">For a choice: the words.</param>
public sealed record StepParameter(
    string Name,
    string Label,
    ParameterKind Kind,
    bool Required = false,
    string? Default = null,
    IReadOnlyList<string>? Choices = null
);
