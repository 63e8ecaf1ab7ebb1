using Narbit.Core.Mapping;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Maps;

namespace Narbit.Engine.Tests;

/// <summary>What documents need beyond the rule: proposals for an order lane's further fields.</summary>
public sealed class FurtherFieldTests
{
    [Fact]
    public async Task Further_fields_of_an_order_lane_are_proposed_with_and_without_documents_to_compare()
    {
        await using var bench = await Workbench.OpenAsync(orders: 60);
        var lane = await OrderLaneTests.LaneAsync(bench);
        var look = new MapLook(bench.Database, bench.Adapters);
        (await look.SuggestAsync(lane, new FieldMap(), default)).Fault.ShouldBeNull();
        (await bench.RunAsync(lane, preview: false)).State.ShouldBe(RunState.Done);
        var proposed = await look.SuggestAsync(lane, new FieldMap(), default);
        proposed.Fault.ShouldBeNull();
        proposed.Value.Select(s => s.Mapping.Target).ShouldBeUnique();
        proposed.Value.ShouldAllBe(s => s.Reason.Length > 0);
    }
}
