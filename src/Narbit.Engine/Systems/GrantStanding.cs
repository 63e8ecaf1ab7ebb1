using System.Collections.Concurrent;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Data;

namespace Narbit.Engine.Systems;

/// <summary>How a request for access stands.</summary>
/// <param name="State">How far it is.</param>
/// <param name="Why">Why it failed; null: it did not.</param>
public sealed record GrantStanding(GrantState State, Reason? Why);
