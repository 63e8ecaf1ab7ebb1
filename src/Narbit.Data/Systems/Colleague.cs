namespace Narbit.Data.Systems;

/// <summary>Somebody who works here. There is no sign-in yet: whoever is at the screen says who they are.</summary>
public sealed class Colleague
{
    public required string Name { get; set; }

    /// <summary>Their mail address; null: none is known.</summary>
    public string? Mail { get; set; }
}
