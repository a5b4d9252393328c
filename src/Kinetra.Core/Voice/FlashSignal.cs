using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// What a window flashes and beeps in front of a camera and a microphone, both at the same moment, so that a recording of both says by how much its picture is late. No two pauses are equally
/// long, so that one flash is never taken for another; none is shorter than a third of a second (WCAG 2.2, 2.3.1: at most three flashes in any second).
/// </summary>
public static class FlashSignal
{
    /// <summary>After so long it begins anew, seconds.</summary>
    public const double CycleSeconds = 12;

    /// <summary>How long it is bright each time, seconds.</summary>
    public const double FlashSeconds = 0.12;

    private const double BeepSeconds = 0.06, LowestHertz = 1_000, HighestHertz = 5_000;

    /// <summary>When it flashes and beeps within a cycle, seconds, rising: at 24, 25, 30, 50 and 60 frames a second they fall all over a frame, so that the mean of them is more exact than one.</summary>
    public static ImmutableArray<double> Times { get; } = [0, 0.854, 2.511, 4.779, 6.205, 9.226];

    /// <summary>The beep at 48 kHz: a sweep from 1 to 5 kHz, which tells its moment more exactly than a tone, in a Hann window; its peak is 0.7.</summary>
    public static ImmutableArray<float> Beep { get; } = Sweep();

    /// <summary>All moments of it within a length, where a cycle begins at a shift, seconds.</summary>
    public static IEnumerable<double> Moments(double shift, double seconds)
    {
        for (var cycle = shift - CycleSeconds; cycle < seconds; cycle += CycleSeconds)
        {
            foreach (var time in Times)
            {
                if (cycle + time >= 0 && cycle + time < seconds)
                {
                    yield return cycle + time;
                }
            }
        }
    }

    private static ImmutableArray<float> Sweep()
    {
        var sweep = new float[(int)(BeepSeconds * AudioFormat.SampleRate)];
        for (var n = 0; n < sweep.Length; n++)
        {
            var seconds = (double)n / AudioFormat.SampleRate;
            var phase = 2 * Math.PI * ((LowestHertz * seconds) + ((HighestHertz - LowestHertz) * seconds * seconds / 2 / BeepSeconds));
            sweep[n] = (float)(0.7 * (0.5 - (0.5 * Math.Cos(2 * Math.PI * n / sweep.Length))) * Math.Sin(phase));
        }

        return [.. sweep];
    }
}
