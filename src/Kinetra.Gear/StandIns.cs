using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Gear.Sounds;
using Kinetra.Media;

namespace Kinetra.Gear;

/// <summary>
/// The simulated devices and apps that ship with the application. Each gives the engine real sound: seeded and shipped, so
/// it is the same on every machine. They are made side by side in the background, which takes a few seconds of computing, and
/// kept in a folder, so that the next start only reads them. Whoever needs one that is not ready waits for it. Share one instance.
/// </summary>
public sealed class StandIns
{
    private static readonly Dictionary<string, Func<SoundBuffer>> Makers = new()
    {
        ["host-mic"] = () => VoiceSound.Make(new("host", Rms: -25, Room: -38, Low: 60, High: 10_500, Clicks: 26, Breath: -22, Seed: 11)),
        ["sea-mic"] = () => SeaSound.Make(22),
        ["second-mic"] = () => VoiceSound.Make(new("second", Rms: -27, Room: -40, Low: 70, High: 9_800, Clicks: 14, Breath: -24, Seed: 27)),
        ["guest-call"] = () => VoiceSound.Make(new("guest", Rms: -28, Room: -44, Low: 280, High: 3_600, Clicks: 0, Breath: -30, Seed: 33)),
        ["crew-talk"] = () => VoiceSound.Make(new("crew", Rms: -31, Room: -34, Low: 120, High: 7_000, Clicks: 60, Breath: -20, Seed: 44)),
        ["skerry-keeper"] = () => GameSound.Make(55),
        ["record-shelf"] = () => MusicSound.Make(66),
    };

    private readonly Dictionary<string, Task<SoundBuffer>> _sounds;

    /// <summary>Begins to make the sounds of all stand-ins, or to read them.</summary>
    /// <param name="folder">Where they are kept; null: nowhere.</param>
    public StandIns(string? folder = null)
    {
        // Another build may make other sounds: each keeps its own.
        var kept = folder is null ? null : Path.Combine(folder, typeof(StandIns).Module.ModuleVersionId.ToString("n"));
        _sounds = Makers.ToDictionary(m => m.Key, m => Task.Run(() => kept is null ? m.Value() : ReadOrMake(kept, m.Key, m.Value)));
    }

    /// <summary>The keys that <see cref="Open"/> knows.</summary>
    public IReadOnlyCollection<string> Devices => _sounds.Keys;

    /// <summary>What a stand-in plays, as one loop.</summary>
    /// <exception cref="KeyNotFoundException">There is no such stand-in.</exception>
    public SoundBuffer Sound(string device) => _sounds[device].GetAwaiter().GetResult();

    private static SoundBuffer ReadOrMake(string folder, string device, Func<SoundBuffer> make)
    {
        foreach (var channels in new[] { 1, 2 })
        {
            try
            {
                return PlanarFile.Read(PathOf(folder, device, channels), channels);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException or SoundFileException)
            {
                // Not there, or not whole: it is made.
            }
        }

        var sound = make();
        try
        {
            Directory.CreateDirectory(folder);
            PlanarFile.Write(PathOf(folder, device, sound.Channels), sound);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // Then it is made again next time.
        }

        return sound;
    }

    private static string PathOf(string folder, string device, int channels) => Path.Combine(folder, $"{device}.{channels}.f32");

    /// <summary>Starts listening to a stand-in. One that does not exist, as on a machine that lacks a device, is silent.</summary>
    public IInlet Open(string device) =>
        _sounds.ContainsKey(device) ? new StandingInlet(Sound(device)) : new SilentInlet();
}
