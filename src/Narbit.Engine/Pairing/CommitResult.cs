using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using IDbContextTransaction = Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction;

namespace Narbit.Engine.Pairing;

/// <summary>What a commit did.</summary>
/// <param name="BatchId">The batch, or null where nothing could be put into force.</param>
/// <param name="Committed">How many decisions are in force.</param>
/// <param name="Faults">Those that are not.</param>
public sealed record CommitResult(long? BatchId, int Committed, IReadOnlyList<CommitFault> Faults);
