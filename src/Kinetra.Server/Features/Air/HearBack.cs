using System.Globalization;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Media;
using Kinetra.Media.Streaming;
using Kinetra.Server.Features.Bench;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Air;

/// <summary>What listeners get of a stream, held against its mix.</summary>
/// <param name="IsMix">True: it is the mix of the stream.</param>
/// <param name="DelaySeconds">How long ago that was said which a listener hears first who starts now; null: it is not the mix of the last half minute.</param>
/// <param name="Likeness">How alike both are, 0 to 1; null: they are not.</param>
/// <param name="Format">What it came as, in words.</param>
/// <param name="Words">All of it in a sentence.</param>
public sealed record HeardBack(bool IsMix, double? DelaySeconds, double? Likeness, string Format, string Words);

/// <summary>Listens at a stream's server as a listener does, and finds what comes in what its mix gave.</summary>
sealed class HearBack(Lazy<EngineHost> host, RecentSounds recent)
{
    private const double PieceSeconds = 4;

    // So long a server may give nothing.
    private const int PatienceMs = 15_000;

    /// <summary>Listens for some seconds.</summary>
    /// <exception cref="StreamServerException">The server is not there, gives nothing, or gives no sound.</exception>
    public async Task<HeardBack> MeasureAsync(Broadcast stream, CancellationToken cancel)
    {
        using var line = await ReturnLine.OpenAsync(stream.Server, cancel);
        await using var ends = cancel.Register(line.Dispose);
        try
        {
            return await Task.Run(() => Measure(line, stream), CancellationToken.None);
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or SoundFileException)
        {
            cancel.ThrowIfCancellationRequested();
            throw new StreamServerException(
                e is SoundFileException refused ? $"What listeners get is no sound that can be read: {refused.What}" : "The server gave listeners too little to tell anything.", "Whether the stream is on air.", isRefusal: false);
        }
    }

    private HeardBack Measure(ReturnLine line, Broadcast stream)
    {
        line.Sound.ReadTimeout = PatienceMs;
        using var decoder = StreamDecoder.Open(stream.Form == StreamForm.Mp3 ? new FromFrame(line.Sound) : line.Sound);
        var piece = new List<float>();
        var first = -1L;
        new AtEngineRate(decoder).Run(interleaved =>
        {
            first = first < 0 ? host.Value.Engine.Frame : first;
            for (var n = 0; n + decoder.Channels <= interleaved.Length; n += decoder.Channels)
            {
                piece.Add((interleaved[n] + interleaved[n + decoder.Channels - 1]) / 2);
            }

            return piece.Count < PieceSeconds * AudioFormat.SampleRate;
        });
        var sound = recent.FindHeard(new MixPoint(stream.Mix));
        var begin = sound?.Kept.Begin ?? 0;
        var mix = sound?.Take(begin, RecentSound.Seconds * AudioFormat.SampleRate);
        if (mix is null || SoundPlace.Find(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(piece), Mono(mix)) is not { } found)
        {
            return new(false, null, null, decoder.Format, "What listeners get is not the mix of the last half minute: silence, what waits in its place, or older.");
        }

        var seconds = Math.Round((first - (begin + found.Frame)) / (double)AudioFormat.SampleRate, 2);
        return new(
            true,
            seconds,
            Math.Round(found.Likeness, 3),
            decoder.Format,
            string.Create(CultureInfo.InvariantCulture, $"Who begins to listen now hears the mix of {seconds:0.0} s ago, {100 * found.Likeness:0} % alike."));
    }

    // Who comes in the midst of MP3 gets the rest of a frame first, in which nothing says what it is.
    private sealed class FromFrame(Stream from) : PassingStream
    {
        private const int Most = 16_384;

        private byte[]? _begun;
        private int _at;

        public override int Read(Span<byte> buffer)
        {
            _begun ??= Begin();
            if (_at == _begun.Length)
            {
                return from.Read(buffer);
            }

            var part = Math.Min(buffer.Length, _begun.Length - _at);
            _begun.AsSpan(_at, part).CopyTo(buffer);
            _at += part;
            return part;
        }

        private byte[] Begin()
        {
            var bytes = new byte[Most];
            var count = 0;
            while (count < Most)
            {
                var read = from.Read(bytes.AsSpan(count));
                if (read == 0)
                {
                    break;
                }

                count += read;
                for (var n = 0; n + 1 < count; n++)
                {
                    // A header of Layer III.
                    if (bytes[n] == 0xFF && (bytes[n + 1] & 0xE6) == 0xE2)
                    {
                        return bytes[n..count];
                    }
                }
            }

            return bytes[..count];
        }
    }

    private static float[] Mono(SoundBuffer sound) => sound.Right is { } right ? [.. sound.Left.Zip(right, (l, r) => (l + r) / 2)] : sound.Left;
}
