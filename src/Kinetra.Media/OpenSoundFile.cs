using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;

namespace Kinetra.Media;

/// <summary>A sound file, read piece by piece: every format that libsndfile reads. Not safe for several threads.</summary>
public sealed class OpenSoundFile : IDisposable
{
    /// <summary>What is accepted, in words.</summary>
    public const string Allowed = "a WAV, AIFF, CAF, FLAC, Ogg, Opus or MP3 file";

    private const int MeasuredFrames = 48_000;

    private readonly SoundHandle _file;

    /// <summary>Opens a file.</summary>
    /// <param name="path">Where it is.</param>
    /// <param name="allowed">What the caller accepts, for the refusal.</param>
    /// <exception cref="SoundFileException">It is no sound file, or its rate or channels are odd.</exception>
    public OpenSoundFile(string path, string allowed = Allowed)
    {
        ArgumentNullException.ThrowIfNull(path);
        var info = default(Libsndfile.Info);
        _file = Libsndfile.Open(path, Libsndfile.ModeRead, ref info);
        if (_file.IsInvalid)
        {
            _file.Dispose();
            var reason = Marshal.PtrToStringUTF8(Libsndfile.OpenErrorText(0))?.Trim().TrimEnd('.');
            throw new SoundFileException($"This is not a sound file that can be read ({reason}).", allowed);
        }

        (Channels, SampleRate, Format) = (info.Channels, info.SampleRate, NameOf(info.Format));
        FullScale = (info.Format & 0xFFFF) switch
        {
            Libsndfile.FormatPcm8 or Libsndfile.FormatPcmUnsigned8 => 1 - (1f / 128),
            Libsndfile.FormatPcm16 => 1 - (1f / 32_768),
            Libsndfile.FormatPcm24 => 1 - (1f / 8_388_608),
            _ => 1,
        };
        (Speakers, Layout) = SpeakerLayout.Of(_file, info);
        Frames = info.Frames is > 0 and < long.MaxValue ? info.Frames : null;
        if (SampleRate is < RateConverter.LowestRate or > RateConverter.HighestRate || Channels < 1)
        {
            _file.Dispose();
            throw new SoundFileException(
                $"The file has {info.Channels} channels and a rate of {info.SampleRate} Hz.",
                $"1 channel or more, {RateConverter.LowestRate} to {RateConverter.HighestRate} Hz");
        }
    }

    /// <summary>1 or more.</summary>
    public int Channels { get; }

    /// <summary>Hz.</summary>
    public int SampleRate { get; }

    /// <summary>The format in words: "FLAC (Free Lossless Audio Codec)".</summary>
    public string Format { get; }

    /// <summary>The largest positive sample that the format can hold: 1, or what a whole number of some bits leaves of it.</summary>
    public float FullScale { get; }

    /// <summary>Where each channel is heard from.</summary>
    public ImmutableArray<Speaker> Speakers { get; }

    /// <summary>The channels in words: "5.1"; null where the file does not say and its number alone does not either.</summary>
    public string? Layout { get; }

    /// <summary>The length that the file states, frames. It may lie: what is really there is known once it has been read.</summary>
    public long? Frames { get; }

    /// <summary>Goes to a frame: what is read next begins with it.</summary>
    /// <param name="frame">0 or more.</param>
    /// <returns>False: the file ends before it, or cannot be gone to places in.</returns>
    public bool Seek(long frame) => Libsndfile.Seek(_file, frame, 0) == frame;

    /// <summary>Reads the next frames, interleaved.</summary>
    /// <param name="interleaved">Room for whole frames.</param>
    /// <returns>Frames read; 0 at the end.</returns>
    public int Read(Span<float> interleaved) => (int)Math.Max(0, Libsndfile.ReadFloat(_file, interleaved, interleaved.Length / Channels));

    /// <summary>Reads to the end and counts what is really there, frames; at most so many.</summary>
    public long CountFrames(long most)
    {
        var chunk = new float[16_384 * Channels];
        long count = 0;
        for (int read; count <= most && (read = Read(chunk)) > 0;)
        {
            count += read;
        }

        return count;
    }

    /// <summary>Measures all that has not been read yet.</summary>
    public Measured Measure()
    {
        var measurement = new Measurement(Channels, SampleRate, Speakers, FullScale);
        var interleaved = new float[MeasuredFrames * Channels];
        float[][] planes = [.. Enumerable.Range(0, Channels).Select(_ => new float[MeasuredFrames])];
        for (int frames; (frames = Read(interleaved)) > 0;)
        {
            for (var c = 0; c < planes.Length; c++)
            {
                Interleaving.Take(interleaved, planes.Length, c, planes[c].AsSpan(0, frames));
            }

            measurement.Add(planes, frames);
        }

        return measurement.Finish();
    }

    /// <inheritdoc/>
    public void Dispose() => _file.Dispose();

    private static string NameOf(int format)
    {
        var major = new Libsndfile.FormatInfo { Format = format & 0x0FFF0000 };
        return Libsndfile.Command(0, Libsndfile.CommandGetFormatInfo, ref major, Marshal.SizeOf<Libsndfile.FormatInfo>()) == 0
            ? Marshal.PtrToStringUTF8(major.Name) ?? "unknown"
            : "unknown";
    }
}
