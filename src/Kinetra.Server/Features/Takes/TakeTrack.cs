using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Data.Rows;
using Kinetra.Media;
using Kinetra.Server.Outputs;

namespace Kinetra.Server.Features.Takes;

/// <summary>
/// One track of the take that is being recorded: a point of the engine's on one side, a file on the other. Whatever becomes of the point, the
/// track goes on, with silence while it is not there; where look-ahead comes to make it later or earlier, the track goes over to its new
/// time, so that it stays in step with the others. Not safe for several threads.
/// </summary>
sealed class TakeTrack : Output
{
    private const int ChunkFrames = 8192;
    private const long HeaderEvery = AudioFormat.SampleRate;

    private readonly TapCursor _cursor;
    private readonly TrackFile?[] _files;
    private readonly TrackWitness _witness;
    private readonly List<Stretch> _stretches = [new(0, 0)];
    private readonly float[] _left = new float[ChunkFrames];
    private readonly float[] _right = new float[ChunkFrames];
    private readonly float[] _nextLeft = new float[Fade.Frames];
    private readonly float[] _nextRight = new float[Fade.Frames];
    private readonly long _zero;
    private readonly Queue<(long From, long To)> _pauses = new();
    private long _start;
    private long? _until;
    private readonly int _slowest;
    private int _latency;
    private long _header;
    private (long Start, string Words)? _away;
    private bool _isNews;

    /// <summary>Makes a track.</summary>
    /// <param name="row">What is known of it.</param>
    /// <param name="tap">What it records, held as long as the track is there.</param>
    /// <param name="start">The engine frame at which the take begins.</param>
    /// <param name="slowest">By how many frames the take's slowest track is late: by what this one is less late, it begins and ends earlier.</param>
    /// <param name="files">Its file, and its copy in a second folder where there is one.</param>
    /// <param name="engine">The engine.</param>
    /// <param name="time">The clock.</param>
    public TakeTrack(TrackRow row, HeldTap tap, long start, int slowest, IEnumerable<TrackFile> files, MixEngine engine, TimeProvider time)
        : base("track", row.FileName, retry: null, time)
    {
        Row = row;
        _latency = tap.Tapped.LatencyAt(start);
        _slowest = slowest;
        _start = start;
        _zero = start - (slowest - _latency);
        _cursor = new TapCursor(tap, _zero);
        _files = [.. files];
        _witness = new TrackWitness(tap.Ring.IsLong ? engine.HoldLongest(tap.Tapped.Point) : engine.Hold(tap.Tapped.Point), _zero, row.Channels, Enum.Parse<TakeForm>(row.Form));
    }

    public TrackRow Row { get; }

    /// <summary>Whether it is written to one of its folders no more: that took no more, or it was left.</summary>
    public bool HasLeft(int folder) => folder < _files.Length && _files[folder] is null;

    /// <summary>From here on it is not written to one of its folders; what is there opens up to here.</summary>
    public void Leave(int folder)
    {
        _files[folder]?.Dispose();
        _files[folder] = null;
    }

    /// <summary>The most times that are kept of what it records being away.</summary>
    public const int MostGaps = 1_000;

    /// <summary>Told at the pace at which it is written: whether what it records is away now, and why.</summary>
    /// <returns>Why, where it has just gone.</returns>
    public string? Mark(string? away)
    {
        if (_away is { } since && since.Words != away)
        {
            EndGap(since);
        }

        if (_away is null && away is not null)
        {
            _away = (Math.Max(0, Frames), away);
            _isNews = true;
            return away;
        }

        return null;
    }

    /// <summary>What it records is away now: from when on and why, to no end yet; null: it is there.</summary>
    public TrackGap? Open => _away is { } since ? new TrackGap(since.Start, 0, since.Words) : null;

    /// <summary>Whether there is anything to note that its file does not tell, asked once.</summary>
    public bool TakeNews()
    {
        var isNews = _isNews;
        _isNews = false;
        return isNews;
    }

    private void EndGap((long Start, string Words) since)
    {
        _away = null;
        _isNews = true;
        if (Frames > since.Start && Row.Gaps.Count < MostGaps)
        {
            Row.Gaps.Add(new TrackGap(since.Start, Frames - since.Start, since.Words));
        }
    }

    public override Point? Point => _cursor.Tapped.Point;

    public override long Lost => _cursor.Lost;

    /// <summary>Frames of the take that are written.</summary>
    public override long Frames => _cursor.Position + _slowest - _latency - _start;

    /// <summary>By how many frames it is later than anything was at the start.</summary>
    public int Behind => Math.Max(0, _cursor.Tapped.LatencyAt(long.MaxValue) - _slowest);

    /// <summary>The engine's frame up to which it is written.</summary>
    public long At => Frames + _start;

    /// <summary>From an engine frame on nothing is written, until it goes on.</summary>
    public void Pause(long frame) => _until = frame;

    /// <summary>It goes on with an engine frame: what lies between is left out, and the two sides meet.</summary>
    public void GoOn(long frame)
    {
        if (_until is { } paused)
        {
            _pauses.Enqueue((paused, frame));
            _until = null;
        }
    }

    /// <summary>Writes all that there is, up to an engine frame.</summary>
    public void CatchUp(long frame) => CatchUp(frame, isLast: false);

    /// <summary>What the engine gave, as a witness heard it, and where in the file that lies.</summary>
    public TrackPrints Prints => new([.. _witness.Heard], [.. _stretches]);

