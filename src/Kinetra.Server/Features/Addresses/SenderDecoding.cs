using Kinetra.Core.Clocks;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;
using Kinetra.Media.Streaming;

namespace Kinetra.Server.Features.Addresses;

/// <summary>Sound out of what somebody sends, at the engine's rate, as fast as the engine takes it. One thread.</summary>
sealed class SenderDecoding(StreamDecoder decoder, PacedInput into, CancellationToken over)
{
    private const int ChunkFrames = 4_096;

    // Nobody hears that it waits so long, and it costs next to nothing.
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(4);

    private readonly RateConverter[] _converters = decoder.SampleRate == AudioFormat.SampleRate
        ? [] : [.. Enumerable.Range(0, decoder.Channels).Select(_ => new RateConverter(decoder.SampleRate, AudioFormat.SampleRate))];

    private float[] _one = [];
    private float[] _other = [];

    /// <summary>Until it ends. All of it has been handed over then.</summary>
    /// <exception cref="Media.SoundFileException">What comes is damaged, or goes on otherwise.</exception>
    /// <exception cref="IOException">It broke off.</exception>
    /// <exception cref="OperationCanceledException">It is to end.</exception>
    public void Run()
    {
        var interleaved = new float[ChunkFrames * decoder.Channels];
        int frames;
        while ((frames = decoder.Read(interleaved)) > 0)
        {
            Pass(interleaved.AsSpan(0, frames * decoder.Channels));
        }

        if (_converters.Length > 0)
        {
            Pass(new float[(_converters[0].Tail + 1) * decoder.Channels]);
        }
    }

    private void Pass(ReadOnlySpan<float> interleaved)
    {
        if (_converters.Length == 0)
        {
            Write(interleaved);
            return;
        }

        var (channels, frames) = (decoder.Channels, interleaved.Length / decoder.Channels);
        var most = _converters[0].MostFrom(frames);
        if (_one.Length < frames || _other.Length < most)
        {
            (_one, _other) = (new float[frames], new float[most]);
        }

        var whole = new float[most * channels];
        var made = 0;
        for (var c = 0; c < channels; c++)
        {
            Interleaving.Take(interleaved, channels, c, _one.AsSpan(0, frames));
            made = _converters[c].Process(_one.AsSpan(0, frames), _other);
            for (var n = 0; n < made; n++)
            {
                whole[(n * channels) + c] = _other[n];
            }
        }

        Write(whole.AsSpan(0, made * channels));
    }

    private void Write(ReadOnlySpan<float> interleaved)
    {
        while (!interleaved.IsEmpty)
        {
            over.ThrowIfCancellationRequested();
            var part = Math.Min(into.Room, interleaved.Length / into.Channels) * into.Channels;
            if (part == 0)
            {
                over.WaitHandle.WaitOne(Look);
                continue;
            }

            into.Write(interleaved[..part]);
            interleaved = interleaved[part..];
        }
    }
}
