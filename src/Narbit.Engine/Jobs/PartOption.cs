namespace Narbit.Engine.Jobs;

/// <summary>What another part of the stock being shown would have come to, at this timetable.</summary>
public sealed record PartOption(int HoldBack, int Share, int Oversold, int Missed);
