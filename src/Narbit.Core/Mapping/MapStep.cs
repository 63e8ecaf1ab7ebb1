namespace Narbit.Core.Mapping;

/// <summary>One step of a chain: what it does, and with what. See <see cref="StepCatalogue"/>.</summary>
/// <param name="Do">The step's name.</param>
/// <param name="With">Its parameters by name, as text; null: none.</param>
public sealed record MapStep(string Do, IReadOnlyDictionary<string, string>? With = null);
