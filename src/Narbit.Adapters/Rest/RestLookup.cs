using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>How records are read by key.</summary>
public sealed record RestLookup : RestAsk;
