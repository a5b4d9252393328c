using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear;
using Kinetra.Server.Features.Microphones;
using Kinetra.Server.Features.Sounds;

namespace Kinetra.Server.Live;

/// <summary>The feeds of one rig, opened but not in use yet.</summary>
public sealed class PreparedFeeds
{
    internal PreparedFeeds(Dictionary<SourceId, (SourceInput Input, ISourceFeed Feed)> feeds) => Feeds = feeds;

    internal Dictionary<SourceId, (SourceInput Input, ISourceFeed Feed)> Feeds { get; }
}

/// <summary>Gives each source its feed, and the same one as long as its input stays the same.</summary>
public sealed partial class SourceFeeds(StandIns standIns, SoundLibrary sounds, BrowserDevices devices, ILogger<SourceFeeds> log)
{
    private Dictionary<SourceId, (SourceInput Input, ISourceFeed Feed)> _feeds = [];

    /// <summary>Opens what the rig needs. Nothing counts until <see cref="Use"/>. One caller at a time.</summary>
    /// <param name="rig">The rig.</param>
    /// <param name="opening">True: the show is being opened, so every feed is its own, and sounds that play once wait until somebody plays them.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<PreparedFeeds> PrepareAsync(Rig rig, bool opening, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var next = new Dictionary<SourceId, (SourceInput Input, ISourceFeed Feed)>();
        foreach (var source in rig.Sources.Where(s => s.Input is not CableInput))
        {
            next[source.Id] = !opening && _feeds.TryGetValue(source.Id, out var old) && old.Input == source.Input
                ? old
                : (source.Input, await OpenAsync(source, opening, cancel));
        }

        return new PreparedFeeds(next);
    }

    /// <summary>From now on these feeds count, and those of sources that have gone are forgotten.</summary>
    public void Use(PreparedFeeds prepared)
    {
        ArgumentNullException.ThrowIfNull(prepared);
        Volatile.Write(ref _feeds, prepared.Feeds);
    }

    /// <summary>The feed of a source of the rig that was prepared for last; one that records from a cable has it from the engine.</summary>
    public ISourceFeed For(Source source)
    {
        ArgumentNullException.ThrowIfNull(source);
        return Volatile.Read(ref _feeds)[source.Id].Feed;
    }

    private async Task<ISourceFeed> OpenAsync(Source source, bool opening, CancellationToken cancel)
    {
        switch (source.Input)
        {
            case StandInInput standIn:
                return standIns.Open(standIn.Device);
            case SoundFileInput file when await sounds.LoadAsync(file.Sound, cancel) is { } sound:
                return new SoundFeed(sound, file.Loop, beginsWithSource: true, offset: opening && !file.Loop ? sound.Frames : 0);
            case BrowserInput browser:
                return devices.Of(browser.Client, browser.Device).Feed(browser.Left, browser.Right);
            default:
                LogMissing(log, source.Name);
                return new SilentFeed();
        }
    }

    [LoggerMessage(LogLevel.Warning, "{Source} stays silent: its sound is no longer in the data folder.")]
    private static partial void LogMissing(ILogger log, string source);
}
