using System.Numerics.Tensors;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>
/// The newest seconds of one channel of a point, at a rate at which speech and music still tell themselves apart and computing costs little. Filled
/// off the engine's thread from what the engine gave. Not safe for several threads.
/// </summary>
public sealed class HeardSound
{
    /// <summary>Samples a second that are kept.</summary>
    public const int Rate = AudioFormat.SampleRate / Factor;

    /// <summary>Samples that are kept: 8.2 s.</summary>
    public const int Kept = 65_536;

    private const int Factor = 6;
    private const int Taps = 120;
    private static readonly float[] Filter = Design();

    private readonly float[] _ring = new float[Kept];
    private readonly float[] _waiting = new float[Taps - 1 + 4_096];
    private int _count = Taps - 1;
    private int _at;

    /// <summary>How many samples were kept so far, at <see cref="Rate"/>.</summary>
    public long Samples { get; private set; }

    /// <summary>Appends what the engine gave, at 48 kHz; a whole number of blocks.</summary>
    public void Append(ReadOnlySpan<float> sound)
    {
        while (!sound.IsEmpty)
        {
            var part = sound[..Math.Min(sound.Length, _waiting.Length - _count)];
            part.CopyTo(_waiting.AsSpan(_count));
            _count += part.Length;
            sound = sound[part.Length..];
            var start = 0;
            for (; start + Taps <= _count; start += Factor)
            {
                Keep(TensorPrimitives.Dot(_waiting.AsSpan(start, Taps), Filter));
            }

            _waiting.AsSpan(start, _count - start).CopyTo(_waiting);
            _count -= start;
        }
    }

    /// <summary>Silence of a length, where the engine's sound is lost or not there.</summary>
    /// <param name="frames">At 48 kHz.</param>
    public void AppendSilence(long frames)
    {
        Span<float> silence = stackalloc float[1_024];
        silence.Clear();

        // What is older than all that is kept need not be gone through; but where in it the next sample falls must stay.
        const long most = (long)(Kept + Taps) * Factor;
        for (var left = frames <= most ? frames : most + (frames % Factor); left > 0; left -= silence.Length)
        {
            Append(silence[..(int)Math.Min(left, silence.Length)]);
        }
    }

    /// <summary>Copies the newest <see cref="Kept"/> samples, the oldest first.</summary>
    public void CopyTo(Span<float> samples)
    {
        _ring.AsSpan(_at).CopyTo(samples);
        _ring.AsSpan(0, _at).CopyTo(samples[(Kept - _at)..]);
    }

    private void Keep(float sample)
    {
        _ring[_at] = sample;
        _at = (_at + 1) & (Kept - 1);
        Samples++;
    }

    // Passes up to 3.4 kHz; 70 dB down from 4.4 kHz on, which would come back above 3.6.
    private static float[] Design()
    {
        var filter = new float[Taps];
        const double cutoff = 3_900.0 / AudioFormat.SampleRate;
        var sum = 0.0;
        for (var n = 0; n < Taps; n++)
        {
            var x = n - ((Taps - 1) / 2.0);
            filter[n] = (float)(KaiserWindow.Sinc(2 * cutoff * x) * KaiserWindow.At(x / (Taps / 2.0), 7));
            sum += filter[n];
        }

        for (var n = 0; n < Taps; n++)
        {
            filter[n] /= (float)sum;
        }

        return filter;
    }
}
