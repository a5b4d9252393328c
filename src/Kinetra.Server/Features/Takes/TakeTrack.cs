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
    private readonly int _early;
    private long _position;
    private long _header;

    /// <summary>Makes a track.</summary>
    /// <param name="row">What is known of it.</param>
    /// <param name="ring">What it records.</param>
    /// <param name="start">The engine frame at which the take begins.</param>
    /// <param name="early">By how many frames it is ahead of the take's slowest track, which looks ahead the most: so much earlier it begins and ends.</param>
    /// <param name="writer">Its file.</param>
    public TakeTrack(TrackRow row, AudioRing ring, long start, int early, TakeFileWriter writer)
    {
        Row = row;
        _ring = ring;
        _early = early;
        _start = _position = start - early;
        _writer = writer;
    }

    public TrackRow Row { get; }

    public long Frames => _position - _start;

    /// <summary>Writes all that there is, up to a frame of the take.</summary>
    public void CatchUp(long frame)
    {
        var until = frame - _early;
        if (_position < _ring.Beginning)
        {
            // Before it began there was silence.
            var silent = Math.Max(0, Math.Min(_ring.Beginning, until) - _position);
            WriteSilence(silent);
            _position += silent;
        }

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

    /// <summary>Writes up to the take's end, a frame; where the ring ended earlier, since its source was removed, with silence.</summary>
    public void Finish(long end)
    {
        CatchUp(end);
        WriteSilence(end - _early - _position);
        _position = Math.Max(_position, end - _early);
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
