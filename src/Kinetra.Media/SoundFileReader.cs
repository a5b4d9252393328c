using System.Runtime.InteropServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;

namespace Kinetra.Media;

/// <summary>A sound file, decoded and at the engine's rate.</summary>
/// <param name="Sound">Mono or stereo at 48 kHz. Of more channels, the first two.</param>
/// <param name="Format">The file's format in words: "FLAC (Free Lossless Audio Codec)".</param>
/// <param name="SampleRate">The file's own rate, Hz.</param>
/// <param name="Channels">The file's own channels.</param>
public sealed record DecodedSound(SoundBuffer Sound, string Format, int SampleRate, int Channels);

/// <summary>Reads every format that libsndfile reads: WAV, RF64, W64, AIFF, CAF, FLAC, Ogg Vorbis and Opus, MP3 and more.</summary>
public static class SoundFileReader
{
    /// <summary>The longest sound that is taken in, minutes.</summary>
    public const int MaxMinutes = 15;

    /// <summary>The most channels a file may have.</summary>
    public const int MaxChannels = 8;

    /// <summary>What is accepted, in words.</summary>
    public const string Allowed = "a WAV, AIFF, CAF, FLAC, Ogg, Opus or MP3 file, 1 to 8 channels, 1 kHz to 768 kHz, at most 15 minutes";

    private const int ChunkFrames = 65_536;

    /// <summary>A file's length in frames of its own rate, from its header.</summary>
    /// <exception cref="SoundFileException">It is no sound file.</exception>
    public static long Length(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        using var file = Open(path, out var info);
        return info.Frames;
    }

    /// <summary>Decodes a whole file.</summary>
    /// <exception cref="SoundFileException">No sound file, empty, too long, or outside of what is allowed.</exception>
    public static DecodedSound Read(string path)
    {
        ArgumentNullException.ThrowIfNull(path);
        using var file = Open(path, out var info);
        Check(info);
        var planar = ReadAll(file, info);
        if (planar[0].Length == 0)
        {
            throw new SoundFileException("The file holds no sound: it has no frames.", "at least one frame");
        }

        var left = RateConverter.Convert(planar[0], info.SampleRate, AudioFormat.SampleRate);
        var right = planar.Length == 2 ? RateConverter.Convert(planar[1], info.SampleRate, AudioFormat.SampleRate) : null;
        SampleGuard.MakeFinite(left);
        SampleGuard.MakeFinite(right);
        return new DecodedSound(new SoundBuffer(left, right), NameOf(info.Format), info.SampleRate, info.Channels);
    }

    private static SoundHandle Open(string path, out Libsndfile.Info info)
    {
        info = default;
        var file = Libsndfile.Open(path, Libsndfile.ModeRead, ref info);
        if (file.IsInvalid)
        {
            file.Dispose();
            var reason = Marshal.PtrToStringUTF8(Libsndfile.OpenErrorText(0))?.Trim().TrimEnd('.');
            throw new SoundFileException($"This is not a sound file that can be read ({reason}).", Allowed);
        }

        return file;
    }

    private static void Check(in Libsndfile.Info info)
    {
        if (info.Channels is < 1 or > MaxChannels)
        {
            throw new SoundFileException($"The file has {info.Channels} channels.", $"1 to {MaxChannels} channels");
        }

        if (info.SampleRate is < 1_000 or > 768_000)
        {
            throw new SoundFileException($"The file has a rate of {info.SampleRate} Hz.", "1 000 to 768 000 Hz");
        }

        // Some formats do not know their length; they are bounded while they are read.
        if (info.Frames != long.MaxValue && info.Frames > (long)info.SampleRate * 60 * MaxMinutes)
        {
            throw TooLong();
        }
    }

    private static SoundFileException TooLong() => new($"The sound is longer than {MaxMinutes} minutes.", $"at most {MaxMinutes} minutes");

    private static float[][] ReadAll(SoundHandle file, in Libsndfile.Info info)
    {
        var kept = Math.Min(info.Channels, 2);
        var planar = Enumerable.Range(0, kept).Select(_ => new List<float>()).ToArray();
        var chunk = new float[ChunkFrames * info.Channels];
        var limit = (long)info.SampleRate * 60 * MaxMinutes;
        long count;
        while ((count = Libsndfile.ReadFloat(file, chunk, ChunkFrames)) > 0)
        {
            if (planar[0].Count + count > limit)
            {
                throw TooLong();
            }

            for (var c = 0; c < kept; c++)
            {
                var channel = planar[c];
                for (long n = 0, at = c; n < count; n++, at += info.Channels)
                {
                    channel.Add(chunk[at]);
                }
            }
        }

        return [.. planar.Select(p => p.ToArray())];
    }

    private static string NameOf(int format)
    {
        var major = new Libsndfile.FormatInfo { Format = format & 0x0FFF0000 };
        return Libsndfile.Command(0, Libsndfile.CommandGetFormatInfo, ref major, Marshal.SizeOf<Libsndfile.FormatInfo>()) == 0
            ? Marshal.PtrToStringUTF8(major.Name) ?? "unknown"
            : "unknown";
    }
}
