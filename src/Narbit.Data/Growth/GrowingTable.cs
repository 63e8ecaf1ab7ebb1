using Narbit.Data.Events;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Data.Mismatches;
using Narbit.Data.Orders;
using Narbit.Data.Pairs;
using Narbit.Data.Proofs;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Data.Telling;

namespace Narbit.Data.Growth;

/// <summary>
/// A table that grows as long as Narbit works, and by what it is found what of it is old: whoever keeps things for a time needs nothing
/// else. Both are the first column of an index or of a key.
/// </summary>
/// <param name="Entity">What a row is.</param>
/// <param name="Owner">What it belongs to, and goes with.</param>
/// <param name="Instant">When it happened; null: it is as old as what it belongs to.</param>
public sealed record GrowingTable(Type Entity, string Owner, string? Instant)
{
    /// <summary>All of them. What is in no list of this class is as large as what was set up.</summary>
    public static IReadOnlyList<GrowingTable> All { get; } =
    [
        new(typeof(MirrorRecord), nameof(MirrorRecord.SystemId), nameof(MirrorRecord.GoneAt)),
        new(typeof(MirrorRead), nameof(MirrorRead.SystemId), nameof(MirrorRead.StartedAt)),
        new(typeof(MirrorReadPage), nameof(MirrorReadPage.ReadId), null),
        new(typeof(ValueChange), nameof(ValueChange.SystemId), nameof(ValueChange.At)),
        new(typeof(ReservedKey), nameof(ReservedKey.SystemId), nameof(ReservedKey.At)),
        new(typeof(Run), nameof(Run.LaneId), nameof(Run.StartedAt)),
        new(typeof(PlannedWrite), nameof(PlannedWrite.RunId), null),
        new(typeof(PlannedField), nameof(PlannedField.WriteId), null),
        new(typeof(WriteTry), nameof(WriteTry.WriteId), null),
        new(typeof(RunTrouble), nameof(RunTrouble.RunId), null),
        new(typeof(RunRemark), nameof(RunRemark.RunId), null),
        new(typeof(JobTurn), nameof(JobTurn.JobId), nameof(JobTurn.DueAt)),
        new(typeof(TurnStep), nameof(TurnStep.TurnId), null),
        new(typeof(PairBatch), nameof(PairBatch.CoupleId), nameof(PairBatch.At)),
        new(typeof(PairDecision), nameof(PairDecision.CoupleId), nameof(PairDecision.At)),
        new(typeof(OrderStanding), nameof(OrderStanding.LaneId), nameof(OrderStanding.PlacedAt)),
        new(typeof(OrderSku), nameof(OrderSku.StandingId), null),
        new(typeof(OrderGoods), nameof(Orders.OrderGoods.StandingId), null),
        new(typeof(StandingCause), nameof(StandingCause.StandingId), null),
        new(typeof(OrderDecision), nameof(OrderDecision.LaneId), nameof(OrderDecision.At)),
        new(typeof(Mismatch), nameof(Mismatch.Cause), nameof(Mismatch.EndedAt)),
        new(typeof(MismatchAct), nameof(MismatchAct.By), nameof(MismatchAct.At)),
        new(typeof(ActOn), nameof(ActOn.ActId), null),
        new(typeof(MismatchDay), nameof(MismatchDay.Cause), nameof(MismatchDay.Day)),
        new(typeof(HookEvent), nameof(HookEvent.SystemId), nameof(HookEvent.ReceivedAt)),
        new(typeof(Mail), nameof(Mail.Person), nameof(Mail.MadeAt)),
        new(typeof(Delivery), nameof(Delivery.ListenerId), nameof(Delivery.MadeAt)),
        new(typeof(ProofRound), nameof(ProofRound.Day), nameof(ProofRound.StartedAt)),
        new(typeof(LaneProof), nameof(LaneProof.RoundId), null),
        new(typeof(ProofLine), nameof(ProofLine.ProofId), null),
    ];

    /// <summary>What is kept for good: who has what of whom, what was agreed on, and every version of what somebody wrote.</summary>
    public static IReadOnlyList<Type> KeptForGood { get; } =
    [
        typeof(MirrorParent),
        typeof(PairLink),
        typeof(SetAside),
        typeof(PairProposal),
        typeof(Agreed),
        typeof(KeptOff),
        typeof(Counterpart),
        typeof(RuleVersion),
        typeof(DescriptionVersion),
    ];

    /// <summary>What a person set up, a few rows each.</summary>
    public static IReadOnlyList<Type> Settings { get; } =
    [
        typeof(Workspace),
        typeof(Colleague),
        typeof(ConnectedSystem),
        typeof(MetServer),
        typeof(Couple),
        typeof(Lane),
        typeof(LaneDraft),
        typeof(Job),
        typeof(JobLane),
        typeof(DayOff),
        typeof(MailServer),
        typeof(Wish),
        typeof(Told),
        typeof(Listener),
    ];
}
