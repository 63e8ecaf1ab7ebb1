using System.Security.Cryptography;
using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Events;
using Narbit.Data;
using Narbit.Data.Events;
using Narbit.Data.Mirror;
using Narbit.Data.Systems;
using Narbit.Engine.Jobs;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Engine.Telling;

namespace Narbit.Engine.Events;

/// <summary>A webhook as it came.</summary>
/// <param name="Header">A header's value; null: it has none of that name.</param>
/// <param name="Body">The body.</param>
public sealed record HookMessage(Func<string, string?> Header, ReadOnlyMemory<byte> Body);
