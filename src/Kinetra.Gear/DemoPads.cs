using System.Collections.Immutable;
using System.Security.Cryptography;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Sounds;
using Kinetra.Media;

namespace Kinetra.Gear;

/// <summary>A sound of the demo's pads, as a file.</summary>
/// <param name="Name">What the file is called.</param>
/// <param name="Address">SHA-256 of its bytes.</param>
/// <param name="File">WAV, 16 bits, one channel, 48 kHz.</param>
public sealed record DemoSound(string Name, string Address, byte[] File);

/// <summary>The demo's pads: made by seeded generators, and kept in the sound store like any that a person adds.</summary>
public static class DemoPads
{
    private static readonly Lazy<ImmutableArray<(Pad Pad, DemoSound Sound)>> Made = new(Make);

    /// <summary>Their sounds.</summary>
    public static IReadOnlyList<DemoSound> Sounds => [.. Made.Value.Select(p => p.Sound)];

    /// <summary>The set.</summary>
    /// <param name="source">Through which source they are heard.</param>
    internal static PadSet Set(SourceId source) => new() { Id = new("lighthouse"), Name = "Lighthouse", Pads = [.. Made.Value.Select(p => p.Pad with { Source = source })] };

    private static ImmutableArray<(Pad, DemoSound)> Make() =>
    [
        One("foghorn", "Foghorn", PadSound.Foghorn(), "KeyF", 1, 0, -13, pad => pad with { Play = PadPlay.Once, Dim = 6 }),
        One("bell", "Bell", PadSound.Bell(), "KeyB", 0, 1, -12, pad => pad with { Play = PadPlay.Over }),
        One("gulls", "Gulls", PadSound.Gulls(), "KeyG", 4, 2, -7, pad => pad),
        One("shutter", "Shutter", PadSound.Shutter(), "KeyS", 6, 3, -7, pad => pad),
        One("rope", "Rope", PadSound.Rope(), "KeyE", 10, 4, -3, pad => pad with { Play = PadPlay.Held, FadeOut = 120 }),
        One("rain", "Rain on glass", PadSound.Rain(), "KeyA", 2, 6, -8, pad => pad with { Play = PadPlay.Loop, FadeIn = 1500, FadeOut = 2500, Group = "beds" }),
    ];

    private static (Pad, DemoSound) One(string id, string name, float[] samples, string key, int color, int shape, double gain, Func<Pad, Pad> also)
    {
        var file = Wav(samples);
        var sound = new DemoSound(name + ".wav", Convert.ToHexStringLower(SHA256.HashData(file)), file);
        var pad = also(new Pad
        {
            Id = new(id),
            Name = name,
            Sound = sound.Address,
            Source = default,
            End = Math.Ceiling(samples.Length * 1000.0 / AudioFormat.SampleRate),
            Key = key,
            Gain = new(gain),
            Look = new SourceLook(color, shape),
        });
        return (pad, sound);
    }

    private static byte[] Wav(float[] samples)
    {
        var header = PlainWav.Header(1, samples.Length);
        var file = new byte[header.Length + (PlainWav.SampleBytes * samples.Length)];
        header.CopyTo(file.AsSpan());
        for (var n = 0; n < samples.Length; n++)
        {
            PlainWav.Write(file.AsSpan(header.Length + (PlainWav.SampleBytes * n)), samples[n]);
        }

        return file;
    }
}
