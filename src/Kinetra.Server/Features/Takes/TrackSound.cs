using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Takes;
using Kinetra.Media;

namespace Kinetra.Server.Features.Takes;

/// <summary>A part of a track's file, read piece by piece, as often as wished. Behind its end there is silence.</summary>
sealed class TrackSound : ISoundAgain, IDisposable
{
    private const int ChunkFrames = 8_192;

    private readonly OpenSoundFile _file;
    private readonly TakePart _part;
    private readonly float _factor;
    private readonly float[] _chunk;
    private long _at;
    private bool _isOver;

    /// <summary>Opens it.</summary>
    /// <param name="path">The file.</param>
    /// <param name="part">Which part of it.</param>
    /// <param name="gainDb">By how much it is raised, dB.</param>
    /// <exception cref="SoundFileException">It cannot be read.</exception>
    public TrackSound(string path, TakePart part, double gainDb = 0)
    {
        _file = new OpenSoundFile(path);
        (_part, _factor) = (part, (float)Math.Pow(10, gainDb / 20));
        _chunk = new float[ChunkFrames * _file.Channels];
        Rewind();
    }

    public int Channels => Math.Min(2, _file.Channels);

    public long Frames => _part.Frames;

    public void Rewind()
    {
        _at = 0;
        _isOver = !_file.Seek(_part.Start);
    }

    public int Read(Span<float> left, Span<float> right)
    {
        var room = (int)Math.Min(Math.Min(left.Length, ChunkFrames), Frames - _at);
        if (room <= 0)
        {
            return 0;
        }

        var count = _isOver ? 0 : _file.Read(_chunk.AsSpan(0, room * _file.Channels));
        _isOver |= count == 0;
        if (count == 0)
        {
            count = room;
            left[..count].Clear();
            right[..count].Clear();
        }
        else
        {
            Interleaving.Take(_chunk, _file.Channels, 0, left[..count]);
            if (Channels == 2)
            {
                Interleaving.Take(_chunk, _file.Channels, 1, right[..count]);
            }

            for (var n = 0; _factor != 1 && n < count; n++)
            {
                left[n] *= _factor;
                right[n] *= Channels == 2 ? _factor : 1;
            }
        }

        _at += count;
        return count;
    }

    public void Dispose() => _file.Dispose();
}

/// <summary>Several parts of the same length, as one sound: what has one channel is on both sides of what has two.</summary>
sealed class BlendSound(ImmutableArray<TrackSound> tracks) : ISoundAgain, IDisposable
{
    private readonly float[] _left = new float[4_096];
    private readonly float[] _right = new float[4_096];

    public int Channels => tracks.Max(t => t.Channels);

    public long Frames => tracks[0].Frames;

    public void Rewind()
    {
        foreach (var track in tracks)
        {
            track.Rewind();
        }
    }

    public int Read(Span<float> left, Span<float> right)
    {
        var room = Math.Min(left.Length, _left.Length);
        left[..room].Clear();
        if (Channels == 2)
        {
            right[..room].Clear();
        }

        var all = 0;
        foreach (var track in tracks)
        {
            var read = 0;
            for (int count; read < room && (count = track.Read(_left.AsSpan(read, room - read), _right.AsSpan(read, room - read))) > 0;)
            {
                read += count;
            }

            for (var n = 0; n < read; n++)
            {
                left[n] += _left[n];
            }

            if (Channels == 2)
            {
                var other = track.Channels == 2 ? _right : _left;
                for (var n = 0; n < read; n++)
                {
                    right[n] += other[n];
                }
            }

            all = Math.Max(all, read);
        }

        return all;
    }

    public void Dispose()
    {
        foreach (var track in tracks)
        {
            track.Dispose();
        }
    }
}
