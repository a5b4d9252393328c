using System.Buffers;
using Kinetra.Core.Dsp;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media.Streaming;

namespace Kinetra.Server.Features.Air;

/// <summary>Makes of a mix's sound what a stream is made of: its own level, its channels, its sample rate, its form. Not safe for several threads.</summary>
sealed class StreamSound : IDisposable
{
    private readonly Broadcast _stream;
    private readonly RateConverter[] _converters;
    private readonly ArrayBufferWriter<byte> _bytes = new(16_384);
    private readonly float[] _silence = new float[StreamEncoder.MostFrames];
    private readonly float[][] _sides = [[], []];
    private readonly float[][] _converted = [[], []];
    private StreamEncoder _encoder;
    private double? _factor;

    /// <summary>Begins one.</summary>
    /// <param name="stream">What it is to be.</param>
    /// <param name="title">What it is called, where that is written into it.</param>
    public StreamSound(Broadcast stream, string title)
    {
        _stream = stream;
        _converters = stream.SampleRate == AudioFormat.SampleRate
            ? []
            : [.. Enumerable.Range(0, stream.Channels).Select(_ => new RateConverter(AudioFormat.SampleRate, stream.SampleRate))];
        _encoder = Begun(title);
    }

    /// <summary>What has been made and not been taken yet.</summary>
    public ReadOnlyMemory<byte> Made => _bytes.WrittenMemory;

    /// <summary>It has been taken.</summary>
    public void Taken() => _bytes.ResetWrittenCount();

    /// <summary>True where what it is called is written into it, so that it can be called anew only by a new beginning.</summary>
    public static bool HoldsTitle(StreamForm form) => form != StreamForm.Mp3;

    /// <summary>Is called anew from here on: what came so far ends, and it begins once more, with not a sample between.</summary>
    public void Rename(string title)
    {
        if (HoldsTitle(_stream.Form))
        {
            _encoder.End(_bytes);
            _encoder.Dispose();
            _encoder = Begun(title);
        }
    }

    /// <summary>Takes sound.</summary>
    /// <param name="left">Left, or the only channel.</param>
    /// <param name="right">Right; null: there is one.</param>
    /// <param name="gain">The stream's own level; a change is reached by the end of what is given.</param>
    public void Take(float[] left, float[]? right, Gain gain)
    {
        var (count, from, to) = (left.Length, _factor ?? gain.Linear, gain.Linear);
        _factor = to;
        for (var c = 0; c < 2; c++)
        {
            if (_sides[c].Length < count)
            {
                _sides[c] = new float[count];
            }
        }

        for (var i = 0; i < count; i++)
        {
            var factor = from + ((to - from) * (i + 1) / count);
            var (l, r) = (left[i] * factor, (right ?? left)[i] * factor);
            (_sides[0][i], _sides[1][i]) = _stream.Channels == 1 ? ((float)((l + r) / 2), 0f) : ((float)l, (float)r);
        }

        Convert(_sides[0].AsSpan(0, count), _sides[1].AsSpan(0, count));
    }

    /// <summary>Nothing more comes: what is left comes out.</summary>
    public void End()
    {
        if (_converters.Length > 0)
        {
            var tail = _silence.AsSpan(0, _converters[0].Tail);
            Convert(tail, tail);
        }

        _encoder.End(_bytes);
    }

    /// <inheritdoc/>
    public void Dispose() => _encoder.Dispose();

    private StreamEncoder Begun(string title)
    {
        var encoder = StreamEncoder.Of(_stream.Form, _stream.Channels, _stream.SampleRate, _stream.Kilobits, title);
        encoder.Begin(_bytes);
        return encoder;
    }

    private void Convert(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        if (_converters.Length == 0)
        {
            Encode(left, right);
            return;
        }

        var most = _converters[0].MostFrom(left.Length);
        var count = 0;
        for (var c = 0; c < _stream.Channels; c++)
        {
            if (_converted[c].Length < most)
            {
                _converted[c] = new float[most];
            }

            count = _converters[c].Process(c == 0 ? left : right, _converted[c]);
        }

        Encode(_converted[0].AsSpan(0, count), _stream.Channels == 2 ? _converted[1].AsSpan(0, count) : default);
    }

    private void Encode(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        for (var at = 0; at < left.Length; at += StreamEncoder.MostFrames)
        {
            var count = Math.Min(StreamEncoder.MostFrames, left.Length - at);
            _encoder.Encode(left.Slice(at, count), right.IsEmpty ? default : right.Slice(at, count), _bytes);
        }
    }
}
