using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

public sealed class FilterTests
{
    private static bool Takes(decimal? available, string? changed, params MapFilter[] filters) =>
        Maps.Ready(new FieldMap { Filters = filters }, Maps.Sides(FieldType.Text, FieldType.Text))
            .Takes(
                new Dictionary<string, string> { ["a"] = "x" },
                available,
                changed is null ? null : DateTimeOffset.Parse(changed, System.Globalization.CultureInfo.InvariantCulture)
            );

    [Fact]
    public void What_is_available_and_when_it_changed_can_be_filtered_by()
    {
        Takes(5, null, new MapFilter(MapFilter.Available, Test.Greater, "4")).ShouldBeTrue();
        Takes(5, null, new MapFilter(MapFilter.Available, Test.Greater, "5")).ShouldBeFalse();
        Takes(null, null, new MapFilter(MapFilter.Available, Test.Less, "5")).ShouldBeFalse("nothing is known of it");
        Takes(null, "2026-11-20T10:00:00Z", new MapFilter(MapFilter.Changed, Test.Greater, "2026-11-20")).ShouldBeTrue();
        Takes(null, "2026-11-19T23:59:59Z", new MapFilter(MapFilter.Changed, Test.Greater, "2026-11-20")).ShouldBeFalse();
        Takes(1, "2026-11-20T10:00:00Z", new MapFilter("a", Test.Equals, "X"), new MapFilter(MapFilter.Available, Test.NotEmpty))
            .ShouldBeTrue("all of them hold");
    }
}