    private void CatchUp(long frame, bool isLast)
    {
        _witness.CatchUp();
        while (_pauses.TryPeek(out var pause))
        {
            WriteTo(Math.Min(frame, pause.From), isLast: true);
            if (At < pause.From)
            {
                return;
            }

            _pauses.Dequeue();
            _cursor.Position += pause.To - pause.From;
            _start += pause.To - pause.From;
            _stretches.Add(new(Frames, _cursor.Position - _zero));
        }

        WriteTo(Math.Min(frame, _until ?? long.MaxValue), isLast);
    }

    private void WriteTo(long frame, bool isLast)
    {
        while (Frames < frame - _start)
        {
            // At the very end there is no room to go over any more.
            var shift = isLast && Frames + Fade.Frames > frame - _start ? null : _cursor.Tapped.ShiftAfter(_cursor.Position, _latency);
            var until = Math.Min(frame - _slowest + _latency, shift?.Frame ?? long.MaxValue);
            if (_cursor.Position < until && !Write(until))
            {
                break;
            }

            if (shift is { } change && _cursor.Position >= change.Frame && !GoOver(change.Latency, frame))
            {
                break;
            }
        }

        if (Frames - _header >= HeaderEvery)
        {
            _header = Frames;
            foreach (var file in _files)
            {
                file?.Flush();
            }
        }
    }

    /// <summary>Writes up to the take's end, a frame.</summary>
    public void Finish(long end)
    {
        CatchUp(end, isLast: true);
        var missing = end - _start - Frames;
        if (missing > 0)
        {
            _stretches.Add(new(Frames, -1));
        }

        WriteSilence(missing);
        _cursor.Position += Math.Max(0, missing);
        Mark(away: null);
        Row.Clipped = _files.Max(f => f?.Clipped ?? 0);
    }

    protected override void Release()
    {
        _cursor.Dispose();
        _witness.Dispose();
        for (var folder = 0; folder < _files.Length; folder++)
        {
            Leave(folder);
        }
    }

    // False where there is nothing more yet.
    private bool Write(long until)
    {
        var ring = _cursor.Ring;
        if (_cursor.Position < ring.Beginning)
        {
            // Before it began there was silence.
            var silent = Math.Max(0, Math.Min(ring.Beginning, until) - _cursor.Position);
            WriteSilence(silent);
            _cursor.Position += silent;
        }

        while (_cursor.Position < until)
        {
            var room = (int)Math.Min(until - _cursor.Position, ChunkFrames);
            var before = Frames;
            var count = _cursor.Read(_left.AsSpan(0, room), _right.AsSpan(0, room), out var lost);
            if (lost > 0)
            {
                _stretches.Add(new(before, -1));
                _stretches.Add(new(before + lost, _cursor.Position - count - _zero));
                // What was lost is silence of the same length, so that all tracks stay in step.
                Row.LostFrames += lost;
                _isNews = true;
                WriteSilence(lost);
            }

            if (count == 0)
            {
                return false;
            }

            Put(_left.AsSpan(0, count), _right.AsSpan(0, count));
        }

        return true;
    }

    // From the time that it had to the one that it has from here on: for the length of a fade both are heard. False where that is not there yet.
    private bool GoOver(int latency, long frame)
    {
        var (old, next) = (_cursor.Position, _cursor.Position + latency - _latency);
        if (Math.Max(old, next) + Fade.Frames > _cursor.Ring.End || Frames + Fade.Frames > frame - _start)
        {
            return false;
        }

        Span<float> left = _left.AsSpan(0, Fade.Frames), right = _right.AsSpan(0, Fade.Frames);
        if (_cursor.Ring.Read(ref old, left, right, out _) < Fade.Frames || _cursor.Ring.Read(ref next, _nextLeft, _nextRight, out _) < Fade.Frames)
        {
            return false;
        }

        for (var n = 0; n < Fade.Frames; n++)
        {
            left[n] += (_nextLeft[n] - left[n]) * Fade.Curve[n];
            right[n] += (_nextRight[n] - right[n]) * Fade.Curve[n];
        }

        _stretches.Add(new(Frames, -1));
        Put(left, right);
        (_cursor.Position, _latency) = (next, latency);
        _stretches.Add(new(Frames, next - _zero));
        return true;
    }

    // Of two channels a track of one has the mean.
    private void Put(Span<float> left, Span<float> right)
    {
        if (Row.Channels == 1 && _cursor.Ring.Channels == 2)
        {
            for (var n = 0; n < left.Length; n++)
            {
                left[n] = (left[n] + right[n]) * 0.5f;
            }
        }

        Store(left, right);
    }

    // One folder that takes no more costs nothing while there is another.
    private void Store(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        IOException? why = null;
        for (var folder = 0; folder < _files.Length; folder++)
        {
            try
            {
                _files[folder]?.Write(left, right, Row.Channels == 1);
            }
            catch (IOException e)
            {
                Leave(folder);
                why = e;
            }
        }

        if (why is not null && Array.TrueForAll(_files, f => f is null))
        {
            throw why;
        }
    }

    private void WriteSilence(long frames)
    {
        Span<float> silence = stackalloc float[1024];
        silence.Clear();
        for (var left = frames; left > 0; left -= silence.Length)
        {
            var part = silence[..(int)Math.Min(left, silence.Length)];
            Store(part, part);
        }
    }
}
