using System.Buffers.Binary;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Text;
using Kinetra.Core.Signal;

namespace Kinetra.Media;

/// <summary>What is written into a take's file beside the sound.</summary>
/// <param name="Title">The take's and the track's name.</param>
/// <param name="Start">When its first frame was.</param>
public sealed record TakeFileInfo(string Title, DateTimeOffset Start);

/// <summary>
/// Writes one track of a take: WAV, 24 bit, 48 kHz, RF64 once it grows beyond 4 GiB, with the title and the time in its
/// INFO list and in its <c>bext</c> chunk (EBU Tech 3285). Not safe for several threads.
/// </summary>
public sealed class TakeFileWriter : IDisposable
{
    private const int ChunkFrames = 4096;
    private readonly SoundHandle _file;
    private readonly int _channels;
    private readonly int[] _chunk;

    /// <summary>Creates the file.</summary>
    /// <param name="path">Where; an existing file is replaced.</param>
    /// <param name="channels">1 or 2.</param>
    /// <param name="info">Title and time.</param>
    /// <exception cref="IOException">It cannot be created.</exception>
    public TakeFileWriter(string path, int channels, TakeFileInfo info)
    {
        ArgumentNullException.ThrowIfNull(info);
        _channels = channels;
        _chunk = new int[ChunkFrames * channels];
        var format = new Libsndfile.Info
        {
            SampleRate = AudioFormat.SampleRate,
            Channels = channels,
            Format = Libsndfile.FormatRf64 | Libsndfile.FormatPcm24,
        };
        _file = Libsndfile.Open(path, Libsndfile.ModeWrite, ref format);
        if (_file.IsInvalid)
        {
            throw new IOException($"Cannot write {path}: {Marshal.PtrToStringUTF8(Libsndfile.OpenErrorText(0))}");
        }

        Libsndfile.Command(_file, Libsndfile.CommandRf64AutoDowngrade, 0, 1);
        var date = info.Start.ToString("yyyy-MM-ddTHH:mm:sszzz", CultureInfo.InvariantCulture);
        Libsndfile.SetString(_file, Libsndfile.StringTitle, info.Title);
        Libsndfile.SetString(_file, Libsndfile.StringSoftware, "Kinetra");
        Libsndfile.SetString(_file, Libsndfile.StringDate, date);
        var broadcast = BroadcastInfo(info);
        Libsndfile.Command(_file, Libsndfile.CommandSetBroadcastInfo, broadcast, broadcast.Length);
        UpdateHeader();
    }

    /// <summary>Samples that lay beyond full scale and were held there.</summary>
    public long Clipped { get; private set; }

    /// <summary>Appends frames; <paramref name="right"/> is ignored for mono.</summary>
    /// <exception cref="IOException">They could not be written, for example since the disk is full.</exception>
    public void Write(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        while (!left.IsEmpty)
        {
            var count = Math.Min(left.Length, ChunkFrames);
            for (int n = 0, at = 0; n < count; n++)
            {
                _chunk[at++] = Quantise(left[n]);
                if (_channels == 2)
                {
                    _chunk[at++] = Quantise(right[n]);
                }
            }

            if (Libsndfile.WriteInt(_file, _chunk, count) != count)
            {
                throw new IOException($"Cannot write on: {Marshal.PtrToStringUTF8(Libsndfile.ErrorText(_file))}");
            }

            left = left[count..];
            right = _channels == 2 ? right[count..] : right;
        }
    }

    /// <summary>Makes the file, as it stands on the disk, one that opens with all that was written so far.</summary>
    public void UpdateHeader() => Libsndfile.Command(_file, Libsndfile.CommandUpdateHeaderNow, 0, 0);

    /// <inheritdoc/>
    public void Dispose() => _file.Dispose();

    // 24 bits, left-aligned in 32. One step is 2⁻²³, so a 24-bit sample that came in unchanged leaves unchanged.
    private int Quantise(float sample)
    {
        var steps = MathF.Round(sample * 8_388_608f, MidpointRounding.ToEven);
        if (steps is > 8_388_607f or < -8_388_608f)
        {
            Clipped++;
            steps = Math.Clamp(steps, -8_388_608f, 8_388_607f);
        }

        return (int)steps << 8;
    }

    // SF_BROADCAST_INFO: the fields of the bext chunk, in a row.
    private static byte[] BroadcastInfo(TakeFileInfo info)
    {
        var data = new byte[864];
        var time = info.Start;
        Put(data.AsSpan(0, 256), info.Title);
        Put(data.AsSpan(256, 32), "Kinetra");
        Put(data.AsSpan(320, 10), time.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
        Put(data.AsSpan(330, 8), time.ToString("HH:mm:ss", CultureInfo.InvariantCulture));
        var sinceMidnight = (long)(time.TimeOfDay.TotalSeconds * AudioFormat.SampleRate);
        BinaryPrimitives.WriteUInt32LittleEndian(data.AsSpan(340), (uint)sinceMidnight);
        BinaryPrimitives.WriteUInt32LittleEndian(data.AsSpan(344), (uint)(sinceMidnight >> 32));
        BinaryPrimitives.WriteInt16LittleEndian(data.AsSpan(348), 1);
        return data;
    }

    // ASCII by the standard; what is not becomes a question mark, dashes excepted.
    private static void Put(Span<byte> field, string text)
    {
        var ascii = Encoding.ASCII.GetBytes(text.Replace('–', '-').Replace('—', '-'));
        ascii.AsSpan(0, Math.Min(ascii.Length, field.Length)).CopyTo(field);
    }
}
