using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Orders;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What has changed of an order since it was posted.</summary>
/// <param name="Parts">What the store changed.</param>
/// <param name="Subject">What a decision about this change is known by.</param>
/// <param name="Held">Why a person decides; none: nobody has to.</param>
/// <param name="Choices">What may be decided.</param>
public sealed record ChangedAfterPosting(
    IReadOnlyList<OrderPart> Parts,
    string Subject,
    IReadOnlyList<CauseOfOrder> Held,
    IReadOnlyList<AfterPosting> Choices
);
