using System.Collections.Immutable;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>A time of a take.</summary>
/// <param name="Start">Its first frame.</param>
/// <param name="Frames">How long it is, frames.</param>
public readonly record struct TakeSpan(long Start, long Frames)
{
    /// <summary>The frame after its last.</summary>
    public long End => Start + Frames;
}

/// <summary>What is in a track's file, found by reading it once from its beginning to its end.</summary>
/// <param name="Frames">How long it is.</param>
/// <param name="Peak">Its highest sample, 0 … (1 is full scale).</param>
/// <param name="Clips">How often three or more samples in a row lie at full scale.</param>
/// <param name="FirstClip">The frame of the first of those; −1: there is none.</param>
/// <param name="Seconds">Prints of the seconds of the engine's sound that are in it whole, by their number.</param>
/// <param name="Own">Prints of its own seconds.</param>
/// <param name="Silences">Where it is silent for half a second or longer: no sample above −90 dBFS.</param>
/// <param name="Excerpts">By excerpt, by channel: what it sounded like then, as <see cref="Hearing"/> takes it.</param>
public sealed record TrackContent(
    long Frames,
    float Peak,
    long Clips,
    long FirstClip,
    ImmutableDictionary<long, SecondPrint> Seconds,
    ImmutableArray<SecondPrint> Own,
    ImmutableArray<TakeSpan> Silences,
    ImmutableArray<ImmutableArray<float[]>> Excerpts);

/// <summary>Reads a track's file: is given its sound piece by piece, and says what is in it. Not safe for several threads.</summary>
public sealed class TrackReading
{
    /// <summary>Frames of an excerpt: 8.2 s.</summary>
    public const long ExcerptFrames = (long)HeardSound.Kept * AudioFormat.SampleRate / HeardSound.Rate;

    /// <summary>The most excerpts of a take.</summary>
    public const int MostExcerpts = 8;

    private const long ShortestExcerpt = 4L * AudioFormat.SampleRate;
    private const float Silent = 3.2e-5f;
    private const int ShortestSilence = AudioFormat.SampleRate / 2;
    private const int ClipRun = 3;

    private readonly int _channels;
    private readonly TakeForm _form;
    private readonly float _fullScale;
    private readonly ImmutableArray<Stretch> _stretches;
    private readonly ImmutableArray<long> _excerptEnds;
    private readonly Printing _own;
    private readonly ImmutableDictionary<long, SecondPrint>.Builder _seconds = ImmutableDictionary.CreateBuilder<long, SecondPrint>();
    private readonly ImmutableArray<TakeSpan>.Builder _silences = ImmutableArray.CreateBuilder<TakeSpan>();
    private readonly ImmutableArray<ImmutableArray<float[]>>.Builder _excerpts = ImmutableArray.CreateBuilder<ImmutableArray<float[]>>();
    private readonly int[] _runs = new int[2];
    private Printing? _whole;
    private HeardSound[]? _heard;
    private int _stretch;
    private long _frames;
    private long _silentSince = -1;
    private long _clips;
    private long _firstClip = -1;
    private float _peak;

    /// <summary>Begins to read a file.</summary>
    /// <param name="channels">1 or 2.</param>
    /// <param name="form">What it is written as.</param>
    /// <param name="stretches">Where in the engine's sound it lies, in order; none: that is not known.</param>
    /// <param name="excerptEnds">The frames with which excerpts end, in order, at least <see cref="ExcerptFrames"/> apart (<see cref="ExcerptsOf"/>).</param>
    /// <param name="fullScale">The largest sample that the file can hold.</param>
    public TrackReading(int channels, TakeForm form, ImmutableArray<Stretch> stretches, ImmutableArray<long> excerptEnds, float fullScale = 1)
    {
        _fullScale = fullScale;
        (_channels, _form, _stretches, _excerptEnds) = (channels, form, stretches, excerptEnds);
        _own = new Printing(channels, form);
    }

    /// <summary>Where excerpts of a take end: evenly over its length, none sharing sound with another. A take of less than <see cref="ExcerptFrames"/> has a short one, or none.</summary>
    public static ImmutableArray<long> ExcerptsOf(long frames)
    {
        var count = (int)Math.Min(MostExcerpts, Math.Max(frames / ExcerptFrames, frames >= ShortestExcerpt ? 1 : 0));
        return [.. Enumerable.Range(1, count).Select(e => frames * e / count)];
    }

