using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data.Proofs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Proofs;

/// <summary>Counts how a lane's records stand, pair by pair, and keeps a line for whatever is out of step or was mistaken.</summary>
/// <param name="proof">Where it is counted.</param>
/// <param name="lane">The lane.</param>
/// <param name="mistakes">What was found otherwise than told.</param>
internal sealed class ProofTally(LaneProof proof, OpenLane lane, Mistakes mistakes)
{
    // Who somebody is, is not kept for an auditor.
    private readonly bool _ofPersons = lane.Work.Record.TellsOfPersons;

    /// <summary>The lines.</summary>
    public List<ProofLine> Lines { get; } = [];

    /// <summary>Adds what was computed of a pair.</summary>
    public void Add(LanePair pair, Computed computed)
    {
        if (computed.IsOutOfScope)
            return;
        proof.Records++;
        var before = Lines.Count;
        if (computed.Why is { } why)
            Line(pair, StepFinding.NotComputed).Words = why.Words;
        else if (computed.Act is WriteAct.Create or WriteAct.End)
            Line(pair, StepFinding.Missing).Words = computed.Act == WriteAct.Create ? "not there yet" : "to be taken away there";
        else
            AddFields(pair, computed);
        if (Lines.Count == before)
            proof.RecordsInStep++;
        AddMistakes(pair, computed);
    }

    private void AddFields(LanePair pair, Computed computed)
    {
        foreach (var field in computed.Fields)
        {
            proof.Fields++;
            if (FindingOf(pair, computed, field) is { } finding)
                Line(pair, finding, field);
            else
                proof.FieldsInStep++;
        }

        var lists = !computed.Children.IsEmpty || !computed.ChildrenBack.IsEmpty || computed.Beside.Count > 0;
        if (lists && !computed.Fields.Any(f => f.Changes))
            Line(pair, StepFinding.ToSend).Words = "what belongs to it differs";
    }

    private static StepFinding? FindingOf(LanePair pair, Computed computed, ComputedField field)
    {
        if (field.Stays)
            return StepFinding.NotComputed;
        if (field.Changes && field.Asks)
            return StepFinding.Held;
        // What goes back differs because the target was changed.
        if (field.Way == Way.Back)
            return field.Changes ? StepFinding.ChangedThere : null;
        var agreed = pair.Agreed.GetValueOrDefault(field.Field.Name);
        var finding = Step.Of(field.Field.Type, field.Old, field.New, (agreed is not null, agreed?.Value));
        // That somebody changed it there says more than that it looks wrong now.
        return finding == StepFinding.ToSend && computed.Hold is not null ? StepFinding.Held : finding;
    }

    private void AddMistakes(LanePair pair, Computed computed)
    {
        foreach (var mistake in mistakes.Of(ofSource: false, pair.Target.Key))
            if (computed.Fields.Any(f => f.Way == Way.There && f.Field.Name == mistake.Field))
                Mistaken(pair, mistake, lane.Target.System.Name);
        foreach (var mistake in mistakes.Of(ofSource: true, pair.Source.Key))
            Mistaken(pair, mistake, lane.Source.System.Name);
    }

    private void Mistaken(LanePair pair, Mistake mistake, string system)
    {
        var line = Line(pair, StepFinding.Mistaken);
        line.Field = mistake.Field;
        line.Words = $"read anew in {system}";
        if (!_ofPersons)
            (line.There, line.Before) = (mistake.Found, mistake.Believed);
    }

    private void Line(LanePair pair, StepFinding finding, ComputedField field)
    {
        var line = Line(pair, finding);
        line.Field = field.Field.Name;
        line.Words = field.Stays ? CannotBeEmptied.Reason(field.Field, field.Way == Way.There ? lane.Target : lane.Source).Words : null;
        if (_ofPersons)
            return;
        (line.There, line.Should) = field.Way == Way.There ? (field.Old, field.New) : (field.New, field.Old);
        line.Before = pair.Agreed.GetValueOrDefault(field.Field.Name)?.Value;
    }

    private ProofLine Line(LanePair pair, StepFinding finding)
    {
        var line = new ProofLine
        {
            Finding = finding,
            SourceKey = pair.Source.Key,
            TargetKey = pair.Target.Key,
            Reference = pair.Reference,
            Caption = _ofPersons ? null : pair.Caption,
        };
        Lines.Add(line);
        Count(finding);
        return line;
    }

    private void Count(StepFinding finding)
    {
        switch (finding)
        {
            case StepFinding.ChangedThere:
                proof.ChangedThere++;
                break;
            case StepFinding.ToSend:
                proof.ToSend++;
                break;
            case StepFinding.Missing:
                proof.Missing++;
                break;
            case StepFinding.Held:
                proof.Held++;
                break;
            case StepFinding.NotComputed:
                proof.NotComputed++;
                break;
            default:
                proof.Mistaken++;
                break;
        }
    }
}
