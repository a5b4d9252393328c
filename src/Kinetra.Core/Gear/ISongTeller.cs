using Kinetra.Core.Signal;

namespace Kinetra.Core.Gear;

/// <summary>A computer that knows what its programs say they play.</summary>
public interface ISongTeller
{
    /// <summary>What a program says that it plays now, 1–200 characters on one line; null: nothing, or it is not there. Any thread.</summary>
    string? SongOf(AppId app);
}
