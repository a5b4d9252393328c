namespace Kinetra.Server.Features.Air;

/// <summary>A stream's server cannot be had, or does not want what comes.</summary>
/// <param name="words">What happened, with the server's own words where it has any; a whole sentence.</param>
/// <param name="check">What to look at; a whole sentence, or null.</param>
/// <param name="isRefusal">True: it was there and said no, and says so again until something is changed.</param>
public sealed class StreamServerException(string words, string? check, bool isRefusal) : Exception(words)
{
    /// <summary>What to look at; a whole sentence, or null.</summary>
    public string? Check => check;

    /// <summary>True: it was there and said no, and says so again until something is changed.</summary>
    public bool IsRefusal => isRefusal;
}
