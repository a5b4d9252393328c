using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Gear.Sounds;
using Kinetra.Media;

namespace Kinetra.Gear;

/// <summary>
/// The sounds of the practice computer's devices and programs: seeded and shipped, so they are the same on every machine. They are made side by side in the background, which takes a few seconds of computing, and
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
        ["radio"] = () => GameSound.Radio(59),
        ["record-shelf"] = () => MusicSound.Make(66),
        ["harbour-browser"] = () => MusicSound.Make(71),
        ["second-computer"] = () => GameSound.Make(83),
        ["console"] = () => GameSound.Make(97),
        ["tin-sampler"] = () => ChimeSound.Make(262, 1.5, -24),
        ["system-sounds"] = () => ChimeSound.Make(880, 7, -34),
        ["test-sound"] = () => ChimeSound.Make(440, 0.8, -22),
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

    /// <summary>The keys that <see cref="Sound"/> knows.</summary>
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
}
