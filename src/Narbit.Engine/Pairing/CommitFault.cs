using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using IDbContextTransaction = Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction;

namespace Narbit.Engine.Pairing;

/// <summary>A decision that could not be put into force.</summary>
/// <param name="DecisionId">The decision; it waits on.</param>
/// <param name="Message">Why not.</param>
public sealed record CommitFault(long DecisionId, string Message);
