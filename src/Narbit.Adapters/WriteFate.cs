namespace Narbit.Adapters;

/// <summary>What became of a write.</summary>
public enum WriteFate
{
    /// <summary>The target says that it took it.</summary>
    Accepted,

    /// <summary>The target said no.</summary>
    Refused,

    /// <summary>No answer came: it may or may not have taken effect.</summary>
    Unknown,
}
