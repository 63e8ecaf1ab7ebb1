namespace Narbit.Web.Api;

/// <summary>A system as it is named on screen.</summary>
public sealed record SystemTag(string Id, string Name, string Mark, Core.Records.SystemKind Kind);
