using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>What another description of a system does, before it is saved.</summary>
/// <param name="Kinds">To its records.</param>
/// <param name="Lanes">To its lanes; those that go on as they are are not among them.</param>
public sealed record DescriptionEffect(IReadOnlyList<KindEffect> Kinds, IReadOnlyList<LaneEffect> Lanes);
