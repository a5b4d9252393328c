using Kinetra.Core.Editing;

namespace Kinetra.Data.Rows;

/// <summary>A show as it is now.</summary>
public sealed class ShowRow
{
    /// <summary>Its identity.</summary>
    public required Guid Id { get; set; }

    /// <summary>1–60 characters.</summary>
    public required string Name { get; set; }

    /// <summary>Counts the commands that made it what it is.</summary>
    public long Revision { get; set; }

    /// <summary>The rig as a JSON document.</summary>
    public required string Rig { get; set; }

    /// <summary>The version of the document's form.</summary>
    public int RigVersion { get; set; }

    /// <summary>When it was made.</summary>
    public DateTimeOffset CreatedAt { get; set; }

    /// <summary>When it last changed.</summary>
    public DateTimeOffset UpdatedAt { get; set; }

    /// <summary>When it was put away; null: it was not. It can be brought back.</summary>
    public DateTimeOffset? DeletedAt { get; set; }
}

/// <summary>One command of a show's log. Appended, never changed.</summary>
public sealed class CommandRow
{
    /// <summary>The show.</summary>
    public required Guid ShowId { get; set; }

    /// <summary>The show's revision after it.</summary>
    public required long Revision { get; set; }

    /// <summary>The command as JSON.</summary>
    public required string Body { get; set; }

    /// <summary>The command that takes it back, as JSON.</summary>
    public required string Inverse { get; set; }

    /// <summary>The version of both documents' form.</summary>
    public int Version { get; set; }

    /// <summary>What was done, as a person reads it.</summary>
    public required string Sentence { get; set; }

    /// <summary>What kind of step it is.</summary>
    public StepKind Kind { get; set; }

    /// <summary>The revision of the step that it takes back or does again.</summary>
    public long? Of { get; set; }

    /// <summary>The window's id whose it is.</summary>
    public string? Window { get; set; }

    /// <summary>What that window calls itself.</summary>
    public string? WindowName { get; set; }

    /// <summary>When it was acknowledged.</summary>
    public required DateTimeOffset At { get; set; }
}
