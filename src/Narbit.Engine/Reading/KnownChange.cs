using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;

namespace Narbit.Engine.Reading;

/// <summary>A change of a value, and the write of ours that made it, where one did.</summary>
/// <param name="Change">What was seen.</param>
/// <param name="Write">The write; null: somebody else changed it.</param>
public sealed record KnownChange(ValueChange Change, OwnWrite? Write);
