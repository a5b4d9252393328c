using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Media.Streaming;

/// <summary>What a decoder gives, at the engine's rate. One thread.</summary>
public sealed class AtEngineRate
{
    private const int ChunkFrames = 4_096;

    private readonly StreamDecoder _decoder;
    private readonly RateConverter[] _converters;
    private float[] _one = [];
    private float[] _other = [];
    private float[] _whole = [];

    /// <summary>Of a decoder that has given nothing yet.</summary>
    public AtEngineRate(StreamDecoder decoder)
    {
        ArgumentNullException.ThrowIfNull(decoder);
        _decoder = decoder;
        _converters = decoder.SampleRate == AudioFormat.SampleRate
            ? [] : [.. Enumerable.Range(0, decoder.Channels).Select(_ => new RateConverter(decoder.SampleRate, AudioFormat.SampleRate))];
    }

    /// <summary>Takes the next frames, interleaved, at 48 kHz.</summary>
    /// <returns>False: no more are wanted.</returns>
    public delegate bool Taker(ReadOnlySpan<float> interleaved);

    /// <summary>Gives all that comes, until it ends or no more is wanted.</summary>
    /// <exception cref="SoundFileException">What comes is damaged, or goes on otherwise.</exception>
    /// <exception cref="IOException">It broke off.</exception>
    public void Run(Taker take)
    {
        ArgumentNullException.ThrowIfNull(take);
        var interleaved = new float[ChunkFrames * _decoder.Channels];
        int frames;
        while ((frames = _decoder.Read(interleaved)) > 0)
        {
            if (!Pass(interleaved.AsSpan(0, frames * _decoder.Channels), take))
            {
                return;
            }
        }

        if (_converters.Length > 0)
        {
            Pass(new float[(_converters[0].Tail + 1) * _decoder.Channels], take);
        }
    }

    private bool Pass(ReadOnlySpan<float> interleaved, Taker take)
    {
        if (_converters.Length == 0)
        {
            return take(interleaved);
        }

        var (channels, frames) = (_decoder.Channels, interleaved.Length / _decoder.Channels);
        var most = _converters[0].MostFrom(frames);
        if (_one.Length < frames || _other.Length < most)
        {
            (_one, _other, _whole) = (new float[frames], new float[most], new float[most * channels]);
        }

        var made = 0;
        for (var c = 0; c < channels; c++)
        {
            Interleaving.Take(interleaved, channels, c, _one.AsSpan(0, frames));
            made = _converters[c].Process(_one.AsSpan(0, frames), _other);
            for (var n = 0; n < made; n++)
            {
                _whole[(n * channels) + c] = _other[n];
            }
        }

        return take(_whole.AsSpan(0, made * channels));
    }
}
