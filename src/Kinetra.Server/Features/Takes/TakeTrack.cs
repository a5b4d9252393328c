using Kinetra.Core.Engine;
using Kinetra.Data.Rows;
using Kinetra.Media;

namespace Kinetra.Server.Features.Takes;

/// <summary>One track of the take that is being recorded: a ring on one side, a file on the other. Not safe for several threads.</summary>
sealed class TakeTrack : IDisposable
{
    private const int ChunkFrames = 8192;
    private const long HeaderEvery = AudioFormat.SampleRate;

    private readonly AudioRing _ring;
    private readonly TakeFileWriter _writer;
    private readonly float[] _left = new float[ChunkFrames];
    private readonly float[] _right = new float[ChunkFrames];
    private readonly long _start;
    private long _position;
    private long _header;

    public TakeTrack(TrackRow row, AudioRing ring, long start, TakeFileWriter writer)
    {
        Row = row;
        _ring = ring;
        _start = _position = start;
        _writer = writer;
    }

    public TrackRow Row { get; }

    public long Frames => _position - _start;

    /// <summary>Writes all that there is, up to a frame.</summary>
    public void CatchUp(long until)
    {
        while (_position < until)
        {
            var room = (int)Math.Min(until - _position, ChunkFrames);
            var count = _ring.Read(ref _position, _left.AsSpan(0, room), _right.AsSpan(0, room), out var lost);
            if (lost > 0)
            {
                // What was lost is silence of the same length, so that all tracks stay in step.
                Row.LostFrames += lost;
                WriteSilence(lost);
            }

            if (count == 0)
            {
                break;
            }

            _writer.Write(_left.AsSpan(0, count), _right.AsSpan(0, count));
        }

        if (Frames - _header >= HeaderEvery)
        {
            _header = Frames;
            _writer.UpdateHeader();
        }
    }

    /// <summary>Writes up to the end of the take; where the ring ended earlier, since its source was removed, with silence.</summary>
    public void Finish(long end)
    {
        CatchUp(end);
        WriteSilence(end - _position);
        _position = Math.Max(_position, end);
        Row.Clipped = _writer.Clipped;
    }

    public void Dispose() => _writer.Dispose();

    private void WriteSilence(long frames)
    {
        Span<float> silence = stackalloc float[1024];
        silence.Clear();
        for (var left = frames; left > 0; left -= silence.Length)
        {
            var part = silence[..(int)Math.Min(left, silence.Length)];
            _writer.Write(part, part);
        }
    }
}
