using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Engine;
using Narbit.Engine.Pairing;
using Narbit.Web.Api;

namespace Narbit.Web.Pairing;

public sealed record Decided(IReadOnlyList<long> Ids);
