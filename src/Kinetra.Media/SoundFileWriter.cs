using System.Runtime.InteropServices;
using Kinetra.Core.Signal;

namespace Kinetra.Media;

/// <summary>What a sound file is written as.</summary>
public enum SoundFormat
{
    /// <summary>WAV; RF64 beyond 4 GiB.</summary>
    Wav,

    /// <summary>FLAC, lossless.</summary>
    Flac,

    /// <summary>Ogg Vorbis.</summary>
    Ogg,

    /// <summary>Ogg Opus.</summary>
    Opus,

    /// <summary>MP3.</summary>
    Mp3,
}

/// <summary>How samples are kept in a file that is not compressed with loss.</summary>
public enum SampleKind
{
    /// <summary>32-bit float, as the engine has them. WAV only.</summary>
    Floating,

    /// <summary>24 bits, dithered.</summary>
    Bits24,

    /// <summary>16 bits, dithered.</summary>
    Bits16,
}

/// <summary>
/// Writes a sound file at 48 kHz. Whole numbers are dithered (<see cref="TriangularNoise"/>); exact silence stays so. Not safe for several threads.
/// </summary>
public sealed class SoundFileWriter : IDisposable
{
    private const int ChunkFrames = 4_096;

    private readonly SoundHandle _file;
    private readonly int _channels;
    private readonly double _steps;
    private readonly float[] _floats;
    private readonly int[] _whole;
    private readonly TriangularNoise _noise = new();

    /// <summary>Creates the file.</summary>
    /// <param name="path">Where; an existing file is replaced.</param>
    /// <param name="channels">1 or 2.</param>
    /// <param name="format">As what.</param>
    /// <param name="kind">How samples are kept; formats with loss do not ask.</param>
    /// <exception cref="IOException">It cannot be created.</exception>
    public SoundFileWriter(string path, int channels, SoundFormat format, SampleKind kind = SampleKind.Floating)
    {
        _channels = channels;
        _floats = new float[ChunkFrames * channels];
        _whole = new int[ChunkFrames * channels];
        var isWhole = kind != SampleKind.Floating && format is SoundFormat.Wav or SoundFormat.Flac;
        _steps = !isWhole ? 0 : kind == SampleKind.Bits16 ? 32_768 : 8_388_608;
        var samples = (format, kind) switch
        {
            (SoundFormat.Ogg, _) => Libsndfile.FormatOgg | Libsndfile.FormatVorbis,
            (SoundFormat.Opus, _) => Libsndfile.FormatOgg | Libsndfile.FormatOpus,
            (SoundFormat.Mp3, _) => Libsndfile.FormatMpeg | Libsndfile.FormatMpegLayer3,
            (SoundFormat.Flac, SampleKind.Bits16) => Libsndfile.FormatFlac | Libsndfile.FormatPcm16,
            (SoundFormat.Flac, _) => Libsndfile.FormatFlac | Libsndfile.FormatPcm24,
            (_, SampleKind.Bits16) => Libsndfile.FormatRf64 | Libsndfile.FormatPcm16,
            (_, SampleKind.Bits24) => Libsndfile.FormatRf64 | Libsndfile.FormatPcm24,
            _ => Libsndfile.FormatRf64 | Libsndfile.FormatFloat,
        };
        var info = new Libsndfile.Info { SampleRate = AudioFormat.SampleRate, Channels = channels, Format = samples };
        _steps = format == SoundFormat.Flac && _steps == 0 ? 8_388_608 : _steps;
        _file = Libsndfile.Open(path, Libsndfile.ModeWrite, ref info);
        if (_file.IsInvalid)
        {
            throw new IOException($"Cannot write {path}: {Marshal.PtrToStringUTF8(Libsndfile.OpenErrorText(0))}");
        }

        Libsndfile.Command(_file, Libsndfile.CommandRf64AutoDowngrade, 0, 1);
    }

    /// <summary>Samples that lay beyond full scale and were held there; of floats, none.</summary>
    public long Clipped { get; private set; }

    /// <summary>Appends frames; <paramref name="right"/> is ignored for mono.</summary>
    /// <exception cref="IOException">They could not be written.</exception>
    public void Write(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        while (!left.IsEmpty)
        {
            var count = Math.Min(left.Length, ChunkFrames);
            for (int n = 0, at = 0; n < count; n++)
            {
                Put(at++, left[n]);
                if (_channels == 2)
                {
                    Put(at++, right[n]);
                }
            }

            var written = _steps > 0 ? Libsndfile.WriteInt(_file, _whole, count) : Libsndfile.WriteFloat(_file, _floats, count);
            if (written != count)
            {
                throw new IOException($"Cannot write on: {Marshal.PtrToStringUTF8(Libsndfile.ErrorText(_file))}");
            }

            left = left[count..];
            right = _channels == 2 ? right[count..] : right;
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _file.Dispose();

    private void Put(int at, float sample)
    {
        _floats[at] = sample;
        if (_steps == 0)
        {
            return;
        }

        var value = Math.Round((sample * _steps) + (sample == 0 ? 0 : _noise.Next()));
        if (value > _steps - 1 || value < -_steps)
        {
            Clipped++;
            value = Math.Clamp(value, -_steps, _steps - 1);
        }

        // Left-aligned in 32 bits.
        _whole[at] = (int)(value * (2_147_483_648 / _steps));
    }
}
