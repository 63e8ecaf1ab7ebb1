namespace Narbit.Core.Describing;

/// <summary>What a value in a sample is, as the system writes it.</summary>
public enum SampleForm
{
    /// <summary>Text.</summary>
    Text,

    /// <summary>A number.</summary>
    Number,

    /// <summary>True or false.</summary>
    Truth,

    /// <summary>A list of texts or numbers.</summary>
    List,
}
