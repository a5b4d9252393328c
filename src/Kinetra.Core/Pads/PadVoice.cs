using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>One press of a pad that sounds. Used over and over; allocates nothing while it plays.</summary>
sealed class PadVoice
{
    // One channel in the middle of two: as loud as it is by itself.
    private static readonly float Half = (float)Math.Sqrt(0.5);

    private readonly float[] _left = new float[AudioFormat.BlockFrames];
    private readonly float[] _right = new float[AudioFormat.BlockFrames];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly float[] _more = new float[AudioFormat.BlockFrames];
    private readonly float[] _overLeft = new float[AudioFormat.BlockFrames];
    private readonly float[] _overRight = new float[AudioFormat.BlockFrames];
    private readonly PadDim _dim = new();
    private PadOrder.Press? _press;
    private ISoundReader _reader = null!;
    private int _position;
    private long _played;
    private int _ending;
    private int _endsWithin;
    private float _endedFrom = 1;
    private float _levelFrom;
    private float _levelNow;
    private float _levelTo;
    private int _levelAt;
    private int _levelWithin;

    /// <summary>What it plays; null: it is free. Any thread.</summary>
    public PadOrder.Press? Press => Volatile.Read(ref _press);

    /// <summary>The frame of the sound that it comes to next. Any thread.</summary>
    public int Position => Volatile.Read(ref _position);

    /// <summary>How many frames it has played.</summary>
    public long Played => _played;

    /// <summary>True once it fades out since it was stopped. Any thread.</summary>
    public bool IsEnding => Volatile.Read(ref _endsWithin) > 0;

    /// <summary>True once another has taken its place.</summary>
    public bool IsLeaving { get; private set; }

    /// <summary>Begins.</summary>
    /// <param name="press">What.</param>
    /// <param name="dim">The factor by which others that sound dim it.</param>
    public void Start(PadOrder.Press press, float dim)
    {
        (_reader, _position, _played, _ending, _endsWithin) = (press.Reader, press.Pad.Begin, 0, 0, 0);
        (_levelFrom, _levelNow, _levelTo, _levelAt, _levelWithin) = (press.Pad.Gain, press.Pad.Gain, press.Pad.Gain, 0, 0);
        _dim.Be(dim);
        Volatile.Write(ref _press, press);
    }

    /// <summary>Fades out from here on, unless it does so sooner already.</summary>
    public void End(int frames)
    {
        if (!IsEnding || _endsWithin - _ending > frames)
        {
            // Where it fades already, that goes on, and is only sooner done: the steeper one lies over what is left.
            (_endedFrom, _ending) = (IsEnding ? _endedFrom * Left(_ending) : 1, 0);
            Volatile.Write(ref _endsWithin, frames);
        }
    }

    /// <summary>Makes room for another: it fades out at once, and counts as gone.</summary>
    public void Leave()
    {
        End(ReadyPad.ShortestOut);
        IsLeaving = true;
    }

    /// <summary>Gets another level.</summary>
    public void Turn(float level, int frames) => (_levelFrom, _levelTo, _levelAt, _levelWithin) = (_levelNow, level, 0, frames);

    /// <summary>Is dimmed by others to this factor.</summary>
    public void Dim(float factor) => _dim.Aim(factor);

    /// <summary>Adds some frames of the block.</summary>
    public void Add(int at, int count)
    {
        var press = _press!;
        var (left, right) = press.Inlet.Block;
        while (count > 0 && _press is not null)
        {
            var part = Part(press.Pad, count);
            Read(press.Pad, part);
            var factors = Factors(press, part);
            Mixdown.Add(left.Span.Slice(at, part), _left.AsSpan(0, part), factors);
            Mixdown.Add(right.Span.Slice(at, part), (_reader.Channels == 2 ? _right : _left).AsSpan(0, part), factors);
            (at, count) = (at + part, count - part);
            GoOn(press.Pad, part);
        }
    }

    // As far as one manner of reading goes: to where a loop crosses over, or its end.
    private int Part(ReadyPad pad, int count)
    {
        var until = pad.Play == PadPlay.Loop && pad.Seam > 0 && _position < pad.End - pad.Seam ? pad.End - pad.Seam : pad.End;
        return Math.Min(count, Math.Min(until - _position, IsEnding ? _endsWithin - _ending : int.MaxValue));
    }

    private void Read(ReadyPad pad, int count)
    {
        var isStereo = _reader.Channels == 2;
        _reader.Copy(_position, _left.AsSpan(0, count), isStereo ? _right.AsSpan(0, count) : default);
        if (pad.Play != PadPlay.Loop || pad.Seam == 0 || _position < pad.End - pad.Seam)
        {
            return;
        }

        // Equal power: what is laid over one another has nothing to do with itself.
        var into = _position - (pad.End - pad.Seam);
        _reader.Copy(pad.Begin + into, _overLeft.AsSpan(0, count), isStereo ? _overRight.AsSpan(0, count) : default);
        for (var i = 0; i < count; i++)
        {
            var part = Fade.At((into + i + 1f) / (pad.Seam + 1));
            var (old, next) = (MathF.Sqrt(1 - part), MathF.Sqrt(part));
            _left[i] = (_left[i] * old) + (_overLeft[i] * next);
            if (isStereo)
            {
                _right[i] = (_right[i] * old) + (_overRight[i] * next);
            }
        }
    }

    private Span<float> Factors(PadOrder.Press press, int count)
    {
        var pad = press.Pad;
        var factors = _factors.AsSpan(0, count);
        for (var i = 0; i < count; i++)
        {
            if (_levelAt < _levelWithin)
            {
                _levelAt++;
                _levelNow = _levelAt == _levelWithin ? _levelTo : _levelFrom + ((_levelTo - _levelFrom) * Fade.At((float)_levelAt / _levelWithin));
            }

            factors[i] = _levelNow * press.Level * (_reader.Channels == 1 ? Half : 1);
        }

        if (_played < pad.FadeIn)
        {
            for (var i = 0; i < count && _played + i < pad.FadeIn; i++)
            {
                factors[i] *= Fade.At((_played + i + 1f) / (pad.FadeIn + 1));
            }
        }

        if (pad.Play != PadPlay.Loop && _position + count > pad.End - pad.FadeOut)
        {
            for (var i = Math.Max(0, pad.End - pad.FadeOut - _position); i < count; i++)
            {
                factors[i] *= Fade.At((pad.End - _position - i) / (pad.FadeOut + 1f));
            }
        }

        if (IsEnding)
        {
            for (var i = 0; i < count; i++)
            {
                factors[i] *= _endedFrom * Left(_ending + i + 1);
            }
        }

        if (!_dim.IsSettled || _dim.Now != 1)
        {
            var more = _more.AsSpan(0, count);
            _dim.Fill(more);
            Mixdown.Scale(factors, more);
        }

        return factors;
    }

    private float Left(int ending) => Fade.At(1 - Math.Min(1, ending / (_endsWithin + 1f)));

    private void GoOn(ReadyPad pad, int count)
    {
        _played += count;
        var next = _position + count;
        if (IsEnding && (_ending += count) >= _endsWithin)
        {
            Free();
        }
        else if (next < pad.End)
        {
            Volatile.Write(ref _position, next);
        }
        else if (pad.Play == PadPlay.Loop)
        {
            Volatile.Write(ref _position, pad.Begin + pad.Seam);
        }
        else
        {
            Free();
        }
    }

    private void Free()
    {
        Volatile.Write(ref _press, null);
        Volatile.Write(ref _endsWithin, 0);
        (_reader, _endedFrom, IsLeaving) = (null!, 1, false);
    }
}
