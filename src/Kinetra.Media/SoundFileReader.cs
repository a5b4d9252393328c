using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Media;

/// <summary>A sound file, decoded and at the engine's rate.</summary>
/// <param name="Sound">Mono or stereo at 48 kHz. Of more channels, the first two.</param>
/// <param name="Format">The file's format in words: "FLAC (Free Lossless Audio Codec)".</param>
/// <param name="SampleRate">The file's own rate, Hz.</param>
/// <param name="Channels">The file's own channels.</param>
public sealed record DecodedSound(SoundBuffer Sound, string Format, int SampleRate, int Channels);

/// <summary>Reads a whole file of any format that libsndfile reads, within limits: for what comes from outside.</summary>
public static class SoundFileReader
{
    /// <summary>The longest sound that is taken in, minutes.</summary>
    public const int MaxMinutes = 15;

    /// <summary>The most channels a file may have.</summary>
    public const int MaxChannels = 8;

    /// <summary>What is accepted, in words.</summary>
    public const string Allowed = OpenSoundFile.Allowed + ", 1 to 8 channels, 1 kHz to 768 kHz, at most 15 minutes";

    private const int ChunkFrames = 65_536;

    // Of the time that it takes; the rest is for the change of rate.
    private const double ReadingShare = 0.5;

    /// <summary>A file's length in frames of its own rate, from its header.</summary>
    /// <exception cref="SoundFileException">It is no sound file.</exception>
    public static long Length(string path)
    {
        using var file = new OpenSoundFile(path, Allowed);
        return file.Frames ?? 0;
    }

    /// <summary>Decodes a whole file.</summary>
    /// <param name="path">Where it is.</param>
    /// <param name="progress">Is told how far it is, 0 to 1, where the file says how long it is.</param>
    /// <exception cref="SoundFileException">No sound file, empty, too long, or outside of what is allowed.</exception>
    public static DecodedSound Read(string path, IProgress<double>? progress = null)
    {
        using var file = new OpenSoundFile(path, Allowed);
        if (file.Channels > MaxChannels)
        {
            throw new SoundFileException($"The file has {file.Channels} channels.", $"1 to {MaxChannels} channels");
        }

        var planar = ReadAll(file, progress);
        if (planar[0].Length == 0)
        {
            throw new SoundFileException("The file holds no sound: it has no frames.", "at least one frame");
        }

        var left = RateConverter.Convert(planar[0], file.SampleRate, AudioFormat.SampleRate);
        progress?.Report((1 + ReadingShare) / 2);
        var right = planar.Length == 2 ? RateConverter.Convert(planar[1], file.SampleRate, AudioFormat.SampleRate) : null;
        SampleGuard.MakeFinite(left);
        SampleGuard.MakeFinite(right);
        return new DecodedSound(new SoundBuffer(left, right), file.Format, file.SampleRate, file.Channels);
    }

    private static float[][] ReadAll(OpenSoundFile file, IProgress<double>? progress)
    {
        // Some formats do not know their length; they are bounded while they are read.
        var limit = (long)file.SampleRate * 60 * MaxMinutes;
        var kept = Math.Min(file.Channels, 2);
        var planar = Enumerable.Range(0, kept).Select(_ => new List<float>()).ToArray();
        var chunk = new float[ChunkFrames * file.Channels];
        var plane = new float[ChunkFrames];
        int count;
        do
        {
            if ((file.Frames ?? 0) > limit || planar[0].Count > limit)
            {
                throw new SoundFileException($"The sound is longer than {MaxMinutes} minutes.", $"at most {MaxMinutes} minutes");
            }

            count = file.Read(chunk);
            progress?.Report(ReadingShare * planar[0].Count / Math.Max(1, file.Frames ?? long.MaxValue));
            for (var c = 0; c < kept; c++)
            {
                Interleaving.Take(chunk, file.Channels, c, plane.AsSpan(0, count));
                planar[c].AddRange(plane.AsSpan(0, count));
            }
        }
        while (count > 0);

        return [.. planar.Select(p => p.ToArray())];
    }
}
