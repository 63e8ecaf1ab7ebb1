using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Lanes.Items;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>A code of the source: how many records use it, what it becomes, and what is suggested.</summary>
public sealed record CodeHere(string Code, int Records, string? To, string? Suggested, string? Why);
