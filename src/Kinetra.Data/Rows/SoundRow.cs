namespace Kinetra.Data.Rows;

/// <summary>A stored sound file. Its bytes lie in the data folder under its address.</summary>
public sealed class SoundRow
{
    /// <summary>SHA-256 of the file's bytes, 64 hexadecimal digits.</summary>
    public required string Address { get; set; }

    /// <summary>The name that the file had.</summary>
    public required string FileName { get; set; }

    /// <summary>Its format in words.</summary>
    public required string Format { get; set; }

    /// <summary>Its own rate, Hz.</summary>
    public required int SampleRate { get; set; }

    /// <summary>Its own channels, 1–8.</summary>
    public required int Channels { get; set; }

    /// <summary>Channels that are played, 1 or 2.</summary>
    public required int PlayedChannels { get; set; }

    /// <summary>Length at 48 kHz.</summary>
    public required long Frames { get; set; }

    /// <summary>When it was first stored.</summary>
    public required DateTimeOffset AddedAt { get; set; }
}
