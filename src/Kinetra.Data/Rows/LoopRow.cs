namespace Kinetra.Data.Rows;

/// <summary>A stretch of a source's sound that is kept to be treated in several ways. The samples lie in a file of the data folder by its id.</summary>
public sealed class LoopRow
{
    /// <summary>Its identity.</summary>
    public required Guid Id { get; set; }

    /// <summary>The show.</summary>
    public required Guid ShowId { get; set; }

    /// <summary>The source's id in the show.</summary>
    public required string Source { get; set; }

    /// <summary>The ids of the sources whose sound goes round beside it, as they were heard, with a blank between two; their sum lies in a file beside its own. Null: nothing does.</summary>
    public string? Beside { get; set; }

    /// <summary>The id of the mix as in which those are heard over it, which their levels are of in a third file. Null: as they leave their chains.</summary>
    public string? Mix { get; set; }

    /// <summary>Its name, 1–60 characters.</summary>
    public required string Name { get; set; }

    /// <summary>1 or 2.</summary>
    public required int Channels { get; set; }

    /// <summary>Its length at 48 kHz.</summary>
    public required int Frames { get; set; }

    /// <summary>When it was taken.</summary>
    public required DateTimeOffset TakenAt { get; set; }

    /// <summary>How it is treated, in JSON.</summary>
    public required string Variants { get; set; }

    /// <summary>The version of the variants' form.</summary>
    public required int Form { get; set; }

    /// <summary>Counts its changes.</summary>
    public required long Revision { get; set; }
}
