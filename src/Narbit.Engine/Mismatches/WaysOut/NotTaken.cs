using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>A mismatch whose way out could not be taken.</summary>
public sealed record NotTaken(long MismatchId, string Why);
