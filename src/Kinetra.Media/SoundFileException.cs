namespace Kinetra.Media;

/// <summary>A sound file that cannot be used: what is wrong, and what is allowed.</summary>
public sealed class SoundFileException(string what, string allowed) : Exception($"{what} Allowed: {allowed}.")
{
    /// <summary>What is wrong, in words.</summary>
    public string What { get; } = what;

    /// <summary>What would be right, in words.</summary>
    public string Allowed { get; } = allowed;
}
