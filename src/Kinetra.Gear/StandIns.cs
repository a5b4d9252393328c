using System.Collections.Frozen;
using Kinetra.Core.Engine;
using Kinetra.Gear.Sounds;

namespace Kinetra.Gear;

/// <summary>
/// The simulated devices and apps that ship with the application. Each gives the engine real sound: seeded and shipped, so
/// it is the same on every machine. Making all of them takes a moment; share one instance.
/// </summary>
public sealed class StandIns
{
    private static readonly Dictionary<string, Func<SoundBuffer>> Makers = new()
    {
        ["host-mic"] = () => VoiceSound.Make(new("host", Rms: -25, Room: -38, Low: 60, High: 10_500, Clicks: 26, Breath: -22, Seed: 11)),
        ["sea-mic"] = () => SeaSound.Make(22),
        ["guest-call"] = () => VoiceSound.Make(new("guest", Rms: -28, Room: -44, Low: 280, High: 3_600, Clicks: 0, Breath: -30, Seed: 33)),
        ["crew-talk"] = () => VoiceSound.Make(new("crew", Rms: -31, Room: -34, Low: 120, High: 7_000, Clicks: 60, Breath: -20, Seed: 44)),
        ["skerry-keeper"] = () => GameSound.Make(55),
        ["record-shelf"] = () => MusicSound.Make(66),
    };

    private readonly FrozenDictionary<string, SoundBuffer> _sounds;

    /// <summary>Makes the sounds of all stand-ins, on all cores.</summary>
    public StandIns()
    {
        _sounds = Makers.AsParallel()
            .Select(m => KeyValuePair.Create(m.Key, m.Value()))
            .ToFrozenDictionary();
    }

    /// <summary>The keys that <see cref="Open"/> knows.</summary>
    public IReadOnlyCollection<string> Devices => _sounds.Keys;

    /// <summary>What a stand-in plays, as one loop.</summary>
    /// <exception cref="KeyNotFoundException">There is no such stand-in.</exception>
    public SoundBuffer Sound(string device) => _sounds[device];

    /// <summary>Starts listening to a stand-in. One that does not exist, as on a machine that lacks a device, is silent.</summary>
    public ISourceFeed Open(string device) =>
        _sounds.TryGetValue(device, out var sound) ? new SoundFeed(sound, loop: true, beginsWithSource: false) : new SilentFeed();
}
