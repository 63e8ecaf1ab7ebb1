using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>A mismatch with the way out that was computed for it.</summary>
public sealed record Suggested(Mismatch Mismatch, Suggestion Suggestion);
