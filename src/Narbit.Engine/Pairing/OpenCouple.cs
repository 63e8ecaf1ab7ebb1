using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Corrections;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>A couple with both its systems at hand.</summary>
/// <param name="Couple">The couple.</param>
/// <param name="Hub">The hub.</param>
/// <param name="Other">The other system.</param>
public sealed record OpenCouple(Couple Couple, Connection Hub, Connection Other);
