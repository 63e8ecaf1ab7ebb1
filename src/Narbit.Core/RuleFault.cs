namespace Narbit.Core;

/// <summary>A finding of a rule's check.</summary>
/// <param name="Path">Where in the rule document, e.g. <c>bands[1].multiply</c>.</param>
/// <param name="Severity">Whether the rule may be saved all the same.</param>
/// <param name="Message">What is wrong and what to do, in plain words.</param>
public sealed record RuleFault(string Path, Severity Severity, string Message)
{
    /// <summary>The page of a lane on which it is put right; null: it is told beside what it is about.</summary>
    public string? Step { get; init; }
}
