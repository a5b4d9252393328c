using Kinetra.Core.Clocks;
using Kinetra.Media.Streaming;

namespace Kinetra.Server.Features.Addresses;

/// <summary>Sound out of what somebody sends, at the engine's rate, as fast as the engine takes it. One thread.</summary>
sealed class SenderDecoding(StreamDecoder decoder, PacedInput into, CancellationToken over)
{
    // Nobody hears that it waits so long, and it costs next to nothing.
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(4);

    /// <summary>Until it ends. All of it has been handed over then.</summary>
    /// <exception cref="Media.SoundFileException">What comes is damaged, or goes on otherwise.</exception>
    /// <exception cref="IOException">It broke off.</exception>
    /// <exception cref="OperationCanceledException">It is to end.</exception>
    public void Run() => new AtEngineRate(decoder).Run(Write);

    private bool Write(ReadOnlySpan<float> interleaved)
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

        return true;
    }
}
