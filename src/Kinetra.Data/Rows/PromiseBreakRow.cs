namespace Kinetra.Data.Rows;

/// <summary>A time in which a promise of a show was broken.</summary>
public sealed class PromiseBreakRow
{
    /// <summary>Its identity.</summary>
    public required Guid Id { get; set; }

    /// <summary>The show.</summary>
    public required Guid ShowId { get; set; }

    /// <summary>The promise's id in the show.</summary>
    public required string Promise { get; set; }

    /// <summary>The promise in words, as it was then.</summary>
    public required string Sentence { get; set; }

    /// <summary>Why it was broken, as it was when that began.</summary>
    public required string Why { get; set; }

    /// <summary>True: it was heard. False: the routing allowed it.</summary>
    public required bool BySound { get; set; }

    /// <summary>When it began.</summary>
    public required DateTimeOffset Began { get; set; }

    /// <summary>When it ended; null: it has not, or the server ended before.</summary>
    public DateTimeOffset? Ended { get; set; }
}
