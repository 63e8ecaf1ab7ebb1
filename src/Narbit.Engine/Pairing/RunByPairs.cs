using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using IDbContextTransaction = Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction;

namespace Narbit.Engine.Pairing;

/// <summary>A run that wrote records by the pairs of a batch.</summary>
/// <param name="RunId">The run.</param>
/// <param name="Records">How many records it wrote by them that were not taken back since.</param>
public sealed record RunByPairs(long RunId, int Records);
