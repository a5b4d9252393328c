namespace Kinetra.Data.Rows;

/// <summary>A chain that somebody has kept to be used again.</summary>
public sealed class PresetRow
{
    /// <summary>Its identity.</summary>
    public required Guid Id { get; set; }

    /// <summary>Its name, 1–60 characters.</summary>
    public required string Name { get; set; }

    /// <summary>What it is for, up to 300 characters.</summary>
    public required string Says { get; set; }

    /// <summary>Its processors, in JSON.</summary>
    public required string Chain { get; set; }

    /// <summary>The version of the chain's form.</summary>
    public required int Form { get; set; }

    /// <summary>When it was kept first.</summary>
    public required DateTimeOffset MadeAt { get; set; }
}
