using Narbit.Core.Pairing;
using Narbit.Core.Records;

namespace Narbit.Engine.Pairing;

/// <summary>Checks both sides of a couple for what should be put in order before the first records are sent.</summary>
public static class ReadinessCheck
{
    private static readonly FieldRole[] Requirable =
    [
        FieldRole.Barcode,
        FieldRole.Weight,
        FieldRole.TaxCode,
        FieldRole.Image,
        FieldRole.Price,
        FieldRole.Email,
        FieldRole.Postcode,
    ];

    /// <summary>The findings for the hub, against what the other side requires, and for the other side.</summary>
    /// <param name="hub">The hub.</param>
    /// <param name="other">The other side.</param>
    /// <param name="partners">Who belongs to whom, as far as known.</param>
    /// <param name="pattern">How SKUs are proposed.</param>
    /// <param name="limited">Whether titles become short enough on their way to the other side.</param>
    public static (IReadOnlyList<ReadinessFinding> Hub, IReadOnlyList<ReadinessFinding> Other) Both(
        PairSide hub,
        PairSide other,
        IReadOnlyList<(string Hub, string Other)> partners,
        string pattern = Readiness.DefaultPattern,
        bool limited = false
    )
    {
        var there = partners
            .GroupBy(p => p.Hub, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First().Other, StringComparer.Ordinal);
        var here = partners
            .GroupBy(p => p.Other, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First().Hub, StringComparer.Ordinal);
        var required = other
            .Fields.Fields.Where(f => f.Required && Requirable.Contains(f.Role))
            .GroupBy(f => f.Role)
            .ToDictionary(g => g.Key, g => g.First().Label);
        // Only what is looked at is taken out of each record, and once for both uses: as a record and as a partner.
        FieldRole[] roles = [FieldRole.Sku, FieldRole.Barcode, FieldRole.Title, FieldRole.Option, FieldRole.Price, .. required.Keys];
        var (ofHub, ofOther) = (Texts(hub), Texts(other));
        var withSkus = hub.Fields.Find(FieldRole.Sku) is not null;
        return withSkus
            ? (
                Readiness.Check(
                    Records(hub, ofHub, ofOther, there),
                    required,
                    limited ? null : other.Fields.Find(FieldRole.Title)?.MaxLength,
                    other.Connection.System.Name,
                    leads: true,
                    pattern
                ),
                other.Fields.Find(FieldRole.Sku) is null
                    ? []
                    : Readiness.Check(
                        Records(other, ofOther, ofHub, here),
                        new Dictionary<FieldRole, string>(),
                        null,
                        hub.Connection.System.Name,
                        leads: false,
                        pattern,
                        ofHub.Values.Select(t => SkuForm.Of(t.GetValueOrDefault(FieldRole.Sku))).OfType<string>().ToHashSet()
                    )
            )
            : ([], []);

        Dictionary<string, IReadOnlyDictionary<FieldRole, string>> Texts(PairSide side) =>
            side.Rows.Keys.ToDictionary(k => k, k => side.Texts(k, roles), StringComparer.Ordinal);
    }

    private static List<RecordToCheck> Records(
        PairSide side,
        Dictionary<string, IReadOnlyDictionary<FieldRole, string>> texts,
        Dictionary<string, IReadOnlyDictionary<FieldRole, string>> across,
        Dictionary<string, string> partners
    ) =>
        [
            .. side.Rows.Values.Select(r => new RecordToCheck(
                r.Key,
                r.Parent,
                texts[r.Key],
                partners.TryGetValue(r.Key, out var partner) ? across.GetValueOrDefault(partner) : null
            )),
        ];
}