    /// <summary>Takes in what comes next.</summary>
    /// <param name="left">The left, or the only, channel.</param>
    /// <param name="right">The right one, as long; not looked at where there is one.</param>
    public void Append(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        while (!left.IsEmpty)
        {
            Advance();

            // Up to where anything begins or ends: a stretch, a second of the engine's sound, an excerpt.
            var count = (int)Math.Min(left.Length, Next() - _frames);
            var l = left[..count];
            var r = _channels == 2 ? right[..count] : l;
            Look(l, r);
            _own.Append(l, r);
            Print(l, r);
            Hear(l, r);
            _frames += count;
            left = left[count..];
            right = _channels == 2 ? right[count..] : right;
        }
    }

    /// <summary>What was in it.</summary>
    public TrackContent Finish()
    {
        EndSilence();
        return new(_frames, _peak, _clips, _firstClip, _seconds.ToImmutable(), [.. _own.Seconds], _silences.ToImmutable(), _excerpts.ToImmutable());
    }

    private long Next()
    {
        var next = long.MaxValue;
        if (_stretch < _stretches.Length && _stretches[_stretch].Take > _frames)
        {
            next = _stretches[_stretch].Take;
        }
        else if (_stretch + 1 < _stretches.Length)
        {
            next = _stretches[_stretch + 1].Take;
        }

        if (SoundAt(_frames) is >= 0 and var sound)
        {
            next = Math.Min(next, _frames + Printing.Second - (sound % Printing.Second));
        }

        if (_excerpts.Count < _excerptEnds.Length)
        {
            var end = _excerptEnds[_excerpts.Count];
            next = Math.Min(next, _frames < end - ExcerptFrames ? end - ExcerptFrames : end);
        }

        return next;
    }

    private long SoundAt(long frame) =>
        _stretch < _stretches.Length && _stretches[_stretch] is { Sound: >= 0 } stretch && stretch.Take <= frame ? stretch.Sound + frame - stretch.Take : -1;

    private void Advance()
    {
        while (_stretch + 1 < _stretches.Length && _stretches[_stretch + 1].Take <= _frames)
        {
            // What was begun of a second goes on elsewhere: it is not whole here.
            _stretch++;
            _whole = null;
        }
    }

    private void Print(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        var sound = SoundAt(_frames);
        if (sound < 0)
        {
            _whole = null;
            return;
        }

        if (sound % Printing.Second == 0)
        {
            _whole = new Printing(_channels, _form);
        }

        _whole?.Append(left, right);
        if (_whole is { Seconds: [var whole] })
        {
            _seconds[sound / Printing.Second] = whole;
            _whole = null;
        }
    }

    private void Hear(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        if (_excerpts.Count == _excerptEnds.Length || _frames < _excerptEnds[_excerpts.Count] - ExcerptFrames)
        {
            return;
        }

        _heard ??= [.. Enumerable.Range(0, _channels).Select(_ => new HeardSound())];
        _heard[0].Append(left);
        if (_channels == 2)
        {
            _heard[1].Append(right);
        }

        if (_frames + left.Length < _excerptEnds[_excerpts.Count])
        {
            return;
        }

        _excerpts.Add([.. _heard.Select(h =>
        {
            var samples = new float[HeardSound.Kept];
            h.CopyTo(samples);
            return samples;
        })]);
        _heard = null;
    }

    private void Look(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        for (var n = 0; n < left.Length; n++)
        {
            var (l, r) = (MathF.Abs(left[n]), MathF.Abs(right[n]));
            var most = MathF.Max(l, r);
            _peak = MathF.Max(_peak, most);
            Clip(0, l, _frames + n);
            if (_channels == 2)
            {
                Clip(1, r, _frames + n);
            }

            if (most >= Silent)
            {
                EndSilence(_frames + n);
            }
            else if (_silentSince < 0)
            {
                _silentSince = _frames + n;
            }
        }
    }

    private void Clip(int channel, float magnitude, long frame)
    {
        _runs[channel] = magnitude >= _fullScale ? _runs[channel] + 1 : 0;
        if (_runs[channel] == ClipRun)
        {
            _clips++;
            _firstClip = _firstClip < 0 ? frame - ClipRun + 1 : _firstClip;
        }
    }

    private void EndSilence() => EndSilence(_frames);

    private void EndSilence(long frame)
    {
        if (_silentSince >= 0 && frame - _silentSince >= ShortestSilence)
        {
            _silences.Add(new(_silentSince, frame - _silentSince));
        }

        _silentSince = -1;
    }
}
