namespace Narbit.Engine.Workspaces.Files;

/// <summary>A value of a JSON text, with its place.</summary>
/// <param name="Path">Names and indexes, e.g. <c>document.rule.bands[0].from</c>.</param>
/// <param name="Value">The value as it is written; <c>[]</c> or <c>{}</c> for what is empty.</param>
/// <param name="Line">The line that it stands in, from 1 on.</param>
public readonly record struct JsonLeaf(string Path, string Value, int Line);
