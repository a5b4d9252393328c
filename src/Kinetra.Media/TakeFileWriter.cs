using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Text;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Media;

/// <summary>What is written into a take's file beside the sound.</summary>
/// <param name="Title">The take's and the track's name.</param>
/// <param name="Start">When its first frame was.</param>
/// <param name="Channels">What is on each channel, where each is something of its own: WAV names them in an iXML chunk. Empty: nothing is said.</param>
public sealed record TakeFileInfo(string Title, DateTimeOffset Start, ImmutableArray<string> Channels = default);

/// <summary>
/// Writes one track of a take at 48 kHz. WAV becomes RF64 once it grows beyond 4 GiB, and has the title and the time in its
/// INFO list and in its <c>bext</c> chunk (EBU Tech 3285). What has 24 bits keeps samples of 24 bits as they are; 16 bits are dithered. Not safe for
/// several threads.
/// </summary>
public sealed class TakeFileWriter : IDisposable
{
    /// <summary>The most channels of one WAV file.</summary>
    public const int MostChannels = 256;

    private const int ChunkFrames = 4096;
    private readonly SoundHandle _file;
    private readonly int _channels;
    private readonly TakeForm _form;
    private readonly bool _dithers;
    private readonly int[] _chunk;
    private readonly float[] _floats;
    private readonly TriangularNoise _noise = new();

    /// <summary>Creates the file.</summary>
    /// <param name="path">Where; an existing file is replaced.</param>
    /// <param name="channels">1 or 2; of WAV, up to <see cref="MostChannels"/>.</param>
    /// <param name="info">Title and time.</param>
    /// <param name="form">As what.</param>
    /// <param name="dithers">False: samples that come are of so many bits already, and stay as they are.</param>
    /// <exception cref="IOException">It cannot be created.</exception>
    public TakeFileWriter(string path, int channels, TakeFileInfo info, TakeForm form = TakeForm.Wav24, bool dithers = true)
    {
        ArgumentNullException.ThrowIfNull(info);
        (_channels, _form, _dithers) = (channels, form, dithers);
        _chunk = new int[ChunkFrames * channels];
        _floats = new float[ChunkFrames * channels];
        var format = new Libsndfile.Info
        {
            SampleRate = AudioFormat.SampleRate,
            Channels = channels,
            Format = form switch
            {
                TakeForm.Wav16 => Libsndfile.FormatRf64 | Libsndfile.FormatPcm16,
                TakeForm.Wav32 => Libsndfile.FormatRf64 | Libsndfile.FormatFloat,
                TakeForm.Flac => Libsndfile.FormatFlac | Libsndfile.FormatPcm24,
                TakeForm.Mp3 => Libsndfile.FormatMpeg | Libsndfile.FormatMpegLayer3,
                TakeForm.Opus => Libsndfile.FormatOgg | Libsndfile.FormatOpus,
                _ => Libsndfile.FormatRf64 | Libsndfile.FormatPcm24,
            },
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
        if (IsWav)
        {
            var broadcast = BroadcastInfo(info);
            Libsndfile.Command(_file, Libsndfile.CommandSetBroadcastInfo, broadcast, broadcast.Length);
            if (!info.Channels.IsDefaultOrEmpty)
            {
                SetChunk("iXML", ChannelNames.Ixml(info));
            }
        }

        UpdateHeader();
    }

    /// <summary>Samples that lay beyond full scale: held there, where the form has nothing above it.</summary>
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
                Put(at++, left[n]);
                if (_channels == 2)
                {
                    Put(at++, right[n]);
                }
            }

            Hand(count);
            left = left[count..];
            right = _channels == 2 ? right[count..] : right;
        }
    }

    /// <summary>Appends frames of as many channels as the file has.</summary>
    /// <param name="planes">The channels.</param>
    /// <param name="frames">How many of each.</param>
    /// <exception cref="IOException">They could not be written.</exception>
    public void Write(IReadOnlyList<float[]> planes, int frames)
    {
        ArgumentNullException.ThrowIfNull(planes);
        for (var from = 0; from < frames; from += ChunkFrames)
        {
            var count = Math.Min(frames - from, ChunkFrames);
            for (var channel = 0; channel < _channels; channel++)
            {
                for (var n = 0; n < count; n++)
                {
                    Put((n * _channels) + channel, planes[channel][from + n]);
                }
            }

            Hand(count);
        }
    }

    /// <summary>Makes the file, as it stands on the disk, one that opens with all that was written so far. Other forms than WAV are read up to where they end.</summary>
    public void UpdateHeader()
    {
        if (IsWav)
        {
            Libsndfile.Command(_file, Libsndfile.CommandUpdateHeaderNow, 0, 0);
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _file.Dispose();

    private bool IsWav => _form is TakeForm.Wav16 or TakeForm.Wav24 or TakeForm.Wav32;

    private bool IsWhole => _form is TakeForm.Wav16 or TakeForm.Wav24 or TakeForm.Flac;

    private void Hand(int count)
    {
        if ((IsWhole ? Libsndfile.WriteInt(_file, _chunk, count) : Libsndfile.WriteFloat(_file, _floats, count)) != count)
        {
            throw new IOException($"Cannot write on: {Marshal.PtrToStringUTF8(Libsndfile.ErrorText(_file))}");
        }
    }

    private unsafe void SetChunk(string id, byte[] data)
    {
        fixed (byte* at = data)
        {
            var chunk = new Libsndfile.ChunkInfo { IdSize = (uint)id.Length, DataLength = (uint)data.Length, Data = (nint)at };
            Encoding.ASCII.GetBytes(id, new Span<byte>(chunk.Id, Libsndfile.ChunkInfo.IdLength));

            // It keeps a copy.
            if (Libsndfile.SetChunk(_file, ref chunk) != 0)
            {
                throw new IOException($"Cannot write the chunk {id}: {Marshal.PtrToStringUTF8(Libsndfile.ErrorText(_file))}");
            }
        }
    }

    private void Put(int at, float sample)
    {
        if (_form == TakeForm.Wav16)
        {
            var value = Math.Round((sample * 32_768.0) + (sample == 0 || !_dithers ? 0 : _noise.Next()));
            _chunk[at] = Held(value, 32_767) << 16;
        }
        else if (IsWhole)
        {
            // Left-aligned in 32. One step is 2⁻²³, so a 24-bit sample that came in unchanged leaves unchanged.
            _chunk[at] = Held(MathF.Round(sample * 8_388_608f, MidpointRounding.ToEven), 8_388_607) << 8;
        }
        else
        {
            _floats[at] = sample;
            Clipped += sample is > 1 or < -1 ? 1 : 0;
        }
    }

    private int Held(double steps, int most)
    {
        if (steps > most || steps < -most - 1)
        {
            Clipped++;
            steps = Math.Clamp(steps, -most - 1, most);
        }

        return (int)steps;
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
