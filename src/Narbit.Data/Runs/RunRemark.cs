namespace Narbit.Data.Runs;

/// <summary>A record that a run could not compute, with the cause.</summary>
public sealed class RunRemark
{
    public long Id { get; set; }

    public long RunId { get; set; }

    public string? SourceKey { get; set; }

    public string? TargetKey { get; set; }

    /// <summary>What a person knows the record by.</summary>
    public string? Reference { get; set; }

    /// <summary>What it is in words.</summary>
    public string? Caption { get; set; }

    /// <summary>Why it could not be computed.</summary>
    public required KeptReason Why { get; set; }
}
