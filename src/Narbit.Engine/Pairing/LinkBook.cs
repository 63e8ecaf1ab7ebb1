using System.Text.Json;
using Narbit.Core;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>The links and set-asides of a couple while a batch is put into force or taken back.</summary>
internal sealed class LinkBook
{
    private readonly Dictionary<string, List<PairLink>> _byHub;
    private readonly Dictionary<string, List<PairLink>> _byOther;
    private readonly Dictionary<string, SetAside> _hubAside = new(StringComparer.Ordinal);
    private readonly Dictionary<string, SetAside> _otherAside = new(StringComparer.Ordinal);
    private readonly ILookup<long, PairLink> _linksOf;
    private readonly ILookup<long, SetAside> _asidesOf;

    public LinkBook(IEnumerable<PairLink> links, IEnumerable<SetAside> asides)
    {
        (Links, SetAsides) = ([.. links], [.. asides]);
        _byHub = Links.GroupBy(l => l.HubKey, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
        _byOther = Links.GroupBy(l => l.OtherKey, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
        foreach (var aside in SetAsides)
            Note(aside);
        _linksOf = Links.ToLookup(l => l.DecisionId);
        _asidesOf = SetAsides.ToLookup(a => a.DecisionId);
    }

    public HashSet<PairLink> Links { get; }

    public HashSet<SetAside> SetAsides { get; }

    public string? Apply(PairDecision d)
    {
        switch (d.Act)
        {
            case DecisionAct.Accept or DecisionAct.Share:
                if (OfOther(d.OtherKey!).Count > 0)
                    return $"{d.OtherKey} was paired with {OfOther(d.OtherKey!)[0].HubKey} meanwhile";
                if (d.Act == DecisionAct.Accept && OfHub(d.HubKey!).Find(l => !l.IsKit) is { } taken)
                    return $"{d.HubKey} was paired with {taken.OtherKey} meanwhile";
                Release(d);
                Add(
                    new PairLink
                    {
                        CoupleId = d.CoupleId,
                        HubKey = d.HubKey!,
                        OtherKey = d.OtherKey!,
                        DecisionId = d.Id,
                    }
                );
                return null;
            case DecisionAct.Kit:
                if (OfOther(d.OtherKey!).Count > 0)
                    return $"{d.OtherKey} was paired with {OfOther(d.OtherKey!)[0].HubKey} meanwhile";
                Release(d);
                foreach (var part in PairJson.Items(d.Parts))
                    Add(
                        new PairLink
                        {
                            CoupleId = d.CoupleId,
                            HubKey = part.HubKey,
                            OtherKey = d.OtherKey!,
                            Quantity = part.Quantity,
                            IsKit = true,
                            DecisionId = d.Id,
                        }
                    );
                return null;
            case DecisionAct.SetAside or DecisionAct.Create:
                if (d.OtherKey is { } other && OfOther(other).Count > 0)
                    return $"{other} was paired meanwhile";
                if (d.HubKey is { } hub && OfHub(hub).Exists(l => !l.IsKit))
                    return $"{hub} was paired meanwhile";
                Release(d);
                Add(
                    new SetAside
                    {
                        CoupleId = d.CoupleId,
                        HubKey = d.HubKey,
                        OtherKey = d.OtherKey,
                        Reason = d.Reason ?? "to be created there",
                        ToCreate = d.Act == DecisionAct.Create,
                        DecisionId = d.Id,
                    }
                );
                return null;
            default:
                var links = d.OtherKey is { } o ? [.. OfOther(o)] : OfHub(d.HubKey!).Where(l => !l.IsKit).ToList();
                var asides = Asides(d);
                if (links.Count + asides.Count == 0)
                    return "it is not paired any more";
                d.Before = PairJson.Write(
                    new WasBefore(
                        [.. links.Select(l => new WasLinked(l.HubKey, l.OtherKey, l.Quantity, l.IsKit, l.DecisionId))],
                        [.. asides.Select(a => new WasAside(a.HubKey, a.OtherKey, a.Reason, a.ToCreate, a.DecisionId))]
                    )
                );
                foreach (var link in links)
                    Remove(link);
                foreach (var aside in asides)
                    Remove(aside);
                return null;
        }
    }

    public string? Revert(PairDecision d)
    {
        if (d.Act != DecisionAct.Unpair)
        {
            var links = _linksOf[d.Id].Where(Links.Contains).ToList();
            var asides = _asidesOf[d.Id].Where(SetAsides.Contains).ToList();
            if (links.Count + asides.Count == 0)
                return $"{DecisionDesk.Said(d)}: was taken back or changed by a later decision";
            foreach (var link in links)
                Remove(link);
            foreach (var aside in asides)
                Remove(aside);
            return null;
        }

        var before = JsonSerializer.Deserialize<WasBefore>(d.Before ?? "{\"links\":[],\"asides\":[]}", RuleJson.Options)!;
        foreach (var link in before.Links)
            if (OfOther(link.OtherKey).Exists(l => !l.IsKit || !link.IsKit))
                return $"{link.OtherKey} was paired with {OfOther(link.OtherKey)[0].HubKey} meanwhile";
        foreach (var link in before.Links)
            Add(
                new PairLink
                {
                    CoupleId = d.CoupleId,
                    HubKey = link.HubKey,
                    OtherKey = link.OtherKey,
                    Quantity = link.Quantity,
                    IsKit = link.IsKit,
                    DecisionId = link.DecisionId,
                }
            );
        foreach (var aside in before.Asides)
            Add(
                new SetAside
                {
                    CoupleId = d.CoupleId,
                    HubKey = aside.HubKey,
                    OtherKey = aside.OtherKey,
                    Reason = aside.Reason,
                    ToCreate = aside.ToCreate,
                    DecisionId = aside.DecisionId,
                }
            );
        return null;
    }

    private List<PairLink> OfHub(string key) => _byHub.GetValueOrDefault(key) ?? [];

    private List<PairLink> OfOther(string key) => _byOther.GetValueOrDefault(key) ?? [];

    // What was set aside and is paired after all is set aside no longer.
    private void Release(PairDecision d)
    {
        foreach (var aside in Asides(d))
            Remove(aside);
    }

    private List<SetAside> Asides(PairDecision d)
    {
        var found = new List<SetAside>(2);
        if (d.HubKey is { } hub && _hubAside.TryGetValue(hub, out var here))
            found.Add(here);
        if (d.OtherKey is { } other && _otherAside.TryGetValue(other, out var there) && !found.Contains(there))
            found.Add(there);
        return found;
    }

    private void Note(SetAside aside)
    {
        if (aside.HubKey is { } hub)
            _hubAside[hub] = aside;
        if (aside.OtherKey is { } other)
            _otherAside[other] = aside;
    }

    private void Add(SetAside aside)
    {
        SetAsides.Add(aside);
        Note(aside);
    }

    private void Remove(SetAside aside)
    {
        SetAsides.Remove(aside);
        if (aside.HubKey is { } hub)
            _hubAside.Remove(hub);
        if (aside.OtherKey is { } other)
            _otherAside.Remove(other);
    }

    private void Add(PairLink link)
    {
        Links.Add(link);
        (_byHub.TryGetValue(link.HubKey, out var hub) ? hub : _byHub[link.HubKey] = []).Add(link);
        (_byOther.TryGetValue(link.OtherKey, out var other) ? other : _byOther[link.OtherKey] = []).Add(link);
    }

    private void Remove(PairLink link)
    {
        Links.Remove(link);
        OfHub(link.HubKey).Remove(link);
        OfOther(link.OtherKey).Remove(link);
    }

    private sealed record WasLinked(string HubKey, string OtherKey, decimal Quantity, bool IsKit, long DecisionId);

    private sealed record WasAside(string? HubKey, string? OtherKey, string Reason, bool ToCreate, long DecisionId);

    private sealed record WasBefore(IReadOnlyList<WasLinked> Links, IReadOnlyList<WasAside> Asides);
}
